using CsCheck;
using NodaTime;
using NodaTime.Text;
using Outcry.Core.Greetings;
using Outcry.Core.Timing;

namespace Outcry.Core.Tests;

/// <summary>When a team is there: the week, what is closed, what is open beside, over changes of clocks.</summary>
public sealed class OpeningTimesTests
{
    private static readonly LocalDateTimePattern Written = LocalDateTimePattern.CreateWithInvariantCulture(
        "uuuu-MM-dd HH:mm"
    );

    private static HoursSpan Span(IsoDayOfWeek day, string from, string until) => new(day, Time(from), Time(until));

    private static LocalTime Time(string text) => LocalTimePattern.CreateWithInvariantCulture("H:mm").Parse(text).Value;

    private static LocalDateTime At(string text) => Written.Parse(text).Value;

    private static OpeningTimes Times(
        string zone,
        HoursSpan[] week,
        DatedSpan[]? closed = null,
        DatedSpan[]? extra = null
    ) => new(new OpeningHours(zone, week, closed ?? [], extra ?? [], OnlyIfPresent: false));

    private static Instant In(OpeningTimes times, string local) => At(local).InZoneLeniently(times.Zone).ToInstant();

    private static string? Say(OpeningTimes times, Instant? at) =>
        at is { } known ? Written.Format(known.InZone(times.Zone).LocalDateTime) : null;

    private static readonly HoursSpan[] Studio =
    [
        Span(IsoDayOfWeek.Tuesday, "9:00", "12:30"),
        Span(IsoDayOfWeek.Tuesday, "13:30", "17:30"),
        Span(IsoDayOfWeek.Saturday, "10:00", "16:00"),
    ];

    [Theory]
    [InlineData("2015-11-24 08:59", false, "2015-11-24 09:00", null)]
    [InlineData("2015-11-24 09:00", true, null, "2015-11-24 12:30")]
    [InlineData("2015-11-24 12:30", false, "2015-11-24 13:30", null)]
    [InlineData("2015-11-24 17:29", true, null, "2015-11-24 17:30")]
    [InlineData("2015-11-24 17:30", false, "2015-11-28 10:00", null)]
    [InlineData("2015-11-28 16:00", false, "2015-12-01 09:00", null)]
    public void The_week_opens_and_closes_to_the_minute(string now, bool isOpen, string? opens, string? closes)
    {
        var times = Times("Europe/London", Studio);
        var at = In(times, now);
        Assert.Equal(isOpen, times.IsInside(at));
        Assert.Equal(opens, Say(times, times.OpensAfter(at)));
        Assert.Equal(closes, Say(times, times.ClosesAfter(at)));
    }

    [Fact]
    public void Closed_dates_win_over_the_week_and_extra_openings_over_both()
    {
        var times = Times(
            "Europe/London",
            Studio,
            [DatedSpan.Day(new LocalDate(2015, 11, 24), "Glaze day")],
            [new DatedSpan(At("2015-11-24 15:00"), At("2015-11-24 19:00"), "Open kiln")]
        );
        Assert.Equal("2015-11-24 15:00", Say(times, times.OpensAfter(In(times, "2015-11-24 10:00"))));
        Assert.True(times.IsInside(In(times, "2015-11-24 18:00")));
        Assert.Equal("2015-11-24 19:00", Say(times, times.ClosesAfter(In(times, "2015-11-24 16:00"))));
        Assert.Equal("2015-11-28 10:00", Say(times, times.OpensAfter(In(times, "2015-11-24 19:00"))));
    }

    [Fact]
    public void Part_of_a_day_and_several_days_can_be_closed()
    {
        var times = Times(
            "Europe/London",
            Studio,
            [
                new DatedSpan(At("2015-11-24 11:00"), At("2015-11-24 14:00"), "Delivery"),
                new DatedSpan(At("2015-11-28 00:00"), At("2015-12-03 00:00"), "Away"),
            ]
        );
        Assert.Equal("2015-11-24 11:00", Say(times, times.ClosesAfter(In(times, "2015-11-24 10:00"))));
        // Its end lies inside the week's hours, so that is where it opens.
        Assert.Equal("2015-11-24 14:00", Say(times, times.OpensAfter(In(times, "2015-11-24 11:30"))));
        Assert.Equal("2015-12-05 10:00", Say(times, times.OpensAfter(In(times, "2015-11-24 18:00"))));
    }

    [Fact]
    public void No_hours_mean_always_but_for_closed_dates()
    {
        var times = Times("Europe/London", [], [DatedSpan.Day(new LocalDate(2015, 12, 25), "Christmas Day")]);
        Assert.True(times.IsInside(In(times, "2015-11-24 03:00")));
        Assert.Equal("2015-12-25 00:00", Say(times, times.ClosesAfter(In(times, "2015-11-24 03:00"))));
        Assert.Equal("2015-12-26 00:00", Say(times, times.OpensAfter(In(times, "2015-12-25 12:00"))));
        Assert.Null(Times("Europe/London", []).ClosesAfter(In(times, "2015-11-24 03:00")));
    }

    [Fact]
    public void What_opens_in_more_than_sixty_days_is_not_promised()
    {
        var times = Times(
            "Europe/London",
            Studio,
            [new DatedSpan(At("2015-11-25 00:00"), At("2016-02-01 00:00"), "Winter")]
        );
        Assert.Null(times.OpensAfter(In(times, "2015-11-25 12:00")));
        Assert.Equal("2016-02-02 09:00", Say(times, times.OpensAfter(In(times, "2015-12-10 12:00"))));
    }

    [Theory]
    // Clocks go forward at one in the morning in London and at two in Berlin, at two in New York; and back in autumn.
    [InlineData("Europe/London", IsoDayOfWeek.Saturday, "22:00", "4:00", "2015-03-28 22:00", 5)]
    [InlineData("Europe/London", IsoDayOfWeek.Saturday, "22:00", "4:00", "2015-10-24 22:00", 7)]
    [InlineData("Europe/Berlin", IsoDayOfWeek.Sunday, "0:00", "3:30", "2015-03-29 00:00", 2.5)]
    [InlineData("Europe/Berlin", IsoDayOfWeek.Sunday, "2:30", "5:00", "2015-03-29 03:00", 2)]
    [InlineData("Europe/Berlin", IsoDayOfWeek.Sunday, "2:30", "2:45", "2015-10-25 02:30", 1.25)]
    [InlineData("America/New_York", IsoDayOfWeek.Sunday, "1:00", "3:00", "2015-03-08 01:00", 1)]
    [InlineData("America/New_York", IsoDayOfWeek.Sunday, "1:00", "3:00", "2015-11-01 01:00", 3)]
    [InlineData("America/New_York", IsoDayOfWeek.Saturday, "20:00", "20:00", "2015-03-07 20:00", 23)]
    public void A_stretch_over_a_change_of_clocks_covers_all_between_its_ends(
        string zone,
        IsoDayOfWeek day,
        string from,
        string until,
        string opens,
        double hours
    )
    {
        var times = Times(zone, [Span(day, from, until)]);
        var before = At(opens).InZoneLeniently(times.Zone).ToInstant() - Duration.FromHours(30);
        var opened = times.OpensAfter(before)!.Value;
        Assert.Equal(opens, Say(times, opened));
        Assert.False(times.IsInside(opened - Duration.FromSeconds(1)));
        Assert.True(times.IsInside(opened));
        var closed = times.ClosesAfter(opened)!.Value;
        Assert.Equal(hours, (closed - opened).TotalHours);
        Assert.True(times.IsInside(closed - Duration.FromSeconds(1)));
        Assert.False(times.IsInside(closed));
    }

    [Fact]
    public void A_stretch_that_the_clocks_skip_whole_is_not_open()
    {
        var times = Times("Europe/Berlin", [Span(IsoDayOfWeek.Sunday, "2:10", "2:50")]);
        var before = In(times, "2015-03-28 12:00");
        Assert.Equal("2015-04-05 02:10", Say(times, times.OpensAfter(before)));
    }

    /// <summary>What opens next is the first moment that is open; nothing between now and then is.</summary>
    [Fact]
    public void Open_now_and_opens_next_never_disagree()
    {
        var days = Gen.Int[0, 6].Select(d => (IsoDayOfWeek)(d + 1));
        var minutes = Gen.Int[0, 95].Select(q => LocalTime.Midnight.PlusMinutes(15 * q));
        var spans = Gen.Select(days, minutes, minutes).Select((d, f, u) => new HoursSpan(d, f, u)).Array[1, 4];
        var dates = Gen.Select(Gen.Int[0, 40 * 96], Gen.Int[1, 300])
            .Select(
                (s, l) =>
                {
                    var from = new LocalDateTime(2015, 3, 20, 0, 0).PlusMinutes(15 * s);
                    return new DatedSpan(from, from.PlusMinutes(15 * l), "");
                }
            )
            .Array[0, 3];
        var zones = Samples.OneOf("Europe/London", "America/New_York", "Australia/Lord_Howe");
        Gen.Select(zones, spans, dates, dates, Gen.Int[0, 40 * 96])
            .Sample(
                (zone, week, closed, extra, at) =>
                {
                    var times = Times(zone, week, closed, extra);
                    var now = Instant.FromUtc(2015, 3, 20, 0, 0) + Duration.FromMinutes(15 * at);
                    var turn = times.IsInside(now) ? times.ClosesAfter(now) : times.OpensAfter(now);
                    var end = turn ?? now + OpeningTimes.Furthest;
                    for (var t = now; t < end; t += Duration.FromMinutes(30))
                        Assert.Equal(times.IsInside(now), times.IsInside(t));
                    if (turn is { } known)
                        Assert.NotEqual(times.IsInside(now), times.IsInside(known));
                },
                iter: Cases.Of(2_000)
            );
    }
}
