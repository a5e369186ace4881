using Ical.Net;
using NodaTime;
using Outcry.Core.Greetings;
using Outcry.Core.Pages;
using Outcry.Core.Scripts;
using Outcry.Core.Timing;

namespace Outcry.Core.Tests.Scripts;

/// <summary>Times to choose from: which are offered, what becomes of the choice, and the invitation it ends in.</summary>
public sealed class FreeTimesTests
{
    private static readonly DateTimeZone London = DateTimeZoneProviders.Tzdb["Europe/London"];

    // A Friday morning.
    private static readonly Instant Now = Instant.FromUtc(2015, 11, 20, 9, 10);

    private static OpeningHours Hours(params HoursSpan[] week) => new("Europe/London", week, [], [], false);

    private static readonly OpeningHours Weekdays = Hours([
        .. Enumerable
            .Range(1, 5)
            .Select(d => new HoursSpan((IsoDayOfWeek)d, new LocalTime(10, 0), new LocalTime(16, 0))),
    ]);

    private static List<string> Offered(
        OpeningHours hours,
        TimeOffer offer,
        IReadOnlyCollection<Instant>? taken = null,
        string language = "en"
    ) => [.. FreeTimes.Find(hours, offer, Now, taken ?? [], London, language).Select(t => t.Label)];

    private static TimeOffer Offer(int minutes = 60, int notice = 24, int days = 14) =>
        new("A visit", minutes, notice, days);

    [Fact]
    public void Two_times_a_day_are_offered_inside_the_hours_after_the_notice()
    {
        Assert.Equal(
            [
                "Mon 23 Nov, 10:00",
                "Mon 23 Nov, 13:00",
                "Tue 24 Nov, 10:00",
                "Tue 24 Nov, 13:00",
                "Wed 25 Nov, 10:00",
                "Wed 25 Nov, 13:00",
            ],
            Offered(Weekdays, Offer())
        );
        // Without notice still today, on the next full hour.
        Assert.Equal(["Fri 20 Nov, 10:00", "Fri 20 Nov, 13:00"], Offered(Weekdays, Offer(notice: 0, days: 1)));
        Assert.Equal("Mon 23 Nov, 10:30", Offered(Weekdays, Offer(30), [At(23, 10)])[0]);
    }

    [Fact]
    public void What_is_taken_is_not_offered_nor_what_would_overlap_it()
    {
        Assert.Equal("Mon 23 Nov, 12:00", Offered(Weekdays, Offer(120), [At(23, 10)])[0]);
        // Eleven o'clock is taken: two hours from ten would run into it.
        Assert.Equal("Mon 23 Nov, 13:00", Offered(Weekdays, Offer(120), [At(23, 11)])[0]);
    }

    [Fact]
    public void It_ends_before_the_team_goes_and_never_reaches_past_the_days_ahead()
    {
        // Six hours are open: seven do not fit on any day.
        Assert.Empty(Offered(Weekdays, Offer(420)));
        Assert.Equal(["Mon 23 Nov, 10:00"], Offered(Weekdays, Offer(360, days: 4)));
        Assert.Empty(Offered(Weekdays, Offer(days: 1)));
        // Whoever names no hours is there on weekdays from nine to five, not at three in the morning.
        Assert.Equal("Mon 23 Nov, 9:00", Offered(Hours(), Offer())[0].Replace("09:", "9:"));
    }

    [Fact]
    public void Closed_dates_are_left_out_and_labels_speak_the_readers_language()
    {
        var closed = Weekdays with { Closed = [DatedSpan.Day(new LocalDate(2015, 11, 23), "Stocktaking")] };
        Assert.StartsWith("Tue 24 Nov", Offered(closed, Offer())[0], StringComparison.Ordinal);
        Assert.Equal("di 24 nov, 10:00", Offered(closed, Offer(), language: "nl")[0].Replace(".", ""));
    }

    [Fact]
    public void Random_weeks_never_offer_a_time_that_is_closed_taken_too_soon_or_twice()
    {
        var chance = new Random(20151120);
        for (var i = 0; i < 500; i++)
        {
            var week = Enumerable
                .Range(0, chance.Next(1, 8))
                .Select(_ => new HoursSpan(
                    (IsoDayOfWeek)chance.Next(1, 8),
                    new LocalTime(chance.Next(0, 24), 15 * chance.Next(0, 4)),
                    new LocalTime(chance.Next(0, 24), 15 * chance.Next(0, 4))
                ))
                .ToArray();
            var offer = Offer(5 * chance.Next(1, 40), chance.Next(0, 100), chance.Next(1, 61));
            var taken = Enumerable
                .Range(0, chance.Next(0, 10))
                .Select(_ => Now + Duration.FromMinutes(15 * chance.Next(0, 2_000)))
                .ToList();
            var length = Duration.FromMinutes(offer.Minutes);
            var hours = new OpeningTimes(Hours(week));
            var times = FreeTimes.Find(Hours(week), offer, Now, taken, London, "en");
            Assert.True(times.Count <= FreeTimes.Most);
            Assert.Equal(times.Count, times.Select(t => t.At).Distinct().Count());
            foreach (var time in times)
            {
                Assert.True(hours.IsInside(time.At));
                Assert.True(hours.ClosesAfter(time.At) is not { } closes || closes >= time.At + length);
                Assert.True(time.At >= Now + Duration.FromHours(offer.NoticeHours));
                Assert.True(time.At < Now + Duration.FromDays(offer.DaysAhead));
                Assert.DoesNotContain(taken, t => t < time.At + length && time.At < t + length);
            }
        }
    }

    private static Instant At(int day, int hour) => Instant.FromUtc(2015, 11, day, hour, 0);

    private static readonly Step Question = new(
        Guid.NewGuid(),
        0,
        StepKind.Ask,
        [new StepWords("", "When would suit you?", [], "That one is gone. Which else?")],
        new Question(AskKind.Time, "when", false, [], null, null, Offer())
    );

    private static readonly Script Booking = new(
        [Question, new Step(Guid.NewGuid(), 0, StepKind.Say, [new StepWords("", "See you {{ when }}.", [], "")])],
        0,
        30,
        []
    );

    private static Circumstances With(params OfferedTime[] times) =>
        new(
            "en",
            "en",
            PageAddress.TryParse("https://emberwick.example/visit")!,
            new HashSet<Guid>(),
            false,
            true,
            [],
            new HashSet<Guid>(),
            new LocalDate(2015, 11, 20),
            "GB",
            new Dictionary<string, string>()
        )
        {
            Times = new Dictionary<Guid, IReadOnlyList<OfferedTime>> { [Question.Id] = times },
        };

    private static readonly OfferedTime[] Two = [.. FreeTimes.Find(Weekdays, Offer(), Now, [], London, "en").Take(2)];

    [Theory]
    [InlineData("Mon 23 Nov, 13:00")]
    [InlineData("mon 23 nov, 13:00.")]
    [InlineData("2")]
    public void A_time_is_chosen_by_click_words_or_number_and_kept_on_the_wall_clock(string said)
    {
        var machine = new ScriptMachine(Booking);
        var asked = machine.Run(ScriptState.Start, null, With(Two));
        Assert.Equal(["Mon 23 Nov, 10:00", "Mon 23 Nov, 13:00"], asked.Outputs[0].Replies);
        Assert.Equal(Two[1], FreeTimes.Chosen(Booking, asked.State, said, With(Two))?.Time);
        var answered = machine.Run(asked.State, said, With(Two));
        Assert.Equal("2015-11-23 13:00", answered.State.Kept["when"].Value);
        Assert.Equal("See you Mon 23 Nov, 13:00.", answered.Outputs[0].Text);
    }

    [Fact]
    public void A_time_that_has_gone_meanwhile_is_asked_again_with_what_is_left()
    {
        var machine = new ScriptMachine(Booking);
        var asked = machine.Run(ScriptState.Start, null, With(Two));
        var again = machine.Run(asked.State, "Mon 23 Nov, 10:00", With(Two[1]));
        Assert.Equal("That one is gone. Which else?", again.Outputs[0].Text);
        Assert.Equal(["Mon 23 Nov, 13:00"], again.Outputs[0].Replies);
        Assert.Null(FreeTimes.Chosen(Booking, asked.State, "Mon 23 Nov, 10:00", With(Two[1])));
    }

    [Fact]
    public void Where_nothing_is_free_nobody_is_asked_to_choose()
    {
        var result = new ScriptMachine(Booking).Run(ScriptState.Start, null, With());
        Assert.False(result.State.Kept["when"].IsUnderstood);
        Assert.True(result.State.IsOver);
    }

    [Fact]
    public void The_start_for_booking_is_ready_to_publish_but_for_nothing()
    {
        var script = ScriptStarter.For(ScriptPurpose.Book);
        Assert.DoesNotContain(ScriptCheck.Problems(script, "en", new HashSet<Guid>()), p => p.Blocks);
        foreach (
            var wrong in new[]
            {
                Offer(4),
                Offer(481),
                Offer(notice: -1),
                Offer(days: 61),
                Offer() with
                {
                    Title = " ",
                },
            }
        )
            Assert.Contains(
                ScriptCheck.Problems(
                    script with
                    {
                        Steps =
                        [
                            .. script.Steps.Select(s =>
                                s.Ask?.Kind == AskKind.Time ? s with { Ask = s.Ask with { Times = wrong } } : s
                            ),
                        ],
                    },
                    "en",
                    new HashSet<Guid>()
                ),
                p => p is { Blocks: true, Field: "steps[0].ask.times" }
            );
    }

    [Fact]
    public void An_invitation_is_read_by_others_and_called_off_as_the_same_appointment()
    {
        var invitation = new Invitation(
            Guid.NewGuid(),
            "A visit, Emberwick Pottery",
            Two[0].At,
            60,
            "hello@emberwick.test",
            "Emberwick Pottery",
            "mira@lindqvist.test",
            "https://emberwick.example/visit"
        );
        var invited = Calendar.Load(invitation.Write(Now, isCancelled: false))!;
        var off = Calendar.Load(invitation.Write(Now + Duration.FromHours(1), isCancelled: true))!;
        Assert.Equal(("REQUEST", "CANCEL"), (invited.Method, off.Method));
        var (one, other) = (Assert.Single(invited.Events), Assert.Single(off.Events));
        Assert.Equal(one.Uid, other.Uid);
        Assert.True(other.Sequence > one.Sequence);
        Assert.Equal("CANCELLED", other.Status);
        Assert.Equal(Two[0].At.ToDateTimeUtc(), one.Start!.AsUtc);
        Assert.Equal(TimeSpan.FromHours(1), one.End!.AsUtc - one.Start.AsUtc);
        Assert.Equal("mailto:mira@lindqvist.test", Assert.Single(one.Attendees).Value!.ToString());
        Assert.Equal("mailto:hello@emberwick.test", one.Organizer!.Value!.ToString());
    }
}
