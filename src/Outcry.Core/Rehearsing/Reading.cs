using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Pages;
using Outcry.Core.Performing;
using Outcry.Core.Planning;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Rehearsing;

/// <summary>At which moment a page is scrolled so far.</summary>
/// <param name="Percent">Of the page's length, 1 to 100.</param>
/// <param name="AtMs">Milliseconds since the page view began.</param>
public readonly record struct ScrollPoint(int Percent, long AtMs);

/// <summary>How somebody reads one page: stays, scrolls down, closes what does not go by itself, and turns to leave.</summary>
/// <param name="StayMs">Milliseconds until the visitor turns to leave.</param>
/// <param name="Scrolls">How far when.</param>
/// <param name="CloseAfterMs">After how long a callout is closed that stays until it is closed.</param>
public sealed record Reading(long StayMs, IReadOnlyList<ScrollPoint> Scrolls, long CloseAfterMs)
{
    /// <summary>Whether nothing is said of callouts that are not for the page.</summary>
    public bool OnPageOnly { get; init; }

    /// <summary>What else is done on the page.</summary>
    public IReadOnlyList<Act> Acts { get; init; } = [];

    /// <summary>Two minutes, without scrolling.</summary>
    public static Reading TwoMinutes { get; } = new(120_000, [], UsualCloseAfterMs);

    /// <summary>How long somebody is taken to need for closing what does not go by itself: what was closed is recorded, not when.</summary>
    public const long UsualCloseAfterMs = 20_000;

    /// <summary>How much of the page view is played after the turn to leave, so that what waits for it can be seen.</summary>
    public const long LeavingMs = 30_000;

    /// <summary>Plays a reading.</summary>
    /// <param name="site">The site.</param>
    /// <param name="page">The page.</param>
    /// <param name="who">Who reads it.</param>
    /// <param name="now">When.</param>
    public ReadPage Play(SiteSnapshot site, PageAddress page, ImaginedVisitor who, Instant now)
    {
        var reader = new ReaderIdentity(site, page, who, now, this);
        var acts = Scrolls
            .Where(s => s.AtMs < StayMs)
            .Select(s => new Act(s.AtMs, ActKind.Scroll, Number: s.Percent))
            .OrderBy(a => a.AtMs)
            .ToList();
        // Who scrolls from one depth to the next does not rest meanwhile.
        if (acts is [.., var last])
            acts.Insert(0, new Act(0, ActKind.Busy, Number: (int)last.AtMs));
        acts.AddRange(Acts);
        var read = reader.Play(StayMs, acts);
        if (!read.Armed.Any(a => Leaves(a.Callout)))
            return new ReadPage(read, []);
        var turn = new Act(StayMs, who.Device == Device.Desktop ? ActKind.PointerOut : ActKind.FlickUp);
        var left = reader.Play(StayMs + LeavingMs, [.. acts, turn]);
        var leaving = left.Armed.Where(a => Leaves(a.Callout)).Select(a => a.Callout.Id).ToHashSet();
        return new ReadPage(
            read with
            {
                Outcome = new PageOutcome(
                    read.Outcome.Showings,
                    [
                        .. read.Outcome.Missed.Where(m => !leaving.Contains(m.Callout)),
                        .. left.Outcome.Missed.Where(m => leaving.Contains(m.Callout)),
                    ]
                ),
            },
            [.. left.Outcome.Showings.Where(s => s.StartMs >= StayMs && leaving.Contains(s.Callout))]
        );
    }

    private static bool Leaves(Callout callout) => callout.Targeting.Triggers.Any(t => t.Kind == TriggerKind.Leaving);

    private sealed class ReaderIdentity(
        SiteSnapshot site,
        PageAddress page,
        ImaginedVisitor who,
        Instant now,
        Reading how
    )
    {
        private readonly VisitorRecord _record = who.RecordAt("rehearsal", now, site.Callouts);
        private readonly VisitorFacts _facts = who.FactsAt(now, site.Zone);
        private readonly PlanOptions _options = PlanOptions.Explained with
        {
            PastEvents = who.PastEventsAt(now),
            OnPageOnly = how.OnPageOnly,
            AsShare = true,
        };

        // What is closed makes room for what comes after it, so each close is known only once all before it are played.
        public RehearsedPage Play(long stayMs, List<Act> acts)
        {
            var closed = new List<Act>();
            while (true)
            {
                IReadOnlyList<Act> all = [.. acts.Concat(closed).OrderBy(a => a.AtMs)];
                var journey = new JourneyPage(page, stayMs, all) { CameBy = who.CameBy };
                var played = Rehearsal.Play(site, _record, _facts, [journey], now, _options).Pages[0];
                if (NextClose(played, closed, stayMs) is not { } next)
                    return played;
                closed.Add(next);
            }
        }

        private Act? NextClose(RehearsedPage played, List<Act> closed, long stayMs)
        {
            var open = played.Armed.Where(a => a.StaysMs.Contains(null)).Select(a => a.Callout.Id).ToHashSet();
            foreach (var showing in played.Outcome.Showings)
                if (
                    open.Contains(showing.Callout)
                    && showing.EndedBy == EndedBy.PageLeft
                    && showing.StartMs + how.CloseAfterMs < stayMs
                    && !closed.Exists(c => c.Callout == showing.Callout)
                )
                    return new Act(showing.StartMs + how.CloseAfterMs, ActKind.Close, showing.Callout);
            return null;
        }
    }
}

/// <summary>What a reading came to.</summary>
/// <param name="Read">Until the turn to leave.</param>
/// <param name="OnLeaving">What came on at the turn.</param>
public sealed record ReadPage(RehearsedPage Read, IReadOnlyList<Showing> OnLeaving)
{
    /// <summary>All showings, in order.</summary>
    public IEnumerable<Showing> Showings => Read.Outcome.Showings.Concat(OnLeaving);
}

/// <summary>When recorded visitors reach a depth of a page.</summary>
public static class ScrollPace
{
    /// <summary>Fewer page views than this that reached a depth say nothing of when visitors do.</summary>
    public const int LeastReached = 5;

    /// <summary>The median time at which a depth was reached, and by how many.</summary>
    /// <remarks>Recorded is how far and how long, not when; the scrolling is taken to have gone on evenly, as in a replay.</remarks>
    /// <param name="views">Depth in percent and visible time in milliseconds of page views that were recorded.</param>
    /// <param name="percent">The depth asked for, 1 to 100.</param>
    /// <returns>The median in milliseconds, null when fewer than <see cref="LeastReached"/> got there; and how many did.</returns>
    public static (long? MedianMs, int Reached) Of(IReadOnlyList<(int DepthPercent, long StayMs)> views, int percent)
    {
        var times = new List<long>();
        foreach (var (depth, stay) in views)
            if (depth >= percent && stay > 0)
                times.Add(stay * percent / depth);
        if (times.Count < LeastReached)
            return (null, times.Count);
        times.Sort();
        return (times[times.Count / 2], times.Count);
    }
}
