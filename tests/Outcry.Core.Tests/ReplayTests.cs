using CsCheck;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Claims;
using Outcry.Core.Evidence;
using Outcry.Core.Explaining;
using Outcry.Core.Pages;
using Outcry.Core.Performing;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Core.Rehearsing;
using Outcry.Core.Replaying;
using Outcry.Core.Saying;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

public class ReplayTests
{
    private static readonly Instant Begin = Now - Duration.FromDays(2);
    private static readonly PageAddress Journal = PageAddress.TryAt("pots.example", "/journal/glazing")!;
    private static readonly PageAddress Cart = PageAddress.TryAt("pots.example", "/cart")!;
    private static readonly ReplayGroup[] Groups =
    [
        new(Guid.NewGuid(), PageRule.Parse(["/shop"], [])),
        new(Guid.NewGuid(), PageRule.Parse(["/journal/**"], [])),
    ];

    [Fact]
    public void Tells_whom_a_draft_would_have_reached_when_and_how_often()
    {
        var draft = Notice("draft", after: 6, where: ["/shop"]);
        var tally = Replay(
            Setting(Site([]), draft),
            [Visit("a", 1, 0, (Shop, 60, 0)), Visit("a", 2, 24, (Shop, 60, 0))],
            [Visit("b", 1, 1, (Shop, 5, 0), (Journal, 60, 0))],
            [Visit("c", 1, 2, (Journal, 60, 0), (Shop, 60, 0))]
        );
        Assert.Equal((3L, 4L, 6L, 4L), (tally.Visitors, tally.Visits, tally.PageViews, tally.OnItsPages));
        Assert.Equal((3L, 2L, 3L), (tally.Starts, tally.VisitorsReached, tally.VisitsReached));
        Assert.Equal([1, 1, 1], tally.ShowingsPerVisitor.Take(3));
        Assert.Equal(2, tally.FirstSeconds[6]);
        Assert.Equal(6, tally.MedianFirstSecond);
        Assert.Equal(new ReplayReason(new LeftBefore(6_000, 5_000), null, 1), Assert.Single(tally.Reasons));
        Assert.Equal(new ReplayCell(4, 3, 3), Sum(tally, group: 0));
        Assert.Equal(new ReplayCell(2, 0, 0), Sum(tally, group: 1));
        // The first two visits of the period fall on one day of the site, the visit a day later on the next.
        Assert.Equal([2, 1, 0], Enumerable.Range(0, 3).Select(d => tally.Cell(d).Starts));
    }

    [Fact]
    public void Tells_what_it_displaces_and_what_displaces_it()
    {
        var first = Notice("first", after: 4, where: ["/shop"], priority: 5);
        var before = Notice("draft", after: 4, where: ["/shop"], priority: 1);
        var pushes = Replay(Setting(Site([first]), before), [Visit("a", 1, 0, (Shop, 12, 0))]);
        Assert.Equal((1, new ReplayShift(1, 0)), (pushes.Starts, pushes.Shifts[first.Id]));

        var after = Notice("draft", after: 4, where: ["/shop"], priority: 9);
        var rules = HouseRules.Start with { PatienceSeconds = 2 };
        var pushed = Replay(Setting(Site([first], rules: rules), after), [Visit("a", 1, 0, (Shop, 60, 0))]);
        var reason = Assert.Single(pushed.Reasons);
        Assert.Equal((0, first.Id, 1L), (pushed.Starts, reason.Other, reason.PageViews));
        Assert.IsType<NoFreeSlot>(reason.Example);
        Assert.Empty(pushed.Shifts);
    }

    [Fact]
    public void A_draft_that_takes_the_place_of_another_gives_its_showings_as_lost()
    {
        var wide = Live("wide", Notice("x", 4, []).Brief);
        var narrow = Notice("draft", 4, ["/shop"]);
        narrow = Live("draft", narrow.Brief with { Where = narrow.Brief.Where with { Replaces = true } });
        var tally = Replay(Setting(Site([wide]), narrow), [Visit("a", 1, 0, (Shop, 30, 0), (Journal, 30, 0))]);
        // Once a visit, so what it loses on the first page it gains on the next.
        Assert.Equal(new ReplayShift(1, 1), tally.Shifts[wide.Id]);
    }

    [Fact]
    public void What_a_callout_already_shows_is_compared_with_what_its_draft_would()
    {
        var live = Notice("live", 4, ["/shop"]);
        var draft = new Callout(
            new Definition(live.Id, "live", DefinitionState.Live, live.CreatedAt, 2),
            Notice("x", 90, ["/shop"]).Brief
        );
        var tally = Replay(Setting(Site([live]), draft), [Visit("a", 1, 0, (Shop, 30, 0))]);
        Assert.Equal(0, tally.Starts);
        Assert.Empty(tally.Shifts);
        Assert.IsType<LeftBefore>(Assert.Single(tally.Reasons).Example);
    }

    [Fact]
    public void A_draft_that_comes_on_as_the_live_one_does_but_counts_as_floating_takes_the_turn_of_the_visit_from_others()
    {
        var brief = Notice("x", 4, ["/shop"]).Brief;
        var live = Live("live", brief with { Look = brief.Look with { Shape = Shape.Inset } });
        var draft = new Callout(
            new Definition(live.Id, "live", DefinitionState.Live, live.CreatedAt, 2),
            brief with
            {
                Look = brief.Look with { Shape = Shape.Poster },
            }
        );
        var other = Notice("other", 4, ["/journal/**"]);
        var rules = HouseRules.Start with { MostPerVisit = 1 };
        var tally = Replay(
            Setting(Site([live, other], rules: rules), draft),
            [Visit("a", 1, 0, (Shop, 60, 0), (Journal, 60, 0))]
        );
        Assert.Equal(new ReplayShift(1, 0), Assert.Single(tally.Shifts).Value);
        Assert.Equal(other.Id, Assert.Single(tally.Shifts).Key);
    }

    [Fact]
    public void Draws_evidence_as_it_stood_then()
    {
        // Three bought on the second day: before, there is nothing to tell.
        var events = Enumerable
            .Range(0, 3)
            .Select(i => Event(ago: Now - Begin - Duration.FromHours(25), person: $"p{i}"))
            .ToList();
        var tally = Replay(
            Setting(Site([], events), Live("draft"), events),
            [Visit("a", 1, 1, (Shop, 60, 0))],
            [Visit("b", 1, 40, (Shop, 60, 0))]
        );
        Assert.Equal(1, tally.Starts);
        Assert.IsType<TooFewEvents>(Assert.Single(tally.Reasons).Example);
    }

    [Theory]
    [InlineData(80, 61, 60, 48)] // Evenly over the first 60 of 61 seconds: 64 of 80 percent after 48.
    [InlineData(64, 61, 60, 60)]
    public void Scrolling_goes_on_evenly_until_shortly_before_the_end(int depth, int stay, int last, int at)
    {
        var visit = Visit("a", 1, 0, (Shop, stay, depth));
        var acts = visit.ToJourney([64, 90])[0].Acts;
        Assert.Equal(
            [
                new Act(0, ActKind.Busy, Number: last * 1000),
                new Act(at * 1000, ActKind.Scroll, Number: 64),
                new Act(last * 1000, ActKind.PointerOut),
            ],
            acts
        );
    }

    [Fact]
    public void Only_the_last_page_of_a_visit_is_left_for_good()
    {
        var phone = Visit("a", 1, 0, (Shop, 20, 0), (Journal, 20, 0)) with
        {
            Facts = new VisitorFacts { Device = Device.Phone },
        };
        var journey = phone.ToJourney([]);
        Assert.Empty(journey[0].Acts);
        Assert.Equal(new Act(19_000, ActKind.FlickUp), Assert.Single(journey[1].Acts));
    }

    [Fact]
    public void Page_views_whose_end_nobody_recorded_are_told_and_show_nothing()
    {
        var tally = Replay(Setting(Site([]), Notice("draft", 0, [])), [Visit("a", 1, 0, (Shop, 0, 0))]);
        Assert.Equal((1L, 0L), (tally.WithoutEnd, tally.Starts));
    }

    [Fact]
    public void A_returning_visitor_is_met_as_one()
    {
        var draft = Live(
            "draft",
            Notice("x", 0, []).Brief with
            {
                Who = Brief().Who with { Rule = new FactTest(VisitorFact.VisitNumber, FactComparison.AtLeast, "4") },
            }
        );
        var tally = Replay(Setting(Site([]), draft), [Visit("a", 3, 0, (Shop, 9, 0)), Visit("a", 4, 2, (Shop, 9, 0))]);
        Assert.Equal((1L, 1L), (tally.Starts, tally.VisitsReached));
    }

    [Fact]
    public void The_period_has_an_end_and_a_limit()
    {
        Assert.Throws<ArgumentOutOfRangeException>(() => Setting(Site([]), Notice("x", 0, []), from: Now, until: Now));
        Assert.Throws<ArgumentOutOfRangeException>(() =>
            Setting(Site([]), Notice("x", 0, []), from: Now - Duration.FromDays(91))
        );
    }

    private static readonly Gen<Brief> AnyBrief = Gen.Select(
        Gen.Int[0, 40],
        Gen.Int[1, 3],
        Gen.Int[1, 4],
        OneOf(Shape.Slip, Shape.Slip, Shape.Poster, Shape.Inset),
        OneOf<string[]>([], ["/shop"], ["/journal/**"], ["/**"]),
        OneOf(RepeatUnit.PageView, RepeatUnit.Visit, RepeatUnit.Days),
        OneOf<Trigger?>(
            null,
            null,
            new Trigger(TriggerKind.Scroll, 40),
            new Trigger(TriggerKind.Leaving),
            new Trigger(TriggerKind.Idle, 10),
            new Trigger(TriggerKind.Pages, 2),
            new Trigger(TriggerKind.Click, 0, "#ask")
        ),
        (after, turns, priority, shape, where, often, trigger) =>
            Brief() with
            {
                Priority = priority,
                Look = Brief().Look with { Shape = shape, StaySeconds = 3 + after },
                Where = Where(where, []) with { Replaces = after % 5 == 0 },
                When = When(after, turns, 12) with
                {
                    Triggers = trigger is null ? [Trigger.After(after)] : [trigger],
                    // Some begin while the visits go on.
                    Schedule =
                        after % 6 == 1
                            ? Schedule.Always with
                            {
                                From = (Begin + Duration.FromHours(7)).InUtc().LocalDateTime,
                            }
                            : Schedule.Always,
                },
                HowOften = Brief().HowOften with { Unit = often },
                Who =
                    after % 7 == 0
                        ? Brief().Who with
                        {
                            Rule = new FactTest(VisitorFact.PagesThisVisit, FactComparison.AtLeast, "2"),
                        }
                        : Brief().Who,
                From = Brief().From with { LeastNumber = 1 + after % 8 },
            }
    );

    private static readonly Gen<(PageAddress Page, int Stay, int Depth, int Away)> AnyPage = Gen.Select(
        OneOf(Shop, Shop, Journal, Cart),
        Gen.Int[0, 90],
        Gen.Int[0, 100],
        Gen.Int[0, 15]
    );

    private static readonly Gen<List<RecordedVisit>> AnyVisitor = Gen.Select(
            Gen.Int[1, 3],
            AnyPage.Array[1, 5].Array[1, 4],
            OneOf(Device.Desktop, Device.Phone),
            Gen.Int[0, 1_000_000]
        )
        .Select(
            (number, visits, device, id) =>
            {
                var at = Begin + Duration.FromMinutes(id % 300);
                var recorded = new List<RecordedVisit>();
                foreach (var pages in visits)
                {
                    var seen = new List<RecordedPage>();
                    foreach (var (page, stay, depth, away) in pages)
                    {
                        seen.Add(new RecordedPage(page, at, stay * 1000L, depth));
                        at += Duration.FromSeconds(stay + away);
                    }
                    recorded.Add(
                        new RecordedVisit(
                            $"v{id}",
                            number + recorded.Count,
                            new VisitorFacts { Device = device },
                            WayIn.Unknown,
                            seen
                        )
                    );
                    at += Duration.FromHours(5);
                }
                return recorded;
            }
        );

    [Fact]
    public void What_a_replay_counts_equals_the_sum_of_its_rehearsals() =>
        Gen.Select(AnyBrief, AnyBrief.Array[0, 5], AnyVisitor.Array[1, 4], Gen.Bool, Gen.Int[1, 6])
            .Sample(
                (brief, others, visitors, wasLive, most) =>
                {
                    var rules = HouseRules.Start with { MostPerVisit = most, QuietPages = ["/cart"] };
                    var draft = Live("draft", brief);
                    var live = others.Select((b, i) => Live($"other {i}", b, age: i)).ToList();
                    if (wasLive && live.Count > 0)
                        draft = new Callout(
                            new Definition(live[0].Id, "draft", DefinitionState.Live, live[0].CreatedAt, 2),
                            brief
                        );
                    var setting = Setting(Site(live, Spread, rules), draft, Spread);
                    var counted = Replay(setting, visitors);
                    var summed = Rehearse(setting, visitors);
                    return summed.Starts == counted.Starts
                        && summed.Reached == counted.VisitorsReached
                        && Same(
                            summed.Reasons,
                            counted.Reasons.ToDictionary(r => (r.Example.GetType(), r.Other), r => r.PageViews)
                        )
                        && Same(summed.Shifts, counted.Shifts);
                },
                iter: Cases.Of(2_000)
            );

    [Fact]
    public void Reasons_of_one_kind_but_another_cause_are_told_apart()
    {
        Reason[] reasons =
        [
            new HeldByPage(6_000, HoldKind.Consent),
            new HeldByPage(6_000, HoldKind.Chat),
            new SeenOften(new RepeatLimit(1, 1, RepeatSpan.Visit, null)),
            new SeenOften(new RepeatLimit(4, 4, RepeatSpan.Week, Now)),
            new HeldBack(50),
        ];
        Assert.Equal(reasons.Length, reasons.Select(ReasonCatalogue.GistOf).Distinct().Count());
    }

    [Fact]
    public void Parts_add_up_to_the_whole_however_visitors_are_shared_out() =>
        Gen.Select(AnyBrief, AnyBrief.Array[0, 4], AnyVisitor.Array[2, 6])
            .Sample(
                (brief, others, visitors) =>
                {
                    var setting = Setting(
                        Site(others.Select(b => Live("other", b)), Spread),
                        Live("draft", brief),
                        Spread
                    );
                    var whole = Replay(setting, visitors);
                    var sum = Replay(setting, visitors[1..]);
                    sum.Add(Replay(setting, visitors[..1]));
                    return whole.Starts == sum.Starts
                        && whole.PageViews == sum.PageViews
                        && whole.ShowingsPerVisitor.SequenceEqual(sum.ShowingsPerVisitor)
                        && whole.FirstSeconds.SequenceEqual(sum.FirstSeconds)
                        && Same(whole.Shifts, sum.Shifts)
                        && Sum(whole, 0) == Sum(sum, 0);
                },
                iter: Cases.Of(500)
            );

    private sealed record Summed(
        long Starts,
        long Reached,
        Dictionary<(Type, Guid?), long> Reasons,
        Dictionary<Guid, ReplayShift> Shifts
    );

    // Every page view as a rehearsal of its own, in both worlds, without anything that makes a replay quick.
    private static Summed Rehearse(ReplaySetting setting, IEnumerable<List<RecordedVisit>> visitors)
    {
        var (starts, reached) = (0L, 0L);
        var reasons = new Dictionary<(Type, Guid?), long>();
        var shifts = new Dictionary<Guid, ReplayShift>();
        foreach (var visits in visitors)
        {
            var met = 0;
            var with = visits[0].VisitorBefore();
            var without = with;
            foreach (var visit in visits)
            {
                var now = visit.Pages[0].At;
                foreach (var page in visit.ToJourney(setting.Scrolls))
                {
                    var moment = setting.AsOf(now);
                    (var proposed, with) = Rehearse(moment.With, with, visit, page, now);
                    (var usual, without) = Rehearse(moment.Without, without, visit, page, now);
                    var (on, off) = (ComeOn(proposed), ComeOn(usual));
                    if (on.Contains(setting.Draft.Id))
                        met++;
                    else if (setting.Draft.Targeting.Pages.Decide(page.Page).Shown)
                    {
                        var reason =
                            proposed.LeftOut.FirstOrDefault(l => l.Callout.Id == setting.Draft.Id)?.Reason
                            ?? proposed.Outcome.Missed.First(m => m.Callout == setting.Draft.Id && m.Turn == 0).Reason;
                        var other = (reason as NoFreeSlot)?.Blocker ?? (reason as Replaced)?.By;
                        reasons[(reason.GetType(), other)] = reasons.GetValueOrDefault((reason.GetType(), other)) + 1;
                    }
                    foreach (var id in off.Except(on).Where(id => id != setting.Draft.Id))
                        shifts[id] = shifts.GetValueOrDefault(id) with { Lost = shifts.GetValueOrDefault(id).Lost + 1 };
                    foreach (var id in on.Except(off).Where(id => id != setting.Draft.Id))
                        shifts[id] = shifts.GetValueOrDefault(id) with
                        {
                            Gained = shifts.GetValueOrDefault(id).Gained + 1,
                        };
                    now += Duration.FromMilliseconds(page.StayMs + page.AwayMs);
                }
            }
            starts += met;
            reached += met > 0 ? 1 : 0;
        }
        return new Summed(starts, reached, reasons, shifts);
    }

    private static (RehearsedPage, VisitorRecord) Rehearse(
        SiteSnapshot site,
        VisitorRecord visitor,
        RecordedVisit visit,
        JourneyPage page,
        Instant now
    )
    {
        var (pages, after) = Rehearsal.Play(site, visitor, visit.Facts, [page], now, PlanOptions.Explained);
        return (pages[0], after);
    }

    private static HashSet<Guid> ComeOn(RehearsedPage page) =>
        [.. page.Outcome.Showings.Where(s => s.IsFirst).Select(s => s.Callout)];

    private static bool Same<TKey, TValue>(
        IReadOnlyDictionary<TKey, TValue> one,
        IReadOnlyDictionary<TKey, TValue> other
    ) => one.Count == other.Count && one.All(p => other.TryGetValue(p.Key, out var v) && Equals(v, p.Value));

    private static readonly List<LedgerEvent> Spread =
    [
        .. Enumerable
            .Range(0, 12)
            .Select(i => Event(ago: Duration.FromHours(4 * i + 1), person: $"p{i % 5}", visitor: $"v{i}")),
    ];

    private static Callout Notice(string name, int after, string[] where, int priority = 5) =>
        Live(
            name,
            StarterBrief.For(CalloutKind.Notice, EventKind.Purchase, []) with
            {
                Where = Where(where, []),
                When = When(after, 1, 12),
                Priority = priority,
            }
        );

    private static ReplaySetting Setting(
        SiteSnapshot site,
        Callout draft,
        IReadOnlyList<LedgerEvent>? events = null,
        Instant? from = null,
        Instant? until = null
    ) => new(site, draft, events ?? [], _ => DisplayPolicy.Start, Traffic.None, from ?? Begin, until ?? Now, Groups);

    private static RecordedVisit Visit(
        string visitor,
        int number,
        int hours,
        params (PageAddress Page, int Stay, int Depth)[] pages
    )
    {
        var at = Begin + Duration.FromHours(hours);
        var recorded = new List<RecordedPage>();
        foreach (var (page, stay, depth) in pages)
        {
            recorded.Add(new RecordedPage(page, at, stay * 1000L, depth));
            at += Duration.FromSeconds(stay);
        }
        return new RecordedVisit(visitor, number, VisitorFacts.Unknown, WayIn.Unknown, recorded);
    }

    private static ReplayTally Replay(ReplaySetting setting, params IEnumerable<List<RecordedVisit>> visitors)
    {
        var replayer = new Replayer(setting);
        foreach (var visits in visitors)
            replayer.Play(visits);
        return replayer.Tally;
    }

    private static ReplayCell Sum(ReplayTally tally, int group) =>
        Enumerable.Range(0, 3).Aggregate(default(ReplayCell), (sum, day) => sum + tally.Cell(day, group));
}
