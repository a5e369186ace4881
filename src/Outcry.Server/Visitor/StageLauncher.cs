using NodaTime;
using Outcry.Core.Explaining;
using Outcry.Core.Greetings;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Core.Rehearsing;
using Outcry.Core.Visitors;
using Outcry.Server.Passports;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Visitor;

/// <summary>Plans a launcher's stage: the draft alone, as one visitor meets it at one moment, its greeting at once.</summary>
internal sealed class StageLauncher(SnippetFiles files, TeamPresence team)
{
    public PlanResponse Plan(
        LiveSite site,
        PageAddress page,
        PlanRequest request,
        PrivateTokenBody token,
        DefinitionRow row,
        Instant now
    )
    {
        var at = token.A is { } seconds ? Instant.FromUnixTimeSeconds(seconds) : now;
        var who = token.R?.V ?? ImaginedVisitor.Newcomer;
        var facts = who.FactsAt(at, site.Zone) with { Device = DeviceReader.FromViewWidth(request.Width) };
        var mark = new MarkPart(files.Paths.Member, "", []);
        var member = Passport.New(now, isMember: true).Arrive(now);
        var (launcher, problem) = DraftLauncher.TryCompile(row, site, now);
        if (launcher is null)
            return PlanPage.Write(
                site,
                page,
                member,
                new Plan([], []),
                now,
                mark,
                new StagePart(problem, [], []),
                counted: false,
                files.Paths
            );
        var snapshot = site.Snapshot.OnAir().Trying(launcher);
        var plan = Planner.MakePlan(
            snapshot,
            page,
            who.RecordAt("stage", at, snapshot.Callouts).Arrive(at).CameIn(who.CameBy),
            facts,
            at,
            new PlanOptions(Explain: true, LiftLimits: true) { PastEvents = who.PastEventsAt(at) }
        );
        // Only what is on the stage is looked at; what else the site has is not.
        var own = plan with
        {
            Armed = [.. plan.Armed.Where(a => a.Callout.Greets?.Launcher == launcher.Id)],
            Stands = plan.Stands?.Id == launcher.Id ? launcher : null,
        };
        var away = plan.Away.FirstOrDefault(a => a.Launcher.Id == launcher.Id);
        var note = away is null ? null : ReasonSentence.Say(away.Reason, site.Zone, _ => null);
        var reader = new LauncherReader(site, page, facts, team.NamesOf(site.WorkspaceId), TeamThere.All, at);
        var stage = new StagePart(note, [.. own.Armed.Select(Lifted).OfType<string>()], []);
        return PlanPage.Write(site, page, member, own, now, mark, stage, counted: false, files.Paths) with
        {
            Launcher = PlanPage.LauncherOf(own, reader, files.Paths),
        };
    }

    private static string? Lifted(ArmedCallout greeting) =>
        greeting.DueMs == 0 ? null : $"Its greeting is {greeting.DueWords}; here it is there at once.";
}
