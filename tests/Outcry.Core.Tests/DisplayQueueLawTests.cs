using CsCheck;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Performing;
using Outcry.Core.Publishing;
using Outcry.Core.Replaying;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

/// <summary>What holds of every page view, whatever callouts wait for and whatever its visitor does.</summary>
public sealed class DisplayQueueLawTests
{
    private const int StayS = 240;

    private static readonly Trigger[] AllTriggers =
    [
        Trigger.After(0),
        Trigger.After(6),
        Trigger.After(25),
        new(TriggerKind.Idle, 8),
        new(TriggerKind.Scroll, 50),
        new(TriggerKind.Leaving),
        new(TriggerKind.InView, 0, "#seen"),
        new(TriggerKind.Click, 0, "#asked"),
        new(TriggerKind.PageEvent, 0, "added"),
    ];

    private static readonly Gen<QueueEntry> AnyCue = Gen.Select(
            OneOf(AllTriggers).Array[1, 2],
            OneOf(Join.All, Join.Any),
            OneOf(CalloutClass.Floating, CalloutClass.Floating, CalloutClass.Dialog, CalloutClass.Inset),
            Gen.Int[1, 9],
            Gen.Int[0, 20].Array[1, 3],
            Gen.Int[0, 30],
            Gen.Int[0, 3]
        )
        .Select(
            (triggers, join, kind, priority, stays, patience, rounds) =>
                new QueueEntry(
                    Guid.NewGuid(),
                    kind,
                    priority,
                    0,
                    triggers,
                    join,
                    [.. stays.Select(s => s == 0 ? (long?)null : s * 1000L)],
                    5_000,
                    60_000,
                    patience * 1000L
                )
                {
                    Rounds = rounds,
                }
        );

    private static readonly Gen<QueueEntry[]> AnyCues = AnyCue
        .Array[1, 8]
        .Select(cues => cues.Select((c, i) => c with { Order = i }).ToArray());

    private static readonly Gen<HouseRules> AnyRules = Gen.Select(Gen.Int[1, 3], Gen.Int[0, 20], Gen.Int[1, 6])
        .Select((k, g, v) => HouseRules.Start with { MostAtOnce = k, GapSeconds = g, MostPerVisit = v });

    // Without hiding the tab, so that what is said of visible time can be read off the wall's clock.
    private static readonly Gen<(int Kind, int At, int Whose)[]> AnyDoings = Gen.Select(
        Gen.Int[0, 11],
        Gen.Int[0, StayS],
        Gen.Int[0, 7]
    ).Array[0, 14];

    private static Act[] Acts(QueueEntry[] cues, (int Kind, int At, int Whose)[] doings) =>
        [
            .. doings.Select(d =>
            {
                var (at, callout) = (d.At * 1000L, cues[d.Whose % cues.Length].Id);
                return d.Kind switch
                {
                    0 or 1 => new Act(at, ActKind.Close, callout),
                    2 => new Act(at, ActKind.Click, callout),
                    3 => new Act(at, ActKind.Hover, callout),
                    4 => new Act(at, ActKind.Leave, callout),
                    5 => new Act(at, ActKind.Scroll, Number: 10 * d.Whose + 20),
                    6 => new Act(at, ActKind.See, Target: "#seen"),
                    7 => new Act(at, ActKind.ClickElement, Target: "#asked"),
                    8 => new Act(at, ActKind.PageEvent, Target: "added"),
                    9 => new Act(at, ActKind.PointerOut),
                    10 => new Act(at, ActKind.HoldOpens, Hold: (HoldKind)(d.Whose % 3)),
                    _ => new Act(at, ActKind.HoldCloses, Hold: (HoldKind)(d.Whose % 3)),
                };
            }),
        ];

    private static void Holds(Func<QueueEntry[], HouseRules, Act[], IReadOnlyList<Showing>, bool> law) =>
        Gen.Select(AnyCues, AnyRules, AnyDoings)
            .Sample(
                (cues, rules, doings) =>
                {
                    var acts = Acts(cues, doings);
                    var played = DisplayQueue.Play(cues, rules, PageStart.Fresh(Now), acts, StayS * 1000L);
                    return law(cues, rules, acts, played.Showings);
                },
                iter: Cases.Of(3_000)
            );

    private static CalloutClass ClassOf(QueueEntry[] cues, Showing shown) =>
        cues.Single(c => c.Id == shown.Callout).Class;

    private static bool IsOver(QueueEntry[] cues, Showing shown) => ClassOf(cues, shown) != CalloutClass.Inset;

    private static bool TakesPlace(QueueEntry[] cues, Showing shown) => IsOver(cues, shown) && !shown.IsAsked;

    [Fact]
    public void Never_more_than_k_that_nobody_asked_for_and_a_dialog_alone() =>
        Holds(
            (cues, rules, _, shown) =>
                shown
                    .Where(s => TakesPlace(cues, s))
                    .All(s =>
                    {
                        var with = shown
                            .Where(o => o != s && IsOver(cues, o) && o.StartMs <= s.StartMs && o.EndMs > s.StartMs)
                            .ToList();
                        return with.Count < rules.MostAtOnce
                            && (with.Count == 0 || ClassOf(cues, s) != CalloutClass.Dialog)
                            && with.All(o => ClassOf(cues, o) != CalloutClass.Dialog);
                    })
        );

    [Fact]
    public void Never_closer_than_the_gap_to_an_end_of_what_nobody_asked_for() =>
        Holds(
            (cues, rules, _, shown) =>
                shown
                    .Where(s => TakesPlace(cues, s))
                    .All(s =>
                        shown
                            .Where(o => o != s && TakesPlace(cues, o) && o.EndMs <= s.StartMs && o.StartMs < s.StartMs)
                            // What starts in the page's last instant starts beside what leaving ends in that instant.
                            .Where(o => o.EndedBy != EndedBy.PageLeft)
                            .All(o => s.StartMs - o.EndMs >= rules.GapSeconds * 1000L)
                    )
        );

    [Fact]
    public void Never_more_than_v_that_nobody_asked_for() =>
        Holds((cues, rules, _, shown) => shown.Count(s => s.IsFirst && TakesPlace(cues, s)) <= rules.MostPerVisit);

    [Fact]
    public void Nothing_but_what_is_asked_for_starts_within_a_hush() =>
        Holds(
            (cues, _, _, shown) =>
                shown
                    .Where(c => c.EndedBy == EndedBy.Closed)
                    .All(closed =>
                    {
                        var hush = cues.Single(c => c.Id == closed.Callout).HushMs;
                        var dialogsOnly = ClassOf(cues, closed) == CalloutClass.Dialog;
                        return shown.All(s =>
                            s.IsAsked
                            || s.StartMs < closed.EndMs
                            || s == closed
                            || s.StartMs >= closed.EndMs + hush
                            || (dialogsOnly && ClassOf(cues, s) != CalloutClass.Dialog)
                            // At the very instant of the close it may have begun just before it.
                            || (s.StartMs == closed.EndMs && s.EndMs == closed.EndMs)
                        );
                    })
        );

    [Fact]
    public void What_is_asked_for_starts_at_the_click() =>
        Holds(
            (_, _, acts, shown) =>
                shown
                    .Where(s => s.IsAsked)
                    .All(s => acts.Any(a => a.Kind == ActKind.ClickElement && a.AtMs == s.StartMs))
        );

    [Fact]
    public void Nothing_starts_while_a_consent_notice_is_open() =>
        Holds(
            (_, _, acts, shown) =>
            {
                var notices = acts.Where(a => a.Kind is ActKind.HoldOpens or ActKind.HoldCloses)
                    .Where(a => a.Hold == HoldKind.Consent)
                    .OrderBy(a => a.AtMs)
                    .ToList();
                bool IsOpenThroughout(long ms) =>
                    notices.LastOrDefault(a => a.AtMs < ms)?.Kind == ActKind.HoldOpens
                    && notices.All(a => a.AtMs != ms);
                return shown.All(s => !IsOpenThroughout(s.StartMs));
            }
        );

    [Fact]
    public void The_order_in_which_cues_come_changes_nothing() =>
        Holds(
            (cues, rules, acts, shown) =>
                DisplayQueue
                    .Play(cues.Reverse(), rules, PageStart.Fresh(Now), acts, StayS * 1000L)
                    .Showings.SequenceEqual(shown)
        );

    /// <summary>On this stands that a replay plays a plan once for all page views that begin alike.</summary>
    [Fact]
    public void A_page_left_earlier_was_the_same_until_then() =>
        Gen.Select(AnyCues, AnyRules, Gen.Int[0, StayS])
            .Sample(
                (cues, rules, stayS) =>
                {
                    var long_ = DisplayQueue.Play(cues, rules, PageStart.Fresh(Now), [], RecordedPage.LongestStayMs);
                    var short_ = DisplayQueue.Play(cues, rules, PageStart.Fresh(Now), [], stayS * 1000L);
                    var cut = long_
                        .Showings.Where(s => s.StartMs < stayS * 1000L)
                        .Select(s =>
                            s.EndMs >= stayS * 1000L ? s with { EndMs = stayS * 1000L, EndedBy = EndedBy.PageLeft } : s
                        );
                    return short_.Showings.SequenceEqual(cut);
                },
                iter: Cases.Of(3_000)
            );
}
