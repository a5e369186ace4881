using NodaTime;
using Outcry.Core.Greetings;
using Outcry.Core.Talks;
using Outcry.Core.Timing;

namespace Outcry.Core.Tests.Talks;

/// <summary>How a talk stands: who has it, when it reopens, and that no act can lose it.</summary>
public sealed class TalkStandingTests
{
    private static readonly Instant Noon = Instant.FromUtc(2015, 6, 1, 12, 0);
    private static readonly Guid Marta = Guid.NewGuid();
    private static readonly Guid Ines = Guid.NewGuid();

    private static TalkStanding Waiting => TalkStanding.Begun.VisitorSaid(Noon, false).Standing;

    private static TalkStanding OfMarta => Waiting.MemberSaid(Marta).Standing;

    [Fact]
    public void Whoever_answers_first_has_it_and_nobody_waits_then()
    {
        Assert.Equal((TalkState.Unclaimed, (Instant?)Noon), (Waiting.State, Waiting.WaitingSince));
        Assert.Equal(
            (TalkState.Claimed, (Guid?)Marta, (Instant?)null),
            (OfMarta.State, OfMarta.MemberId, OfMarta.WaitingSince)
        );
        Assert.Equal((TalkVerdict.HeldByAnother, OfMarta), OfMarta.MemberSaid(Ines));
    }

    [Fact]
    public void A_visitor_waits_since_their_first_unanswered_word()
    {
        var later = Waiting.VisitorSaid(Noon + Duration.FromMinutes(3), false).Standing;
        Assert.Equal(Noon, later.WaitingSince);
    }

    [Theory]
    [InlineData(true, TalkState.Claimed)]
    [InlineData(false, TalkState.Unclaimed)]
    public void A_word_within_a_week_reopens_it_to_its_last_person_if_they_are_there(bool isThere, TalkState state)
    {
        var closed = OfMarta.Close("answered", Noon);
        var (verdict, standing) = closed.VisitorSaid(Noon + Duration.FromDays(7) - Duration.FromSeconds(1), isThere);
        Assert.Equal((TalkVerdict.Done, state, ""), (verdict, standing.State, standing.Reason));
        Assert.Equal(TalkVerdict.BeginsAnew, closed.VisitorSaid(Noon + TalkStanding.Reopens, isThere).Verdict);
    }

    [Fact]
    public void Put_off_it_wakes_by_itself_or_by_a_word_and_is_still_its_persons()
    {
        var until = Noon + Duration.FromHours(1);
        var snoozed = OfMarta.Snooze(Marta, until, Noon).Standing;
        Assert.Equal((TalkState.Snoozed, (Instant?)until), (snoozed.State, snoozed.SnoozedUntil));
        Assert.Equal(snoozed, snoozed.Wake(until - Duration.FromSeconds(1)));
        foreach (var awake in new[] { snoozed.Wake(until), snoozed.VisitorSaid(Noon, false).Standing })
            Assert.Equal(
                (TalkState.Claimed, (Guid?)Marta, (Instant?)null),
                (awake.State, awake.MemberId, awake.SnoozedUntil)
            );
        Assert.Equal(TalkVerdict.WrongMoment, OfMarta.Snooze(Marta, Noon, Noon).Verdict);
        Assert.Equal(
            TalkVerdict.WrongMoment,
            OfMarta.Snooze(Marta, Noon + TalkStanding.LongestSnooze + Duration.FromSeconds(1), Noon).Verdict
        );
        Assert.Equal(TalkVerdict.HeldByAnother, OfMarta.Snooze(Ines, until, Noon).Verdict);
        Assert.Equal(TalkVerdict.IsClosed, OfMarta.Close("", Noon).Snooze(Marta, until, Noon).Verdict);
    }

    [Fact]
    public void Given_to_another_or_to_nobody_the_visitor_goes_on_waiting()
    {
        var given = Waiting.Assign(Ines).Standing;
        Assert.Equal(
            (TalkState.Claimed, (Guid?)Ines, (Instant?)Noon),
            (given.State, given.MemberId, given.WaitingSince)
        );
        var back = given.Assign(null).Standing;
        Assert.Equal(
            (TalkState.Unclaimed, (Guid?)null, (Instant?)Noon),
            (back.State, back.MemberId, back.WaitingSince)
        );
        Assert.Equal(TalkVerdict.IsClosed, given.Close("", Noon).Assign(Marta).Verdict);
    }

    [Fact]
    public void Closed_twice_it_stays_as_it_was_closed_first()
    {
        var closed = OfMarta.Close("answered", Noon);
        Assert.Equal(closed, closed.Close("spam", Noon + Duration.FromHours(1)));
        Assert.Equal(TalkState.Claimed, closed.Reopen(Ines).State);
        Assert.Equal(Ines, closed.Reopen(Ines).MemberId);
    }

    /// <summary>Whatever happens in whatever order, a standing never contradicts itself.</summary>
    [Fact]
    public void No_order_of_acts_makes_a_standing_that_contradicts_itself()
    {
        var chance = new Random(7);
        for (var run = 0; run < 2_000; run++)
        {
            var (standing, now) = (TalkStanding.Begun, Noon);
            for (var step = 0; step < 25; step++)
            {
                now += Duration.FromHours(chance.Next(1, 60));
                var who = chance.Next(2) == 0 ? Marta : Ines;
                standing = chance.Next(8) switch
                {
                    0 or 1 => standing.VisitorSaid(now, chance.Next(2) == 0).Standing,
                    2 => standing.MemberSaid(who).Standing,
                    3 => standing.Assign(chance.Next(3) == 0 ? null : who).Standing,
                    4 => standing.Snooze(who, now + Duration.FromHours(chance.Next(-2, 90)), now).Standing,
                    5 => standing.Wake(now),
                    6 => standing.Close("", now),
                    _ => standing.Reopen(who),
                };
                Assert.Equal(standing.State == TalkState.Snoozed, standing.SnoozedUntil is not null);
                Assert.Equal(standing.State == TalkState.Closed, standing.ClosedAt is not null);
                Assert.False(standing.State is TalkState.Claimed or TalkState.Snoozed && standing.MemberId is null);
                // Nobody waits unseen: neither put off nor closed while a visitor waits.
                Assert.False(standing is { IsOpen: false, WaitingSince: not null });
            }
        }
    }

    private static OpeningTimes NineToFive =>
        new(
            new OpeningHours(
                "Europe/London",
                [
                    .. Enum.GetValues<IsoDayOfWeek>()
                        .Where(d => d is >= IsoDayOfWeek.Monday and <= IsoDayOfWeek.Friday)
                        .Select(d => new HoursSpan(d, new LocalTime(9, 0), new LocalTime(17, 0))),
                ],
                [],
                [],
                false
            )
        );

    [Fact]
    public void Only_open_time_counts_as_waiting()
    {
        var london = DateTimeZoneProviders.Tzdb["Europe/London"];
        Instant At(int day, int hour, int minute) =>
            new LocalDateTime(2015, 6, day, hour, minute).InZoneStrictly(london).ToInstant();
        // Friday 16:58 to Monday 9:01: three minutes of open time.
        var waited = Core.Talks.Waiting.Open(NineToFive, At(5, 16, 58), At(8, 9, 1));
        Assert.Equal(Duration.FromMinutes(3), waited);
        Assert.Equal(Duration.Zero, Core.Talks.Waiting.Open(NineToFive, At(6, 10, 0), At(7, 20, 0)));
        Assert.Equal(Duration.FromHours(8), Core.Talks.Waiting.Open(NineToFive, At(1, 1, 0), At(2, 1, 0)));
        Assert.Equal(Duration.FromHours(24), Core.Talks.Waiting.Open(null, At(1, 1, 0), At(2, 1, 0)));
        Assert.Equal(Duration.Zero, Core.Talks.Waiting.Open(null, At(2, 1, 0), At(1, 1, 0)));
    }

    [Theory]
    [InlineData(120, Urgency.None)]
    [InlineData(121, Urgency.Group)]
    [InlineData(300, Urgency.Group)]
    [InlineData(301, Urgency.Everybody)]
    public void After_two_minutes_the_group_is_told_and_after_five_everybody(int seconds, Urgency urgency) =>
        Assert.Equal(
            urgency,
            Core.Talks.Waiting.Of(Noon, Noon + Duration.FromSeconds(seconds), null, WaitingLimits.Start)
        );

    [Fact]
    public void Nobody_waits_who_was_answered() =>
        Assert.Equal(Urgency.None, Core.Talks.Waiting.Of(null, Noon, null, WaitingLimits.Start));

    [Fact]
    public void It_is_the_turn_of_whoever_was_given_one_longest_ago_and_is_not_full()
    {
        var (third, never) = (Guid.NewGuid(), Guid.NewGuid());
        AnsweringMember[] all =
        [
            new(Marta, 1, Noon),
            new(Ines, 4, Noon - Duration.FromDays(3)),
            new(third, 3, Noon - Duration.FromHours(1)),
        ];
        Assert.Equal(third, RoundRobin.Next(all));
        Assert.Equal(never, RoundRobin.Next([.. all, new AnsweringMember(never, 0, null)]));
        Assert.Null(RoundRobin.Next([all[1]]));
        Assert.Null(RoundRobin.Next([]));
    }

    [Theory]
    [InlineData(new[] { 20 }, null)]
    [InlineData(new[] { 20, 20, 20, 20, 20, 20, 20, 20, 20 }, null)]
    [InlineData(new[] { 20, 20, 20, 20, 20, 20, 20, 20, 20, 20 }, 1)]
    [InlineData(new[] { 60, 60, 60, 60, 60, 61, 61, 61, 61, 61 }, 2)]
    [InlineData(new[] { 1, 1, 1, 1, 300, 300, 9_000, 9_000, 9_000, 9_000 }, 5)]
    [InlineData(new[] { 90_000, 90_000, 90_000, 90_000, 90_000, 90_000, 90_000, 90_000, 90_000, 90_000 }, 1_440)]
    public void The_usual_answer_is_the_median_as_the_next_step_and_of_few_talks_nothing(int[] seconds, int? minutes) =>
        Assert.Equal(minutes, UsualAnswer.Minutes([.. seconds.Select(s => Duration.FromSeconds(s))]));

    [Fact]
    public void What_is_said_is_cleaned_and_its_glimpse_is_one_line()
    {
        Assert.Null(TalkText.Clean(" \u200B\n"));
        Assert.Equal("a\nb", TalkText.Clean(" a\nb "));
        Assert.Equal("a b", TalkText.GlimpseOf("a\nb"));
        var glimpse = TalkText.GlimpseOf(string.Concat(Enumerable.Repeat("👩‍🎨", 60)));
        Assert.True(glimpse.Length <= TalkText.Glimpse);
        Assert.EndsWith("👩‍🎨…", glimpse, StringComparison.Ordinal);
    }
}
