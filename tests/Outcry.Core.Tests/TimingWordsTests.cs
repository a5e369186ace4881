using NodaTime;
using Outcry.Core.Timing;

namespace Outcry.Core.Tests;

/// <summary>How times, units and triggers are said, and what numbers they may have.</summary>
public sealed class TimingWordsTests
{
    [Theory]
    [InlineData(TriggerKind.Seconds, 12, "", "stay for 12 s")]
    [InlineData(TriggerKind.Idle, 30, "", "rest for 30 s")]
    [InlineData(TriggerKind.Scroll, 50, "", "scroll to 50 %")]
    [InlineData(TriggerKind.InView, 0, "#kiln", "bring #kiln into view")]
    [InlineData(TriggerKind.Leaving, 0, "", "turn to leave")]
    [InlineData(TriggerKind.Click, 0, ".more", "click .more")]
    [InlineData(TriggerKind.VideoEnd, 0, "", "see a video to its end")]
    [InlineData(TriggerKind.PageEvent, 0, "quiz", "do what sends \"quiz\"")]
    [InlineData(TriggerKind.Pages, 3, "", "look at 3 pages in this visit")]
    public void What_a_visitor_did_not_do_is_said(TriggerKind kind, int number, string target, string words) =>
        Assert.Equal(words, TriggerWords.Did(new Trigger(kind, number, target)));

    [Fact]
    public void Each_kind_of_trigger_has_words_and_nothing_else_has() =>
        Assert.Multiple(
            () =>
                Assert.All(
                    Enum.GetValues<TriggerKind>(),
                    kind => Assert.NotEmpty(TriggerWords.Did(new Trigger(kind, 1, "x")))
                ),
            () => Assert.Throws<ArgumentOutOfRangeException>(() => TriggerWords.Did(new Trigger((TriggerKind)99)))
        );

    [Theory]
    [InlineData(TriggerKind.Seconds, 0, 3_600, false)]
    [InlineData(TriggerKind.Idle, 1, 3_600, false)]
    [InlineData(TriggerKind.Scroll, 1, 100, false)]
    [InlineData(TriggerKind.Pages, 1, 100, false)]
    [InlineData(TriggerKind.InView, null, null, true)]
    [InlineData(TriggerKind.Click, null, null, true)]
    [InlineData(TriggerKind.PageEvent, null, null, true)]
    [InlineData(TriggerKind.Leaving, null, null, false)]
    [InlineData(TriggerKind.VideoEnd, null, null, false)]
    public void A_trigger_has_a_number_a_target_or_neither(TriggerKind kind, int? least, int? most, bool needsTarget)
    {
        Assert.Equal((least, most), (Trigger.Range(kind)?.Least, Trigger.Range(kind)?.Most));
        Assert.Equal(needsTarget, Trigger.NeedsTarget(kind));
    }

    [Fact]
    public void A_wait_is_a_trigger() => Assert.Equal(new Trigger(TriggerKind.Seconds, 6), Trigger.After(6));

    [Theory]
    [InlineData(RepeatUnit.Hours, 1, "hour")]
    [InlineData(RepeatUnit.Hours, 2, "2 hours")]
    [InlineData(RepeatUnit.Days, 1, "day")]
    [InlineData(RepeatUnit.Days, 30, "30 days")]
    [InlineData(RepeatUnit.Weeks, 2, "2 weeks")]
    [InlineData(RepeatUnit.Months, 3, "3 months")]
    [InlineData(RepeatUnit.Visit, 1, "visit")]
    [InlineData(RepeatUnit.PageView, 2, "2 page views")]
    [InlineData(RepeatUnit.Ever, 1, "ever")]
    [InlineData(RepeatUnit.Ever, 2, "ever")]
    public void A_unit_is_said_with_its_number(RepeatUnit unit, int number, string words) =>
        Assert.Equal(words, UnitWords.Say(unit, number));

    [Theory]
    [InlineData(RepeatUnit.Hours, 5, 5)]
    [InlineData(RepeatUnit.Days, 2, 48)]
    [InlineData(RepeatUnit.Weeks, 2, 336)]
    [InlineData(RepeatUnit.Months, 2, 1_440)]
    [InlineData(RepeatUnit.Visit, 2, 0)]
    [InlineData(RepeatUnit.PageView, 2, 0)]
    public void A_pause_is_elapsed_time(RepeatUnit unit, int number, int hours)
    {
        var at = Instant.FromUtc(2015, 3, 28, 12, 0);
        var pause = new Pause(unit, number);
        Assert.Equal(Duration.FromHours(hours), pause.Length);
        Assert.Equal(at + Duration.FromHours(hours), pause.Over(at));
    }

    [Fact]
    public void A_pause_for_good_is_never_over()
    {
        Assert.Null(Pause.ForEver.Over(Instant.FromUtc(2015, 3, 28, 12, 0)));
        Assert.Equal(Duration.Zero, Pause.None.Length);
    }

    [Fact]
    public void A_stretch_is_asked_for_on_its_own_day()
    {
        var span = new HoursSpan(IsoDayOfWeek.Monday, new LocalTime(9, 0), new LocalTime(17, 0));
        var wrong = Assert.Throws<ArgumentException>(() => span.On(new LocalDate(2015, 11, 24), DateTimeZone.Utc));
        Assert.Contains("is no Monday", wrong.Message, StringComparison.Ordinal);
        Assert.Equal(
            new Interval(Instant.FromUtc(2015, 11, 23, 9, 0), Instant.FromUtc(2015, 11, 23, 17, 0)),
            span.On(new LocalDate(2015, 11, 23), DateTimeZone.Utc)
        );
    }

    [Theory]
    [InlineData(9, 17, false)]
    [InlineData(9, 9, true)]
    [InlineData(22, 2, true)]
    public void Hours_that_end_before_they_begin_go_past_midnight(int from, int until, bool crosses) =>
        Assert.Equal(
            crosses,
            new HoursSpan(IsoDayOfWeek.Friday, new LocalTime(from, 0), new LocalTime(until, 0)).CrossesMidnight
        );

    [Fact]
    public void Hours_that_touch_end_together_and_a_whole_week_never_ends()
    {
        var noon = Instant.FromUtc(2015, 11, 24, 12, 0);
        HoursSpan Tuesday(int from, int until) =>
            new(IsoDayOfWeek.Tuesday, new LocalTime(from, 0), new LocalTime(until, 0));
        Assert.Equal(
            Instant.FromUtc(2015, 11, 24, 20, 0),
            WeeklyHours.EndOfRunning([Tuesday(9, 15), Tuesday(15, 20)], noon, DateTimeZone.Utc)
        );
        Assert.Null(WeeklyHours.EndOfRunning([Tuesday(13, 15)], noon, DateTimeZone.Utc));
        Assert.Null(WeeklyHours.EndOfRunning([], noon, DateTimeZone.Utc));
        HoursSpan[] always =
        [
            .. Enumerable
                .Range(1, 7)
                .Select(d => new HoursSpan((IsoDayOfWeek)d, LocalTime.Midnight, LocalTime.Midnight)),
        ];
        Assert.Null(WeeklyHours.EndOfRunning(always, noon, DateTimeZone.Utc));
    }

    [Theory]
    [InlineData(RepeatSpan.Ever, true)]
    [InlineData(RepeatSpan.Clicked, true)]
    [InlineData(RepeatSpan.Visit, false)]
    [InlineData(RepeatSpan.Days, false)]
    [InlineData(RepeatSpan.Week, false)]
    public void Some_limits_are_for_good(RepeatSpan span, bool isForGood) =>
        Assert.Equal(isForGood, new RepeatLimit(1, 1, span, null).IsForGood);
}
