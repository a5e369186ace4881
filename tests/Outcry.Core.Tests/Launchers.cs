using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Greetings;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

/// <summary>Small, valid launchers for tests to vary.</summary>
internal static class Launchers
{
    public static LauncherBrief Brief(params Rung[] rungs) =>
        LauncherStarter.Launcher("Europe/London", StarterBrief.Band, StarterBrief.Ground) with
        {
            Rungs = rungs,
        };

    public static Rung Rung(
        string words,
        string[]? on = null,
        VisitorRule? who = null,
        int afterSeconds = 20,
        bool onlyIfThere = false
    )
    {
        var start = LauncherStarter.Rung(GreetingPurpose.Own);
        return start with
        {
            Where = Where(on ?? [], []),
            Who = new WhoFacet(who ?? VisitorRule.Everybody, []),
            When = new DueFacet([Trigger.After(afterSeconds)], Join.All, Schedule.Always, onlyIfThere),
            Words = [new GreetingWords("", words, [])],
        };
    }

    public static Launcher Live(
        string name,
        LauncherBrief brief,
        DefinitionState state = DefinitionState.Live,
        int ageDays = 0
    ) =>
        new(
            new Definition(Guid.NewGuid(), name, state, Now - Duration.FromDays(ageDays), 1),
            brief,
            SiteContext.Nothing
        );

    public static SiteSnapshot Site(
        IReadOnlyList<Launcher> launchers,
        IEnumerable<Callout>? callouts = null,
        bool isTeamThere = true,
        HouseRules? rules = null
    ) =>
        Samples.Site(
            SiteConditions.Plain with
            {
                Launchers = launchers,
                Team = isTeamThere ? TeamThere.All : TeamThere.None,
            },
            [.. callouts ?? [], .. launchers.SelectMany(l => l.Greetings)],
            rules: rules
        );

    public static VisitorRule New { get; } = new FactTest(VisitorFact.Standing, FactComparison.Is, "new");
}
