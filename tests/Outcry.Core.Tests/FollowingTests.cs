using NodaTime;
using Outcry.Core.Asking;
using Outcry.Core.Following;
using Outcry.Core.Timing;

namespace Outcry.Core.Tests;

/// <summary>Follow-ups: who gets what when, whom they leave alone, and what is found wrong with them.</summary>
public sealed class FollowingTests
{
    private const int Day = 1_440;

    // A Friday afternoon.
    private static readonly Instant Comes = Instant.FromUtc(2015, 11, 20, 16, 0);

    private static readonly DateTimeZone London = DateTimeZoneProviders.Tzdb["Europe/London"];

    private static readonly HoursSpan[] Office =
    [
        .. Enumerable
            .Range(1, 5)
            .Select(d => new HoursSpan((IsoDayOfWeek)d, new LocalTime(9, 0), new LocalTime(17, 0))),
    ];

    private static FollowStep Wait(int minutes) => new(Guid.NewGuid(), FollowKind.Wait, minutes, [], "", "");

    private static FollowStep Mail(string subject, string text = "A few words.") =>
        new(Guid.NewGuid(), FollowKind.Mail, 0, [new FollowWords("", subject, text, "")], "", "");

    private static FollowStep Tag(string tag) => new(Guid.NewGuid(), FollowKind.Tag, 0, [], "", tag);

    private static FollowUp Of(params FollowStep[] steps) =>
        new(FollowsAfter.Tag, null, "letters", steps, [], null, EndsWithTalk: true);

    private static FollowMoment Reads(Instant? lastMailAt = null) =>
        new(LeadState.Confirmed, true, true, false, false, lastMailAt);

    private static List<string> Calendar(FollowUp follow) =>
        [
            .. FollowWalk
                .Calendar(follow, Comes, London)
                .Select(g =>
                    $"{g.At.InZone(London).ToString("ddd HH:mm", System.Globalization.CultureInfo.InvariantCulture)} {(g.Step.Kind == FollowKind.Mail ? g.Step.Words[0].Subject : g.Step.Tag)}"
                ),
        ];

    [Fact]
    public void It_waits_writes_and_tags_in_order()
    {
        var follow = Of(Tag("new"), Wait(60), Mail("Thank you"), Wait(3 * Day), Mail("The kiln"), Tag("told"));
        Assert.Equal(
            ["Fri 16:00 new", "Fri 17:00 Thank you", "Mon 17:00 The kiln", "Mon 17:00 told"],
            Calendar(follow)
        );
    }

    [Fact]
    public void It_follows_the_yes_or_the_tag_that_it_names_and_nothing_else()
    {
        var prompt = Guid.NewGuid();
        var byTag = Of(Mail("One")) with { Tag = " Letters " };
        Assert.True(byTag.Follows(null, ["kiln", "letters"]));
        Assert.False(byTag.Follows(prompt, ["kiln"]));
        var byYes = byTag with { After = FollowsAfter.Yes, DefinitionId = prompt };
        Assert.True(byYes.Follows(prompt, []));
        Assert.False(byYes.Follows(Guid.NewGuid(), ["letters"]));
        // One that names nothing yet follows nobody.
        Assert.False((byYes with { DefinitionId = null }).Follows(null, ["letters"]));
    }

    [Fact]
    public void Nobody_gets_two_mails_within_a_day_even_from_two_follow_ups()
    {
        Assert.Equal(["Fri 16:00 One", "Sat 16:00 Two"], Calendar(Of(Mail("One"), Mail("Two"))));
        var follow = Of(Mail("One"));
        var lastMailAt = Comes - Duration.FromHours(20);
        var turn = FollowWalk.Go(follow, 0, Comes, Reads(lastMailAt), Comes, London);
        Assert.Empty(turn.Does);
        Assert.Equal(lastMailAt + Duration.FromHours(24), turn.DueAt);
        Assert.Single(FollowWalk.Go(follow, 0, Comes, Reads(lastMailAt), turn.DueAt!.Value, London).Does);
    }

    [Fact]
    public void Mails_keep_to_their_hours_and_tags_need_none()
    {
        var follow = Of(Wait(2 * 60), Mail("One"), Tag("told")) with { Hours = Office };
        // Six on a Friday evening is no office hour.
        Assert.Equal(["Mon 09:00 One", "Mon 09:00 told"], Calendar(follow));
        Assert.Equal(
            ["Fri 18:00 told", "Mon 09:00 One"],
            Calendar(follow with { Steps = [Wait(120), Tag("told"), Mail("One")] })
        );
    }

    [Theory]
    [InlineData(LeadState.Withdrawn, FollowEnd.Withdrew)]
    [InlineData(LeadState.Unreachable, FollowEnd.Unreachable)]
    [InlineData(LeadState.Waiting, FollowEnd.Withdrew)]
    public void Whoever_may_not_be_written_to_gets_nothing_more(LeadState state, FollowEnd end)
    {
        var turn = FollowWalk.Go(Of(Mail("One"), Tag("told")), 0, Comes, Reads() with { State = state }, Comes, London);
        Assert.Equal((end, (Instant?)null), (turn.End, turn.DueAt));
        Assert.Empty(turn.Does);
    }

    [Fact]
    public void It_is_over_for_whoever_did_what_it_leads_to_or_wrote_in_a_talk()
    {
        var follow = Of(Mail("One"));
        FollowEnd? End(FollowUp f, FollowMoment m) => FollowWalk.Go(f, 0, Comes, m, Comes, London).End;
        Assert.Equal(FollowEnd.Goal, End(follow, Reads() with { ReachedGoal = true }));
        Assert.Equal(FollowEnd.Talked, End(follow, Reads() with { Talked = true }));
        Assert.Equal(FollowEnd.Through, End(follow with { EndsWithTalk = false }, Reads() with { Talked = true }));
    }

    [Fact]
    public void Without_an_address_the_mails_are_left_out_and_the_rest_holds()
    {
        var turn = FollowWalk.Go(
            Of(Mail("One"), Tag("told")),
            0,
            Comes,
            Reads() with
            {
                HasEmail = false,
            },
            Comes,
            London
        );
        Assert.Equal("told", Assert.Single(turn.Does).Tag);
        Assert.Equal(FollowEnd.Through, turn.End);
    }

    [Fact]
    public void Random_follow_ups_go_through_each_step_once_in_order_and_never_mail_twice_a_day()
    {
        var chance = new Random(20151120);
        for (var i = 0; i < 2_000; i++)
        {
            var steps = Enumerable
                .Range(0, chance.Next(1, 12))
                .Select(n =>
                    chance.Next(3) switch
                    {
                        0 => Wait(chance.Next(1, 10 * Day)),
                        1 => Mail($"{n}"),
                        _ => Tag($"t{n}"),
                    }
                )
                .ToArray();
            var follow = Of(steps) with { Hours = chance.Next(2) == 0 ? [] : Office };
            var gets = FollowWalk.Calendar(follow, Comes, London);
            Assert.Equal(steps.Where(s => s.Kind != FollowKind.Wait).Select(s => s.Id), gets.Select(g => g.Step.Id));
            var mails = gets.Where(g => g.Step.Kind == FollowKind.Mail).Select(g => g.At).ToList();
            foreach (var (before, after) in mails.Zip(mails.Skip(1)))
                Assert.True(after - before >= FollowWalk.MailsApart);
            Assert.All(mails, at => Assert.True(WeeklyHours.IsRunning(follow.Hours, at, London)));
            Assert.Equal(gets.Select(g => g.At).Order(), gets.Select(g => g.At));
        }
    }

    [Fact]
    public void Withdrawn_at_any_moment_nothing_comes_after()
    {
        var chance = new Random(7);
        for (var i = 0; i < 500; i++)
        {
            var follow = Of(Mail("a"), Wait(chance.Next(1, 3 * Day)), Mail("b"), Tag("x"), Mail("c"));
            var leavesAt = Comes + Duration.FromMinutes(chance.Next(0, 6 * Day));
            var (at, since, now, mailedAt, after) = (0, Comes, Comes, (Instant?)null, 0);
            while (true)
            {
                var moment = Reads(mailedAt) with
                {
                    State = now >= leavesAt ? LeadState.Withdrawn : LeadState.Confirmed,
                };
                var turn = FollowWalk.Go(follow, at, since, moment, now, London);
                if (now >= leavesAt)
                    after += turn.Does.Count;
                if (turn.Does.Any(s => s.Kind == FollowKind.Mail))
                    mailedAt = now;
                if (turn.DueAt is not { } due)
                    break;
                (at, since, now) = (turn.At, turn.Since, due);
            }
            Assert.Equal(0, after);
        }
    }

    public static TheoryData<string, FollowUp> Wrong { get; } =
        new()
        {
            { "after", Of(Mail("a")) with { After = FollowsAfter.Yes } },
            { "after", Of(Mail("a")) with { Tag = " " } },
            { "steps", Of() },
            { "steps", Of([.. Enumerable.Range(0, 31).Select(n => Mail($"{n}"))]) },
            { "steps", Of(Wait(5)) },
            { "steps[0].minutes", Of(Wait(0), Mail("a")) },
            { "steps[0].minutes", Of(Wait(91 * Day), Mail("a")) },
            { "steps[0].tag", Of(Tag("")) },
            { "steps[0].words", Of(Mail("")) },
            { "steps[0].words", Of(Mail("a", " ")) },
            { "steps[0].words", Of(Mail("two\nlines")) },
            { "steps[0].words", Of(Mail("{{ first_name")) },
            { "steps[0].words", Of(Mail("a", new string('x', 2_001))) },
            {
                "steps[0].link",
                Of(Mail("a") with { Words = [new FollowWords("", "a", "b", "Look")], Link = "javascript:alert(1)" })
            },
            { "steps[0].link", Of(Mail("a") with { Words = [new FollowWords("", "a", "b", "Look")], Link = "/shop" }) },
        };

    [Theory]
    [MemberData(nameof(Wrong))]
    public void What_cannot_go_live_is_told_at_its_line(string field, FollowUp follow) =>
        Assert.Contains(FollowUpKind.Problems(follow), p => p.Blocks && p.Field == field);

    [Fact]
    public void What_is_worth_a_look_does_not_stop_it()
    {
        var follow = Of(Mail("a"), Mail("b"), Tag("Letters"), Wait(5)) with { };
        var dutch = follow with
        {
            Steps =
            [
                follow.Steps[0] with
                {
                    Words = [.. follow.Steps[0].Words, new FollowWords("nl", "Dag", "Hoi", "")],
                },
                .. follow.Steps.Skip(1),
            ],
        };
        var problems = FollowUpKind.Problems(dutch);
        Assert.DoesNotContain(problems, p => p.Blocks);
        Assert.Equal(["steps[1].words", "steps[1]", "steps[2].tag", "steps[3].minutes"], problems.Select(p => p.Field));
    }

    [Fact]
    public void A_mail_is_read_in_ones_own_language_with_what_is_known_filled_in()
    {
        var step = Mail("Hello {{ first_name | default: \"there\" }}", "One.\n\nTwo, {{ piece }}.") with
        {
            Words =
            [
                new FollowWords(
                    "",
                    "Hello {{ first_name | default: \"there\" }}",
                    "One.\r\n\r\nTwo, {{ piece }}.",
                    "Look"
                ),
                new FollowWords("nl", "Dag {{ first_name }}", "Een.", ""),
                new FollowWords("fr", "Bonjour", "", ""),
            ],
        };
        var known = new Dictionary<string, string> { ["first_name"] = "Mira", ["piece"] = "a bowl" };
        var own = FollowText.Write(step, "de", "en", known);
        Assert.Equal("Hello Mira", own.Subject);
        Assert.Equal(["One.", "Two, a bowl."], own.Paragraphs);
        Assert.Equal("Dag Mira", FollowText.Write(step, "nl-BE", "en", known).Subject);
        // Half a translation is none.
        Assert.Equal("Hello there", FollowText.Write(step, "fr", "en", new Dictionary<string, string>()).Subject);
    }
}
