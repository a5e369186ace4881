using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

public sealed class EvidenceTests
{
    [Theory]
    [InlineData("Saoirse", "Murphy", "Saoirse M.")]
    [InlineData("Piet", "de Vries", "Piet D.")]
    [InlineData("Anselm Vermeer", "", "Anselm V.")]
    [InlineData("Mary Ann Smith", null, "Mary Ann S.")]
    [InlineData("Noor", "", "Noor")]
    [InlineData("  Leila ,", " bensalem", "Leila B.")]
    [InlineData("", "Murphy", "")]
    [InlineData("Ana", "-'őry", "Ana Ő.")]
    public void A_name_is_shortened_to_first_name_and_initial(string? first, string? last, string shown) =>
        Assert.Equal(shown, PersonName.Shorten(first, last).Shown(NameStyle.FirstAndInitial));

    [Fact]
    public void Styles_show_less_and_never_more()
    {
        var name = PersonName.Shorten("Saoirse", "Murphy");
        Assert.Equal("Saoirse", name.Shown(NameStyle.FirstOnly));
        Assert.Equal("S.", name.Shown(NameStyle.InitialOnly));
        Assert.Equal("", name.Shown(NameStyle.Hidden));
        Assert.Equal("SM", name.Initials);
    }

    [Fact]
    public void A_place_is_said_no_finer_than_five_people_share_it()
    {
        var leeds = new Place("Leeds", "Yorkshire", "England");
        var york = new Place("York", "Yorkshire", "England");
        var window = Enumerable
            .Range(0, 4)
            .Select(i => Event(place: leeds, person: $"l{i}"))
            .Append(Event(place: york, person: "y"));
        var crowd = new PlaceCrowd(window);
        Assert.Equal("Yorkshire", crowd.Shown(leeds, PlaceLevel.City));
        Assert.Equal("", crowd.Shown(leeds, PlaceLevel.None));
        var fifth = new PlaceCrowd(window.Append(Event(place: leeds, person: "l5")));
        Assert.Equal("Leeds", fifth.Shown(leeds, PlaceLevel.City));
        Assert.Equal("England", fifth.Shown(leeds, PlaceLevel.Country));
    }

    [Fact]
    public void One_person_buying_often_is_no_crowd()
    {
        var leeds = new Place("Leeds", "Yorkshire", "England");
        var crowd = new PlaceCrowd(Enumerable.Range(0, 20).Select(_ => Event(place: leeds, person: "same")));
        Assert.Equal("", crowd.Shown(leeds, PlaceLevel.City));
    }

    [Fact]
    public void Same_named_cities_of_two_countries_are_counted_apart()
    {
        var here = new Place("Perth", "", "Scotland");
        var there = new Place("Perth", "", "Australia");
        var crowd = new PlaceCrowd(
            Enumerable
                .Range(0, 3)
                .Select(i => Event(place: here, person: $"h{i}"))
                .Concat(Enumerable.Range(0, 3).Select(i => Event(place: there, person: $"t{i}")))
        );
        Assert.Equal("", crowd.Shown(here, PlaceLevel.City));
    }

    [Theory]
    [InlineData(Comparison.Is, "mugs", true)]
    [InlineData(Comparison.Is, "bowls", false)]
    [InlineData(Comparison.IsNot, "bowls", true)]
    [InlineData(Comparison.Contains, "UG", true)]
    [InlineData(Comparison.Contains, "", false)]
    [InlineData(Comparison.Filled, "", true)]
    [InlineData(Comparison.Greater, "1", false)]
    public void A_text_condition_compares_without_case(Comparison comparison, string value, bool holds) =>
        Assert.Equal(holds, new FieldCondition("category", comparison, value).Holds(Event(category: "Mugs")));

    [Theory]
    [InlineData(Comparison.Greater, "27.5", true)]
    [InlineData(Comparison.Greater, "28", false)]
    [InlineData(Comparison.Less, "28.01", true)]
    [InlineData(Comparison.Less, "many", false)]
    public void An_amount_is_compared_as_a_number(Comparison comparison, string value, bool holds) =>
        Assert.Equal(holds, new FieldCondition("amount", comparison, value).Holds(Event(amount: 28m)));

    [Fact]
    public void A_field_that_is_missing_is_neither_filled_nor_equal()
    {
        Assert.False(new FieldCondition("size", Comparison.Filled, "").Holds(Event()));
        Assert.True(new FieldCondition("size", Comparison.IsNot, "L").Holds(Event()));
    }

    [Fact]
    public void Any_takes_one_condition_and_all_takes_every_one()
    {
        FieldCondition[] both = [new("category", Comparison.Is, "Mugs"), new("amount", Comparison.Greater, "100")];
        Assert.Null(Rule(conditions: both, join: Join.Any).Refuses(Event(category: "Mugs", amount: 5), Now));
        Assert.Equal(
            EvidenceRefusal.Condition,
            Rule(conditions: both).Refuses(Event(category: "Mugs", amount: 5), Now)
        );
    }

    [Fact]
    public void Each_refusal_has_its_own_reason()
    {
        var rule = Rule(window: Duration.FromDays(7));
        Assert.Null(rule.Refuses(Event(ago: Duration.FromDays(7)), Now));
        Assert.Equal(
            EvidenceRefusal.TooOld,
            rule.Refuses(Event(ago: Duration.FromDays(7) + Duration.FromSeconds(1)), Now)
        );
        Assert.Equal(EvidenceRefusal.Future, rule.Refuses(Event(ago: Duration.FromSeconds(-1)), Now));
        Assert.Equal(EvidenceRefusal.Test, rule.Refuses(Event() with { State = EventState.OwnTest }, Now));
        Assert.Equal(EvidenceRefusal.Hidden, rule.Refuses(Event() with { State = EventState.Hidden }, Now));
        Assert.Equal(EvidenceRefusal.OtherSource, rule.Refuses(Event() with { SourceId = Guid.NewGuid() }, Now));
    }

    [Fact]
    public void The_span_said_is_the_one_truly_covered()
    {
        var week = Rule(window: Duration.FromDays(7));
        Assert.Equal(
            Duration.FromHours(16),
            EvidenceSelector.Select([Event(ago: Duration.FromHours(16))], week, Now).Span
        );
        Assert.Equal(Duration.Zero, EvidenceSelector.Select([], week, Now).Span);
        var always = Rule(window: null);
        Assert.Equal(
            Duration.FromDays(90),
            EvidenceSelector.Select([Event(ago: Duration.FromDays(90))], always, Now).Span
        );
    }

    [Fact]
    public void A_shuffle_stays_the_same_within_a_visit_and_differs_between_visits()
    {
        var callout = Guid.NewGuid();
        var items = Enumerable.Range(0, 12).Select(_ => Guid.NewGuid()).ToList();
        List<Guid> Order(int visit) =>
            [.. items.OrderBy(i => SteadyShuffle.Rank(SteadyShuffle.Seed("v", visit, callout, 1), i))];
        Assert.Equal(Order(1), Order(1));
        Assert.NotEqual(Order(1), Order(2));
    }
}
