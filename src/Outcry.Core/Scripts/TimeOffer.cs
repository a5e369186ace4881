using System.Globalization;
using NodaTime;
using NodaTime.Text;
using Outcry.Core.Greetings;
using Outcry.Core.Timing;

namespace Outcry.Core.Scripts;

/// <summary>Which times a question offers.</summary>
/// <param name="Title">What is booked: "A visit to the workshop"; the invitation is called so, 1 to 80 characters.</param>
/// <param name="Minutes">How long it takes, 5 to 480.</param>
/// <param name="NoticeHours">How long before it can be chosen, 0 to 336 hours.</param>
/// <param name="DaysAhead">How many days ahead it can be chosen, 1 to 60.</param>
public sealed record TimeOffer(string Title, int Minutes, int NoticeHours, int DaysAhead)
{
    /// <summary>An hour, from tomorrow, within two weeks.</summary>
    public static TimeOffer Start { get; } = new("", 60, 24, 14);
}

/// <summary>A time that is offered.</summary>
/// <param name="At">When it begins.</param>
/// <param name="Value">As it is kept: ISO date and time on the wall clock, "2015-12-01 10:00".</param>
/// <param name="Label">As a reader sees it: "Tue 1 Dec, 10:00".</param>
public sealed record OfferedTime(Instant At, string Value, string Label);

/// <summary>Finds times that are free.</summary>
public static class FreeTimes
{
    /// <summary>Times of one question.</summary>
    public const int Most = 6;

    private const int MostOfDay = 2;
    private const int MostTried = 2_000;
    private static readonly Duration Apart = Duration.FromHours(3);

    private static readonly LocalDateTimePattern Kept = LocalDateTimePattern.CreateWithInvariantCulture(
        "uuuu-MM-dd HH:mm"
    );

    // Who is open at all hours still wants nobody at three in the morning.
    private static readonly OfficeHours Office = new(new LocalTime(9, 0), new LocalTime(17, 0));

    private sealed record OfficeHours(LocalTime From, LocalTime Until);

    /// <summary>The first times that are free: two of a day at most, three hours apart, so that there is something to choose from.</summary>
    /// <param name="hours">When the team is there; one without hours of the week is there on weekdays from nine to five.</param>
    /// <param name="offer">What is offered.</param>
    /// <param name="now">When it is asked.</param>
    /// <param name="taken">Times that are taken, by their beginning.</param>
    /// <param name="zone">On whose wall clock they are said and kept.</param>
    /// <param name="language">BCP 47 tag of the reader.</param>
    public static IReadOnlyList<OfferedTime> Find(
        OpeningHours hours,
        TimeOffer offer,
        Instant now,
        IReadOnlyCollection<Instant> taken,
        DateTimeZone zone,
        string language
    )
    {
        var week = hours.Week.Count > 0 ? hours : hours with { Week = OfficeWeek };
        var times = new OpeningTimes(week);
        var (length, found) = (Duration.FromMinutes(offer.Minutes), new List<OfferedTime>());
        var (at, until) = (now + Duration.FromHours(offer.NoticeHours), now + Duration.FromDays(offer.DaysAhead));
        for (var i = 0; i < MostTried && found.Count < Most && at < until; i++)
        {
            if (!times.IsInside(at))
            {
                if (times.OpensAfter(at) is not { } opens)
                    break;
                at = opens;
            }
            var begins = OnGrid(at, times.Zone, offer.Minutes);
            if (!IsOpenThrough(times, begins, length))
                at = times.IsInside(begins) && times.ClosesAfter(begins) is { } closes ? closes : begins;
            else if (taken.Any(t => t < begins + length && begins < t + length))
                at = begins + Duration.FromMinutes(Grid(offer.Minutes));
            else
            {
                var local = begins.InZone(times.Zone);
                var ofDay = found.Count(f => f.At.InZone(times.Zone).Date == local.Date);
                var said = begins.InZone(zone);
                if (begins < until && ofDay < MostOfDay)
                    found.Add(new OfferedTime(begins, Kept.Format(said.LocalDateTime), SayAt(said, language)));
                at = ofDay + 1 < MostOfDay ? begins + Duration.Max(Apart, length) : NextDay(local);
            }
        }
        return found;
    }

    /// <summary>Says a kept time as a reader sees it; as it is where it is none.</summary>
    public static string Say(string value, string language) =>
        Kept.Parse(value) is { Success: true, Value: var at }
            ? at.ToString("ddd d MMM, HH:mm", CultureOf(language))
            : value;

    /// <summary>Says a moment as a reader sees it: "Tue 1 Dec, 10:00".</summary>
    public static string SayAt(ZonedDateTime at, string language) =>
        at.LocalDateTime.ToString("ddd d MMM, HH:mm", CultureOf(language));

    /// <summary>The time that an answer chooses; null where the script does not wait for one, or the answer is none of those offered.</summary>
    public static (Step Step, OfferedTime Time)? Chosen(
        Script script,
        ScriptState state,
        string said,
        Circumstances now
    ) =>
        script.Steps.FirstOrDefault(s => s.Id == state.Waits) is { Ask: { Kind: AskKind.Time } ask } step
        && now.Times.GetValueOrDefault(step.Id) is { } times
        && AnswerReader.Read(ask, ScriptMachine.WordsAt(step, now), said, now) is { } read
        && times.FirstOrDefault(t => t.Value == read.Value) is { } time
            ? (step, time)
            : null;

    private static readonly IReadOnlyList<HoursSpan> OfficeWeek =
    [
        .. new[]
        {
            IsoDayOfWeek.Monday,
            IsoDayOfWeek.Tuesday,
            IsoDayOfWeek.Wednesday,
            IsoDayOfWeek.Thursday,
            IsoDayOfWeek.Friday,
        }.Select(d => new HoursSpan(d, Office.From, Office.Until)),
    ];

    private static bool IsOpenThrough(OpeningTimes times, Instant at, Duration length) =>
        times.IsInside(at) && (times.ClosesAfter(at) is not { } closes || closes >= at + length);

    // Whole hours begin on the hour, half hours on the half.
    private static int Grid(int minutes) =>
        minutes % 60 == 0 ? 60
        : minutes % 30 == 0 ? 30
        : 15;

    private static Instant OnGrid(Instant at, DateTimeZone zone, int minutes)
    {
        var (local, grid) = (at.InZone(zone).LocalDateTime, Grid(minutes));
        var midnight = local.Date.AtMidnight();
        var past = Period.Between(midnight, local, PeriodUnits.Seconds).Seconds;
        var next = midnight.PlusSeconds((past + (grid * 60) - 1) / (grid * 60) * grid * 60);
        return next.InZoneLeniently(zone).ToInstant();
    }

    private static Instant NextDay(ZonedDateTime local) => local.Zone.AtStartOfDay(local.Date.PlusDays(1)).ToInstant();

    private static CultureInfo CultureOf(string language)
    {
        try
        {
            return CultureInfo.GetCultureInfo(language);
        }
        catch (CultureNotFoundException)
        {
            return CultureInfo.InvariantCulture;
        }
    }
}
