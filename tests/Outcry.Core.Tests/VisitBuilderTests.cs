using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Publishing;
using Outcry.Core.Replaying;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

public class VisitBuilderTests
{
    private static readonly PageAddress Journal = PageAddress.TryAt("pots.example", "/journal")!;

    [Fact]
    public void Puts_page_views_with_their_ends_and_depths_together()
    {
        var builder = new VisitBuilder("v");
        View(builder, 1, Shop, 0);
        builder.Left(Shop, 12_000);
        builder.Depth(Shop, 60);
        View(builder, 1, Journal, 14);
        builder.Left(Journal, 30_000);
        View(builder, 2, Shop, 7_200);
        var visits = builder.Build();
        Assert.Equal([1, 2], visits.Select(v => v.Number));
        Assert.Equal([(12_000L, 60), (30_000L, 0)], visits[0].Pages.Select(p => (p.StayMs, p.DepthPercent)));
        Assert.Equal(0, Assert.Single(visits[1].Pages).StayMs);
    }

    [Fact]
    public void Of_a_page_seen_twice_the_later_view_is_meant()
    {
        var builder = new VisitBuilder("v");
        View(builder, 1, Shop, 0);
        View(builder, 1, Shop, 20);
        builder.Left(Shop, 9_000);
        Assert.Equal([0L, 9_000], Assert.Single(builder.Build()).Pages.Select(p => p.StayMs));
    }

    [Fact]
    public void Of_several_reports_of_an_end_the_longest_counts()
    {
        var builder = new VisitBuilder("v");
        View(builder, 1, Shop, 0);
        builder.Left(Shop, 9_000);
        builder.Left(Shop, 4_000);
        builder.Depth(Shop, 80);
        builder.Depth(Shop, 30);
        Assert.Equal((9_000L, 80), Assert.Single(builder.Build()[0].Pages.Select(p => (p.StayMs, p.DepthPercent))));
    }

    [Fact]
    public void Nobody_is_on_two_pages_at_once()
    {
        var builder = new VisitBuilder("v");
        View(builder, 1, Shop, 0);
        View(builder, 1, Journal, 5);
        builder.Left(Journal, 3_000);
        builder.Left(Shop, 60_000);
        Assert.Equal([5_000L, 3_000], builder.Build()[0].Pages.Select(p => p.StayMs));
    }

    [Fact]
    public void Figures_out_of_range_are_taken_to_their_limits()
    {
        var builder = new VisitBuilder("v");
        builder.Left(Shop, 5_000);
        builder.Depth(Shop, 5);
        Assert.Empty(builder.Build());
        View(builder, 1, Shop, 0);
        builder.Left(Shop, long.MaxValue);
        builder.Depth(Shop, 1_000);
        builder.Left(Shop, -5);
        Assert.Equal(
            (RecordedPage.LongestStayMs, 100),
            Assert.Single(builder.Build()[0].Pages.Select(p => (p.StayMs, p.DepthPercent)))
        );
    }

    [Fact]
    public void Says_what_was_taken_for_granted_only_where_it_bears_on_the_draft()
    {
        var plain = Assert.Single(Caveats(Brief()));
        Assert.Equal("Nobody closes or clicks anything: what visitors would have done with it is not known.", plain);
        foreach (var kind in Enum.GetValues<TriggerKind>().Except([TriggerKind.Seconds, TriggerKind.Pages]))
            Assert.Equal(
                2,
                Caveats(Brief() with { When = Brief().When with { Triggers = [new Trigger(kind, 5, "#x")] } }).Count
            );
        var segment = new Segment(
            Guid.NewGuid(),
            "members",
            new AnyOf([new NotThis(new FactTest(VisitorFact.Tag, FactComparison.Is, "vip"))])
        );
        var who = new AllOf([
            new InSegment(segment.Id),
            new InSegment(segment.Id),
            new FactTest(VisitorFact.LocalHour, FactComparison.AtLeast, "9"),
            new FactTest(VisitorFact.DaysSinceLastVisit, FactComparison.AtLeast, "7"),
        ]);
        var said = Caveats(
            Brief() with
            {
                Who = Brief().Who with { Rule = who },
                When = Brief().When with { OnlyIfAvailable = true },
            },
            HouseRules.Start with
            {
                NeedsConsent = true,
            },
            segment
        );
        Assert.Equal(6, said.Count);
        Assert.Equal(said.Count, said.Distinct().Count());
    }

    [Fact]
    public void Counts_of_traffic_are_told_to_be_those_of_today() =>
        Assert.Contains(
            Caveats(StarterBrief.For(CalloutKind.Headcount, EventKind.Purchase, [])),
            c => c.StartsWith("What it counts", StringComparison.Ordinal)
        );

    private static IReadOnlyList<string> Caveats(Brief brief, HouseRules? rules = null, Segment? segment = null) =>
        ReplayCaveats.Of(
            brief,
            rules ?? HouseRules.Start,
            segment is null ? new Dictionary<Guid, Segment>() : new Dictionary<Guid, Segment> { [segment.Id] = segment }
        );

    private static void View(VisitBuilder builder, int visit, PageAddress page, int afterS) =>
        builder.View(visit, page, Now + Duration.FromSeconds(afterS), () => VisitorFacts.Unknown, () => WayIn.Unknown);
}
