using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Explaining;
using Outcry.Core.Greetings;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;
using Outcry.Server.Passports;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Visitor;

/// <summary>Plans the composer's stage: the draft alone, with who, when and how often set aside, on whatever page it is looked at.</summary>
internal sealed class StageDraft(SystemDb database, LookedCounter counter, SnippetFiles files, StageLauncher launchers)
{
    public async Task<PlanResponse> PlanAsync(
        LiveSite site,
        PageAddress page,
        PlanRequest request,
        PrivateTokenBody token,
        Instant now,
        CancellationToken stop
    )
    {
        await using var db = database.Open();
        var row = await db
            .Definitions.AsNoTracking()
            .FirstOrDefaultAsync(d => d.SiteId == site.Id && d.Id == token.C && d.DeletedAt == null, stop);
        if (row?.Kind == LauncherKind.Launcher)
            return launchers.Plan(site, page, request, token, row, now);
        var facts = (token.R?.V.FactsAt(now, site.Zone) ?? VisitorFacts.Unknown) with
        {
            Device = DeviceReader.FromViewWidth(request.Width),
        };
        var visitor = Passport.New(now, isMember: true).Arrive(now);
        var (plan, stage) = await DraftPlanAsync(site, page, row, facts, now, visitor, stop);
        // The member's file tells the desk, since it can see what of the page is missing.
        var mark = new MarkPart(files.Paths.Member, "", []);
        return PlanPage.Write(site, page, visitor, plan, now, mark, stage, counted: false, files.Paths);
    }

    private async Task<(Plan Plan, StagePart Stage)> DraftPlanAsync(
        LiveSite site,
        PageAddress page,
        DefinitionRow? row,
        VisitorFacts facts,
        Instant now,
        VisitorRecord visitor,
        CancellationToken stop
    )
    {
        if (row is null)
            return (new Plan([], []), Nothing("This callout is gone."));
        var problem = BriefCheck
            .Problems(row.Draft.Read<Brief>(), [.. site.Sources.Values.Select(SitesFeature.Offer)], site.Context)
            .FirstOrDefault(p => p is { Blocks: true, MayBeStaged: false });
        if (problem is not null)
            return (new Plan([], []), Nothing(problem.Message));
        var draft = BriefKind.Instance.Compile(row.In(DefinitionState.Live), row.Draft.Read<Brief>(), site.Context);
        var snapshot = await DraftSite.WithAsync(site, [draft], draft, counter, now, stop);
        var near = facts.Place == Place.Unknown ? NearPlace(draft.Brief, snapshot.Evidence[0].Events) : null;
        if (near is not null)
            facts = facts with { Place = near };
        var plan = Planner.MakePlan(
            snapshot,
            page,
            visitor,
            facts,
            now,
            new PlanOptions(Explain: true) { OnStage = true }
        );
        string Say(Reason reason) => ReasonSentence.Say(reason, site.Zone, _ => null);
        if (plan.Armed.Count == 0)
            return (plan, Nothing(Say(plan.LeftOut[0].Reason)));
        var lifted = plan.SetAside.Select(Say);
        if (near is not null)
            lifted = lifted.Append(
                $"It is read as by somebody in {(near.Region.Length > 0 ? near.Region : near.Country)}."
            );
        return (plan, new StagePart(null, [.. lifted], [.. Needs(draft.Brief)]));
    }

    private static StagePart Nothing(string note) => new(note, [], []);

    // Where only events near the reader count, somebody from nowhere would read nothing.
    private static Place? NearPlace(Brief brief, IReadOnlyList<LedgerEvent> events) =>
        brief.From.Near == Nearness.Anywhere
            ? null
            : events
                .Where(e => e.Place.Country.Length > 0)
                .GroupBy(e => new Place("", e.Place.Region, e.Place.Country))
                .MaxBy(g => g.Count())
                ?.Key;

    private static IEnumerable<NeededPart> Needs(Brief brief)
    {
        if (brief.Look.Shape == Shape.Inset && brief.Look.Anchor.Length > 0)
            yield return new NeededPart(
                brief.Look.Anchor,
                $"This page has no \"{brief.Look.Anchor}\", where it would stand, so it cannot show here."
            );
        foreach (var trigger in brief.When.Triggers)
            if (
                trigger.Kind is TriggerKind.InView or TriggerKind.Click or TriggerKind.VideoEnd
                && trigger.Target.Length > 0
            )
                yield return new NeededPart(
                    trigger.Target,
                    $"This page has no \"{trigger.Target}\", which it waits for, so nothing starts it here."
                );
    }
}
