using CsCheck;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Explaining;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

/// <summary>Dates, hours and limits on the clock of a site's time zone, over changes of clocks too (IANA data).</summary>
public sealed class TimingTests
{
    private static readonly DateTimeZone London = DateTimeZoneProviders.Tzdb["Europe/London"];

    private static Instant Utc(int month, int day, int hour, int minute = 0) =>
        Instant.FromUtc(2015, month, day, hour, minute);

    private static HoursSpan Span(IsoDayOfWeek day, int from, int until) =>
        new(day, new LocalTime(from % 24, 0), new LocalTime(until % 24, 0));

    private static LocalDateTime? Day(int? day) => day is { } d ? new LocalDateTime(2015, 11, d, 0, 0) : null;

    [Theory]
    [InlineData(null, null, null, EventEnd.Ends, null)]
    [InlineData(20, null, null, EventEnd.Starts, 20)]
    [InlineData(null, 21, 22, EventEnd.Starts, 21)]
    [InlineData(null, 21, 22, EventEnd.Ends, 22)]
    [InlineData(null, 21, null, EventEnd.Ends, 21)]
    [InlineData(null, null, 22, EventEnd.Ends, 22)]
    [InlineData(20, 21, 22, EventEnd.Starts, 20)]
    [InlineData(23, 21, 22, EventEnd.Starts, 21)]
    [InlineData(23, 21, 22, EventEnd.Ends, 22)]
    [InlineData(22, 21, 22, EventEnd.Ends, 22)]
    public void The_end_is_the_earlier_of_window_and_event(int? until, int? starts, int? ends, EventEnd by, int? end)
    {
        var schedule = Schedule.Always with
        {
            Until = Day(until),
            EventStarts = Day(starts),
            EventEnds = Day(ends),
            UntilEvent = by,
        };
        Assert.Equal(Day(end), schedule.End);
        Assert.Equal(end is { } day ? Utc(11, day, 0) : null, schedule.EndAt(London));
    }

    [Fact]
    public void It_runs_until_its_last_date_or_until_the_hours_of_the_day_end()
    {
        // 24 November 2015 was a Tuesday.
        var hours = Schedule.Always with
        {
            Hours = [Span(IsoDayOfWeek.Tuesday, 9, 17)],
        };
        Assert.Null(Schedule.Always.RunsUntil(Utc(11, 24, 10), London));
        Assert.Equal(Utc(11, 24, 17), hours.RunsUntil(Utc(11, 24, 10), London));
        var last = hours with { Until = new LocalDateTime(2015, 11, 24, 12, 0) };
        Assert.Equal(Utc(11, 24, 12), last.RunsUntil(Utc(11, 24, 10), London));
        var later = hours with { Until = new LocalDateTime(2015, 11, 30, 12, 0) };
        Assert.Equal(Utc(11, 24, 17), later.RunsUntil(Utc(11, 24, 10), London));
        Assert.Equal(Utc(11, 25, 0), (Schedule.Always with { Until = Day(25) }).RunsUntil(Utc(11, 24, 10), London));
    }

    [Fact]
    public void Of_stretches_that_overlap_the_one_that_ends_last_counts_and_a_week_of_them_never_ends()
    {
        HoursSpan[] overlapping =
        [
            Span(IsoDayOfWeek.Tuesday, 9, 12),
            Span(IsoDayOfWeek.Tuesday, 10, 17),
            Span(IsoDayOfWeek.Tuesday, 17, 18),
        ];
        Assert.Equal(Utc(11, 24, 18), WeeklyHours.EndOfRunning(overlapping, Utc(11, 24, 10), London));
        Assert.Null(WeeklyHours.EndOfRunning(overlapping, Utc(11, 24, 18), London));
        HoursSpan[] always =
        [
            .. Enum.GetValues<IsoDayOfWeek>().Where(d => d != IsoDayOfWeek.None).Select(d => Span(d, 0, 24)),
        ];
        Assert.Null(WeeklyHours.EndOfRunning(always, Utc(11, 24, 10), London));
        // From yesterday into today.
        HoursSpan[] night = [Span(IsoDayOfWeek.Monday, 22, 6)];
        Assert.Equal(Utc(11, 24, 6), WeeklyHours.EndOfRunning(night, Utc(11, 24, 1), London));
    }

    // In 2015 London's clocks go forward on 29 March at 01:00 UTC and back on 25 October at 01:00 UTC.
    [Theory]
    [InlineData(3, 29, 0, 30, 0, 2, true)]
    [InlineData(3, 29, 1, 30, 0, 2, false)]
    [InlineData(3, 29, 1, 0, 2, 4, true)]
    [InlineData(3, 29, 2, 30, 2, 4, true)]
    [InlineData(3, 29, 3, 0, 2, 4, false)]
    [InlineData(10, 25, 0, 30, 1, 2, true)]
    [InlineData(10, 25, 1, 30, 1, 2, true)]
    [InlineData(10, 25, 2, 0, 1, 2, false)]
    public void Hours_follow_the_wall_clock_over_a_change(
        int month,
        int day,
        int hour,
        int minute,
        int from,
        int until,
        bool running
    )
    {
        HoursSpan[] hours = [Span(IsoDayOfWeek.Sunday, from, until)];
        Assert.Equal(running, WeeklyHours.IsRunning(hours, Utc(month, day, hour, minute), London));
    }

    [Theory]
    [InlineData("America/New_York", 3, 8, 7, 30, 3)]
    [InlineData("Australia/Lord_Howe", 10, 3, 15, 45, 2)]
    [InlineData("Asia/Kathmandu", 6, 1, 18, 20, 0)]
    public void Hours_are_read_in_any_zone(string zone, int month, int day, int hour, int minute, int from)
    {
        var there = DateTimeZoneProviders.Tzdb[zone];
        var now = Utc(month, day, hour, minute);
        var local = now.InZone(there).LocalDateTime;
        Assert.Equal(from, local.Hour);
        Assert.True(WeeklyHours.IsRunning([Span(local.DayOfWeek, from, from + 1)], now, there));
        Assert.False(WeeklyHours.IsRunning([Span(local.DayOfWeek, from + 1, from + 2)], now, there));
    }

    [Fact]
    public void A_stretch_that_ends_before_it_begins_crosses_midnight()
    {
        HoursSpan[] hours = [Span(IsoDayOfWeek.Friday, 22, 2)];
        Assert.True(WeeklyHours.IsRunning(hours, Utc(11, 27, 23), London));
        Assert.True(WeeklyHours.IsRunning(hours, Utc(11, 28, 1), London));
        Assert.False(WeeklyHours.IsRunning(hours, Utc(11, 28, 2), London));
        Assert.False(WeeklyHours.IsRunning(hours, Utc(11, 27, 1), London));
        Assert.True(WeeklyHours.IsRunning([Span(IsoDayOfWeek.Friday, 9, 9)], Utc(11, 28, 8), London));
        Assert.True(WeeklyHours.IsRunning([], Utc(11, 27, 1), London));
    }

    [Fact]
    public void The_next_start_is_the_nearest_even_when_it_is_a_week_away()
    {
        HoursSpan[] hours = [Span(IsoDayOfWeek.Tuesday, 9, 17), Span(IsoDayOfWeek.Thursday, 9, 12)];
        // 24 November 2015 is a Tuesday.
        Assert.Equal(Utc(11, 24, 9), WeeklyHours.NextStart(hours, Utc(11, 24, 8, 59), London));
        Assert.Equal(Utc(11, 26, 9), WeeklyHours.NextStart(hours, Utc(11, 24, 9), London));
        Assert.Equal(Utc(12, 1, 9), WeeklyHours.NextStart([hours[0]], Utc(11, 24, 17), London));
        Assert.Null(WeeklyHours.NextStart([], Utc(11, 24, 17), London));
    }

    [Fact]
    public void A_start_in_the_hour_that_is_skipped_is_the_first_instant_after_it() =>
        Assert.Equal(
            Utc(3, 29, 1),
            WeeklyHours.NextStart(
                [new HoursSpan(IsoDayOfWeek.Sunday, new LocalTime(1, 30), new LocalTime(5, 0))],
                Utc(3, 29, 0),
                London
            )
        );

    [Fact]
    public void Of_an_hour_that_comes_twice_an_opening_takes_the_first_and_a_closing_the_second()
    {
        HoursSpan[] hours = [new(IsoDayOfWeek.Sunday, new LocalTime(1, 15), new LocalTime(1, 45))];
        Assert.False(WeeklyHours.IsRunning(hours, Utc(10, 25, 0, 14), London));
        foreach (var minute in (int[])[15, 50, 59])
            Assert.True(WeeklyHours.IsRunning(hours, Utc(10, 25, 0, minute), London));
        Assert.True(WeeklyHours.IsRunning(hours, Utc(10, 25, 1, 44), London));
        Assert.False(WeeklyHours.IsRunning(hours, Utc(10, 25, 1, 45), London));
        Assert.Equal(Utc(10, 25, 1, 45), WeeklyHours.EndOfRunning(hours, Utc(10, 25, 0, 20), London));

        var window = Schedule.Always with
        {
            From = new LocalDateTime(2015, 10, 25, 1, 15),
            Until = new LocalDateTime(2015, 10, 25, 1, 45),
        };
        Assert.Equal((Utc(10, 25, 0, 15), Utc(10, 25, 1, 45)), (window.StartAt(London), window.EndAt(London)));
    }

    [Fact]
    public void What_runs_now_and_what_starts_next_never_disagree()
    {
        var zones = OneOf(
            "Europe/London",
            "America/New_York",
            "Australia/Lord_Howe",
            "Africa/Cairo",
            "America/Sao_Paulo"
        );
        var time = Gen.Int[0, 95].Select(q => LocalTime.Midnight.PlusMinutes(15 * q));
        var span = Gen.Select(
            Gen.Int[1, 7],
            time,
            time,
            (day, from, until) => new HoursSpan((IsoDayOfWeek)day, from, until)
        );
        Gen.Select(zones, span.Array[1, 4], Gen.Int[0, 364], Gen.Int[0, 95])
            .Sample(
                (name, hours, day, quarter) =>
                {
                    var zone = DateTimeZoneProviders.Tzdb[name];
                    var now = Utc(1, 1, 0) + Duration.FromDays(day) + Duration.FromMinutes(15 * quarter);
                    if (WeeklyHours.IsRunning(hours, now, zone))
                        return;
                    if (WeeklyHours.NextStart(hours, now, zone) is not { } next)
                        return;
                    Assert.True(WeeklyHours.IsRunning(hours, next, zone), $"not running at {next}");
                    for (var at = now; at < next; at += Duration.FromMinutes(15))
                        Assert.False(WeeklyHours.IsRunning(hours, at, zone), $"running at {at}, before {next}");
                }
            );
    }

    [Fact]
    public void Once_and_never_again_promises_no_return_after_a_close()
    {
        foreach (
            var often in (HowOftenFacet[])
                [
                    Often(RepeatUnit.Ever, 1, null, 0),
                    Often(RepeatUnit.Days, 1, 1, 0),
                    Often(RepeatUnit.Days, 1, null, 0) with
                    {
                        UntilClicked = true,
                    },
                ]
        )
        {
            var week = new Pause(RepeatUnit.Weeks, 1);
            var callout = Live("a", Brief() with { HowOften = often with { AfterClose = week } });
            var closed = Visitor()
                .Started(callout.Id, Now, true)
                .Clicked(callout.Id, Now)
                .Closed(callout.Id, Now, Duration.Zero, false)
                .Arrive(Now + Duration.FromDays(1));
            var reason = ReasonFor(Site([callout]), closed, now: Now + Duration.FromDays(1));
            Assert.Null(Assert.IsType<SeenOften>(reason).Limit.NextAt);
        }
    }

    [Fact]
    public void A_window_begins_with_its_first_instant_and_ends_before_its_last()
    {
        var schedule = Schedule.Always with
        {
            From = new LocalDateTime(2015, 7, 1, 9, 0),
            Until = new LocalDateTime(2015, 7, 3, 9, 0),
        };
        // British summer time is an hour ahead.
        Assert.Equal(
            new ScheduleLimit(ScheduleSide.NotBegun, Utc(7, 1, 8)),
            schedule.Refuses(Utc(7, 1, 7, 59), London)
        );
        Assert.Null(schedule.Refuses(Utc(7, 1, 8), London));
        Assert.Null(schedule.Refuses(Utc(7, 3, 7, 59), London));
        Assert.Equal(new ScheduleLimit(ScheduleSide.Over, Utc(7, 3, 8)), schedule.Refuses(Utc(7, 3, 8), London));
    }

    [Fact]
    public void An_event_ends_it_when_it_starts_or_when_it_ends_as_chosen()
    {
        var fair = Schedule.Always with
        {
            EventStarts = new LocalDateTime(2015, 12, 5, 10, 0),
            EventEnds = new LocalDateTime(2015, 12, 6, 16, 0),
        };
        Assert.Null(fair.Refuses(Utc(12, 5, 9, 59), London));
        Assert.Equal(ScheduleSide.Over, fair.Refuses(Utc(12, 5, 10), London)?.Side);
        var toTheEnd = fair with { UntilEvent = EventEnd.Ends };
        Assert.Null(toTheEnd.Refuses(Utc(12, 6, 15, 59), London));
        Assert.Equal(ScheduleSide.Over, toTheEnd.Refuses(Utc(12, 6, 16), London)?.Side);
        // The earlier of two ends decides, and a countdown goes to the event unless told otherwise.
        Assert.Equal(
            new LocalDateTime(2015, 12, 1, 0, 0),
            (fair with { Until = new LocalDateTime(2015, 12, 1, 0, 0) }).End
        );
        Assert.Equal(fair.EventStarts, fair.Target);
        Assert.Equal(fair.EventEnds, (fair with { CountdownTo = fair.EventEnds }).Target);
    }

    [Fact]
    public void Outside_its_hours_the_reason_says_when_it_next_runs()
    {
        var brief = Brief() with
        {
            When = When(6, 1, 12) with
            {
                Schedule = Schedule.Always with { Hours = [Span(IsoDayOfWeek.Wednesday, 9, 17)] },
            },
        };
        var reason = Assert.IsType<OutsideSchedule>(ReasonFor(Site([Live("a", brief)])));
        Assert.Equal(new ScheduleLimit(ScheduleSide.OtherHours, Utc(11, 25, 9)), reason.Limit);
        Assert.Equal(
            "It runs at other hours; next Wed 25 Nov, 09:00.",
            ReasonSentence.Say(reason, DateTimeZone.Utc, _ => null)
        );
    }

    [Theory]
    [InlineData(RepeatUnit.Hours, 5, 5)]
    [InlineData(RepeatUnit.Days, 2, 48)]
    [InlineData(RepeatUnit.Weeks, 2, 336)]
    [InlineData(RepeatUnit.Months, 1, 720)]
    public void Gaps_are_elapsed_time_from_the_last_start(RepeatUnit unit, int every, int hours)
    {
        var callout = Live("a", Brief() with { HowOften = Often(unit, every, null, 0) });
        var site = Site([callout], Events(400));
        var seen = Visitor().Started(callout.Id, Now, true);
        var free = Now + Duration.FromHours(hours);
        var limit = Assert.IsType<SeenOften>(ReasonFor(site, seen, now: free - Duration.FromSeconds(1))).Limit;
        Assert.Equal((free, RepeatSpan.Days), (limit.NextAt, limit.Span));
        Assert.Single(Explain(site, seen, now: free).Armed);
    }

    [Fact]
    public void Once_and_never_again_means_it()
    {
        var callout = Live("a", Brief() with { HowOften = Often(RepeatUnit.Ever, 1, null, 0) });
        var seen = Visitor().Started(callout.Id, Now, true).Arrive(Now + Duration.FromDays(300));
        var reason = ReasonFor(Site([callout]), seen, now: Now + Duration.FromDays(300));
        Assert.Equal(RepeatSpan.Ever, Assert.IsType<SeenOften>(reason).Limit.Span);
    }

    [Fact]
    public void A_weekly_limit_counts_visits_of_seven_days_and_says_when_one_of_them_is_past()
    {
        var often = Often(RepeatUnit.Visit, 1, null, 0) with { MostPerWeek = 3 };
        var callout = Live("a", Brief() with { HowOften = often });
        var site = Site([callout], Events(400));
        var visitor = Visitor().Started(callout.Id, Now, true);
        for (var day = 1; day <= 2; day++)
            visitor = visitor
                .Arrive(Now + Duration.FromDays(day))
                .Started(callout.Id, Now + Duration.FromDays(day), true)
                .Started(callout.Id, Now + Duration.FromDays(day), true);
        var third = Now + Duration.FromDays(3);
        var limit = Assert.IsType<SeenOften>(ReasonFor(site, visitor.Arrive(third), now: third)).Limit;
        Assert.Equal((3, 3, Now + Duration.FromDays(7)), (limit.Seen, limit.Allowed, limit.NextAt));
        var eighth = Now + Duration.FromDays(7);
        Assert.Single(Explain(site, visitor.Arrive(eighth), now: eighth).Armed);
    }

    [Fact]
    public void Until_clicked_ends_with_the_click()
    {
        var often = Often(RepeatUnit.PageView, 1, null, 0) with { UntilClicked = true };
        var callout = Live("a", Brief() with { HowOften = often });
        var seen = Visitor().Started(callout.Id, Now, true);
        Assert.Single(Explain(Site([callout]), seen).Armed);
        var reason = ReasonFor(Site([callout]), seen.Clicked(callout.Id, Now));
        Assert.Equal(RepeatSpan.Clicked, Assert.IsType<SeenOften>(reason).Limit.Span);
    }

    [Fact]
    public void After_a_close_the_longer_of_the_two_gaps_decides()
    {
        var often = Often(RepeatUnit.Days, 5, null, 0) with { AfterClose = new Pause(RepeatUnit.Days, 2) };
        var callout = Live("a", Brief() with { HowOften = often });
        var closed = Visitor().Started(callout.Id, Now, true).Closed(callout.Id, Now, Duration.Zero, false);
        var dayOne = ReasonFor(Site([callout]), closed, now: Now + Duration.FromDays(1));
        Assert.Equal(Now + Duration.FromDays(5), Assert.IsType<SeenOften>(dayOne).Limit.NextAt);

        var longer = Live("b", Brief() with { HowOften = often with { AfterClose = new Pause(RepeatUnit.Weeks, 2) } });
        closed = Visitor().Started(longer.Id, Now, true).Closed(longer.Id, Now, Duration.Zero, false);
        var reason = ReasonFor(Site([longer]), closed, now: Now + Duration.FromDays(1));
        Assert.Equal(new ClosedBefore(Now + Duration.FromDays(14)), reason);

        var never = Live("c", Brief() with { HowOften = often with { AfterClose = Pause.ForEver } });
        closed = Visitor().Started(never.Id, Now, true).Closed(never.Id, Now, Duration.Zero, false);
        Assert.Equal(new ClosedBefore(null), ReasonFor(Site([never]), closed, now: Now + Duration.FromDays(99)));
    }

    [Fact]
    public void After_success_it_stays_away_for_good_or_as_long_as_it_says()
    {
        var often = Often(RepeatUnit.PageView, 1, null, 0) with { Goals = [Source] };
        var callout = Live("a", Brief() with { HowOften = often });
        List<Outcry.Core.Evidence.LedgerEvent> events = [Event(Duration.FromHours(2), "me", "visitor"), .. Events(10)];
        var reason = Assert.IsType<Succeeded>(ReasonFor(Site([callout], events)));
        Assert.Equal((Now - Duration.FromHours(2), (Instant?)null), (reason.At, reason.Until));
        var hour = Live("b", Brief() with { HowOften = often with { AfterSuccess = new Pause(RepeatUnit.Hours, 1) } });
        Assert.Single(Explain(Site([hour], events)).Armed);
    }
}
