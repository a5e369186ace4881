using System.Diagnostics;
using System.Globalization;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Claims;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Core.Rehearsing;
using Outcry.Core.Replaying;
using Outcry.Core.Saying;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Bench;

/// <summary>Recorded visits through a draft on two cores, against rehearsing the same visits one by one.</summary>
internal static class ReplayBench
{
    private const int Rounds = 7;
    private const int Workers = 2;
    private const int Visitors = 120_000;
    private const int RehearsedVisitors = 2_000;
    private const int Days = 30;
    private static readonly Instant Now = Instant.FromUtc(2026, 11, 24, 14, 0);

    public static void Run(string file)
    {
        var setting = Setting();
        var visitors = Record();
        Replay(setting, visitors);
        var ours = new List<double>();
        var plain = new List<double>();
        for (var round = 0; round < Rounds; round++)
        {
            ours.Add(Replay(setting, visitors));
            plain.Add(Rehearse(setting, visitors[..RehearsedVisitors]));
        }
        var ratios = ours.Zip(plain, (o, p) => o / p).ToList();
        new Figure(
            "replay",
            Figure.Median(ours),
            "visits per second",
            Figure.Median(plain),
            Figure.Median(ratios),
            string.Create(
                CultureInfo.InvariantCulture,
                $"{ours.Min():0} to {ours.Max():0} over {Rounds} rounds; beside it, the same visits rehearsed one by one"
            )
        ).Append(file);
    }

    private static double Replay(ReplaySetting setting, List<RecordedVisit[]> visitors)
    {
        var visits = visitors.Sum(v => v.Length);
        var total = new ReplayTally(setting);
        var clock = Stopwatch.StartNew();
        var share = visitors.Count / Workers;
        var parts = Enumerable
            .Range(0, Workers)
            .AsParallel()
            .WithDegreeOfParallelism(Workers)
            .Select(worker =>
            {
                var replayer = new Replayer(setting);
                for (var i = worker * share; i < (worker + 1) * share; i++)
                    replayer.Play(visitors[i]);
                return replayer.Tally;
            })
            .ToList();
        foreach (var part in parts)
            total.Add(part);
        var seconds = clock.Elapsed.TotalSeconds;
        if (total.Visits != visits || total.Starts == 0)
            throw new InvalidOperationException("The replay did not count what it was given.");
        return visits / seconds;
    }

    private static double Rehearse(ReplaySetting setting, List<RecordedVisit[]> visitors)
    {
        var clock = Stopwatch.StartNew();
        visitors
            .AsParallel()
            .WithDegreeOfParallelism(Workers)
            .ForAll(visits =>
            {
                var with = visits[0].VisitorBefore();
                var without = with;
                foreach (var visit in visits)
                {
                    var at = visit.Pages[0].At;
                    var (moment, journey) = (setting.AsOf(at), visit.ToJourney(setting.Scrolls));
                    (_, with) = Rehearsal.Play(moment.With, with, visit.Facts, journey, at, PlanOptions.Explained);
                    (_, without) = Rehearsal.Play(
                        moment.Without,
                        without,
                        visit.Facts,
                        journey,
                        at,
                        PlanOptions.Explained
                    );
                }
            });
        return visitors.Sum(v => v.Length) / clock.Elapsed.TotalSeconds;
    }

    // Twelve live callouts of the sorts a site has, on thirty pages of six groups.
    private static ReplaySetting Setting()
    {
        var source = Guid.NewGuid();
        var events = SampleSite.Events(source, Now);
        var starter = StarterBrief.Moment(EventKind.Purchase, [source]);
        var notice = StarterBrief.For(CalloutKind.Notice, EventKind.Purchase, []);
        var tally = StarterBrief.For(CalloutKind.Tally, EventKind.Purchase, [source]);
        var briefs = new List<Brief>
        {
            starter,
            tally with
            {
                Priority = 3,
            },
            notice with
            {
                Priority = 2,
                Look = notice.Look with { Shape = Shape.Ribbon },
            },
        };
        for (var i = 0; i < 9; i++)
            briefs.Add(
                (i % 3) switch
                {
                    0 => starter with { Where = starter.Where with { Includes = [$"/group-{i % 6}/**"] } },
                    1 => tally with { Where = tally.Where with { Includes = [$"/group-{i % 6}/**"] } },
                    _ => notice with
                    {
                        Where = notice.Where with { Includes = [$"/group-{i % 6}/**"] },
                        When = notice.When with { Triggers = [new Trigger(TriggerKind.Scroll, 60)] },
                    },
                }
            );
        Callout Live(Brief brief, int age) =>
            new(
                new Definition(Guid.NewGuid(), $"c{age}", DefinitionState.Live, Now - Duration.FromDays(age), 1),
                brief
            );
        var site = new SiteSnapshot(
            HouseRules.Start,
            false,
            briefs.Select(Live),
            events,
            _ => DisplayPolicy.Start,
            Now
        );
        var draft = Live(
            tally with
            {
                Where = tally.Where with { Includes = ["/group-0/**", "/group-1/**"] },
                Priority = 4,
            },
            0
        );
        var groups = Enumerable
            .Range(0, 6)
            .Select(g => new ReplayGroup(Guid.NewGuid(), PageRule.Parse([$"/group-{g}/**"], [])))
            .ToList();
        return new ReplaySetting(
            site,
            draft,
            events,
            _ => DisplayPolicy.Start,
            Traffic.None,
            Now - Duration.FromDays(Days),
            Now,
            groups
        );
    }

    // One to four visits a visitor, one to six pages a visit, most of them short: as visits are.
    private static List<RecordedVisit[]> Record()
    {
        var chance = new Random(20261124);
        var pages = Enumerable
            .Range(0, 30)
            .Select(p => PageAddress.TryAt("pots.test", $"/group-{p % 6}/page-{p}")!)
            .ToArray();
        var visitors = new List<RecordedVisit[]>(Visitors);
        for (var v = 0; v < Visitors; v++)
        {
            var at = Now - Duration.FromDays(Days) + Duration.FromSeconds(chance.Next(Days * 20 * 3600));
            var facts = new VisitorFacts { Device = chance.Next(3) == 0 ? Device.Desktop : Device.Phone };
            var visits = new RecordedVisit[1 + (int)(3.9 * Math.Pow(chance.NextDouble(), 3))];
            for (var i = 0; i < visits.Length; i++)
            {
                var views = new RecordedPage[1 + (int)(5.9 * Math.Pow(chance.NextDouble(), 2))];
                for (var p = 0; p < views.Length; p++)
                {
                    var stay = (long)(-25_000 * Math.Log(1 - chance.NextDouble()));
                    views[p] = new RecordedPage(pages[chance.Next(pages.Length)], at, stay, chance.Next(101));
                    at += Duration.FromMilliseconds(stay + chance.Next(300, 4_000));
                }
                visits[i] = new RecordedVisit($"v{v}", i + 1, facts, WayIn.Unknown, views);
                at += Duration.FromHours(chance.Next(2, 60));
            }
            visitors.Add(visits);
        }
        return visitors;
    }
}
