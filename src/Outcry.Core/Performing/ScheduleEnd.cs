using NodaTime;
using Outcry.Core.Timing;

namespace Outcry.Core.Performing;

/// <summary>When a callout on the plan must be off the screen.</summary>
/// <param name="AtMs">Milliseconds since the page view began, by the clock on the wall.</param>
/// <param name="Limit">Which of its dates or hours ends.</param>
public readonly record struct ScheduleEnd(long AtMs, ScheduleLimit Limit)
{
    /// <summary>A page is seldom open for longer; what ends later is told by the page's signs of life.</summary>
    public static Duration Furthest { get; } = Duration.FromDays(1);

    /// <summary>The end of a schedule that runs now; null when it is further off.</summary>
    public static ScheduleEnd? Of(Schedule schedule, Instant now, DateTimeZone zone)
    {
        if (
            schedule is { Until: null, EventStarts: null, Hours.Count: 0 }
            || schedule.RunsUntil(now, zone) is not { } at
        )
            return null;
        if (at - now > Furthest)
            return null;
        var isLast = schedule.EndAt(zone) == at;
        return new ScheduleEnd(
            (long)Math.Ceiling((at - now).TotalMilliseconds),
            isLast
                ? new ScheduleLimit(ScheduleSide.Over, at)
                : new ScheduleLimit(ScheduleSide.OtherHours, WeeklyHours.NextStart(schedule.Hours, at, zone))
        );
    }
}
