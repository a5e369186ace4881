using System.Diagnostics;
using System.Globalization;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Claims;
using Outcry.Core.Evidence;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;

namespace Outcry.Bench;

/// <summary>Events absorbed by a site with 200 live callouts and 20,000 events known, each followed by a new state to plan with; against making that state anew.</summary>
internal static class AbsorbBench
{
    private const int Known = 20_000;
    private const int Sources = 8;
    private const int Rounds = 9;
    private static readonly Instant Start = Instant.FromUtc(2026, 11, 24, 14, 0);

    public static void Run(string file)
    {
        var sources = Enumerable.Range(0, Sources).Select(_ => Guid.NewGuid()).ToArray();
        var callouts = Enumerable
            .Range(0, SampleSite.Callouts)
            .Select(n => new Callout(
                new Definition(Guid.NewGuid(), $"c{n}", DefinitionState.Live, Start, 1),
                SampleSite.Brief(n, sources[n % Sources])
            ))
            .ToList();
        var events = Enumerable
            .Range(0, Known)
            .Select(i => Event(sources[i % Sources], Start - Duration.FromSeconds(20 * i + 20)))
            .ToList();
        var (kept, anew) = (new List<double>(), new List<double>());
        Absorb(callouts, events, sources, 50);
        for (var round = 0; round < Rounds; round++)
        {
            kept.Add(Absorb(callouts, events, sources, 2_000));
            anew.Add(MakeAnew(callouts, events, sources, 5));
        }
        new Figure(
            "events-absorbed",
            Figure.Median(kept),
            "events per second",
            Figure.Median(anew),
            Figure.Median(kept.Zip(anew, (k, a) => k / a)),
            string.Create(
                CultureInfo.InvariantCulture,
                $"{kept.Min():0} to {kept.Max():0} over {Rounds} rounds; beside it, the whole state made anew for each"
            )
        ).Append(file);
    }

    private static LedgerEvent Event(Guid source, Instant at) =>
        SampleSite.Events(source, at)[0] with
        {
            Id = Guid.NewGuid(),
            At = at,
            VisitorId = $"v{at.ToUnixTimeSeconds()}",
        };

    private static double Absorb(List<Callout> callouts, List<LedgerEvent> events, Guid[] sources, int count)
    {
        var coming = Enumerable
            .Range(1, count)
            .Select(i => Event(sources[i % Sources], Start + Duration.FromMilliseconds(i)))
            .ToList();
        var windows = new SourceWindows(events, Known);
        var rules = new RuleWindows(callouts, windows, Start);
        var history = VisitorHistory.Of(events);
        var site = SiteSnapshot.Of(
            HouseRules.Start,
            false,
            callouts,
            rules,
            _ => DisplayPolicy.Start,
            history,
            SiteConditions.Plain,
            Start
        );
        var clock = Stopwatch.StartNew();
        foreach (var happened in coming)
        {
            var changed = new HashSet<Guid>();
            if (windows.Add(happened))
                rules.Add(happened, happened.At, changed);
            history = history.With(happened);
            site = site.Later(
                c => changed.Contains(c.Id),
                rules,
                _ => DisplayPolicy.Start,
                history,
                SiteConditions.Plain,
                happened.At
            );
        }
        GC.KeepAlive(site);
        return count / clock.Elapsed.TotalSeconds;
    }

    // As it was before: one event, and everything is put in order, selected and indexed again.
    private static double MakeAnew(List<Callout> callouts, List<LedgerEvent> events, Guid[] sources, int count)
    {
        var known = events;
        var clock = Stopwatch.StartNew();
        for (var i = 1; i <= count; i++)
        {
            var happened = Event(sources[i % Sources], Start + Duration.FromMilliseconds(i));
            var ids = known.Select(e => e.Id).ToHashSet();
            known = ids.Contains(happened.Id) ? known : [.. known.Append(happened).OrderByDescending(e => e.At)];
            GC.KeepAlive(
                new SiteSnapshot(HouseRules.Start, false, callouts, known, _ => DisplayPolicy.Start, happened.At)
            );
        }
        return count / clock.Elapsed.TotalSeconds;
    }
}
