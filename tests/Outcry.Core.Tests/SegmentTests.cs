using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Claims;
using Outcry.Core.Evidence;
using Outcry.Core.Explaining;
using Outcry.Core.Publishing;
using Outcry.Core.Targeting;
using Outcry.Core.Visitors;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

/// <summary>Rules over visitor facts: what each comparison means, and which of them is named when a rule does not hold.</summary>
public sealed class SegmentTests
{
    private static readonly Dictionary<Guid, Segment> None = [];

    private static FactReader ReaderIdentity(
        VisitorRecord? record = null,
        VisitorFacts? facts = null,
        PastEvent[]? deeds = null,
        Instant? now = null
    ) => new(record ?? Visitor(), facts ?? VisitorFacts.Unknown, deeds ?? [], now ?? Now);

    private static FactTest Test(
        VisitorFact fact,
        FactComparison comparison = FactComparison.Is,
        string value = "",
        string key = "",
        int? days = null
    ) => new(fact, comparison, value, key, days);

    private static bool Holds(VisitorRule rule, FactReader reader) => CompiledRule.Compile(rule, None).Holds(reader);

    [Fact]
    public void New_and_returning_are_told_apart_by_the_visit()
    {
        var back = Visitor().Arrive(Now + Duration.FromDays(3));
        Assert.True(Holds(Test(VisitorFact.Standing, value: "new"), ReaderIdentity()));
        Assert.True(Holds(Test(VisitorFact.Standing, value: "returning"), ReaderIdentity(back)));
        Assert.False(Holds(Test(VisitorFact.Standing, FactComparison.IsNot, "returning"), ReaderIdentity(back)));
    }

    [Theory]
    [InlineData(VisitorFact.VisitNumber, 2)]
    [InlineData(VisitorFact.PagesThisVisit, 2)]
    [InlineData(VisitorFact.PagesEver, 3)]
    [InlineData(VisitorFact.SecondsOnSite, 100)]
    [InlineData(VisitorFact.DaysSinceLastVisit, 3)]
    [InlineData(VisitorFact.LocalHour, 15)]
    public void Numbers_are_compared_as_numbers(VisitorFact fact, int value)
    {
        var later = Now + Duration.FromDays(3);
        var record = Visitor().Arrive(later).Arrive(later + Duration.FromSeconds(100));
        var reader = ReaderIdentity(
            record,
            VisitorFacts.Unknown with
            {
                LocalOffset = Offset.FromHours(1),
            },
            now: later + Duration.FromSeconds(100)
        );
        Assert.True(Holds(Test(fact, FactComparison.Is, $"{value}"), reader));
        Assert.True(Holds(Test(fact, FactComparison.AtLeast, $"{value}"), reader));
        Assert.True(Holds(Test(fact, FactComparison.AtMost, $"{value}"), reader));
        Assert.False(Holds(Test(fact, FactComparison.AtLeast, $"{value + 1}"), reader));
        Assert.False(Holds(Test(fact, FactComparison.AtMost, $"{value - 1}"), reader));
        Assert.True(Holds(Test(fact, FactComparison.IsNot, $"{value + 1}"), reader));
    }

    [Fact]
    public void A_number_that_a_visitor_does_not_have_is_neither_more_nor_less()
    {
        Assert.False(Holds(Test(VisitorFact.DaysSinceLastVisit, FactComparison.AtLeast, "0"), ReaderIdentity()));
        Assert.False(Holds(Test(VisitorFact.DaysSinceLastVisit, FactComparison.AtMost, "900"), ReaderIdentity()));
    }

    [Fact]
    public void The_way_in_is_known_for_the_whole_visit()
    {
        var wayIn = new WayIn(
            "/journal/raku",
            "news.example",
            new Dictionary<string, string> { ["source"] = "Letter" }
        );
        var record = VisitorRecord.New("v", Now).Arrive(Now).CameIn(wayIn).Arrive(Now).CameIn(WayIn.Unknown);
        Assert.True(Holds(Test(VisitorFact.EntryPage, value: "/journal/**"), ReaderIdentity(record)));
        Assert.False(Holds(Test(VisitorFact.EntryPage, FactComparison.IsNot, "/journal/**"), ReaderIdentity(record)));
        Assert.True(Holds(Test(VisitorFact.Referrer, FactComparison.Contains, "NEWS"), ReaderIdentity(record)));
        Assert.True(Holds(Test(VisitorFact.Campaign, value: "letter", key: "source"), ReaderIdentity(record)));
        Assert.True(Holds(Test(VisitorFact.Campaign, FactComparison.Empty, key: "medium"), ReaderIdentity(record)));
        var next = record.Arrive(Now + Duration.FromHours(1));
        Assert.False(Holds(Test(VisitorFact.Referrer, FactComparison.Filled), ReaderIdentity(next)));
    }

    [Fact]
    public void A_language_also_means_its_regions()
    {
        var facts = VisitorFacts.Unknown with { Languages = ["de-AT", "en"] };
        Assert.True(Holds(Test(VisitorFact.Language, value: "de"), ReaderIdentity(facts: facts)));
        Assert.True(Holds(Test(VisitorFact.Language, value: "EN"), ReaderIdentity(facts: facts)));
        Assert.False(Holds(Test(VisitorFact.Language, value: "de-DE"), ReaderIdentity(facts: facts)));
        Assert.True(Holds(Test(VisitorFact.Language, FactComparison.IsNot, "fr"), ReaderIdentity(facts: facts)));
    }

    [Fact]
    public void Places_devices_identity_attributes_and_tags_are_compared()
    {
        var facts = VisitorFacts.Unknown with
        {
            Device = Device.Phone,
            Place = new Place("Leeds", "Yorkshire", "England"),
            IsKnown = true,
            Attributes = new Dictionary<string, string> { ["plan"] = "Studio" },
            Tags = ["wholesale", "press"],
        };
        var reader = ReaderIdentity(facts: facts);
        Assert.All(
            [
                Test(VisitorFact.Device, value: "phone"),
                Test(VisitorFact.Country, value: "england"),
                Test(VisitorFact.Region, FactComparison.Contains, "york"),
                Test(VisitorFact.City, FactComparison.Filled),
                Test(VisitorFact.Identity, value: "known"),
                Test(VisitorFact.Attribute, value: "studio", key: "plan"),
                Test(VisitorFact.Tag, value: "Press"),
                Test(VisitorFact.Tag, FactComparison.IsNot, "friend"),
            ],
            t => Assert.True(Holds(t, reader), $"{t}")
        );
        Assert.True(Holds(Test(VisitorFact.Tag, FactComparison.Empty), ReaderIdentity()));
    }

    [Fact]
    public void Deeds_are_asked_for_by_product_source_and_age()
    {
        var shop = Guid.NewGuid();
        PastEvent[] deeds =
        [
            new(EventKind.SignUp, shop, Now - Duration.FromDays(2), "", ""),
            new(EventKind.Purchase, shop, Now - Duration.FromDays(10), "Ash-glaze mug", "Mugs"),
        ];
        var reader = ReaderIdentity(deeds: deeds);
        Assert.True(Holds(Test(VisitorFact.Bought), reader));
        Assert.True(Holds(Test(VisitorFact.Bought, value: "mugs", days: 30), reader));
        Assert.True(Holds(Test(VisitorFact.Bought, value: "ash-glaze"), reader));
        Assert.False(Holds(Test(VisitorFact.Bought, value: "bowl"), reader));
        Assert.False(Holds(Test(VisitorFact.Bought, days: 7), reader));
        Assert.True(Holds(Test(VisitorFact.Bought, FactComparison.IsNot, days: 7), reader));
        Assert.True(Holds(Test(VisitorFact.Submitted, key: $"{shop}", days: 3), reader));
        Assert.False(Holds(Test(VisitorFact.Submitted, key: $"{Guid.NewGuid()}"), reader));
    }

    [Fact]
    public void What_was_seen_and_closed_is_asked_for_by_callout()
    {
        var callout = Guid.NewGuid();
        var record = Visitor().Started(callout, Now, true).Closed(callout, Now, Duration.Zero, false);
        var later = ReaderIdentity(record, now: Now + Duration.FromDays(5));
        Assert.True(Holds(Test(VisitorFact.Saw, key: $"{callout}"), later));
        Assert.True(Holds(Test(VisitorFact.Closed, key: $"{callout}", days: 6), later));
        Assert.False(Holds(Test(VisitorFact.Closed, key: $"{callout}", days: 5), later));
        Assert.False(Holds(Test(VisitorFact.Saw, key: $"{Guid.NewGuid()}"), later));
    }

    [Fact]
    public void Trees_of_all_any_and_not_hold_as_logic_has_it()
    {
        var yes = Test(VisitorFact.Standing, value: "new");
        var no = Test(VisitorFact.Standing, value: "returning");
        Assert.True(Holds(new AllOf([]), ReaderIdentity()));
        Assert.True(Holds(new AnyOf([]), ReaderIdentity()));
        Assert.True(Holds(new AllOf([yes, new NotThis(no)]), ReaderIdentity()));
        Assert.False(Holds(new AllOf([yes, no]), ReaderIdentity()));
        Assert.True(Holds(new AnyOf([no, yes]), ReaderIdentity()));
        Assert.False(Holds(new NotThis(new AnyOf([no, yes])), ReaderIdentity()));
    }

    [Fact]
    public void The_comparison_that_decided_is_named_with_the_visitors_own_value()
    {
        var rule = new AllOf([
            Test(VisitorFact.Standing, value: "new"),
            new NotThis(Test(VisitorFact.Device, value: "phone")),
            Test(VisitorFact.PagesThisVisit, FactComparison.AtLeast, "3"),
        ]);
        var failed = CompiledRule.Compile(rule, None).Explain(ReaderIdentity())!;
        Assert.Equal((VisitorFact.PagesThisVisit, "1", false), (failed.Test.Fact, failed.Value, failed.Inverted));
        var phone = ReaderIdentity(facts: VisitorFacts.Unknown with { Device = Device.Phone });
        var inverted = CompiledRule.Compile(rule, None).Explain(phone)!;
        Assert.Equal((VisitorFact.Device, "phone", true), (inverted.Test.Fact, inverted.Value, inverted.Inverted));
        Assert.Equal(
            "Not for visitors where device is phone.",
            ReasonSentence.Say(new VisitorDiffers(inverted), DateTimeZone.Utc, _ => null)
        );
        Assert.Null(CompiledRule.Compile(VisitorRule.Everybody, None).Explain(ReaderIdentity()));
    }

    [Fact]
    public void A_segment_is_named_where_the_comparison_stands_in_one()
    {
        var regulars = new Segment(
            Guid.NewGuid(),
            "Regulars",
            Test(VisitorFact.VisitNumber, FactComparison.AtLeast, "3")
        );
        var shared = SiteContext.Nothing with { Segments = new Dictionary<Guid, Segment> { [regulars.Id] = regulars } };
        var brief = Brief() with { Who = new WhoFacet(new InSegment(regulars.Id), []) };
        var reason = Assert.IsType<VisitorDiffers>(ReasonFor(Site([Live("a", brief, shared: shared)])));
        Assert.Equal("Regulars", reason.Failed.Segment);
        Assert.Equal(
            "Only for visitors where number of the visit is at least 3 (segment \"Regulars\"). For this one it is 1.",
            ReasonSentence.Say(reason, DateTimeZone.Utc, _ => null)
        );
    }

    [Fact]
    public void Segments_that_lead_in_a_circle_or_nowhere_are_refused()
    {
        var (one, other) = (Guid.NewGuid(), Guid.NewGuid());
        var circle = new Dictionary<Guid, Segment>
        {
            [one] = new(one, "One", new InSegment(other)),
            [other] = new(other, "Other", new NotThis(new InSegment(one))),
        };
        Assert.Null(CompiledRule.TryCompile(new InSegment(one), circle, out var error));
        Assert.Equal("The segment \"One\" leads back to itself.", error);
        Assert.Null(CompiledRule.TryCompile(new InSegment(Guid.NewGuid()), circle, out var gone));
        Assert.Equal("A segment that this rule names is gone.", gone);
    }

    public static TheoryData<FactTest, string> Unfit =>
        new()
        {
            { Test(VisitorFact.VisitNumber, FactComparison.AtLeast, "many"), "whole number" },
            { Test(VisitorFact.VisitNumber, FactComparison.Contains, "2"), "cannot be compared" },
            { Test(VisitorFact.Device, value: "watch"), "\"watch\" is neither" },
            { Test(VisitorFact.EntryPage, value: "journal"), "slash" },
            { Test(VisitorFact.Country), "compared with nothing yet" },
            { Test(VisitorFact.Attribute, value: "x"), "which attribute" },
            { Test(VisitorFact.Saw), "which callout" },
            { Test(VisitorFact.Bought, days: 0), "1 to 730" },
        };

    [Theory]
    [MemberData(nameof(Unfit))]
    public void A_comparison_that_makes_no_sense_is_refused_in_words(FactTest test, string says)
    {
        Assert.Null(CompiledRule.TryCompile(test, None, out var error));
        Assert.Contains(says, error, StringComparison.Ordinal);
        Assert.EndsWith(".", error, StringComparison.Ordinal);
    }

    [Fact]
    public void A_rule_has_its_limits()
    {
        VisitorRule deep = Test(VisitorFact.Standing, value: "new");
        for (var i = 0; i <= VisitorRule.MostDepth; i++)
            deep = new NotThis(deep);
        Assert.Null(CompiledRule.TryCompile(deep, None, out var tooDeep));
        Assert.Contains("deep", tooDeep, StringComparison.Ordinal);
        var wide = new AllOf([.. Enumerable.Repeat(Test(VisitorFact.Standing, value: "new"), VisitorRule.MostParts)]);
        Assert.Null(CompiledRule.TryCompile(wide, None, out var tooWide));
        Assert.Contains("parts", tooWide, StringComparison.Ordinal);
    }

    [Fact]
    public void Every_fact_and_comparison_has_words()
    {
        foreach (var fact in Enum.GetValues<VisitorFact>())
        foreach (var comparison in FactKinds.Comparisons(fact))
            Assert.DoesNotContain(
                "  ",
                FactWords.Say(Test(fact, comparison, "x", FactKinds.KeyOf(fact) is null ? "" : "k"), _ => "it"),
                StringComparison.Ordinal
            );
    }
}
