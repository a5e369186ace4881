using Ical.Net;
using Ical.Net.CalendarComponents;
using Ical.Net.DataTypes;
using NodaTime;
using Outcry.Core.Care;

namespace Outcry.Core.Greetings;

/// <summary>What was read from a calendar file.</summary>
/// <param name="Spans">Its dates on the wall clock of the zone asked for, in order; a repeated one once for each time.</param>
/// <param name="LeftOut">Events passed over because they are cancelled or take up no time.</param>
/// <param name="Fault">Why nothing could be read; null when it could.</param>
public sealed record CalendarReading(IReadOnlyList<DatedSpan> Spans, int LeftOut, string? Fault);

/// <summary>Reads closed dates from iCalendar files (RFC 5545).</summary>
public static class CalendarFile
{
    /// <summary>Largest file read, in bytes.</summary>
    public const int MostBytes = 1_000_000;

    /// <summary>How far ahead repeated events are followed.</summary>
    public static NodaTime.Period Ahead { get; } = NodaTime.Period.FromYears(2);

    private const int LongestName = 80;
    private const int LongestUid = 255;

    /// <summary>Reads a file.</summary>
    /// <param name="text">Its text.</param>
    /// <param name="zone">The zone on whose wall clock its times are to stand; times without a zone are taken as its own.</param>
    /// <param name="today">What was over before this day is left out.</param>
    /// <remarks>
    /// Timed and all-day VEVENTs with RRULE, RDATE and EXDATE; STATUS:CANCELLED and TRANSP:TRANSPARENT are passed over, the
    /// latter because who sets it says that the time is not taken.
    /// </remarks>
    public static CalendarReading Read(string text, DateTimeZone zone, LocalDate today)
    {
        List<CalendarEvent> events;
        try
        {
            events = [.. (CalendarCollection.Load(text) ?? []).Where(c => c is not null).SelectMany(c => c.Events)];
        }
        catch (Exception unreadable) when (IsFault(unreadable))
        {
            return new CalendarReading(
                [],
                0,
                "This is no calendar file: it begins with BEGIN:VCALENDAR and ends with END:VCALENDAR."
            );
        }
        if (events.Count == 0)
            return new CalendarReading([], 0, "There is no event in this file.");
        var taken = events.Where(IsTaken).ToList();
        try
        {
            var spans = taken
                .SelectMany(e => SpansOf(e, zone, today))
                .Distinct()
                .OrderBy(s => s.From)
                .Take(HoursCheck.MostDates + 1)
                .ToList();
            return spans.Count > HoursCheck.MostDates
                ? new CalendarReading(
                    [],
                    0,
                    $"It has more than {HoursCheck.MostDates} dates in the next two years. Export fewer."
                )
                : new CalendarReading(spans, events.Count - taken.Count, null);
        }
        catch (Exception unreadable) when (IsFault(unreadable))
        {
            return new CalendarReading(
                [],
                0,
                "One of its events cannot be read: a date or a rule of repetition is not as RFC 5545 has it."
            );
        }
    }

    /// <summary>Closed dates with those of a file put in: of an event that was there already what the file says now counts.</summary>
    public static IReadOnlyList<DatedSpan> PutIn(IReadOnlyList<DatedSpan> kept, IReadOnlyList<DatedSpan> read)
    {
        var uids = read.Select(s => s.Uid).Where(u => u.Length > 0).ToHashSet(StringComparer.Ordinal);
        return [.. kept.Where(s => !uids.Contains(s.Uid)).Concat(read).Distinct().OrderBy(s => s.From)];
    }

    // The reader of files throws whatever its parts throw; nothing of the sort is ours to let out.
    private static bool IsFault(Exception failure) => failure is not (OutOfMemoryException or StackOverflowException);

    private static bool IsTaken(CalendarEvent one) =>
        one.Start is not null
        && !string.Equals(one.Status, EventStatus.Cancelled, StringComparison.OrdinalIgnoreCase)
        && !string.Equals(one.Transparency, TransparencyType.Transparent, StringComparison.OrdinalIgnoreCase);

    private static IEnumerable<DatedSpan> SpansOf(CalendarEvent one, DateTimeZone zone, LocalDate today)
    {
        var name = PlainText.Clip(PlainText.Clean(one.Summary).Trim(), LongestName);
        var uid = PlainText.Clip(PlainText.Clean(one.Uid), LongestUid);
        var last = today.Plus(Ahead);
        // Two years of a rule that repeats every second are more than anybody means.
        foreach (
            var at in one.GetOccurrences(Date(today.PlusDays(-MostDaysLong)))
                .TakeWhile(o => DateOf(o.Period.StartTime) <= last)
                .Take(MostTimes)
        )
        {
            var from = Local(at.Period.StartTime, zone);
            var until = at.Period.EffectiveEndTime is { } end ? Local(end, zone) : from;
            // An all-day event without an end is its day (§3.6.1); a timed one without takes no time.
            if (!at.Period.StartTime.HasTime && until <= from)
                until = from.Date.PlusDays(1).AtMidnight();
            if (until > from && until.Date >= today)
                yield return new DatedSpan(from, until, name.Length > 0 ? name : "Closed", uid);
        }
    }

    private const int MostTimes = 5_000;

    // What began before today may not be over.
    private const int MostDaysLong = 366;

    private static CalDateTime Date(LocalDate date) => new(date.Year, date.Month, date.Day);

    private static LocalDate DateOf(CalDateTime at) => new(at.Year, at.Month, at.Day);

    private static LocalDateTime Local(CalDateTime at, DateTimeZone zone)
    {
        var written = new LocalDateTime(at.Year, at.Month, at.Day, at.Hour, at.Minute, at.Second);
        if (!at.HasTime || at.IsFloating)
            return written;
        return Instant.FromDateTimeUtc(at.AsUtc).InZone(zone).LocalDateTime;
    }
}
