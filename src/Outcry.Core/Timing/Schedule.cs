using System.Text.Json.Serialization;
using NodaTime;

namespace Outcry.Core.Timing;

/// <summary>Until which end of an event something is said.</summary>
public enum EventEnd
{
    /// <summary>Until it starts.</summary>
    Starts,

    /// <summary>Until it ends.</summary>
    Ends,
}

/// <summary>On which dates and at which hours a callout may run, told on the clock of the site's time zone.</summary>
/// <param name="From">From this local date and time, included; null for no beginning.</param>
/// <param name="Until">Until this one, not included; null for no end.</param>
/// <param name="Hours">Weekly hours; none for every hour.</param>
/// <param name="EventStarts">When the event that it is about starts; null when it is about none.</param>
/// <param name="EventEnds">When that event ends; null when nobody said.</param>
/// <param name="UntilEvent">Until the event starts or ends.</param>
/// <param name="CountdownTo">What a countdown counts to; null for the event's start.</param>
public sealed record Schedule(
    LocalDateTime? From,
    LocalDateTime? Until,
    IReadOnlyList<HoursSpan> Hours,
    LocalDateTime? EventStarts,
    LocalDateTime? EventEnds,
    EventEnd UntilEvent,
    LocalDateTime? CountdownTo
)
{
    /// <summary>Always.</summary>
    public static Schedule Always { get; } = new(null, null, [], null, null, EventEnd.Starts, null);

    /// <summary>The last date and time that counts, from the window and the event alike; null for no end.</summary>
    [JsonIgnore]
    public LocalDateTime? End
    {
        get
        {
            var byEvent = UntilEvent == EventEnd.Ends ? EventEnds ?? EventStarts : EventStarts;
            return (Until, byEvent) switch
            {
                ({ } until, { } ends) => until < ends ? until : ends,
                _ => Until ?? byEvent,
            };
        }
    }

    /// <summary>When it begins; null for no beginning.</summary>
    public Instant? StartAt(DateTimeZone zone) => From is { } from ? WallClock.Opening(from, zone) : null;

    /// <summary>When the last date and time that counts is reached, of the window and the event the earlier; null for no end.</summary>
    public Instant? EndAt(DateTimeZone zone)
    {
        Instant? until = Until is { } closes ? WallClock.Closing(closes, zone) : null;
        Instant? byEvent =
            UntilEvent == EventEnd.Ends && EventEnds is { } ends ? WallClock.Closing(ends, zone)
            : EventStarts is { } starts ? WallClock.Opening(starts, zone)
            : null;
        return until is { } u && byEvent is { } e ? Instant.Min(u, e) : until ?? byEvent;
    }

    /// <summary>When a countdown is over; null when it counts to nothing.</summary>
    public Instant? TargetAt(DateTimeZone zone) => Target is { } target ? WallClock.Opening(target, zone) : null;

    /// <summary>When it stops running, of those moments at which it runs: at its end, or when the hours of the day end; null for never.</summary>
    public Instant? RunsUntil(Instant now, DateTimeZone zone) =>
        (EndAt(zone), WeeklyHours.EndOfRunning(Hours, now, zone)) switch
        {
            ({ } end, { } hours) => Instant.Min(end, hours),
            var (end, hours) => end ?? hours,
        };

    /// <summary>What a countdown counts to; null for nothing.</summary>
    [JsonIgnore]
    public LocalDateTime? Target => CountdownTo ?? EventStarts;

    // Most callouts run always, and are asked at each page view.
    private bool SaysNothing =>
        From is null && Until is null && EventStarts is null && EventEnds is null && Hours.Count == 0;

    /// <summary>Decides whether it may run now.</summary>
    /// <remarks>Local times are read as <see cref="WallClock"/> reads them where clocks change.</remarks>
    /// <returns>Null when it may; else what stands against it, and when it next may, if ever.</returns>
    public ScheduleLimit? Refuses(Instant now, DateTimeZone zone)
    {
        if (SaysNothing)
            return null;
        if (StartAt(zone) is { } start && now < start)
            return new ScheduleLimit(ScheduleSide.NotBegun, start);
        if (EndAt(zone) is { } over && now >= over)
            return new ScheduleLimit(ScheduleSide.Over, over);
        return WeeklyHours.IsRunning(Hours, now, zone)
            ? null
            : new ScheduleLimit(ScheduleSide.OtherHours, WeeklyHours.NextStart(Hours, now, zone));
    }
}

/// <summary>What a schedule has against a moment.</summary>
public enum ScheduleSide
{
    /// <summary>Its first date is still to come.</summary>
    NotBegun,

    /// <summary>Its last date has passed.</summary>
    Over,

    /// <summary>It runs at other hours.</summary>
    OtherHours,
}

/// <summary>A schedule's objection.</summary>
/// <param name="Side">Of which sort.</param>
/// <param name="At">When it begins, when it was over, or when its hours next begin; null for never.</param>
public sealed record ScheduleLimit(ScheduleSide Side, Instant? At);
