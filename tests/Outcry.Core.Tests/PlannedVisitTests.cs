using CsCheck;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Explaining;
using Outcry.Core.Pages;
using Outcry.Core.Performing;
using Outcry.Core.Planning;
using Outcry.Core.Rehearsing;
using Outcry.Core.Replaying;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

/// <summary>Visits that somebody at the desk plans, and the answer to why nothing shows.</summary>
public sealed class PlannedVisitTests
{
    private const string Host = "pots.example";

    private static Callout Waits(string name, params Trigger[] triggers)
    {
        var brief = Brief();
        return Live(name, brief with { When = When(6, 1, 12) with { Triggers = triggers } });
    }

    private static IReadOnlyList<RehearsedPage> Play(
        SiteSnapshot site,
        ImaginedVisitor who,
        params PlannedPage[] pages
    ) => PlannedVisit.Play(site, Host, who, pages, Now);

    private static IReadOnlyList<long> Starts(RehearsedPage page) => [.. page.Outcome.Showings.Select(s => s.StartMs)];

    [Fact]
    public void What_was_met_on_one_page_is_not_met_again_on_the_next()
    {
        var site = Site([Waits("once", Trigger.After(6))]);

        var pages = Play(site, ImaginedVisitor.Newcomer, new("/shop", 30), new("/shop", 30));

        Assert.Equal([6_000], Starts(pages[0]));
        Assert.IsType<SeenOften>(Assert.Single(pages[1].LeftOut).Reason);
    }

    [Fact]
    public void Scrolling_goes_on_evenly_until_shortly_before_the_end()
    {
        var site = Site([Waits("deep", new Trigger(TriggerKind.Scroll, 50))]);

        Assert.Equal([25_000], Starts(Play(site, ImaginedVisitor.Newcomer, new PlannedPage("/shop", 51, 100))[0]));
        Assert.Empty(Starts(Play(site, ImaginedVisitor.Newcomer, new PlannedPage("/shop", 51, 49))[0]));
    }

    [Fact]
    public void Who_scrolls_evenly_does_not_rest_meanwhile()
    {
        var site = Site([Waits("resting", new Trigger(TriggerKind.Idle, 8))]);

        Assert.Equal([8_000], Starts(Play(site, ImaginedVisitor.Newcomer, new PlannedPage("/shop", 60))[0]));
        Assert.Empty(Starts(Play(site, ImaginedVisitor.Newcomer, new PlannedPage("/shop", 60, 80))[0]));
        PlannedAct[] reads = [new(5, ActKind.Move)];
        Assert.Equal(
            [13_000],
            Starts(Play(site, ImaginedVisitor.Newcomer, new PlannedPage("/shop", 60, Acts: reads))[0])
        );
    }

    [Fact]
    public void An_imagined_visitor_is_never_held_back_by_chance()
    {
        for (var i = 0; i < 20; i++)
        {
            var callout = Live("held", Brief() with { HoldbackPercent = 90 });
            Assert.Single(Starts(Play(Site([callout]), ImaginedVisitor.Newcomer, new PlannedPage("/shop", 30))[0]));
            Assert.Single(Reading.TwoMinutes.Play(Site([callout]), Shop, ImaginedVisitor.Newcomer, Now).Showings);
        }
    }

    [Fact]
    public void Whoever_turns_to_leave_shows_it_by_the_device_they_hold()
    {
        var site = Site([Waits("leaving", new Trigger(TriggerKind.Leaving))]);
        var page = new PlannedPage("/shop", 20, Leaves: true);

        foreach (var device in new[] { Device.Desktop, Device.Phone })
            Assert.Equal([19_000], Starts(Play(site, new ImaginedVisitor { Device = device }, page)[0]));
        Assert.Empty(Starts(Play(site, ImaginedVisitor.Newcomer, page with { Leaves = false })[0]));
    }

    [Fact]
    public void What_is_closed_hushes_the_rest_and_what_is_clicked_for_comes()
    {
        var (shown, later) = (Waits("shown", Trigger.After(2)), Waits("later", Trigger.After(30)));
        var site = Site([shown, later]);

        var closed = Play(
            site,
            ImaginedVisitor.Newcomer,
            new PlannedPage("/shop", 60, Acts: [new(4, ActKind.Close, shown.Id)])
        );
        var asked = Play(
            Site([Waits("asked", new Trigger(TriggerKind.Click, 0, "#more"))]),
            ImaginedVisitor.Newcomer,
            new PlannedPage("/shop", 60, Acts: [new(9.5, ActKind.ClickElement, Target: "#more")])
        );

        Assert.IsType<Hushed>(Assert.Single(closed[0].Outcome.Missed).Reason);
        Assert.Equal([9_500], Starts(asked[0]));
    }

    [Fact]
    public void Limits_can_be_lifted()
    {
        var callout = Waits("met", Trigger.After(1));
        var site = Site([callout]);
        var who = new ImaginedVisitor
        {
            VisitNumber = 2,
            HoursSinceLastVisit = 1,
            Closed = [callout.Id],
        };

        Assert.Empty(Starts(Play(site, who, new PlannedPage("/shop", 10))[0]));
        Assert.Equal([1_000], Starts(PlannedVisit.Play(site, Host, who, [new("/shop", 10)], Now, liftLimits: true)[0]));
    }

    [Fact]
    public void What_a_visitor_is_imagined_to_have_done_decides_like_what_is_recorded()
    {
        var buyers = Live(
            "for buyers",
            Brief() with
            {
                Who = new WhoFacet(new FactTest(VisitorFact.Bought, FactComparison.Is, "mug", WithinDays: 7), []),
            }
        );
        ImaginedVisitor Bought(int daysAgo) =>
            new() { PastEvents = [new(EventKind.Purchase, null, "Ash-glaze mug", "Mugs", daysAgo)] };

        Assert.NotEmpty(Starts(Play(Site([buyers]), Bought(2), new PlannedPage("/shop", 20))[0]));
        Assert.Empty(Starts(Play(Site([buyers]), Bought(9), new PlannedPage("/shop", 20))[0]));
    }

    [Fact]
    public void Whatever_is_planned_is_either_refused_or_played() =>
        Gen.Select(Gen.Int[-5, 2_000], Gen.Int[-10, 120], Gen.Bool, Gen.Double[-5, 2_000])
            .Sample(
                (stay, scroll, leaves, at) =>
                {
                    var page = new PlannedPage("/shop", stay, scroll, leaves, [new(at, ActKind.Move)]);
                    return page.Problem is not null
                        || Play(
                            Site([Waits("any", new Trigger(TriggerKind.Scroll, 50))]),
                            ImaginedVisitor.Newcomer,
                            page
                        ).Count == 1;
                },
                iter: Cases.Of(500)
            );

    [Fact]
    public void A_recorded_visit_is_imagined_as_far_as_it_is_recorded()
    {
        var visit = new RecordedVisit(
            "v",
            3,
            new VisitorFacts
            {
                Device = Device.Phone,
                Languages = ["nl"],
                Place = new Place("Utrecht", "Utrecht", "Netherlands"),
            },
            new WayIn("/shop", "letters.example", new Dictionary<string, string> { ["source"] = "letters" }),
            [new RecordedPage(Shop, Now, 20_000, 60)]
        );
        PastEvent[] deeds =
        [
            new(EventKind.Purchase, Source, Now + Duration.FromHours(1), "Later", ""),
            new(EventKind.Purchase, Source, Now - Duration.FromDays(3), "Before", ""),
        ];

        var who = visit.Imagine(Now - Duration.FromHours(50), deeds);

        Assert.Null(who.Problem);
        Assert.Equal(
            (3, 50, Device.Phone, "Utrecht"),
            (who.VisitNumber, who.HoursSinceLastVisit, who.Device, who.City)
        );
        // What came after the visit was not known in it.
        Assert.Equal("Before", Assert.Single(who.PastEvents).Product);
    }

    [Fact]
    public void Why_nothing_shows_is_told_likeliest_first_with_the_share_it_holds_for()
    {
        var phones = Live("not on phones", Brief() with { Who = new WhoFacet(VisitorRule.Everybody, [Device.Phone]) });
        var pages = new[] { (Shop, 90.0), (PageAddress.TryAt(Host, "/shop/mug")!, 10.0) };

        var findings = Silence.Ask(Site([phones]), phones.Id, pages, Reading.TwoMinutes, Now);

        Assert.Equal(1, findings.ShownShare + findings.Reasons.Sum(r => r.Share), 6);
        Assert.Equal(0.3, findings.Reasons.Single(r => r.Reason is DeviceLeftOut).Share, 6);
        var off = Silence.Ask(Site([phones], offAir: true), phones.Id, pages, Reading.TwoMinutes, Now);
        Assert.Equal((0, 1), (off.ShownShare, off.Reasons.Count));
        Assert.IsType<SiteOffAir>(off.Reasons[0].Reason);
    }

    [Fact]
    public void A_callout_that_the_site_does_not_serve_is_not_live()
    {
        var findings = Silence.Ask(Site([]), Guid.NewGuid(), [(Shop, 0)], Reading.TwoMinutes, Now);

        Assert.IsType<NotLive>(Assert.Single(findings.Reasons).Reason);
    }
}
