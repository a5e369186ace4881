using System.Collections.Immutable;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Claims;
using Outcry.Core.Evidence;
using Outcry.Core.Explaining;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

/// <summary>What each kind of notification says from its evidence, and why it says nothing where there is nothing to say.</summary>
public sealed class EvidenceKindTests
{
    private static Brief Of(CalloutKind kind, EventKind of = EventKind.Purchase) =>
        StarterBrief.For(kind, of, [Source]);

    private static string Said(Plan plan) => Assert.Single(plan.Armed).Turns[0].Text;

    private static LedgerEvent Field(
        EventKind kind,
        string field,
        string value,
        string product = "Ash-glaze mug",
        int minutes = 5
    ) =>
        Event(Duration.FromMinutes(minutes)) with
        {
            Kind = kind,
            Product = new EventProduct(
                product,
                $"https://pots.example/shop/{product.Replace(' ', '-').ToLowerInvariant()}"
            ),
            Fields = ImmutableDictionary<string, string>.Empty.Add(field, value),
        };

    // What belongs to the kind by nature may be read.
    private static SiteSnapshot Shown(EventKind kind, Brief brief, IReadOnlyList<LedgerEvent> events) =>
        new(HouseRules.Start, false, [Live("a", brief)], events, _ => DisplayPolicy.For(kind), Now);

    private static SiteConditions Present(params (string Visitor, string Path)[] here) =>
        SiteConditions.Plain with
        {
            Traffic = Traffic.None with
            {
                Present = here.ToDictionary(h => h.Visitor, h => PageAddress.Recorded("pots.test", h.Path)),
            },
        };

    private static SiteConditions Lately(Callout callout, int views, int visitors, int hours) =>
        SiteConditions.Plain with
        {
            Traffic = Traffic.None with
            {
                LookedAt = new Dictionary<Guid, Looked>
                {
                    [callout.Id] = new(views, visitors, Duration.FromHours(hours)),
                },
            },
        };

    [Fact]
    public void A_tally_counts_each_person_once_and_says_the_true_span()
    {
        List<LedgerEvent> events =
        [
            .. Events(12),
            Event(Duration.FromHours(15.5), "p1"),
            Event(Duration.FromMinutes(2), "p2"),
        ];
        Assert.Equal(
            "12 people have bought from us in the last 16 hours",
            Said(Explain(Site([Live("a", Of(CalloutKind.Tally))], events)))
        );
        var brief = Of(CalloutKind.Tally);
        brief = brief with { From = brief.From with { Measure = Measure.Events } };
        Assert.StartsWith("14 people", Said(Explain(Site([Live("a", brief)], events))), StringComparison.Ordinal);
    }

    [Fact]
    public void A_tally_leaves_the_readers_own_part_out()
    {
        List<LedgerEvent> events =
        [
            Event(person: "me", visitor: "visitor"),
            Event(person: "me", visitor: "visitor"),
            .. Events(5),
        ];
        Assert.StartsWith(
            "5 people",
            Said(Explain(Site([Live("a", Of(CalloutKind.Tally))], events))),
            StringComparison.Ordinal
        );
        List<LedgerEvent> few = [Event(person: "me", visitor: "visitor"), .. Events(2)];
        Assert.Equal(new OnlyOwnEvents(3, 3, 1), ReasonFor(Site([Live("a", Of(CalloutKind.Tally))], few)));
        Assert.Equal(
            new TooFewEvents(3, 2, 7 * 24 * 60),
            ReasonFor(Site([Live("a", Of(CalloutKind.Tally))], Events(2)))
        );
    }

    [Fact]
    public void The_same_person_does_not_come_twice_in_a_row_over_the_border_of_two_rounds()
    {
        var brief = Brief() with { When = When(6, 3, 12) with { Rounds = 0 } };
        brief = brief with { From = brief.From with { Shuffle = false } };
        string[] Told(params string[] people)
        {
            var events = people.Select((p, i) => Event(Duration.FromMinutes(i + 1), p)).ToList();
            return [.. Explain(Site([Live("a", brief)], events)).Armed.Single().Turns.Select(t => t.Event!.PersonKey)];
        }
        Assert.Equal(["a", "b", "c"], Told("a", "b", "a", "c"));
        Assert.Equal(["a", "b"], Told("a", "b", "a"));
        Assert.Equal(["a", "b"], Told("a", "b", "a", "b", "b", "a"));
        brief = brief with { When = brief.When with { Rounds = 1 } };
        Assert.Equal(["a", "b", "a"], Told("a", "b", "a"));
    }

    [Fact]
    public void The_readers_own_part_never_makes_the_span_longer()
    {
        List<LedgerEvent> events = [.. Events(5), Event(Duration.FromDays(5), "me", visitor: "visitor")];
        Assert.Equal(
            "5 people have bought from us in the last 5 minutes",
            Said(Explain(Site([Live("a", Of(CalloutKind.Tally))], events)))
        );
    }

    [Fact]
    public void The_readers_own_view_never_makes_the_span_longer()
    {
        var brief = Of(CalloutKind.Tally);
        brief = brief with
        {
            From = brief.From with { Measure = Measure.Visitors, Sources = [] },
            Say = brief.Say with { Message = "{{ number }} looked {{ period }}" },
        };
        var callout = Live("a", brief);
        var looked = new Looked(90, 40, Duration.FromHours(30))
        {
            OldestVisitor = "visitor",
            OthersSpan = Duration.FromHours(20),
        };
        var traffic = Traffic.None with { LookedAt = new Dictionary<Guid, Looked> { [callout.Id] = looked } };
        Assert.Equal(
            "39 looked in the last 20 hours",
            Said(Explain(Site(SiteConditions.Plain with { Traffic = traffic }, [callout]), Visitor().Arrive(Now)))
        );
    }

    [Theory]
    [InlineData(NumberStyle.Exact, "1,234")]
    [InlineData(NumberStyle.Rounded, "1,200+")]
    [InlineData(NumberStyle.Hidden, "Many")]
    public void A_count_is_said_exactly_rounded_down_or_not_at_all(NumberStyle style, string said)
    {
        var brief = Of(CalloutKind.Tally);
        brief = brief with
        {
            Say = brief.Say with { Number = style, Message = "{{ number | default: \"Many\" }} did" },
        };
        Assert.Equal($"{said} did", Said(Explain(Site([Live("a", brief)], Events(1234)))));
    }

    [Fact]
    public void A_tally_of_looks_draws_on_recorded_page_views_less_the_readers_own()
    {
        var brief = Of(CalloutKind.Tally);
        brief = brief with
        {
            From = brief.From with { Measure = Measure.Visitors, Sources = [] },
            Say = brief.Say with { Message = "{{ number }} looked {{ period }}" },
        };
        var callout = Live("a", brief);
        var site = Site(Lately(callout, 90, 40, 30), [callout]);
        Assert.Equal("40 looked in the last 30 hours", Said(Explain(site)));
        Assert.Equal("39 looked in the last 30 hours", Said(Explain(site, Visitor().Arrive(Now))));
        var views = Live("b", brief with { From = brief.From with { Measure = Measure.PageViews } });
        var back = Visitor().Arrive(Now).Arrive(Now).Arrive(Now);
        Assert.StartsWith(
            "87 looked",
            Said(Explain(Site(Lately(views, 90, 40, 30), [views]), back)),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void A_headcount_counts_who_is_here_on_its_pages_and_never_the_reader()
    {
        var brief = Of(CalloutKind.Headcount) with { Where = Where(["/shop/**"], []) };
        var site = Site(
            Present(("visitor", "/shop"), ("a", "/shop"), ("b", "/shop/mug"), ("c", "/shop/bowl"), ("d", "/journal")),
            [Live("a", brief)]
        );
        Assert.Equal("3 people are looking around here now", Said(Explain(site)));
        var counted = brief with { From = brief.From with { Pages = ["/journal"], LeastNumber = 1 } };
        Assert.Equal(
            "1 person is looking around here now",
            Said(Explain(Site(Present(("d", "/journal"), ("a", "/shop")), [Live("b", counted)])))
        );
        var here = brief with { From = brief.From with { OfThisPage = true } };
        Assert.Equal(
            new TooFewEvents(3, 1, null),
            ReasonFor(Site(Present(("a", "/shop"), ("b", "/shop/mug")), [Live("c", here)]))
        );
    }

    [Fact]
    public void A_remainder_tells_the_newest_level_of_each_product_while_it_is_low()
    {
        LedgerEvent[] levels =
        [
            Field(EventKind.StockLevel, "left", "3", minutes: 5),
            Field(EventKind.StockLevel, "left", "9", minutes: 50),
            Field(EventKind.StockLevel, "left", "0", "Salt jug", 4),
            Field(EventKind.StockLevel, "left", "2", "Salt jug", 40),
            Field(EventKind.StockLevel, "left", "8", "Iron bowl"),
        ];
        var brief = Of(CalloutKind.Remainder, EventKind.StockLevel);
        Assert.Equal("Only 3 left of Ash-glaze mug", Said(Explain(Shown(EventKind.StockLevel, brief, levels))));
        // What is sold out or restocked is not told.
        Assert.Equal(new NothingLow(5, 8), ReasonFor(Site([Live("a", brief)], levels[2..])));
        Assert.Equal(new NothingLow(5, null), ReasonFor(Site([Live("a", brief)], [])));
    }

    [Fact]
    public void Of_this_page_means_the_product_that_the_page_is_about()
    {
        LedgerEvent[] levels =
        [
            Field(EventKind.StockLevel, "left", "3"),
            Field(EventKind.StockLevel, "left", "2", "Salt jug"),
        ];
        var brief = Of(CalloutKind.Remainder, EventKind.StockLevel);
        brief = brief with { From = brief.From with { OfThisPage = true } };
        var site = Shown(EventKind.StockLevel, brief, levels);
        Assert.Equal(
            "Only 2 left of Salt jug",
            Said(Explain(site, page: PageAddress.TryAt("pots.example", "/shop/salt-jug")!))
        );
        Assert.Equal(new TooFewOfPage(1, 0), ReasonFor(site));
    }

    [Fact]
    public void A_quote_tells_reviews_from_its_fewest_stars_on_and_no_other_kind()
    {
        LedgerEvent[] events =
        [
            Field(EventKind.Review, "stars", "3"),
            Field(EventKind.Review, "stars", "5") with
            {
                PersonKey = "five",
            },
            Event(),
        ];
        var brief = Of(CalloutKind.Quote, EventKind.Review);
        var armed = Assert.Single(Explain(Site([Live("a", brief)], events)).Armed);
        Assert.Equal("five", armed.Turns[0].Event!.PersonKey);
        Assert.IsType<TooFewEvents>(ReasonFor(Site([Live("a", brief)], [events[0], events[2]])));
    }

    [Fact]
    public void A_standing_tells_the_newest_total_from_its_least_number_on()
    {
        LedgerEvent[] totals =
        [
            Field(EventKind.Total, "total", "4821", minutes: 5),
            Field(EventKind.Total, "total", "4700", minutes: 500),
        ];
        var brief = Of(CalloutKind.Standing, EventKind.Total);
        var shown = brief with { Say = brief.Say with { Message = "{{ total }} follow us" } };
        Assert.Equal("4,821 follow us", Said(Explain(Shown(EventKind.Total, shown, totals))));
        var proud = brief with { From = brief.From with { LeastNumber = 5000 } };
        Assert.Equal(new TooFewEvents(5000, 4821, null), ReasonFor(Site([Live("a", proud)], totals)));
    }

    [Fact]
    public void A_notice_needs_no_events_and_counts_down_to_its_event()
    {
        var brief = Of(CalloutKind.Notice);
        brief = brief with
        {
            Say = brief.Say with { Message = "Opens in {{ countdown }}, say {{ code }}", Code = "KILN" },
            When = brief.When with
            {
                Schedule = Outcry.Core.Timing.Schedule.Always with
                {
                    EventStarts = new LocalDateTime(2015, 11, 26, 15, 0),
                },
            },
        };
        var armed = Assert.Single(Explain(Site([Live("a", brief)], [])).Armed);
        Assert.Equal("Opens in 2 d 01:00:00, say KILN", armed.Turns[0].Text);
        Assert.Equal(Now + Duration.FromHours(49), armed.Turns[0].CountdownTo);
        Assert.Equal("2 d 01:00:00", armed.Turns[0].Countdown);
    }

    [Fact]
    public void Events_of_the_visitors_own_country_come_first_or_alone()
    {
        var (leeds, lyon) = (new Place("Leeds", "Yorkshire", "England"), new Place("Lyon", "Rhône", "France"));
        List<LedgerEvent> events =
        [
            .. Enumerable.Range(0, 6).Select(i => Event(Duration.FromMinutes(i + 1), $"e{i}", place: leeds)),
            .. Enumerable.Range(0, 2).Select(i => Event(Duration.FromMinutes(i + 20), $"f{i}", place: lyon)),
        ];
        var facts = VisitorFacts.Unknown with { Place = lyon };
        var first = Brief() with { From = Brief().From with { Near = Nearness.CountryFirst }, When = When(6, 4, 12) };
        var turns = Assert.Single(Explain(Site([Live("a", first)], events), facts: facts).Armed).Turns;
        Assert.Equal(["France", "France", "England", "England"], turns.Select(t => t.Event!.Place.Country));

        var only = Brief() with { From = Brief().From with { Near = Nearness.CountryOnly } };
        Assert.Equal(new TooFewNear(3, 2, "France"), ReasonFor(Site([Live("a", only)], events), facts: facts));
        Assert.Equal(new TooFewNear(3, 0, ""), ReasonFor(Site([Live("a", only)], events)));
        var tally = Of(CalloutKind.Tally);
        tally = tally with { From = tally.From with { Near = Nearness.RegionOnly } };
        var english = VisitorFacts.Unknown with { Place = leeds };
        Assert.StartsWith(
            "6 people",
            Said(Explain(Site([Live("a", tally)], events), facts: english)),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void Older_events_and_those_of_other_pages_are_left_aside_before_anything_is_counted()
    {
        List<LedgerEvent> events =
        [
            .. Events(4).Select(e => e with { Page = "https://pots.example/shop/mug" }),
            Event(Duration.FromDays(40), "old") with
            {
                Page = "https://pots.example/shop/mug",
            },
            Event(person: "elsewhere") with
            {
                Page = "https://pots.example/fair",
            },
            Event(person: "nowhere"),
        ];
        var brief = Of(CalloutKind.Tally);
        brief = brief with { From = brief.From with { WindowMinutes = null, OldestDays = 30, Pages = ["/shop/**"] } };
        Assert.StartsWith("4 people", Said(Explain(Site([Live("a", brief)], events))), StringComparison.Ordinal);
    }

    [Fact]
    public void The_adviser_ranks_by_what_is_recorded()
    {
        var busy = new GroupLife(900, 12, 8, 60, 4, 2, 5141);
        Assert.Equal(CalloutKind.Tally, KindAdviser.Rank(busy)[0].Kind);
        var quiet = new GroupLife(4, 0, 1, 1, 6, 0, 5141);
        var ranked = KindAdviser.Rank(quiet).Select(a => a.Kind).ToList();
        Assert.True(ranked.IndexOf(CalloutKind.Standing) < ranked.IndexOf(CalloutKind.Moment));
        Assert.True(ranked.IndexOf(CalloutKind.Quote) < ranked.IndexOf(CalloutKind.Headcount));
        var empty = new GroupLife(0, 0, 0, 0, 0, 0, null);
        Assert.Equal(CalloutKind.Notice, KindAdviser.Rank(empty)[0].Kind);
        foreach (var advice in KindAdviser.Rank(busy).Concat(KindAdviser.Rank(quiet)).Concat(KindAdviser.Rank(empty)))
            Assert.Matches(@"^[A-Z0-9].*\.$", advice.Because);
        Assert.Equal(8, KindAdviser.Rank(busy).Count);
    }

    [Theory]
    [InlineData(
        40,
        2,
        0,
        CalloutKind.Tally,
        "40 visitors looked at these pages in the last week; count the looks, as only 2 people did more than look."
    )]
    [InlineData(
        40,
        0,
        0,
        CalloutKind.Tally,
        "40 visitors looked at these pages in the last week; count the looks, as nobody did more than look."
    )]
    [InlineData(
        3,
        1,
        0,
        CalloutKind.Tally,
        "Only 1 person did something in the last week; take a longer window, or all time."
    )]
    [InlineData(40, 0, 9, CalloutKind.Headcount, "On a usual day 9 visitors open these pages within one minute.")]
    [InlineData(
        40,
        0,
        1,
        CalloutKind.Headcount,
        "On a usual day no more than 1 visitor opens these pages within one minute, and a small number reads as nobody else."
    )]
    public void The_adviser_says_counted_figures_only(
        int week,
        int people,
        int minute,
        CalloutKind kind,
        string because
    )
    {
        var advice = KindAdviser.Rank(new GroupLife(week, 0, minute, people, 0, 0, null));
        Assert.Equal(because, advice.Single(a => a.Kind == kind).Because);
    }
}
