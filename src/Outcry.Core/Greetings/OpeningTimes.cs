using NodaTime;
using Outcry.Core.Timing;

namespace Outcry.Core.Greetings;

/// <summary>Opening hours ready to be asked: closed dates win over the week, extra openings over both.</summary>
/// <remarks>
/// Clocks that change are read as <see cref="WallClock"/> reads them, so a stretch covers everything between its ends, and
/// whether it is open now and when it opens next never disagree.
/// </remarks>
public sealed class OpeningTimes
{
    /// <summary>How far ahead a next opening is looked for.</summary>
    public static Duration Furthest { get; } = Duration.FromDays(60);

    private readonly IReadOnlyList<HoursSpan> _week;
    private readonly Interval[] _closed;
    private readonly Interval[] _extra;

    /// <summary>Compiles hours that <see cref="HoursCheck"/> has nothing against.</summary>
    /// <exception cref="FormatException">There is no such time zone.</exception>
    public OpeningTimes(OpeningHours hours)
    {
        Zone =
            DateTimeZoneProviders.Tzdb.GetZoneOrNull(hours.Zone)
            ?? throw new FormatException($"There is no time zone called \"{hours.Zone}\".");
        _week = hours.Week;
        _closed = [.. hours.Closed.Select(s => Span(s, Zone))];
        _extra = [.. hours.Extra.Select(s => Span(s, Zone))];
    }

    private OpeningTimes(IReadOnlyList<HoursSpan> week, OpeningTimes other) =>
        (_week, _closed, _extra, Zone) = (week, other._closed, other._extra, other.Zone);

    /// <summary>The zone in which they are meant.</summary>
    public DateTimeZone Zone { get; }

    /// <summary>The same closed dates and extra openings with another week, as of one channel.</summary>
    /// <param name="week">The other week; none means always.</param>
    public OpeningTimes With(IReadOnlyList<HoursSpan> week) => new(week, this);

    /// <summary>Whether a moment is inside.</summary>
    public bool IsInside(Instant at)
    {
        if (Holds(_extra, at))
            return true;
        return !Holds(_closed, at) && WeeklyHours.IsRunning(_week, at, Zone);
    }

    /// <summary>The earliest later moment inside, at most <see cref="Furthest"/> ahead; null for none, and while it is open.</summary>
    public Instant? OpensAfter(Instant now) =>
        IsInside(now)
            ? null
            : First(
                Starts(now).Concat(_extra.Select(e => e.Start)).Concat(_closed.Select(c => c.End)),
                now,
                inside: true
            );

    /// <summary>The end of the stretch that runs now; null while it is closed, and where it ends not within <see cref="Furthest"/>.</summary>
    public Instant? ClosesAfter(Instant now) =>
        IsInside(now)
            ? First(
                Ends(now).Concat(_extra.Select(e => e.End)).Concat(_closed.Select(c => c.Start)),
                now,
                inside: false
            )
            : null;

    // Only where something begins or ends can the answer change, so nothing between need be asked.
    private Instant? First(IEnumerable<Instant> turns, Instant now, bool inside)
    {
        Instant? first = null;
        foreach (var turn in turns)
            if (turn > now && turn - now <= Furthest && !(first <= turn) && IsInside(turn) == inside)
                first = turn;
        return first;
    }

    private IEnumerable<Instant> Starts(Instant now) => Spans(now).Select(s => s.Start);

    private IEnumerable<Instant> Ends(Instant now) => Spans(now).Select(s => s.End);

    private IEnumerable<Interval> Spans(Instant now)
    {
        if (_week.Count == 0)
            yield break;
        var yesterday = now.InZone(Zone).Date.PlusDays(-1);
        for (var ahead = 0; ahead <= Furthest.Days + 2; ahead++)
        {
            var date = yesterday.PlusDays(ahead);
            foreach (var span in _week)
                if (
                    span.Day == date.DayOfWeek
                    && span.On(date, Zone) is { Duration: var length } on
                    && length > Duration.Zero
                )
                    yield return on;
        }
    }

    private static bool Holds(Interval[] spans, Instant at)
    {
        foreach (var span in spans)
            if (span.Contains(at))
                return true;
        return false;
    }

    private static Interval Span(DatedSpan span, DateTimeZone zone)
    {
        var opens = WallClock.Opening(span.From, zone);
        return new Interval(opens, Instant.Max(opens, WallClock.Closing(span.Until, zone)));
    }
}
