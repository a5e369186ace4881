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

    /// <summary>Whether a local date and time lies in it.</summary>
    public bool Holds(LocalDateTime local) =>
        CrossesMidnight
            ? (local.DayOfWeek == Day && local.TimeOfDay >= From)
                || (local.Date.PlusDays(-1).DayOfWeek == Day && local.TimeOfDay < Until)
            : local.DayOfWeek == Day && local.TimeOfDay >= From && local.TimeOfDay < Until;
}

/// <summary>Weekly hours read on a wall clock: an hour that a change of clocks repeats is in twice, one that it skips never comes.</summary>
public static class WeeklyHours
{
    /// <summary>Whether the hours are running; no spans at all means always.</summary>
    public static bool IsRunning(IReadOnlyList<HoursSpan> hours, Instant now, DateTimeZone zone)
    {
        if (hours.Count == 0)
            return true;
        var local = now.InZone(zone).LocalDateTime;
        for (var i = 0; i < hours.Count; i++)
            if (hours[i].Holds(local))
                return true;
        return false;
    }

    /// <summary>When the hours next begin after <paramref name="now"/>; null when there are none.</summary>
    /// <remarks>A beginning that a change of clocks skips is the first instant after the gap.</remarks>
    public static Instant? NextStart(IReadOnlyList<HoursSpan> hours, Instant now, DateTimeZone zone)
    {
        var today = now.InZone(zone).Date;
        Instant? next = null;
        // Eight days, so that a span of today which has passed is found a week on.
        for (var ahead = 0; ahead <= 8; ahead++)
        {
            var date = today.PlusDays(ahead);
            foreach (var span in hours)
                if (span.Day == date.DayOfWeek)
                {
                    var start = zone.AtLeniently(date + span.From).ToInstant();
                    if (start > now && (next is null || start < next))
                        next = start;
                }
            if (next is not null)
                break;
        }
        return next;
    }
}
