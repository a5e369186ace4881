using System.Text.Json.Serialization;
using NodaTime;

namespace Outcry.Core.Timing;

/// <summary>A stretch of hours on one day of each week, in a site's time zone.</summary>
/// <param name="Day">The day on which it begins.</param>
/// <param name="From">From this time, included.</param>
/// <param name="Until">Until this time, not included; earlier than or equal to <paramref name="From"/> means on the next day.</param>
public sealed record HoursSpan(IsoDayOfWeek Day, LocalTime From, LocalTime Until)
{
    /// <summary>Whether it runs past midnight.</summary>
    [JsonIgnore]
    public bool CrossesMidnight => Until <= From;

    /// <summary>The stretch that begins on a date; empty when a change of clocks skips all of it.</summary>
    /// <exception cref="ArgumentException">The date is another day of the week.</exception>
    public Interval On(LocalDate date, DateTimeZone zone)
    {
        if (date.DayOfWeek != Day)
            throw new ArgumentException($"{date} is no {Day}.", nameof(date));
        var opens = WallClock.Opening(date + From, zone);
        var closes = WallClock.Closing((CrossesMidnight ? date.PlusDays(1) : date) + Until, zone);
        return new Interval(opens, Instant.Max(opens, closes));
    }
}

/// <summary>Weekly hours read on a wall clock, as <see cref="WallClock"/> reads it where clocks change.</summary>
public static class WeeklyHours
{
    /// <summary>Whether the hours are running; no spans at all means always.</summary>
    public static bool IsRunning(IReadOnlyList<HoursSpan> hours, Instant now, DateTimeZone zone)
    {
        if (hours.Count == 0)
            return true;
        var today = now.InZone(zone).Date;
        var yesterday = today.PlusDays(-1);
        for (var i = 0; i < hours.Count; i++)
            if (Runs(hours[i], today) || Runs(hours[i], yesterday))
                return true;
        return false;

        bool Runs(HoursSpan span, LocalDate date) => span.Day == date.DayOfWeek && span.On(date, zone).Contains(now);
    }

    /// <summary>When the hours next begin after <paramref name="now"/>; null when there are none.</summary>
    public static Instant? NextStart(IReadOnlyList<HoursSpan> hours, Instant now, DateTimeZone zone)
    {
        var today = now.InZone(zone).Date;
        Instant? next = null;
        // Eight days, so that a span of today which has passed is found a week on; a week more, should clocks skip that one.
        for (var ahead = 0; ahead <= 15 && next is null; ahead++)
        {
            var date = today.PlusDays(ahead);
            foreach (var span in hours)
                if (
                    span.Day == date.DayOfWeek
                    && span.On(date, zone) is { Duration: var length, Start: var start }
                    && length > Duration.Zero
                    && start > now
                    && (next is null || start < next)
                )
                    next = start;
        }
        return next;
    }

    /// <summary>When the hours that run at <paramref name="now"/> end, spans that touch taken as one; null when none run or they never end.</summary>
    public static Instant? EndOfRunning(IReadOnlyList<HoursSpan> hours, Instant now, DateTimeZone zone)
    {
        if (hours.Count == 0)
            return null;
        var end = now;
        // A week of touching spans is for ever.
        while (IsRunning(hours, end, zone) && end - now <= Duration.FromDays(8))
            end = SpanEnd(hours, end, zone);
        return end == now || end - now > Duration.FromDays(8) ? null : end;
    }

    private static Instant SpanEnd(IReadOnlyList<HoursSpan> hours, Instant now, DateTimeZone zone)
    {
        var today = now.InZone(zone).Date;
        return new[] { today, today.PlusDays(-1) }
            .SelectMany(d => hours.Where(h => h.Day == d.DayOfWeek).Select(h => h.On(d, zone)))
            .Where(i => i.Contains(now))
            .Max(i => i.End);
    }
}
