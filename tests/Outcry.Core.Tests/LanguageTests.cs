using System.Globalization;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Claims;
using Outcry.Core.Evidence;
using Outcry.Core.Saying;
using Outcry.Core.Visitors;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

/// <summary>Plural forms, times, numbers and built-in words in the languages visitors read.</summary>
public sealed class LanguageTests
{
    // Samples of the Unicode CLDR itself, cardinal rules.
    [Theory]
    [InlineData("en", 0, PluralClass.Other)]
    [InlineData("en", 1, PluralClass.One)]
    [InlineData("en-GB", 2, PluralClass.Other)]
    [InlineData("fr", 0, PluralClass.One)]
    [InlineData("fr", 1, PluralClass.One)]
    [InlineData("fr", 1000000, PluralClass.Many)]
    [InlineData("ja", 1, PluralClass.Other)]
    [InlineData("ar", 0, PluralClass.Zero)]
    [InlineData("ar", 1, PluralClass.One)]
    [InlineData("ar", 2, PluralClass.Two)]
    [InlineData("ar", 103, PluralClass.Few)]
    [InlineData("ar", 111, PluralClass.Many)]
    [InlineData("ar", 100, PluralClass.Other)]
    [InlineData("pl", 1, PluralClass.One)]
    [InlineData("pl", 23, PluralClass.Few)]
    [InlineData("pl", 12, PluralClass.Many)]
    [InlineData("ru", 21, PluralClass.One)]
    [InlineData("ru", 11, PluralClass.Many)]
    [InlineData("lt", 9, PluralClass.Few)]
    [InlineData("cy", 3, PluralClass.Few)]
    [InlineData("cy", 6, PluralClass.Many)]
    [InlineData("xx", 1, PluralClass.Other)]
    public void A_number_takes_the_class_that_its_language_gives_it(string language, int number, PluralClass plural) =>
        Assert.Equal(plural, PluralRule.For(language, number));

    [Fact]
    public void Every_languages_rules_can_be_read()
    {
        foreach (var language in PluralRule.Languages)
            Assert.Equal(PluralClass.Other, PluralRule.ClassesOf(language)[^1]);
        Assert.True(PluralRule.Languages.Count > 200);
    }

    [Theory]
    [InlineData("{{ number }} {{ number | plural: one: \"person\", other: \"people\" }}", "en", 1, "1 person")]
    [InlineData("{{ number }} {{ number | plural: one: \"person\", other: \"people\" }}", "en", 1204, "1,204 people")]
    [InlineData(
        "{{ number | plural: one: \"شخص واحد\", two: \"شخصان\", few: \"# أشخاص\", other: \"# شخص\" }}",
        "ar",
        2,
        "شخصان"
    )]
    [InlineData("{{ number | plural: one: \"Mensch\", other: \"# Menschen\" }}", "de", 1204, "1.204 Menschen")]
    [InlineData("{{ number | plural: one: \"a\", other: \"b\" }} of {{ missing | default: \"c\" }}", "en", 5, "b of c")]
    public void A_noun_takes_the_form_of_its_number(string message, string language, int number, string said)
    {
        var voice = Voice.Of(language, [language]);
        var values = new TokenValues();
        values.SetNumber("number", number, Figures.Number(number, voice.Culture));
        var spans = MessageTemplate.TryParse(message, out _)!.Render(values, voice);
        Assert.Equal(said, string.Concat(spans.Select(s => s.Text)));
    }

    [Theory]
    [InlineData("en", 12, "12 minutes ago")]
    [InlineData("de", 60, "vor 1 Stunde")]
    [InlineData("de", 3 * 24 * 60, "vor 3 Tagen")]
    [InlineData("fr", 12, "il y a 12 minutes")]
    [InlineData("es", 2 * 60, "hace 2 horas")]
    [InlineData("nl", 24 * 60, "1 dag geleden")]
    [InlineData("ja", 5, "5 分前")]
    [InlineData("ar", 120, "قبل ساعتين")]
    [InlineData("sv", 12, "12 minutes ago")]
    public void Ages_are_said_in_the_language_of_the_words(string language, int minutes, string said) =>
        Assert.Equal(said, RelativeTime.Ago(Duration.FromMinutes(minutes), Voice.Of(language, [])));

    [Theory]
    [InlineData(0.5, "Today")]
    [InlineData(3, "This week")]
    [InlineData(30, "Recently")]
    public void Rough_ages_give_no_pace_away(double days, string said) =>
        Assert.Equal(said, RelativeTime.Rough(Duration.FromDays(days), Voice.English, capital: true));

    [Theory]
    [InlineData("en", 16, "in the last 16 hours")]
    [InlineData("de", 49, "in den letzten 3 Tagen")]
    [InlineData("fr", 16, "dans les 16 dernières heures")]
    [InlineData("ja", 16, "この16時間に")]
    [InlineData("ar", 48, "في آخر يومين")]
    public void Spans_are_said_in_the_language_of_the_words(string language, int hours, string said) =>
        Assert.Equal(said, SpanPhrase.SayWithin(Duration.FromHours(hours), null, Voice.Of(language, [])));

    [Fact]
    public void Every_built_in_word_is_there_in_every_shipped_language()
    {
        foreach (var required in (string[])["en", "de", "fr", "es", "nl", "ja", "ar"])
            Assert.Contains(required, BuiltInWords.Languages);
        foreach (var language in BuiltInWords.Languages)
        foreach (var word in Enum.GetValues<BuiltInWord>())
            Assert.NotEmpty(BuiltInWords.Say(Voice.Of(language, []), word));
    }

    [Fact]
    public void A_site_may_replace_a_built_in_word()
    {
        var voice = Voice.Of("en", [], new Dictionary<string, string> { ["close"] = "Not now" });
        Assert.Equal("Not now", BuiltInWords.Say(voice, BuiltInWord.Close));
        Assert.Equal("Why this?", BuiltInWords.Say(voice, BuiltInWord.Why));
    }

    [Theory]
    [InlineData("de-AT,en", "Auf Deutsch")]
    [InlineData("pt-BR,de", "Brasil")]
    [InlineData("pt-PT", "In English")]
    [InlineData("sv,en-US", "In English")]
    [InlineData("", "In English")]
    public void A_visitor_reads_the_first_of_their_languages_that_is_there(string languages, string said)
    {
        var brief = StarterBrief.For(CalloutKind.Notice, EventKind.Own, []);
        brief = brief with
        {
            Say = brief.Say with
            {
                Message = "In English",
                Translations = [new Wording("de", "Auf Deutsch", "", ""), new Wording("pt-BR", "Brasil", "", "")],
            },
        };
        var facts = VisitorFacts.Unknown with
        {
            Languages = languages.Split(',', StringSplitOptions.RemoveEmptyEntries),
        };
        Assert.Equal(said, Assert.Single(Explain(Site([Live("a", brief)]), facts: facts).Armed).Turns[0].Text);
    }

    [Fact]
    public void Numbers_are_written_as_the_reader_writes_them_within_the_language_of_the_words()
    {
        Assert.Equal("1.204", Figures.Number(1204, Voice.Of("de", ["de-DE"]).Culture));
        Assert.Equal("1’204", Figures.Number(1204, Voice.Of("de", ["de-CH", "fr"]).Culture));
        // German words for an English reader keep German figures.
        Assert.Equal("1.204", Figures.Number(1204, Voice.Of("de", ["en-GB"]).Culture));
        Assert.Equal("1,204", Figures.Number(1204, Voice.Of("en", ["not a tag!"]).Culture));
    }

    [Fact]
    public void Money_keeps_its_currency_and_takes_the_readers_places()
    {
        var german = CultureInfo.GetCultureInfo("de-DE");
        Assert.Equal("1.204,50\u00A0€", Figures.Money(1204.5m, "EUR", german));
        Assert.Equal("£28.00", Figures.Money(28, "GBP", CultureInfo.GetCultureInfo("en-GB")));
        Assert.Equal("28\u00A0SEK", Figures.Money(28, "SEK", CultureInfo.InvariantCulture, whole: true));
        Assert.Equal("14:05", Figures.Clock(new LocalTime(14, 5), twelveHours: false, german));
        Assert.Equal("2:05 PM", Figures.Clock(new LocalTime(14, 5), twelveHours: true, CultureInfo.InvariantCulture));
    }

    [Theory]
    [InlineData("{{ number }} people bought this", "en", Claim.Looked, "bought")]
    [InlineData("{{ number }} people looked at this", "en", Claim.Looked, null)]
    [InlineData("{{ number }} visitors who bought", "en", Claim.Bought, null)]
    [InlineData("{{ number | plural: one: \"Kunde\", other: \"Kunden\" }}", "de", Claim.Looked, "Kunden")]
    [InlineData("{{ bought }} is a token", "en", Claim.Looked, null)]
    [InlineData("何人か", "ja", Claim.Looked, null)]
    public void Words_that_claim_what_is_not_counted_are_found(
        string message,
        string language,
        Claim counted,
        string? word
    ) => Assert.Equal(word, VerbCheck.Contradiction(message, language, [counted])?.Word);

    [Fact]
    public void A_count_of_looks_worded_as_purchases_is_pointed_out_and_does_not_block()
    {
        var brief = StarterBrief.For(CalloutKind.Tally, EventKind.Purchase, []);
        brief = brief with { From = brief.From with { Measure = Measure.PageViews } };
        var problem = Assert.Single(BriefCheck.Problems(brief, []));
        Assert.False(problem.Blocks);
        Assert.Contains("\"bought\" is not what is counted here", problem.Message, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("/shop", "/shop?utm_source=onsite&utm_medium=callout&utm_campaign=kiln%20week")]
    [InlineData(
        "https://a.example/x?y=1#z",
        "https://a.example/x?y=1&utm_source=onsite&utm_medium=callout&utm_campaign=kiln%20week#z"
    )]
    [InlineData("/a?utm_source=mine", "/a?utm_source=mine&utm_medium=callout&utm_campaign=kiln%20week")]
    [InlineData("mailto:a@b.example", "mailto:a@b.example")]
    [InlineData("#below", "#below")]
    public void Links_carry_the_campaign_once(string link, string marked) =>
        Assert.Equal(marked, CampaignLink.Mark(link, "kiln week"));
}
