using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Explaining;
using Outcry.Core.Greetings;
using Outcry.Core.Pages;
using Outcry.Core.Performing;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;
using static Outcry.Core.Tests.Launchers;
using static Outcry.Core.Tests.Samples;
using Launcher = Outcry.Core.Greetings.Launcher;

namespace Outcry.Core.Tests;

/// <summary>Which launcher stands on a page, which of its greetings is the one, and why every other is not.</summary>
public sealed class LadderTests
{
    private static readonly PageAddress Raku = PageAddress.TryAt("pots.example", "/workshops/raku-day")!;
    private static readonly VisitorRule Buyers = new FactTest(VisitorFact.Bought, FactComparison.Is, "", "", 30);

    // The ladder of the design's worked example.
    private static readonly LauncherBrief Ask = Launchers.Brief(
        Rung("Looking for your parcel?", ["/orders/**"], Buyers, 0),
        Rung("Coming as a group?", ["/workshops/*"], afterSeconds: 40),
        Rung("Which size? Ask us.", ["/**"], New, 20, onlyIfThere: true),
        Rung("Questions? Ask away.", afterSeconds: 50)
    );

    private static Plan PlanOf(
        Launcher launcher,
        VisitorRecord? visitor = null,
        PageAddress? page = null,
        bool isTeamThere = true,
        VisitorFacts? facts = null
    ) => Explain(Launchers.Site([launcher], isTeamThere: isTeamThere), visitor, page, facts: facts);

    private static Reason ReasonOf(Plan plan, int rung) =>
        Assert.Single(plan.LeftOut, l => l.Callout.Greets!.Rung == rung).Reason;

    private static int? GreetingOf(Plan plan) => plan.Armed.SingleOrDefault()?.Callout.Greets!.Rung;

    private static VisitorRecord Saw(Launcher launcher, int rung) =>
        Visitor().Started(launcher.Greetings[rung - 1].Id, Now, takesBudget: true);

    [Fact]
    public void The_first_rung_that_fits_is_the_one_and_each_above_says_what_failed()
    {
        var plan = PlanOf(Live("Ask", Ask), page: Raku);
        Assert.Equal(2, GreetingOf(plan));
        Assert.Equal(40_000, plan.Armed[0].DueMs);
        Assert.Equal(new PageNotIncluded(1), ReasonOf(plan, 1));
        Assert.IsType<RungAbove>(ReasonOf(plan, 3));
        Assert.Equal(new RungAbove(2, plan.Armed[0].Callout.Id), ReasonOf(plan, 4));
    }

    [Fact]
    public void A_rung_that_was_seen_greets_no_more_and_the_next_is_not_tried()
    {
        var launcher = Live("Ask", Ask);
        var plan = PlanOf(launcher, Saw(launcher, 2), Raku);
        Assert.Empty(plan.Armed);
        Assert.Equal(RepeatSpan.Visit, Assert.IsType<SeenOften>(ReasonOf(plan, 2)).Limit.Span);
        Assert.IsType<RungAbove>(ReasonOf(plan, 3));
    }

    [Fact]
    public void Where_the_author_wants_the_next_a_refused_rung_is_passed_over_with_its_reason()
    {
        var launcher = Live("Ask", Ask with { ThenNext = true });
        var plan = PlanOf(launcher, Saw(launcher, 2), Raku);
        Assert.Equal(3, GreetingOf(plan));
        Assert.IsType<SeenOften>(ReasonOf(plan, 2));
        Assert.Equal(4, GreetingOf(PlanOf(launcher, Saw(launcher, 2), Raku, isTeamThere: false)));
    }

    [Fact]
    public void Somebody_available_is_part_of_who()
    {
        var plan = PlanOf(Live("Ask", Ask), isTeamThere: false);
        Assert.IsType<NobodyAvailable>(ReasonOf(plan, 3));
        Assert.Equal(4, GreetingOf(plan));
        Assert.Equal(3, GreetingOf(PlanOf(Live("Ask", Ask))));
    }

    [Fact]
    public void Where_a_launcher_is_a_groups_only_they_count_as_somebody()
    {
        var (theirs, others) = (Guid.NewGuid(), Guid.NewGuid());
        SiteSnapshot With(params (Guid Group, bool IsThere)[] groups)
        {
            var launcher = Live("Ask", Ask with { GroupId = theirs });
            return Samples.Site(
                SiteConditions.Plain with
                {
                    Launchers = [launcher],
                    Team = new TeamThere(true, groups.ToDictionary(g => g.Group, g => g.IsThere)),
                },
                launcher.Greetings
            );
        }
        // Somebody is at a desk, and of another group.
        Assert.IsType<NobodyAvailable>(ReasonOf(Explain(With((theirs, false), (others, true))), 3));
        Assert.Equal(3, GreetingOf(Explain(With((theirs, true), (others, false)))));
        // A group that is gone is everybody again.
        Assert.Equal(3, GreetingOf(Explain(With((others, false)))));
    }

    [Fact]
    public void A_language_is_a_condition_like_any_other()
    {
        var german = Rung("Fragen?") with { Languages = ["de"] };
        var launcher = Live("Ask", Launchers.Brief(german, Rung("Questions?")));
        Assert.Equal(1, GreetingOf(PlanOf(launcher, facts: VisitorFacts.Unknown with { Languages = ["de-AT"] })));
        var plan = PlanOf(launcher, facts: VisitorFacts.Unknown with { Languages = ["fr"] });
        Assert.Equal(2, GreetingOf(plan));
        Assert.Equal(VisitorFact.Language, Assert.IsType<VisitorDiffers>(ReasonOf(plan, 1)).Failed.Test.Fact);
    }

    [Fact]
    public void A_visit_has_two_greetings_at_most_unless_set_otherwise()
    {
        var launcher = Live("Ask", Ask);
        var greeted = Saw(launcher, 1).Started(launcher.Greetings[2].Id, Now, takesBudget: true);
        Assert.Equal(new GreetedEnough(2, 2), ReasonOf(PlanOf(launcher, greeted, Raku), 2));
        var more = Live("Ask", Ask with { MostPerVisit = 3 });
        Assert.Equal(2, GreetingOf(PlanOf(more, greeted, Raku)));
        // What was met in the visit before counts no more.
        var back = greeted.Arrive(Now + Duration.FromHours(2));
        Assert.Equal(2, GreetingOf(Explain(Launchers.Site([launcher]), back, Raku, Now + Duration.FromHours(2))));
    }

    [Fact]
    public void A_close_keeps_greetings_away_and_the_launcher_stands()
    {
        var closed = Visitor() with { HushUntil = Now + Duration.FromHours(1) };
        var plan = PlanOf(Live("Ask", Ask), closed, Raku);
        Assert.IsType<Hushed>(ReasonOf(plan, 2));
        Assert.NotNull(plan.Stands);
    }

    [Fact]
    public void Greetings_for_open_and_closed_hours_say_which_it_is()
    {
        var launcher = Live(
            "Ask",
            Launchers.Brief(
                Rung("Nobody is here.") with
                {
                    While = GreetsWhile.Closed,
                },
                Rung("We are here.") with
                {
                    While = GreetsWhile.Open,
                }
            )
        );
        // A Tuesday at two in the afternoon, and at night.
        Assert.Equal(2, GreetingOf(PlanOf(launcher)));
        var night = Explain(Launchers.Site([launcher]), now: Now + Duration.FromHours(9));
        Assert.Equal(1, GreetingOf(night));
        Assert.Equal(new OpenOtherwise(WantsOpen: false), ReasonOf(PlanOf(launcher), 1));
    }

    [Fact]
    public void At_most_one_launcher_stands_and_the_others_say_why()
    {
        var everywhere = Live("Ask", Ask, ageDays: 9);
        var groups = Live("Groups", Ask with { Where = Where(["/workshops/*"], []), Rungs = [] });
        var checkout = Live("Till", Ask with { Where = Where(["/checkout"], []), Rungs = [] });
        var plan = Explain(Launchers.Site([everywhere, groups, checkout]), page: Raku);
        Assert.Equal(groups, plan.Stands);
        Assert.Equal(new OtherLauncher(groups.Id), plan.Away.Single(a => a.Launcher == everywhere).Reason);
        Assert.Equal(new PageNotIncluded(1), plan.Away.Single(a => a.Launcher == checkout).Reason);
        var reason = Assert.IsType<NoLauncher>(ReasonOf(plan, 2));
        Assert.Equal(new OtherLauncher(groups.Id), reason.Because);
        Assert.Equal(
            "Its launcher is not on this page: \"Groups\" stands there, and one is enough.",
            ReasonSentence.Say(reason, DateTimeZone.Utc, id => id == groups.Id ? "Groups" : null)
        );
    }

    [Fact]
    public void The_lower_number_stands_before_the_narrower_pattern_and_that_before_the_older()
    {
        var first = Live("First", Ask with { Priority = 1 });
        var narrow = Live("Narrow", Ask with { Where = Where(["/workshops/raku-day"], []) }, ageDays: 1);
        var older = Live("Older", Ask, ageDays: 9);
        Launcher? StandsOf(params Launcher[] all) => Explain(Launchers.Site(all), page: Raku).Stands;
        Assert.Equal(first, StandsOf(older, narrow, first));
        Assert.Equal(narrow, StandsOf(older, narrow));
        Assert.Equal(older, StandsOf(Live("Newer", Ask), older));
    }

    [Fact]
    public void One_that_hides_while_closed_leaves_its_place_empty_and_says_when_it_opens()
    {
        var hiding = Live("Hiding", Ask with { Priority = 1, Closed = new WhenClosed(true, false, false) });
        var other = Live("Other", Ask);
        var night = Now + Duration.FromHours(9);
        var plan = Explain(Launchers.Site([hiding, other]), now: night);
        Assert.Null(plan.Stands);
        var closed = Assert.IsType<ClosedForNow>(plan.Away.Single(a => a.Launcher == hiding).Reason);
        Assert.Equal(Instant.FromUtc(2015, 11, 25, 9, 0), closed.OpensAt);
        Assert.Equal(hiding, Explain(Launchers.Site([hiding, other])).Stands);
    }

    [Fact]
    public void It_stands_on_a_quiet_page_and_says_nothing_there()
    {
        var quiet = HouseRules.Start with { QuietPages = ["/shop"] };
        var site = Launchers.Site([Live("Ask", Ask)], rules: quiet);
        foreach (var options in new[] { PlanOptions.Live, PlanOptions.Explained })
        {
            var plan = Planner.MakePlan(site, Shop, Visitor(), VisitorFacts.Unknown, Now, options);
            Assert.NotNull(plan.Stands);
            Assert.Empty(plan.Armed);
        }
    }

    [Fact]
    public void Nothing_stands_off_air_or_on_a_device_where_it_is_hidden()
    {
        var launcher = Live("Ask", Ask with { Who = new WhoFacet(VisitorRule.Everybody, [Device.Phone]) });
        var phone = VisitorFacts.Unknown with { Device = Device.Phone };
        Assert.Null(PlanOf(launcher, facts: phone).Stands);
        Assert.Equal(new DeviceLeftOut(Device.Phone), Assert.Single(PlanOf(launcher, facts: phone).Away).Reason);
        Assert.Null(PlanOf(Live("Ask", Ask, DefinitionState.Paused)).Stands);
    }

    [Fact]
    public void A_greeting_takes_the_place_of_a_wider_notification_where_its_author_says_so()
    {
        var replacing = Rung("Coming as a group?", ["/workshops/*"]);
        replacing = replacing with { Where = replacing.Where with { Replaces = true } };
        var wide = Samples.Live("Bought a piece");
        var plan = Explain(Launchers.Site([Live("Ask", Launchers.Brief(replacing))], [wide]), page: Raku);
        Assert.Equal(1, GreetingOf(plan));
        Assert.IsType<Replaced>(plan.LeftOut.Single(l => l.Callout == wide).Reason);
    }

    [Fact]
    public void A_panel_is_a_bubble_on_phones()
    {
        var launcher = Live("Ask", Launchers.Brief(Rung("Hello") with { Does = GreetingAct.OpenPanel }));
        Assert.True(PlanOf(launcher).Armed[0].OpensPanel);
        var phone = VisitorFacts.Unknown with { Device = Device.Phone };
        Assert.False(PlanOf(launcher, facts: phone).Armed[0].OpensPanel);
    }

    [Fact]
    public void A_greeting_that_opens_the_panel_ends_what_floats_and_holds_the_rest_until_it_is_closed()
    {
        var launcher = Live(
            "Ask",
            Launchers.Brief(Rung("Hello", afterSeconds: 8) with { Does = GreetingAct.OpenPanel })
        );
        var slip = Samples.Live("Slip", Samples.Brief() with { When = When(2, 1, 12) });
        var late = Samples.Live("Late", Samples.Brief() with { When = When(10, 1, 12) });
        var rules = HouseRules.Start with { MostAtOnce = 2, GapSeconds = 0, PatienceSeconds = 5 };
        var plan = Explain(Launchers.Site([launcher], [slip, late], rules: rules));
        var entries = plan.Armed.Select((a, i) => a.ToEntry(i, rules)).ToList();
        var greeting = launcher.Greetings[0].Id;
        var start = PageStart.Of(Visitor(), Now);
        var closes = new Act(30_000, ActKind.Close, greeting);
        var outcome = DisplayQueue.Play(entries, rules, start, [closes], 60_000);
        var (first, opened) = (outcome.Showings[0], outcome.Showings[1]);
        Assert.Equal(
            (slip.Id, 2_000L, 8_000L, EndedBy.Yielded),
            (first.Callout, first.StartMs, first.EndMs, first.EndedBy)
        );
        Assert.Equal(
            (greeting, 8_000L, 30_000L, EndedBy.Closed),
            (opened.Callout, opened.StartMs, opened.EndMs, opened.EndedBy)
        );
        // The close hushes like any other.
        Assert.IsType<Hushed>(outcome.Missed.Single(m => m.Callout == late.Id).Reason);
    }
}
