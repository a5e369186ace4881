using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Targeting;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

/// <summary>The words a new callout starts with: what they claim, in which languages, and what becomes of them when left alone.</summary>
public sealed class StarterWordingTests
{
    private static readonly Guid Other = Guid.NewGuid();

    private static SourceOffer Offer(EventKind kind, string name = "The source") =>
        new(Source, name, DisplayPolicy.Start, HasNames: true, []) { Kind = kind };

    private static IReadOnlyList<Problem> Say(Brief brief, EventKind kind, SiteContext? shared = null) =>
        [.. BriefCheck.Problems(brief, [Offer(kind)], shared).Where(p => BriefFields.FacetOf(p.Field) == Facet.Say)];

    private static Brief Saying(CalloutKind kind, EventKind of, string message) =>
        StarterBrief.For(kind, of, [Source]) is var b ? b with { Say = b.Say with { Message = message } } : null!;

    [Fact]
    public void There_are_starter_words_in_every_shipped_language_and_all_of_them_can_be_said()
    {
        Assert.Equal(BuiltInWords.Languages.Order(), StarterWording.Languages.Order());
        foreach (var language in StarterWording.Languages)
        foreach (var kind in Enum.GetValues<CalloutKind>())
        foreach (var of in Enum.GetValues<EventKind>())
        {
            var message = StarterWording.For(kind, of, language);
            var template = MessageTemplate.TryParse(message, out var error);
            Assert.True(template is not null, $"{language} {kind} {of}: {error}");
            Assert.Null(template.Failure);
            var empty = string.Concat(template.Render(new TokenValues(), Voice.Of(language, [])).Select(s => s.Text));
            Assert.DoesNotContain("{", message.Replace("{{", "", StringComparison.Ordinal), StringComparison.Ordinal);
            Assert.DoesNotContain("*", empty, StringComparison.Ordinal);
        }
    }

    [Fact]
    public void No_starter_claims_what_its_events_are_not()
    {
        foreach (var language in StarterWording.Languages)
        foreach (var kind in (CalloutKind[])[CalloutKind.Moment, CalloutKind.Tally])
        foreach (
            var of in (EventKind[])
                [EventKind.Purchase, EventKind.Booking, EventKind.SignUp, EventKind.Enquiry, EventKind.BasketAddition]
        )
            Assert.True(
                VerbCheck.Contradiction(StarterWording.For(kind, of, language), language, VerbCheck.ClaimsOf(of))
                    is null,
                $"{language} {kind} {of}: {StarterWording.For(kind, of, language)}"
            );
    }

    [Theory]
    [InlineData(EventKind.SignUp, "Raku day", "Noor H. signed up for Raku day")]
    [InlineData(EventKind.SignUp, "", "Noor H. signed up")]
    [InlineData(EventKind.Enquiry, "", "Noor H. sent an enquiry")]
    public void A_starter_says_what_is_there_and_no_more(EventKind kind, string product, string said)
    {
        var template = MessageTemplate.TryParse(StarterWording.For(kind), out _)!;
        var spans = template.Render(new Dictionary<string, string> { ["name"] = "Noor H.", ["product"] = product });
        Assert.Equal(said, string.Concat(spans.Select(s => s.Text)));
    }

    [Fact]
    public void Words_left_alone_follow_the_source_and_words_of_ones_own_stay()
    {
        var starter = StarterBrief.For(CalloutKind.Tally, EventKind.Purchase, [Other]);
        starter = starter with
        {
            Say = starter.Say with { Translations = [new Wording("de", starter.Say.Message, "", "")] },
        };
        var followed = StarterWording.Follow(starter, EventKind.Enquiry, "en");
        Assert.Equal(StarterWording.For(CalloutKind.Tally, EventKind.Enquiry), followed.Say.Message);
        Assert.Equal(
            StarterWording.For(CalloutKind.Tally, EventKind.Enquiry, "de"),
            Assert.Single(followed.Say.Translations).Message
        );
        var own = starter with { Say = starter.Say with { Message = "{{ number }} of you", Translations = [] } };
        Assert.Same(own, StarterWording.Follow(own, EventKind.Enquiry, "en"));
        Assert.Same(followed, StarterWording.Follow(followed, EventKind.Enquiry, "en"));
    }

    [Fact]
    public void A_language_that_was_added_and_left_alone_is_not_published()
    {
        var brief = Saying(CalloutKind.Moment, EventKind.Purchase, "Somebody bought a mug");
        brief = brief with { Say = brief.Say with { Translations = [new Wording("de", brief.Say.Message, "", "")] } };
        Assert.Contains(Say(brief, EventKind.Purchase), p => p.Blocks && p.Field == "say.translations");
        var british = brief with
        {
            Say = brief.Say with { Translations = [new Wording("en-GB", brief.Say.Message, "", "")] },
        };
        Assert.DoesNotContain(Say(british, EventKind.Purchase), p => p.Blocks);
    }

    [Theory]
    [InlineData(EventKind.Enquiry, "en", "Somebody bought a mug", true)]
    [InlineData(EventKind.Enquiry, "en", "Somebody asked for a quote", false)]
    [InlineData(EventKind.Own, "en", "Somebody bought a mug", true)]
    [InlineData(EventKind.Own, "en", "Somebody fired a kiln", false)]
    [InlineData(EventKind.SignUp, "it", "Qualcuno ha comprato una tazza", true)]
    [InlineData(EventKind.SignUp, "pt", "Alguém comprou uma caneca", true)]
    [InlineData(EventKind.SignUp, "ja", "どなたかが購入しました", true)]
    [InlineData(EventKind.Purchase, "ja", "どなたかが購入しました", false)]
    [InlineData(EventKind.SignUp, "ar", "شخص اشترى كوبًا", true)]
    public void Verbs_are_checked_for_every_kind_and_shipped_language(
        EventKind kind,
        string language,
        string message,
        bool contradicts
    ) =>
        Assert.Equal(
            contradicts,
            Say(Saying(CalloutKind.Moment, kind, message), kind, SiteContext.Nothing with { Language = language })
                .Any(p => p.Message.Contains("is not what is counted", StringComparison.Ordinal))
        );

    [Fact]
    public void Verbs_are_known_in_every_shipped_language() =>
        Assert.Equal(BuiltInWords.Languages.Order(), VerbCheck.Languages.Order());

    [Fact]
    public void Purchases_of_a_category_may_be_called_bookings()
    {
        var brief = Saying(CalloutKind.Moment, EventKind.Purchase, "Somebody booked a workshop");
        bool Contradicts(Brief b) =>
            Say(b, EventKind.Purchase).Any(p => p.Message.Contains("is not what", StringComparison.Ordinal));
        Assert.True(Contradicts(brief));
        var workshops = new FieldCondition("category", Comparison.Is, "Workshops");
        Assert.False(Contradicts(brief with { From = brief.From with { Conditions = [workshops] } }));
    }

    [Theory]
    [InlineData("The countdown is on: {{ code }}", false)]
    [InlineData("Only {{ countdown }} left", true)]
    public void Countdown_blocks_as_a_token_and_not_as_a_word(string message, bool blocks) =>
        Assert.Equal(blocks, Say(Saying(CalloutKind.Notice, EventKind.Own, message), EventKind.Own).Any(p => p.Blocks));

    [Theory]
    [InlineData("{{ number }} person signed up", "person")]
    [InlineData("**{{ number }}** people signed up", null)]
    [InlineData("{{ number }} bought this", null)]
    [InlineData("**{{ number }}** {{ number | plural: one: \"person\", other: \"people\" }} signed up", null)]
    public void A_noun_that_does_not_follow_its_number_is_told(string message, string? noun)
    {
        var told = Say(Saying(CalloutKind.Tally, EventKind.SignUp, message), EventKind.SignUp)
            .Where(p => p.Message.Contains("follow the number", StringComparison.Ordinal))
            .ToList();
        Assert.Equal(noun is null ? 0 : 1, told.Count);
        if (noun is not null)
            Assert.StartsWith($"\"{noun}\"", told[0].Message, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("Hello {{ name", "not closed")]
    [InlineData("Hello {{ name | }}", "cannot be read")]
    [InlineData("Hello {{ 'x }}", "cannot be read")]
    public void What_cannot_be_read_is_told_in_our_words(string message, string words)
    {
        Assert.Null(MessageTemplate.TryParse(message, out var error));
        Assert.Contains(words, error, StringComparison.Ordinal);
        Assert.DoesNotContain("(1:", error, StringComparison.Ordinal);
    }
}
