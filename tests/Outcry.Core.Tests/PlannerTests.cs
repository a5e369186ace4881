using CsCheck;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Claims;
using Outcry.Core.Evidence;
using Outcry.Core.Explaining;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

public sealed class PlannerTests
{
    [Fact]
    public void A_live_callout_with_enough_events_is_armed()
    {
        var armed = Assert.Single(Explain(Site([Live("a")])).Armed);
        Assert.Equal(6_000, armed.DueMs);
        Assert.Equal(7_000, armed.StaysMs[0]);
        Assert.Equal("https://pots.example/shop/mug", armed.Turns[0].Link);
    }

    [Fact]
    public void Longer_texts_stay_longer()
    {
        Assert.Equal(7_000, StayTime.Of(7, 80));
        Assert.Equal(7_000, StayTime.Of(7, 119));
        Assert.Equal(8_000, StayTime.Of(7, 120));
        Assert.Equal(10_000, StayTime.Of(7, 200));
    }

    [Fact]
    public void Off_air_comes_before_every_other_reason() =>
        Assert.IsType<SiteOffAir>(ReasonFor(Site([Live("a", state: DefinitionState.Paused)], offAir: true)));

    [Fact]
    public void What_is_not_live_says_so() =>
        Assert.Equal(new NotLive(DefinitionState.Paused), ReasonFor(Site([Live("a", state: DefinitionState.Paused)])));

    [Fact]
    public void The_deciding_page_pattern_is_named()
    {
        var excluded = Brief() with { Where = Where(["/shop"], ["/sh*"]) };
        Assert.Equal(new PageExcluded("/sh*"), ReasonFor(Site([Live("a", excluded)])));
        var elsewhere = Brief() with { Where = Where(["/journal/**", "/workshops"], []) };
        Assert.Equal(new PageNotIncluded(2), ReasonFor(Site([Live("a", elsewhere)])));
    }

    [Fact]
    public void Quiet_pages_are_quiet() =>
        Assert.Equal(
            new QuietPage("/shop/**"),
            ReasonFor(Site([Live("a")], rules: HouseRules.Start with { QuietPages = ["/shop/**"] }))
        );

    [Fact]
    public void Too_few_events_are_counted_out() =>
        Assert.Equal(new TooFewEvents(3, 2, 7 * 24 * 60), ReasonFor(Site([Live("a")], Events(2))));

    [Fact]
    public void Nobody_is_told_of_their_own_doing()
    {
        var own = new[] { Event(person: "me", visitor: "visitor"), Event(person: "me", visitor: "other-browser") };
        var reason = ReasonFor(Site([Live("a")], [.. own, .. Events(2)]));
        Assert.Equal(new OnlyOwnEvents(3, 4, 2), reason);

        var plan = Explain(Site([Live("a", Brief() with { When = When(6, 10, 12) })], [.. own, .. Events(3)]));
        Assert.DoesNotContain(Assert.Single(plan.Armed).Turns, t => t.Event!.PersonKey == "me");
    }

    [Fact]
    public void The_same_person_does_not_come_twice_in_a_row()
    {
        var events = Enumerable
            .Range(0, 6)
            .Select(i => Event(ago: Duration.FromMinutes(i + 1), person: i < 4 ? "same" : $"p{i}"))
            .ToList();
        var brief = Brief() with { When = When(6, 5, 12), From = Brief().From with { Shuffle = false } };
        var turns = Assert.Single(Explain(Site([Live("a", brief)], events)).Armed).Turns;
        Assert.Equal(["same", "p4", "p5"], turns.Select(t => t.Event!.PersonKey));
    }

    [Fact]
    public void Shuffled_turns_come_in_the_order_of_their_ranks()
    {
        var events = Enumerable.Range(0, 60).Select(i => Event(Duration.FromMinutes(i + 1), person: $"p{i}")).ToList();
        var callout = Live("a", Brief() with { When = When(6, 5, 12), From = Brief().From with { Shuffle = true } });
        var turns = Assert.Single(Explain(Site([callout], events)).Armed).Turns;
        var visitor = Visitor();
        var seed = SteadyShuffle.Seed(visitor.VisitorId, visitor.Visit.Number, callout.Id, callout.Revision);
        // Fifty are worded, the newest; of these the smallest ranks are told.
        var ranked = events
            .OrderByDescending(e => e.At)
            .Take(PreparedEvidence.MostWorded)
            .OrderBy(e => SteadyShuffle.Rank(seed, e.Id))
            .Select(e => e.Id);
        Assert.Equal(ranked.Take(turns.Count), turns.Select(t => t.Event!.Id));
    }

    [Fact]
    public void A_close_hushes_the_whole_site_until_it_is_over()
    {
        var closed = Live("closed");
        var site = Site([closed, Live("other")]);
        var visitor = Visitor()
            .Started(closed.Id, Now, true)
            .Closed(closed.Id, Now, closed.Targeting.Hush, dialogsOnly: false);
        var later = Now + Duration.FromHours(23);
        Assert.All(
            Explain(site, visitor, now: later).LeftOut,
            l => Assert.Equal(new Hushed(Now + Duration.FromHours(24)), l.Reason)
        );
        Assert.Contains(
            Explain(site, visitor, now: Now + Duration.FromHours(24)).Armed,
            a => a.Callout.Name == "other"
        );
    }

    [Fact]
    public void Once_a_visit_means_the_next_visit()
    {
        var callout = Live("a");
        var site = Site([callout]);
        var seen = Visitor().Started(callout.Id, Now, true);
        Assert.Equal(RepeatSpan.Visit, Assert.IsType<SeenOften>(ReasonFor(site, seen)).Limit.Span);
        var nextVisit = seen.Arrive(Now + Duration.FromMinutes(31));
        Assert.Single(Explain(site, nextVisit, now: Now + Duration.FromMinutes(31)).Armed);
    }

    [Fact]
    public void Three_days_are_seventy_two_hours_after_the_last_start()
    {
        var callout = Live("a", Brief() with { HowOften = Often(RepeatUnit.Days, 3, null, 24) });
        var site = Site([callout]);
        var seen = Visitor().Started(callout.Id, Now, true);
        var almost = Now + Duration.FromHours(72) - Duration.FromSeconds(1);
        Assert.Equal(
            Now + Duration.FromHours(72),
            Assert.IsType<SeenOften>(ReasonFor(site, seen, now: almost)).Limit.NextAt
        );
        Assert.Single(Explain(site, seen, now: Now + Duration.FromHours(72)).Armed);
    }

    [Fact]
    public void A_lifetime_cap_counts_visits_and_not_showings()
    {
        var callout = Live("a", Brief() with { HowOften = Often(RepeatUnit.PageView, 1, 2, 24) });
        var site = Site([callout]);
        var visitor = Visitor().Started(callout.Id, Now, true).Started(callout.Id, Now, true);
        Assert.Equal(1, visitor.Exposures[callout.Id].Visits);
        var second = visitor.Arrive(Now + Duration.FromHours(1)).Started(callout.Id, Now + Duration.FromHours(1), true);
        Assert.Single(Explain(site, second, now: Now + Duration.FromHours(1)).Armed);
        var third = second.Arrive(Now + Duration.FromHours(2));
        Assert.Equal(
            (2, 2),
            (
                Assert.IsType<SeenOften>(ReasonFor(site, third)).Limit.Seen,
                Assert.IsType<SeenOften>(ReasonFor(site, third)).Limit.Allowed
            )
        );
    }

    [Fact]
    public void A_visit_ends_after_thirty_minutes_without_activity()
    {
        var visitor = Visitor().Arrive(Now + Duration.FromMinutes(29));
        Assert.Equal((1, 2), (visitor.Visit.Number, visitor.Visit.Pages));
        Assert.Equal(2, visitor.Arrive(Now + Duration.FromMinutes(59)).Visit.Number);
    }

    [Fact]
    public void Lifted_limits_leave_hush_and_least_number_aside()
    {
        var callout = Live("a");
        var visitor = Visitor().Started(callout.Id, Now, true).Closed(callout.Id, Now, callout.Targeting.Hush, false);
        var plan = Planner.MakePlan(
            Site([callout], Events(1)),
            Shop,
            visitor,
            VisitorFacts.Unknown,
            Now,
            new PlanOptions(LiftLimits: true)
        );
        Assert.Single(plan.Armed);
    }

    private static Plan OnStage(SiteSnapshot site) =>
        Planner.MakePlan(
            site,
            Shop,
            Visitor(),
            VisitorFacts.Unknown,
            Now,
            new PlanOptions(Explain: true) { OnStage = true }
        );

    [Fact]
    public void A_stage_shows_what_no_visitor_would_meet_now_and_names_what_it_set_aside()
    {
        var brief = Brief();
        var callout = Live(
            "a",
            brief with
            {
                Who = new WhoFacet(
                    new FactTest(VisitorFact.VisitNumber, FactComparison.AtLeast, "3"),
                    [VisitorFacts.Unknown.Device]
                ),
                When = brief.When with
                {
                    Triggers = [new Trigger(TriggerKind.Pages, 4, "")],
                    Schedule = Schedule.Always with { From = new LocalDateTime(2016, 1, 1, 0, 0) },
                },
            }
        );
        var rules = HouseRules.Start with { NeedsConsent = true };
        var plan = OnStage(Site([callout], Events(1), rules, offAir: true));
        Assert.Single(plan.Armed);
        Assert.Equal(
            [
                typeof(SiteOffAir),
                typeof(OutsideSchedule),
                typeof(DeviceLeftOut),
                typeof(VisitorDiffers),
                typeof(NoConsent),
                typeof(NeverDue),
            ],
            plan.SetAside.Select(r => r.GetType())
        );
    }

    [Fact]
    public void A_stage_sets_nothing_aside_where_nothing_stands_in_the_way()
    {
        var plan = OnStage(Site([Live("a")]));
        Assert.Single(plan.Armed);
        Assert.Empty(plan.SetAside);
    }

    [Fact]
    public void A_stage_shows_nothing_on_a_page_that_the_brief_leaves_out_or_that_stays_quiet()
    {
        var later = Schedule.Always with { From = new LocalDateTime(2016, 1, 1, 0, 0) };
        var brief = Brief();
        var elsewhere = Live(
            "a",
            brief with
            {
                Where = Where(["/studio"], []),
                When = brief.When with { Schedule = later },
            }
        );
        Assert.IsType<PageNotIncluded>(Assert.Single(OnStage(Site([elsewhere])).LeftOut).Reason);
        var quiet = HouseRules.Start with { QuietPages = ["/shop"] };
        Assert.IsType<QuietPage>(Assert.Single(OnStage(Site([Live("b")], rules: quiet)).LeftOut).Reason);
    }

    private static readonly Gen<Brief> AnyBrief = Gen.Select(
        Samples.OneOf<string[]>([], ["/shop"], ["/shop/**"], ["/journal/*"]),
        Samples.OneOf<string[]>([], ["/shop"]),
        Gen.Int[0, 30],
        Gen.Int[1, 4],
        Gen.Int[1, 9],
        Gen.Int[1, 12],
        (includes, excludes, after, turns, priority, least) =>
            Brief() with
            {
                Where = Where(includes, excludes),
                When = When(after, turns, 12),
                Priority = priority,
                From = Brief().From with { LeastNumber = least },
            }
    );

    private static readonly Gen<List<Callout>> AnyCallouts = Gen.Select(
            AnyBrief,
            Gen.Enum<DefinitionState>(),
            Gen.Int[0, 5]
        )
        .Select((brief, state, age) => Live("any", brief, state, age))
        .List[0, 12];

    [Fact]
    public void Every_callout_is_named_exactly_once() =>
        AnyCallouts.Sample(callouts =>
        {
            var plan = Explain(Site(callouts, Events(6)));
            var named = plan.Armed.Select(a => a.Callout.Id).Concat(plan.LeftOut.Select(l => l.Callout.Id));
            return named.Order().SequenceEqual(callouts.Select(c => c.Id).Order());
        });

    [Fact]
    public void The_order_in_which_callouts_come_changes_nothing() =>
        AnyCallouts.Sample(callouts =>
        {
            var forward = Explain(Site(callouts, Events(6)));
            var backward = Explain(Site(Enumerable.Reverse(callouts), Events(6)));
            return forward.Armed.Select(a => a.Callout.Id).SequenceEqual(backward.Armed.Select(a => a.Callout.Id));
        });

    [Fact]
    public void An_exclude_always_wins() =>
        AnyCallouts.Sample(callouts =>
            Explain(Site(callouts, Events(20))).Armed.All(a => !a.Callout.Brief.Where.Excludes.Contains("/shop"))
        );

    [Fact]
    public void Live_traffic_gets_the_same_plan_as_an_explanation() =>
        AnyCallouts.Sample(callouts =>
        {
            var site = Site(callouts, Events(6));
            var live = Planner.MakePlan(site, Shop, Visitor(), VisitorFacts.Unknown, Now, PlanOptions.Live);
            return live.LeftOut.Count == 0
                && live.Armed.Select(a => a.Callout.Id).SequenceEqual(Explain(site).Armed.Select(a => a.Callout.Id));
        });

    [Fact]
    public void Every_reason_is_a_plain_sentence()
    {
        Reason[] reasons =
        [
            new SiteOffAir(),
            new NotLive(DefinitionState.Draft),
            new NotLive(DefinitionState.Paused),
            new NotLive(DefinitionState.Archived),
            new PageExcluded("/shop"),
            new PageNotIncluded(0),
            new PageNotIncluded(1),
            new PageNotIncluded(3),
            new NoPageSeen(),
            new QuietPage("/cart"),
            new WordingFailed("Filled in, the message is longer than 4,000 characters."),
            new Hushed(Now),
            new SeenOften(new RepeatLimit(1, 1, RepeatSpan.Visit, null)),
            new SeenOften(new RepeatLimit(1, 1, RepeatSpan.Days, Now, RepeatUnit.Days, 3)),
            new SeenOften(new RepeatLimit(4, 4, RepeatSpan.Ever, null)),
            new TooFewEvents(3, 1, 60),
            new OnlyOwnEvents(3, 3, 3),
            new OnlyOwnEvents(3, 3, 1),
            new NoFreeSlot(30_000, 50_000, 64_000, Guid.NewGuid()),
            new BudgetSpent(6, 6),
            new LeftBefore(30_000, 10_000),
            new LeftBefore(30_000, 10_000) { TabWasHidden = true },
            new SeenOften(new RepeatLimit(3, 3, RepeatSpan.Week, Now)),
            new SeenOften(new RepeatLimit(1, 1, RepeatSpan.Clicked, null)),
            new OutsideSchedule(new ScheduleLimit(ScheduleSide.NotBegun, Now)),
            new OutsideSchedule(new ScheduleLimit(ScheduleSide.Over, Now)),
            new OutsideSchedule(new ScheduleLimit(ScheduleSide.OtherHours, Now)),
            new OutsideSchedule(new ScheduleLimit(ScheduleSide.OtherHours, null)),
            new DeviceLeftOut(Device.Phone),
            new VisitorDiffers(
                new FailedTest(new FactTest(VisitorFact.VisitNumber, FactComparison.AtLeast, "3"), "1", false)
            ),
            new VisitorDiffers(new FailedTest(new FactTest(VisitorFact.Bought, FactComparison.Is), "", true, "Buyers")),
            new NoConsent(),
            new NobodyAvailable(),
            new AlreadyGave(),
            new TookPromiseBack(),
            new NoCodesLeft(),
            new ClosedBefore(Now),
            new ClosedBefore(null),
            new Succeeded(Now, null),
            new Succeeded(Now, Now),
            new HeldBack(10),
            new Replaced(Guid.NewGuid()),
            new NothingLow(5, 8),
            new NothingLow(5, null),
            new TooFewNear(3, 1, "Scotland"),
            new TooFewNear(3, 0, ""),
            new TooFewOfPage(3, 1),
            .. Enum.GetValues<TriggerKind>().Select(k => new NeverDue(new Trigger(k, 3, "#kiln"))),
            new HeldByPage(5_000, HoldKind.Consent),
            new HeldByPage(5_000, HoldKind.Chat),
            new HeldByPage(5_000, HoldKind.Dialog),
            new NoRoom(),
            new NoPlace("#price"),
            new NoLauncher(Guid.NewGuid(), new NotLive(DefinitionState.Paused)),
            new OtherLauncher(Guid.NewGuid()),
            new ClosedForNow(Now),
            new ClosedForNow(null),
            new RungAbove(2, Guid.NewGuid()),
            new GreetedEnough(2, 2),
            new OpenOtherwise(WantsOpen: true),
            new OpenOtherwise(WantsOpen: false),
        ];
        var declared = typeof(Reason).Assembly.GetTypes().Where(t => t.IsSubclassOf(typeof(Reason)) && !t.IsAbstract);
        Assert.Equal(declared.ToHashSet(), reasons.Select(r => r.GetType()).ToHashSet());
        Assert.All(
            reasons,
            r => Assert.Matches(@"^[A-Z""].*\.$", ReasonSentence.Say(r, DateTimeZone.Utc, _ => "Other"))
        );
        Assert.All(reasons, r => Assert.Matches("^[a-z].*[a-z%\"]$", ReasonCatalogue.GistOf(r)));
        Assert.Equal(
            "Due at 0:30 while \"Other\" had the place; its patience ended at 0:50; the next free second is 1:04.",
            ReasonSentence.Say(reasons.OfType<NoFreeSlot>().First(), DateTimeZone.Utc, _ => "Other")
        );
    }
}
