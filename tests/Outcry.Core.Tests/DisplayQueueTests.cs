using CsCheck;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Explaining;
using Outcry.Core.Performing;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Core.Rehearsing;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

/// <summary>The queue's rules, by the design's own worked examples first, then as laws.</summary>
public sealed class DisplayQueueTests
{
    private static readonly Guid S = Guid.NewGuid();
    private static readonly Guid D = Guid.NewGuid();
    private static readonly Guid T = Guid.NewGuid();
    private static readonly Trigger Click = new(TriggerKind.Click, Target: "#more");

    private static QueueEntry Cue(
        Guid id,
        int dueS,
        int[]? staysS = null,
        int priority = 5,
        CalloutClass kind = CalloutClass.Floating,
        int patienceS = 20,
        int order = 0,
        bool untilClosed = false,
        Trigger[]? triggers = null,
        Join join = Join.All
    ) =>
        new(
            id,
            kind,
            priority,
            order,
            triggers ?? [Trigger.After(dueS)],
            join,
            [.. (staysS ?? [7]).Select(s => untilClosed ? (long?)null : s * 1000L)],
            12_000,
            (long)Duration.FromHours(24).TotalMilliseconds,
            patienceS * 1000L
        );

    private static PageOutcome Play(
        QueueEntry[] cues,
        Act[]? acts = null,
        int stayS = 120,
        PageStart? start = null,
        HouseRules? rules = null
    ) => DisplayQueue.Play(cues, rules ?? HouseRules.Start, start ?? PageStart.Fresh(Now), acts ?? [], stayS * 1000L);

    private static (double, double, EndedBy) Seconds(PageOutcome outcome, Guid id, int turn = 0)
    {
        var shown = Assert.Single(outcome.Showings, s => s.Callout == id && s.Turn == turn);
        return (shown.StartMs / 1000.0, shown.EndMs / 1000.0, shown.EndedBy);
    }

    [Fact]
    public void Example_A_a_dialog_goes_first_and_the_slip_gives_up()
    {
        var outcome = Play(
            [Cue(S, 30), Cue(D, 30, priority: 2, kind: CalloutClass.Dialog, untilClosed: true)],
            [new Act(54_000, ActKind.Close, D)]
        );
        Assert.Equal((30, 54, EndedBy.Closed), Seconds(outcome, D));
        Assert.Equal(new NoFreeSlot(30_000, 50_000, 64_000, D), Assert.Single(outcome.Missed).Reason);
    }

    [Fact]
    public void Example_A_with_more_patience_the_slip_runs_after_the_gap()
    {
        var outcome = Play(
            [Cue(S, 30, patienceS: 34), Cue(D, 30, priority: 2, kind: CalloutClass.Dialog, untilClosed: true)],
            [new Act(54_000, ActKind.Close, D)]
        );
        Assert.Equal((64, 71, EndedBy.Stayed), Seconds(outcome, S));
    }

    [Fact]
    public void Example_A_a_closed_slip_hushes_what_waits()
    {
        var outcome = Play(
            [Cue(S, 30, patienceS: 34), Cue(D, 30, priority: 2, untilClosed: true)],
            [new Act(54_000, ActKind.Close, D)]
        );
        Assert.Equal(
            new Hushed(Now + Duration.FromSeconds(54) + Duration.FromHours(24)),
            Assert.Single(outcome.Missed).Reason
        );
    }

    [Fact]
    public void Example_B_another_callout_comes_between_two_turns()
    {
        var outcome = Play([Cue(S, 6, [7, 7, 7]), Cue(T, 20, priority: 3)]);
        Assert.Equal((6, 13, EndedBy.Stayed), Seconds(outcome, S, 0));
        Assert.Equal((23, 30, EndedBy.Stayed), Seconds(outcome, T));
        Assert.Equal((40, 47, EndedBy.Stayed), Seconds(outcome, S, 1));
        Assert.Equal((59, 66, EndedBy.Stayed), Seconds(outcome, S, 2));
    }

    [Fact]
    public void Example_C_the_gap_holds_across_pages()
    {
        var outcome = Play([Cue(S, 0)], start: PageStart.Fresh(Now) with { SinceLastEndMs = 4_000, Starts = 1 });
        Assert.Equal((6, 13, EndedBy.Stayed), Seconds(outcome, S));
    }

    [Fact]
    public void Example_D_the_seventh_of_a_visit_never_starts_but_insets_and_asked_ones_do()
    {
        var outcome = Play(
            [Cue(S, 5, priority: 1), Cue(D, 5, kind: CalloutClass.Inset), Cue(T, 5, triggers: [Click])],
            [new Act(5_000, ActKind.ClickElement, Target: "#more")],
            start: PageStart.Fresh(Now) with
            {
                Starts = 6,
            }
        );
        Assert.Equal(new BudgetSpent(6, 6), Assert.Single(outcome.Missed).Reason);
        Assert.Equal(5, Seconds(outcome, D).Item1);
        Assert.Equal(5, Seconds(outcome, T).Item1);
    }

    [Fact]
    public void What_was_asked_for_under_a_consent_notice_says_so_and_its_next_clicks_count_anew()
    {
        Act[] acts =
        [
            new(1_000, ActKind.HoldOpens, Hold: HoldKind.Consent),
            new(2_000, ActKind.ClickElement, Target: "#more"),
            new(3_000, ActKind.ClickElement, Target: "#other"),
            new(4_000, ActKind.HoldCloses, Hold: HoldKind.Consent),
            new(5_000, ActKind.ClickElement, Target: "#other"),
        ];
        var cue = Cue(S, 0, triggers: [Click, new Trigger(TriggerKind.Click, Target: "#other")]);
        var outcome = Play([cue], acts);
        Assert.Empty(outcome.Showings);
        Assert.Equal(new HeldByPage(3_000, HoldKind.Consent), Assert.Single(outcome.Missed).Reason);
        outcome = Play([cue], [.. acts, new(6_000, ActKind.ClickElement, Target: "#more")]);
        Assert.Equal(6_000, Assert.Single(outcome.Showings).StartMs);
    }

    [Fact]
    public void Whoever_is_due_with_the_last_that_the_visit_may_see_hears_so_at_once_whatever_happens_later()
    {
        Act[][] lives =
        [
            [],
            [new Act(9_000, ActKind.PointerOut)],
            [new Act(8_000, ActKind.Hide)],
        ];
        foreach (var acts in lives)
        {
            var outcome = Play(
                [Cue(S, 5, [30], priority: 1), Cue(T, 5)],
                acts,
                start: PageStart.Fresh(Now) with
                {
                    Starts = 5,
                },
                stayS: 12
            );
            Assert.Equal(new Missed(T, 0, new BudgetSpent(6, 6), 5_000), Assert.Single(outcome.Missed));
        }
    }

    [Fact]
    public void Example_E_waits_count_only_while_the_tab_is_visible()
    {
        var outcome = Play([Cue(S, 20)], [new Act(8_000, ActKind.Hide), new Act(60_000, ActKind.Return)]);
        Assert.Equal((72, 79, EndedBy.Stayed), Seconds(outcome, S));
    }

    [Fact]
    public void An_asked_callout_starts_at_once_and_the_floating_one_yields()
    {
        var outcome = Play(
            [Cue(S, 5, [60]), Cue(T, 10, triggers: [Click])],
            [new Act(10_000, ActKind.ClickElement, Target: "#more")]
        );
        Assert.Equal((5, 10, EndedBy.Yielded), Seconds(outcome, S));
        Assert.Equal(10, Seconds(outcome, T).Item1);
    }

    [Fact]
    public void A_dialog_waits_until_nothing_floats()
    {
        var outcome = Play([Cue(S, 5), Cue(D, 6, kind: CalloutClass.Dialog, priority: 1)]);
        Assert.Equal(22, Seconds(outcome, D).Item1);
    }

    [Fact]
    public void A_closed_dialog_hushes_dialogs_only()
    {
        var outcome = Play(
            [
                Cue(D, 2, kind: CalloutClass.Dialog, untilClosed: true),
                Cue(S, 20),
                Cue(T, 30, kind: CalloutClass.Dialog),
            ],
            [new Act(5_000, ActKind.Close, D)]
        );
        Assert.Equal(20, Seconds(outcome, S).Item1);
        Assert.IsType<Hushed>(Assert.Single(outcome.Missed).Reason);
    }

    [Fact]
    public void A_click_ends_it_and_starts_no_hush()
    {
        var outcome = Play([Cue(S, 5, [7, 7]), Cue(T, 30)], [new Act(7_000, ActKind.Click, S)]);
        Assert.Equal((5, 7, EndedBy.Clicked), Seconds(outcome, S));
        Assert.Equal(30, Seconds(outcome, T).Item1);
        Assert.DoesNotContain(outcome.Showings, s => s.Turn == 1);
    }

    [Fact]
    public void A_close_ends_all_turns()
    {
        var outcome = Play([Cue(S, 5, [7, 7, 7])], [new Act(7_000, ActKind.Close, S)]);
        Assert.Equal(EndedBy.Closed, Assert.Single(outcome.Showings).EndedBy);
    }

    [Fact]
    public void A_stay_stands_still_while_the_pointer_rests_on_it()
    {
        var outcome = Play([Cue(S, 5)], [new Act(6_000, ActKind.Hover, S), new Act(46_000, ActKind.Leave, S)]);
        Assert.Equal((5, 52, EndedBy.Stayed), Seconds(outcome, S));
    }

    [Fact]
    public void Reasons_tell_visible_time_and_say_so_when_the_tab_was_hidden()
    {
        Act[] away = [new Act(5_000, ActKind.Hide), new Act(65_000, ActKind.Return)];
        var slot = Play(
            [Cue(S, 30), Cue(D, 30, priority: 2, kind: CalloutClass.Dialog, untilClosed: true)],
            [.. away, new Act(114_000, ActKind.Close, D)],
            stayS: 300
        );
        Assert.Equal(
            new NoFreeSlot(30_000, 50_000, 64_000, D) { TabWasHidden = true },
            Assert.Single(slot.Missed).Reason
        );
        Assert.Equal(110_000, Assert.Single(slot.Missed).AtMs);
        var left = Play([Cue(T, 40)], away, stayS: 68);
        Assert.Equal(new LeftBefore(40_000, 8_000) { TabWasHidden = true }, Assert.Single(left.Missed).Reason);
    }

    [Fact]
    public void What_is_over_ends_on_the_second_and_no_click_brings_it_back()
    {
        var limit = new ScheduleLimit(ScheduleSide.Over, Now);
        var over = new ScheduleEnd(9_000, limit);
        Assert.Equal((5, 9, EndedBy.Over), Seconds(Play([Cue(S, 5) with { Over = over }]), S));
        var outcome = Play([Cue(S, 20) with { Over = over }]);
        Assert.Equal(new OutsideSchedule(limit), Assert.Single(outcome.Missed).Reason);
        var asked = Cue(S, 0) with { Triggers = [new Trigger(TriggerKind.Click, 0, "#more")], Over = over };
        Assert.Empty(Play([asked], [new Act(12_000, ActKind.ClickElement, Target: "#more")]).Showings);
    }

    [Fact]
    public void Leaving_the_page_ends_everything_and_says_what_was_still_to_come()
    {
        var outcome = Play([Cue(S, 5), Cue(T, 40)], stayS: 8);
        Assert.Equal((5, 8, EndedBy.PageLeft), Seconds(outcome, S));
        Assert.Equal(new LeftBefore(40_000, 8_000), Assert.Single(outcome.Missed).Reason);
    }

    [Fact]
    public void Of_equals_the_older_goes_first()
    {
        var outcome = Play([Cue(S, 5, order: 1), Cue(T, 5, order: 0)]);
        Assert.Equal(5, Seconds(outcome, T).Item1);
    }

    private static readonly Gen<QueueEntry[]> AnyCues = Gen.Select(
            Gen.Int[0, 60],
            Gen.Int[1, 30].Array[1, 3],
            Gen.Int[1, 9],
            Samples.OneOf(CalloutClass.Floating, CalloutClass.Floating, CalloutClass.Dialog),
            Gen.Int[0, 60]
        )
        .Array[0, 10]
        .Select(all =>
            all.Select((c, i) => Cue(Guid.NewGuid(), c.Item1, c.Item2, c.Item3, c.Item4, c.Item5, i)).ToArray()
        );

    private static readonly Gen<HouseRules> AnyRules = Gen.Select(Gen.Int[1, 3], Gen.Int[0, 20], Gen.Int[1, 6])
        .Select((k, g, v) => HouseRules.Start with { MostAtOnce = k, GapSeconds = g, MostPerVisit = v });

    [Fact]
    public void Never_more_than_k_at_once() =>
        Gen.Select(AnyCues, AnyRules)
            .Sample(
                (cues, rules) =>
                {
                    var shown = Play(cues, rules: rules, stayS: 300).Showings;
                    return shown.All(s =>
                        shown.Count(o => o.StartMs <= s.StartMs && o.EndMs > s.StartMs) <= rules.MostAtOnce
                    );
                }
            );

    [Fact]
    public void Never_closer_than_the_gap_to_the_last_end() =>
        Gen.Select(AnyCues, AnyRules)
            .Sample(
                (cues, rules) =>
                {
                    var shown = Play(cues, rules: rules, stayS: 300).Showings;
                    return shown.All(s =>
                        shown
                            .Where(o => o.EndMs <= s.StartMs && o != s)
                            .All(o => s.StartMs - o.EndMs >= rules.GapSeconds * 1000L)
                    );
                }
            );

    [Fact]
    public void Never_more_first_turns_than_the_visit_allows() =>
        Gen.Select(AnyCues, AnyRules, Gen.Int[0, 6])
            .Sample(
                (cues, rules, before) =>
                    Play(cues, rules: rules, stayS: 300, start: PageStart.Fresh(Now) with { Starts = before })
                        .Showings.Count(s => s.Turn == 0) <= Math.Max(0, rules.MostPerVisit - before)
            );

    [Fact]
    public void Never_before_it_is_due_and_never_after_its_patience() =>
        Gen.Select(AnyCues, AnyRules)
            .Sample(
                (cues, rules) =>
                    Play(cues, rules: rules, stayS: 300)
                        .Showings.All(s =>
                            s.StartMs >= s.DueMs
                            && s.StartMs <= s.DueMs + cues.Single(c => c.Id == s.Callout).PatienceMs
                        )
            );

    [Fact]
    public void Nothing_starts_within_a_hush() =>
        AnyCues.Sample(cues =>
            Play(cues, start: PageStart.Fresh(Now) with { HushLeftMs = 600_000 }).Showings.Count == 0
        );

    [Fact]
    public void Every_first_turn_is_shown_or_has_its_reason() =>
        Gen.Select(AnyCues, AnyRules)
            .Sample(
                (cues, rules) =>
                {
                    var outcome = Play(cues, rules: rules, stayS: 300);
                    var named = outcome
                        .Showings.Where(s => s.Turn == 0)
                        .Select(s => s.Callout)
                        .Concat(outcome.Missed.Where(m => m.Turn == 0).Select(m => m.Callout));
                    return named.Order().SequenceEqual(cues.Select(c => c.Id).Order());
                }
            );

    [Fact]
    public void The_same_visit_always_comes_to_the_same() =>
        Gen.Select(AnyCues, AnyRules)
            .Sample(
                (cues, rules) =>
                    Play(cues, rules: rules).Showings.SequenceEqual(Play([.. cues.Reverse()], rules: rules).Showings)
            );

    [Fact]
    public void A_rehearsal_carries_the_visit_from_page_to_page()
    {
        var first = Live("first", Brief() with { When = When(33, 1, 12) });
        var second = Live("second", Brief() with { When = When(0, 1, 12), Where = Where(["/journal"], []) });
        var journal = Pages.PageAddress.TryAt("pots.example", "/journal")!;
        var (pages, after) = Rehearsal.Play(
            Site([first, second]),
            VisitorRecord.New("v", Now),
            VisitorFacts.Unknown,
            [
                JourneyPage.Reading(Shop, Duration.FromSeconds(44)),
                JourneyPage.Reading(journal, Duration.FromSeconds(30)),
            ],
            Now,
            PlanOptions.Explained
        );
        Assert.Equal(33_000, Assert.Single(pages[0].Outcome.Showings).StartMs);
        Assert.Equal(6_000, Assert.Single(pages[1].Outcome.Showings).StartMs);
        Assert.Equal((1, 2, 2), (after.Visit.Number, after.Visit.Pages, after.Visit.Starts));
    }

    private static Reason Missed(PageOutcome outcome, Guid id) =>
        Assert.Single(outcome.Missed, m => m.Callout == id).Reason;

    private static readonly Trigger Deep = new(TriggerKind.Scroll, 80);
    private static readonly Trigger Video = new(TriggerKind.VideoEnd);

    [Fact]
    public void What_never_came_says_what_was_missing_first()
    {
        QueueEntry Waiting(Join join, params Trigger[] triggers) => Cue(S, 0, triggers: triggers, join: join);
        Act[] video = [new Act(5_000, ActKind.VideoEnds)];
        Assert.Equal(new NeverDue(Deep), Missed(Play([Waiting(Join.All, Deep, Video)]), S));
        Assert.Equal(new NeverDue(Deep), Missed(Play([Waiting(Join.All, Video, Deep)], video), S));
        Assert.Equal(new NeverDue(Deep), Missed(Play([Waiting(Join.Any, Deep, Video)]), S));
        // Time alone would have brought it, had the visitor stayed.
        Assert.Equal(
            new LeftBefore(90_000, 60_000),
            Missed(Play([Waiting(Join.Any, Deep, Trigger.After(90))], stayS: 60), S)
        );
        Assert.Equal(new NeverDue(Deep), Missed(Play([Waiting(Join.All, Deep, Trigger.After(90))], stayS: 60), S));
        Assert.Equal(
            new LeftBefore(90_000, 60_000),
            Missed(Play([Waiting(Join.All, Trigger.After(70), Trigger.After(90))], stayS: 60), S)
        );
        Assert.Equal(
            new LeftBefore(70_000, 60_000),
            Missed(Play([Waiting(Join.Any, Trigger.After(70), Trigger.After(90))], stayS: 60), S)
        );
    }

    [Theory]
    [InlineData(HoldKind.Chat)]
    [InlineData(HoldKind.Dialog)]
    public void What_was_due_while_the_page_held_everything_up_says_what_held_it(HoldKind hold)
    {
        var outcome = Play([Cue(S, 10)], [new Act(5_000, ActKind.HoldOpens, Hold: hold)], stayS: 60);
        Assert.Equal(new HeldByPage(10_000, hold), Missed(outcome, S));
    }

    [Fact]
    public void Under_an_open_consent_notice_nothing_becomes_due_and_the_notice_is_the_reason()
    {
        Act[] opens = [new Act(1_000, ActKind.HoldOpens)];
        Assert.Equal(new HeldByPage(10_000, HoldKind.Consent), Missed(Play([Cue(S, 10)], opens, stayS: 60), S));
        Assert.Equal(new NeverDue(Deep), Missed(Play([Cue(S, 0, triggers: [Deep])], opens, stayS: 60), S));
    }

    [Fact]
    public void What_gave_up_while_the_tab_was_away_says_so()
    {
        var outcome = Play(
            [Cue(S, 5, staysS: [60]), Cue(D, 10)],
            [new Act(20_000, ActKind.Hide), new Act(50_000, ActKind.Return)]
        );
        Assert.True(Assert.IsType<NoFreeSlot>(Missed(outcome, D)).TabWasHidden);
        Assert.False(Assert.IsType<NoFreeSlot>(Missed(Play([Cue(S, 5, staysS: [60]), Cue(D, 10)]), D)).TabWasHidden);
    }

    [Fact]
    public void Nobody_is_taken_to_be_leaving_before_the_fifth_second()
    {
        var leaving = Cue(S, 0, triggers: [new Trigger(TriggerKind.Leaving)]);
        Assert.Empty(Play([leaving], [new Act(4_999, ActKind.PointerOut)]).Showings);
        Assert.Equal(5, Seconds(Play([leaving], [new Act(5_000, ActKind.PointerOut)]), S).Item1);
    }

    [Fact]
    public void Showings_are_told_by_their_start_then_turn_then_age()
    {
        var rules = HouseRules.Start with { MostAtOnce = 3, GapSeconds = 0 };
        var outcome = Play([Cue(T, 5, order: 2), Cue(S, 5, order: 0), Cue(D, 5, order: 1)], rules: rules);
        Assert.Equal([S, D, T], outcome.Showings.Select(s => s.Callout));
    }

    [Fact]
    public void What_may_only_be_asked_for_waits_for_its_click_and_for_nothing_else()
    {
        QueueEntry Restrained(Join join, params Trigger[] triggers) =>
            Cue(S, 0, triggers: triggers, join: join) with
            {
                AskedOnly = true,
                Instead = new Hushed(Now),
            };
        Act[] clicks = [new Act(9_000, ActKind.ClickElement, Target: "#more")];
        Assert.Equal(9, Seconds(Play([Restrained(Join.Any, Trigger.After(2), Click)], clicks), S).Item1);
        Assert.Equal(new Hushed(Now), Missed(Play([Restrained(Join.Any, Trigger.After(2), Click)]), S));
        Assert.Equal(9, Seconds(Play([Restrained(Join.All, Click)], clicks), S).Item1);
    }

    [Fact]
    public void A_page_that_calls_one_by_its_id_brings_it_at_once_whatever_it_waits_for()
    {
        var outcome = Play([Cue(S, 90), Cue(D, 5, staysS: [60])], [new Act(10_000, ActKind.Show, S)]);
        Assert.Equal((10, 17, EndedBy.Stayed), Seconds(outcome, S));
        Assert.Equal((5, 10, EndedBy.Yielded), Seconds(outcome, D));
        Assert.True(Assert.Single(outcome.Showings, s => s.Callout == S).IsAsked);
    }

    [Theory]
    [InlineData(24, 0, true)]
    [InlineData(24, 1, false)]
    public void An_end_within_a_day_is_told_to_the_page(int hours, int milliseconds, bool told)
    {
        var at = Now + Duration.FromHours(hours) + Duration.FromMilliseconds(milliseconds);
        var schedule = Schedule.Always with { Until = at.InUtc().LocalDateTime };
        var end = ScheduleEnd.Of(schedule, Now, DateTimeZone.Utc);
        Assert.Equal(told ? (long?)Duration.FromHours(hours).TotalMilliseconds : null, end?.AtMs);
        Assert.Equal(told ? new ScheduleLimit(ScheduleSide.Over, at) : null, end?.Limit);
    }

    [Fact]
    public void Hours_that_end_say_when_they_begin_again()
    {
        // The 24th of November 2015 was a Tuesday.
        var schedule = Schedule.Always with
        {
            Hours = [new HoursSpan(IsoDayOfWeek.Tuesday, new LocalTime(9, 0), new LocalTime(17, 0))],
        };
        var end = ScheduleEnd.Of(schedule, Now, DateTimeZone.Utc);
        Assert.Equal(3 * 3_600_000, end?.AtMs);
        Assert.Equal(new ScheduleLimit(ScheduleSide.OtherHours, Now + Duration.FromHours(7 * 24 - 5)), end?.Limit);
        Assert.Null(ScheduleEnd.Of(Schedule.Always, Now, DateTimeZone.Utc));
    }

    [Fact]
    public void A_hush_that_is_over_leaves_nothing()
    {
        var visitor = Visitor() with { HushUntil = Now, DialogHushUntil = Now + Duration.FromSeconds(2) };
        var start = PageStart.Of(visitor, Now);
        Assert.Equal((0, 2_000), (start.HushLeftMs, start.DialogHushLeftMs));
    }
}
