using CsCheck;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Rehearsing;
using Outcry.Core.Visitors;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

/// <summary>A visitor is found for a rule, or nobody is; whoever is found fits.</summary>
public sealed class CastingTests
{
    private static readonly Guid Callout = Guid.Parse("6f2f1c7e-0000-4000-8000-000000000001");
    private static readonly Dictionary<Guid, Segment> NoSegments = [];

    private static FactReader See(ImaginedVisitor visitor) =>
        new(
            visitor.RecordAt("somebody", Now, []).Arrive(Now).CameIn(visitor.CameBy),
            visitor.FactsAt(Now, DateTimeZone.Utc),
            visitor.PastEventsAt(Now),
            Now
        );

    private static ImaginedVisitor? Cast(VisitorRule rule) =>
        Casting.TryCast(rule, NoSegments, ImaginedVisitor.Newcomer, Now, DateTimeZone.Utc);

    private static readonly Gen<VisitorRule> AnyTest = OneOf<VisitorRule>(
        new FactTest(VisitorFact.Standing, FactComparison.Is, "returning"),
        new FactTest(VisitorFact.VisitNumber, FactComparison.AtLeast, "3"),
        new FactTest(VisitorFact.VisitNumber, FactComparison.AtMost, "4"),
        new FactTest(VisitorFact.PagesThisVisit, FactComparison.AtLeast, "2"),
        new FactTest(VisitorFact.PagesEver, FactComparison.AtLeast, "9"),
        new FactTest(VisitorFact.SecondsOnSite, FactComparison.AtLeast, "40"),
        new FactTest(VisitorFact.DaysSinceLastVisit, FactComparison.AtLeast, "7"),
        new FactTest(VisitorFact.DaysSinceLastVisit, FactComparison.AtMost, "2"),
        new FactTest(VisitorFact.EntryPage, FactComparison.Is, "/journal/*"),
        new FactTest(VisitorFact.Referrer, FactComparison.Contains, "letters"),
        new FactTest(VisitorFact.Campaign, FactComparison.Is, "autumn", "campaign"),
        new FactTest(VisitorFact.Device, FactComparison.Is, "phone"),
        new FactTest(VisitorFact.Language, FactComparison.Is, "de"),
        new FactTest(VisitorFact.Country, FactComparison.IsNot, "Ireland"),
        new FactTest(VisitorFact.City, FactComparison.Filled),
        new FactTest(VisitorFact.LocalHour, FactComparison.AtLeast, "18"),
        new FactTest(VisitorFact.Identity, FactComparison.Is, "known"),
        new FactTest(VisitorFact.Attribute, FactComparison.Is, "gold", "plan"),
        new FactTest(VisitorFact.Attribute, FactComparison.AtLeast, "12.5", "total"),
        new FactTest(VisitorFact.Tag, FactComparison.Is, "member"),
        new FactTest(VisitorFact.Bought, FactComparison.Is, "mug", WithinDays: 30),
        new FactTest(VisitorFact.Submitted, FactComparison.IsNot),
        new FactTest(VisitorFact.Saw, FactComparison.Is, Key: Callout.ToString()),
        new FactTest(VisitorFact.Closed, FactComparison.Is, Key: Callout.ToString(), WithinDays: 1)
    );

    private static readonly Gen<VisitorRule> AnyRule = Gen.Recursive<VisitorRule>(
        (depth, inner) =>
            depth >= 3
                ? AnyTest
                : Gen.OneOf(
                    AnyTest,
                    inner.Array[1, 3].Select(rules => (VisitorRule)new AllOf(rules)),
                    inner.Array[1, 3].Select(rules => (VisitorRule)new AnyOf(rules)),
                    inner.Select(rule => (VisitorRule)new NotThis(rule))
                )
    );

    [Fact]
    public void Whoever_is_found_fits_the_rule_and_is_a_visitor_that_can_be() =>
        AnyRule.Sample(
            rule =>
                Cast(rule) is not { } found
                || (found.Problem is null && CompiledRule.Compile(rule, NoSegments).Holds(See(found))),
            iter: Cases.Of(5_000)
        );

    [Fact]
    public void For_every_single_comparison_somebody_is_found_who_fits_and_somebody_who_does_not() =>
        AnyTest.Sample(rule => Cast(rule) is not null && Cast(new NotThis(rule)) is not null, iter: Cases.Of(2_000));

    [Theory]
    [InlineData(VisitorFact.PagesEver, FactComparison.AtMost, "2147483647")]
    [InlineData(VisitorFact.PagesEver, FactComparison.AtLeast, "-2147483648")]
    [InlineData(VisitorFact.SecondsOnSite, FactComparison.AtMost, "2147483647")]
    public void What_nobody_can_exceed_is_met_by_everybody_and_its_opposite_by_nobody(
        VisitorFact fact,
        FactComparison comparison,
        string value
    )
    {
        var test = new FactTest(fact, comparison, value);
        Assert.NotNull(Cast(test));
        Assert.Null(Cast(new NotThis(test)));
    }

    [Theory]
    [InlineData(FactComparison.AtMost, "1000000000000000")]
    [InlineData(FactComparison.AtLeast, "9999-12-31")]
    [InlineData(FactComparison.AtMost, "2015-11-24")]
    public void An_attribute_with_an_order_is_found_on_both_sides(FactComparison comparison, string value)
    {
        var test = new FactTest(VisitorFact.Attribute, comparison, value, "since");
        Assert.NotNull(Cast(test));
        Assert.NotNull(Cast(new NotThis(test)));
    }

    [Fact]
    public void A_rule_that_contradicts_itself_has_nobody()
    {
        var phone = new FactTest(VisitorFact.Device, FactComparison.Is, "phone");

        Assert.Null(Cast(new AllOf([phone, new NotThis(phone)])));
    }

    [Fact]
    public void A_part_that_stands_in_the_way_of_another_is_met_in_another_way()
    {
        var found = Cast(
            new AllOf([
                new AnyOf([
                    new FactTest(VisitorFact.Device, FactComparison.Is, "phone"),
                    new FactTest(VisitorFact.Country, FactComparison.Is, "Ireland"),
                ]),
                new FactTest(VisitorFact.Device, FactComparison.Is, "desktop"),
            ])
        );

        Assert.Equal("Ireland", found!.Country);
        Assert.Equal(Device.Desktop, found.Device);
    }

    [Fact]
    public void A_segment_within_a_segment_is_followed()
    {
        var (inner, outer) = (Guid.NewGuid(), Guid.NewGuid());
        var segments = new Dictionary<Guid, Segment>
        {
            [inner] = new(inner, "Phones", new FactTest(VisitorFact.Device, FactComparison.Is, "phone")),
            [outer] = new(outer, "Anything else", new NotThis(new InSegment(inner))),
        };
        var start = new ImaginedVisitor { Device = Device.Phone };

        var found = Casting.TryCast(new InSegment(outer), segments, start, Now, DateTimeZone.Utc);

        Assert.NotEqual(Device.Phone, found!.Device);
    }

    [Fact]
    public void Nothing_is_changed_of_somebody_who_fits_already()
    {
        var start = new ImaginedVisitor { VisitNumber = 7, Tags = ["member"] };

        Assert.Same(
            start,
            Casting.TryCast(
                new FactTest(VisitorFact.Standing, FactComparison.Is, "returning"),
                NoSegments,
                start,
                Now,
                DateTimeZone.Utc
            )
        );
    }

    [Fact]
    public void What_was_taken_for_granted_is_said()
    {
        var found = Cast(
            new AllOf([
                new FactTest(VisitorFact.Device, FactComparison.Is, "phone"),
                new FactTest(VisitorFact.City, FactComparison.Is, "Cork"),
                new FactTest(VisitorFact.Country, FactComparison.Is, "Ireland"),
                new FactTest(VisitorFact.Bought, FactComparison.Is, "mug"),
            ])
        );

        Assert.Equal(
            ["on a phone", "from Cork, Ireland", "having bought mug"],
            RehearsalWords.Assumed(ImaginedVisitor.Newcomer, found!)
        );
    }

    [Fact]
    public void Whoever_met_a_callout_met_it_in_the_visit_before()
    {
        var visitor = new ImaginedVisitor { Saw = [Callout] };

        var record = visitor.RecordAt("somebody", Now, []).Arrive(Now);

        Assert.Equal(2, record.Visit.Number);
        Assert.Equal(Now - Duration.FromHours(24), record.Exposures[Callout].LastStartAt);
        Assert.Equal(0, record.Visit.Starts);
    }

    [Fact]
    public void A_clock_elsewhere_shows_the_hour_asked_for()
    {
        foreach (var hour in Enumerable.Range(0, 24))
            Assert.Equal(hour, See(new ImaginedVisitor { LocalHour = hour }).Number(VisitorFact.LocalHour));
    }

    [Fact]
    public void An_impossible_visitor_is_refused_with_a_sentence()
    {
        Assert.NotNull(new ImaginedVisitor { VisitNumber = 0 }.Problem);
        Assert.NotNull(new ImaginedVisitor { Country = new string('x', 201) }.Problem);
        Assert.NotNull(
            new ImaginedVisitor { PastEvents = [new ImaginedEvent(EventKind.Purchase, DaysAgo: -1)] }.Problem
        );
        Assert.Null(ImaginedVisitor.Newcomer.Problem);
    }
}
