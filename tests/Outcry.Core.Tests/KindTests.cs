using System.Collections.Immutable;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Care;
using Outcry.Core.Claims;
using Outcry.Core.Evidence;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

/// <summary>Every kind of event has words of its own that read well from the first, and a state that decides who counts it.</summary>
public sealed class KindTests
{
    private static string Said(EventKind kind, Place? place = null, params (string, string)[] fields)
    {
        var happened = Event() with
        {
            Kind = kind,
            Place = place ?? Place.Unknown,
            Fields = fields.ToImmutableDictionary(f => f.Item1, f => f.Item2),
        };
        var brief = StarterBrief.Moment(kind, [Source]);
        var wording = SpokenWording.Of(brief.Say.Message, Voice.English);
        var crowd = new PlaceCrowd(Enumerable.Range(0, 5).Select(i => happened with { PersonKey = $"{i}" }));
        var turn = PreparedEvidence.Word(
            brief.Say,
            wording,
            happened,
            DisplayPolicy.For(kind),
            crowd,
            Now,
            DateTimeZone.Utc
        );
        return string.Concat(turn.Spans.Select(s => s.Text));
    }

    private static readonly Place Leeds = new("Leeds", "Yorkshire", "England");

    [Fact]
    public void Deeds_name_the_person_the_place_and_the_product()
    {
        Assert.Equal("Noor H. from Leeds bought Ash-glaze mug", Said(EventKind.Purchase, Leeds));
        Assert.Equal("Noor H. booked Ash-glaze mug", Said(EventKind.Booking));
        Assert.Equal("Noor H. from Leeds put Ash-glaze mug into the basket", Said(EventKind.BasketAddition, Leeds));
        Assert.Equal("Noor H. signed up for Ash-glaze mug", Said(EventKind.SignUp));
        Assert.Equal("Noor H. sent an enquiry about Ash-glaze mug", Said(EventKind.Enquiry));
    }

    [Fact]
    public void What_belongs_to_a_kind_by_nature_may_be_read_from_the_start()
    {
        Assert.Equal(
            "Noor H. gave 5 of 5 stars: Lovely.",
            Said(EventKind.Review, null, ("stars", "5"), ("words", "Lovely."))
        );
        Assert.Equal("3 left of Ash-glaze mug", Said(EventKind.StockLevel, null, ("left", "3")));
        Assert.Equal(
            "Plain pots. Birgit Solheim, curator",
            Said(EventKind.Endorsement, null, ("words", "Plain pots."), ("who", "Birgit Solheim"), ("role", "curator"))
        );
        Assert.Equal("New to read: Ash-glaze mug", Said(EventKind.Post));
        Assert.Equal("4,821 followers", Said(EventKind.Total, null, ("total", "4821"), ("of", "followers")));
        Assert.Equal("Noor H.: firing_reminder from Leeds", Said(EventKind.Own, Leeds, ("event", "firing_reminder")));
    }

    [Fact]
    public void A_field_that_the_source_does_not_show_is_not_read()
    {
        Assert.Equal("Noor H. bought Ash-glaze mug", Said(EventKind.Purchase, null, ("stars", "5")));
        Assert.DoesNotContain(
            "secret",
            Said(EventKind.StockLevel, null, ("left", "3"), ("note", "secret")),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void Every_kinds_starter_words_use_only_what_its_source_offers()
    {
        foreach (var kind in Enum.GetValues<EventKind>())
        {
            var offer = new SourceOffer(Source, "Source", DisplayPolicy.For(kind), HasNames: true, []) { Kind = kind };
            var problems = BriefCheck.Problems(StarterBrief.Moment(kind, [Source]), [offer]);
            Assert.True(problems.Count == 0, $"{kind}: {string.Join(' ', problems.Select(p => p.Message))}");
            Assert.True(StarterWording.IsUntouched(StarterWording.For(kind)));
        }
    }

    [Fact]
    public void The_noun_of_the_site_stands_for_whoever_is_not_named()
    {
        var nobody = Event() with { Name = PersonName.Unknown };
        var brief = StarterBrief.Moment(EventKind.Purchase, [Source]);
        var voice = Voice.Of("en", [], new Dictionary<string, string> { ["someone"] = "A potter" });
        var turn = PreparedEvidence.Word(
            brief.Say,
            SpokenWording.Of(brief.Say.Message, voice),
            nobody,
            DisplayPolicy.Start,
            new PlaceCrowd([]),
            Now,
            DateTimeZone.Utc
        );
        Assert.Equal("A potter bought Ash-glaze mug", string.Concat(turn.Spans.Select(s => s.Text)));
    }

    [Theory]
    [InlineData(EventState.Usable, null)]
    [InlineData(EventState.Held, EvidenceRefusal.Held)]
    [InlineData(EventState.OwnTest, EvidenceRefusal.Test)]
    [InlineData(EventState.Duplicate, EvidenceRefusal.Duplicate)]
    [InlineData(EventState.Hidden, EvidenceRefusal.Hidden)]
    [InlineData(EventState.Deleted, EvidenceRefusal.Hidden)]
    public void Only_a_usable_event_is_drawn_on(EventState state, EvidenceRefusal? refusal)
    {
        var rule = new EvidenceRule([Source], [], Join.All, null, 1);
        Assert.Equal(refusal, rule.Refuses(Event() with { State = state }, Now));
    }

    [Theory]
    [InlineData("stars", Comparison.Greater, "4", true)]
    [InlineData("stars", Comparison.Less, "4", false)]
    [InlineData("words", Comparison.Contains, "KILN", true)]
    [InlineData("city_of_birth", Comparison.Filled, "", false)]
    public void Conditions_look_at_a_kinds_own_fields(string field, Comparison comparison, string value, bool holds)
    {
        var review = Event() with
        {
            Kind = EventKind.Review,
            Fields = ImmutableDictionary<string, string>.Empty.Add("stars", "4.5").Add("words", "Out of the kiln"),
        };
        Assert.Equal(holds, new FieldCondition(field, comparison, value).Holds(review));
    }
}
