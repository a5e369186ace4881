using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Claims;
using Outcry.Core.Explaining;
using Outcry.Core.Greetings;
using Outcry.Core.Targeting;

namespace Outcry.Core.Planning;

/// <summary>Climbs the ladder of the launcher that stands on a page, once for a page view: the first rung that fits is the rung.</summary>
/// <remarks>A ladder is no second chance: where how often refuses the rung, nothing greets, unless its author wants the next.</remarks>
internal struct Ladder(Planner.View view, Launcher? launcher)
{
    private (int Rung, Guid Greeting)? _rung;

    /// <summary>Tries a rung; they are to come from the top down.</summary>
    public (ArmedCallout? Armed, Reason? Reason) Try(Callout greeting, GreetingPlace at, PreparedEvidence evidence)
    {
        // Live traffic is not told why.
        if (launcher is null || at.Launcher != launcher.Id)
            return (null, view.Options.Explains(greeting) ? NoLadder(at, []) : null);
        if (_rung is { } taken)
            return (null, new RungAbove(taken.Rung, taken.Greeting));
        if (Asks(at) is var wants && wants != GreetsWhile.Always && (wants == GreetsWhile.Open) != IsOpen())
            return (null, new OpenOtherwise(wants == GreetsWhile.Open));
        var considered = Planner.Contained(greeting, evidence, view);
        if (considered.IsPassedOver)
            return considered.Plain;
        var enough = considered.Armed is null || view.Options.LiftLimits ? null : Enough();
        if (!(launcher.Brief.ThenNext && (enough ?? considered.Reason) is not null))
            _rung = (at.Rung, greeting.Id);
        return enough is null ? considered.Plain : (null, enough);
    }

    /// <summary>Names every greeting that is not for the page, with its reason.</summary>
    public readonly void ExplainRest(List<LeftOut> leftOut, IReadOnlyList<LauncherAway> away, Instant now)
    {
        var named = leftOut.Select(l => l.Callout.Id).ToHashSet();
        foreach (var greeting in view.Site.Callouts)
            if (greeting.Greets is { } at && !named.Contains(greeting.Id) && greeting.Id != _rung?.Greeting)
                leftOut.Add(new LeftOut(greeting, RestOf(greeting, at, away, now)));
        // What was tried without a launcher is told which reason that one has.
        for (var i = 0; i < leftOut.Count; i++)
            if (leftOut[i] is { Callout.Greets: { } at, Reason: NoLauncher })
                leftOut[i] = leftOut[i] with { Reason = NoLadder(at, away) };
    }

    private readonly Reason RestOf(Callout greeting, GreetingPlace at, IReadOnlyList<LauncherAway> away, Instant now) =>
        launcher is null || at.Launcher != launcher.Id ? NoLadder(at, away)
        : _rung is { } taken && taken.Rung < at.Rung ? new RungAbove(taken.Rung, taken.Greeting)
        : Eligibility.OffPage(greeting.Targeting, view.Page, now, view.Site.Zone);

    private readonly Reason NoLadder(GreetingPlace at, IReadOnlyList<LauncherAway> away) =>
        away.FirstOrDefault(a => a.Launcher.Id == at.Launcher) is { } gone
            ? new NoLauncher(at.Launcher, gone.Reason)
            : new NoLauncher(
                at.Launcher,
                launcher is null ? new NotLive(Publishing.DefinitionState.Paused) : new OtherLauncher(launcher.Id)
            );

    private readonly GreetsWhile Asks(GreetingPlace at) => launcher!.Brief.Rungs[at.Rung - 1].While;

    private readonly bool IsOpen() => launcher!.At(view.Visitor.Now, view.Site.Conditions.Team).IsOpen;

    private readonly GreetedEnough? Enough()
    {
        var (record, seen) = (view.Visitor.Record, 0);
        // Most visitors have met nothing yet, whatever may greet them.
        if (record.Exposures.Count == 0)
            return null;
        foreach (var other in view.Site.Conditions.Launchers)
        foreach (var greeting in other.Greetings)
            if (record.Exposures.GetValueOrDefault(greeting.Id)?.LastStartVisit == record.Visit.Number)
                seen++;
        return seen >= launcher!.Brief.MostPerVisit ? new GreetedEnough(seen, launcher.Brief.MostPerVisit) : null;
    }
}
