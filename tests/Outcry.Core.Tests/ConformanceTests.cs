using NodaTime;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Core.Rehearsing;
using Outcry.Core.Visitors;
using Outcry.Tests.Shared;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

/// <summary>Plays the scenarios that the real snippet plays in a real browser: both must come to the same timeline.</summary>
public sealed class ConformanceTests
{
    public static TheoryData<string> Names => [.. Scenario.All.Select(s => s.Name)];

    [Fact]
    public void There_are_enough_scenarios_and_every_rule_is_shown_at_least_twice()
    {
        Assert.True(Scenario.All.Count >= 40, $"{Scenario.All.Count} scenarios");
        Assert.Equal(Scenario.All.Count, Scenario.All.Select(s => s.Name).Distinct().Count());
        for (var rule = 0; rule <= 13; rule++)
            Assert.True(Scenario.All.Count(s => s.Rule.Contains(rule)) >= 2, $"rule {rule}");
    }

    [Theory]
    [MemberData(nameof(Names))]
    public void The_rehearsal_comes_to_the_timeline(string name)
    {
        var scenario = Scenario.All.Single(s => s.Name == name);
        var callouts = scenario
            .Callouts.Select((c, i) => Live(c.Key, c.Value.Brief(c.Key, Source), age: scenario.Callouts.Count - i))
            .ToList();
        var ids = callouts.ToDictionary(c => c.Name, c => c.Id);
        var launchers = scenario.Launcher(ids) is { } launcher ? new[] { Launchers.Live("Launcher", launcher) } : [];
        var pages = scenario.Pages.Select(p => new JourneyPage(
            PageAddress.TryAt("pots.example", p.Path)!,
            (long)(p.Stay * 1000),
            [.. p.Doings.Select(a => a.ToAct(ids))]
        )
        {
            WithoutRoom = p.Full ? ids.Values : [],
        });
        var (rehearsed, _) = Rehearsal.Play(
            Launchers.Site(launchers, callouts, rules: scenario.Rules.HouseRules),
            VisitorRecord.New("visitor", Now),
            VisitorFacts.Unknown with
            {
                Device = scenario.Phone ? Device.Phone : Device.Desktop,
            },
            pages,
            Now,
            PlanOptions.Explained
        );
        var names = ids.ToDictionary(i => i.Value, i => i.Key);
        var timeline = rehearsed.SelectMany((p, i) => Timeline.Of(i + 1, p.Outcome, id => names[id]));
        Assert.Equal(scenario.Timeline, timeline);
    }
}
