using CsCheck;
using NodaTime;
using Outcry.Core.Briefs;
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

public sealed class VisitorTests
{
    private static readonly Guid Callout = Guid.NewGuid();
    private static readonly VisitFigures FirstVisit = new(1, 1, Now, Now, 0, null);

    [Theory]
    [InlineData(0, Device.Desktop)]
    [InlineData(390, Device.Phone)]
    [InlineData(639, Device.Phone)]
    [InlineData(640, Device.Tablet)]
    [InlineData(1023, Device.Tablet)]
    [InlineData(1024, Device.Desktop)]
    [InlineData(-5, Device.Desktop)]
    public void A_device_is_told_by_the_width_of_the_view(int width, Device device) =>
        Assert.Equal(device, DeviceReader.FromViewWidth(width));

    [Fact]
    public void Closing_and_clicking_are_signs_of_life_that_keep_a_visit_going()
    {
        var late = Now + Duration.FromMinutes(29);
        var id = Guid.NewGuid();
        foreach (
            var alive in (VisitorRecord[])
                [
                    Visitor().Closed(id, late, Duration.Zero, false),
                    Visitor().Clicked(id, late),
                    Visitor().Seen(late),
                    Visitor().Ended(late),
                ]
        )
        {
            Assert.Equal(1, alive.Arrive(late + Duration.FromSeconds(1799)).Visit.Number);
            Assert.Equal(2, alive.Arrive(late + Duration.FromSeconds(1800)).Visit.Number);
        }
    }

    [Fact]
    public void Of_several_ends_the_last_counts_in_whichever_order_they_are_told() =>
        Assert.Equal(
            Now + Duration.FromSeconds(50),
            Visitor().Ended(Now + Duration.FromSeconds(50)).Ended(Now + Duration.FromSeconds(12)).Visit.LastEndAt
        );

    [Fact]
    public void A_new_visit_begins_with_fresh_figures_and_keeps_what_was_met()
    {
        var visitor = Visitor().Started(Callout, Now, takesBudget: true).Ended(Now);
        var next = visitor.Arrive(Now + Duration.FromMinutes(30));
        Assert.Equal(
            (2, 1, 0, (Instant?)null),
            (next.Visit.Number, next.Visit.Pages, next.Visit.Starts, next.Visit.LastEndAt)
        );
        Assert.True(next.Exposures.ContainsKey(Callout));
        Assert.False(next.IsNew);
        Assert.True(visitor.IsNew);
    }

    [Fact]
    public void Insets_and_asked_ones_leave_the_budget_alone() =>
        Assert.Equal(0, Visitor().Started(Callout, Now, takesBudget: false).Visit.Starts);

    [Fact]
    public void The_longer_of_two_hushes_stands()
    {
        var visitor = Visitor()
            .Closed(Callout, Now, Duration.FromHours(48), false)
            .Closed(Callout, Now + Duration.FromHours(1), Duration.FromHours(24), false);
        Assert.Equal(Now + Duration.FromHours(48), visitor.HushUntil);
        Assert.Null(visitor.DialogHushUntil);
        Assert.Equal(
            Now + Duration.FromHours(2),
            Visitor().Closed(Callout, Now, Duration.FromHours(2), dialogsOnly: true).DialogHushUntil
        );
    }

    [Fact]
    public void A_click_is_remembered_and_hushes_nothing()
    {
        var visitor = Visitor().Started(Callout, Now, true).Clicked(Callout, Now);
        Assert.Equal(Now, visitor.Exposures[Callout].LastClickAt);
        Assert.Null(visitor.HushUntil);
    }

    [Fact]
    public void What_was_never_met_is_never_refused() =>
        Assert.All(
            Enum.GetValues<RepeatUnit>(),
            u => Assert.Null(new RepeatRule(u, 3, 1).Refuses(null, FirstVisit, Now))
        );

    [Fact]
    public void Every_page_view_means_every_page_view() =>
        Assert.Null(new RepeatRule(RepeatUnit.PageView).Refuses(new Exposure(1, Now, 1), FirstVisit, Now));

    [Fact]
    public void A_cap_lets_the_visit_that_reached_it_go_on()
    {
        var rule = new RepeatRule(RepeatUnit.PageView, MostVisits: 1);
        Assert.Null(rule.Refuses(new Exposure(1, Now, 1), FirstVisit, Now));
        Assert.Equal(
            new RepeatLimit(1, 1, RepeatSpan.Ever, null),
            rule.Refuses(new Exposure(1, Now, 1), FirstVisit with { Number = 2 }, Now)
        );
    }

    [Fact]
    public void Elapsed_days_are_refused_to_the_instant() =>
        Gen.Select(Gen.Int[1, 365], Gen.Int[-100, 100])
            .Sample(
                (days, secondsOff) =>
                {
                    var at = Now + Duration.FromDays(days) + Duration.FromSeconds(secondsOff);
                    var limit = new RepeatRule(RepeatUnit.Days, days).Refuses(new Exposure(1, Now, 1), FirstVisit, at);
                    return (limit is null) == (secondsOff >= 0);
                }
            );

    [Fact]
    public void A_rehearsed_close_hushes_the_pages_that_follow_and_the_next_day_it_is_over()
    {
        var callout = Live("a", Brief() with { HowOften = Often(RepeatUnit.PageView, 1, null, 24) });
        var site = Site([callout]);
        var close = new JourneyPage(Shop, 60_000, [new Act(8_000, ActKind.Close, callout.Id)]);
        var (pages, after) = Rehearsal.Play(
            site,
            VisitorRecord.New("v", Now),
            VisitorFacts.Unknown,
            [close, JourneyPage.Reading(Shop, Duration.FromMinutes(1))],
            Now,
            PlanOptions.Explained
        );
        Assert.Equal(EndedBy.Closed, Assert.Single(pages[0].Outcome.Showings).EndedBy);
        Assert.Empty(pages[1].Outcome.Showings);
        Assert.IsType<Hushed>(Assert.Single(pages[1].LeftOut).Reason);
        var (nextDay, _) = Rehearsal.Play(
            site,
            after,
            VisitorFacts.Unknown,
            [JourneyPage.Reading(Shop, Duration.FromMinutes(1))],
            Now + Duration.FromHours(25),
            PlanOptions.Explained
        );
        Assert.Single(nextDay[0].Outcome.Showings);
    }

    [Fact]
    public void A_visit_has_its_fill_however_many_pages_it_has()
    {
        var callouts = Enumerable
            .Range(0, 9)
            .Select(i =>
                Live(
                    $"c{i}",
                    Brief() with
                    {
                        When = When(0, 1, 12),
                        HowOften = Often(RepeatUnit.PageView, 1, null, 24),
                    },
                    age: i
                )
            );
        var site = Site(callouts, rules: HouseRules.Start with { MostPerVisit = 4, PatienceSeconds = 600 });
        var pages = Enumerable.Range(0, 3).Select(_ => JourneyPage.Reading(Shop, Duration.FromMinutes(5)));
        var (rehearsed, after) = Rehearsal.Play(
            site,
            VisitorRecord.New("v", Now),
            VisitorFacts.Unknown,
            pages,
            Now,
            PlanOptions.Explained
        );
        Assert.Equal(4, rehearsed.Sum(p => p.Outcome.Showings.Count));
        Assert.Equal(4, after.Visit.Starts);
    }

    [Fact]
    public void A_rehearsal_is_the_same_every_time()
    {
        var site = Site([
            Live("a", Brief() with { When = When(2, 3, 12) }),
            Live("b", Brief() with { When = When(9, 2, 5) }),
        ]);
        string Play() =>
            string.Join(
                ';',
                Rehearsal
                    .Play(
                        site,
                        VisitorRecord.New("v", Now),
                        VisitorFacts.Unknown,
                        [JourneyPage.Reading(Shop, Duration.FromMinutes(3))],
                        Now,
                        PlanOptions.Explained
                    )
                    .Pages[0]
                    .Outcome.Showings
            );
        Assert.Equal(Play(), Play());
    }
}
