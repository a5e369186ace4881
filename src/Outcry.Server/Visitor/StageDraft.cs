using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Explaining;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Core.Visitors;
using Outcry.Server.Passports;
using Outcry.Server.Platform;
using Outcry.Server.Sites;

namespace Outcry.Server.Visitor;

/// <summary>Plans the composer's stage: the draft alone, with limits lifted, on whatever page it is looked at.</summary>
internal sealed class StageDraft(SystemDb database, LookedCounter counter, SnippetFiles files)
{
    public async Task<PlanResponse> PlanAsync(
        LiveSite site,
        PageAddress page,
        PrivateTokenBody token,
        Instant now,
        CancellationToken stop
    )
    {
        var facts = token.R?.V.FactsAt(now, site.Zone) ?? VisitorFacts.Unknown;
        var calloutId = token.C!.Value;
        var visitor = Passport.New(now, isMember: true).Arrive(now);
        var (plan, note) = await DraftPlanAsync(site, page, calloutId, facts, now, visitor, stop);
        return PlanPage.Write(site, page, visitor, plan, now, null, new StagePart(note), counted: false, files.Paths);
    }

    private async Task<(Plan Plan, string? Note)> DraftPlanAsync(
        LiveSite site,
        PageAddress page,
        Guid calloutId,
        VisitorFacts facts,
        Instant now,
        VisitorRecord visitor,
        CancellationToken stop
    )
    {
        await using var db = database.Open();
        var row = await db.DefinitionsOf(site.Id, BriefKind.Callout)
            .AsNoTracking()
            .FirstOrDefaultAsync(c => c.Id == calloutId, stop);
        if (row is null)
            return (new Plan([], []), "This callout is gone.");
        var problem = BriefCheck
            .Problems(row.Draft.Read<Brief>(), [.. site.Sources.Values.Select(SitesFeature.Offer)], site.Context)
            .FirstOrDefault(p => p.Blocks);
        if (problem is not null)
            return (new Plan([], []), problem.Message);
        var draft = BriefKind.Instance.Compile(row.In(DefinitionState.Live), row.Draft.Read<Brief>(), site.Context);
        var snapshot = await DraftSite.WithAsync(site, [draft], draft, counter, now, stop);
        var plan = Planner.MakePlan(
            snapshot,
            page,
            visitor,
            facts,
            now,
            new PlanOptions(Explain: true, LiftLimits: true)
        );
        var note = plan.LeftOut.Count == 0 ? null : ReasonSentence.Say(plan.LeftOut[0].Reason, site.Zone, _ => null);
        return (plan, note);
    }
}
