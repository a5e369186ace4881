using Outcry.Core.Saying;

namespace Outcry.Core.Tests;

/// <summary>What a message reads like when some of its tokens have no value.</summary>
public sealed class EmptyTokensTests
{
    private static IReadOnlyList<Span> Spans(
        string message,
        string language,
        params (string Token, string Value)[] known
    )
    {
        var template = MessageTemplate.TryParse(message, out var error);
        Assert.True(template is not null, error);
        return template.Render(known.ToDictionary(k => k.Token, k => k.Value), Voice.Of(language, []));
    }

    private static string Say(string message, string language, params (string Token, string Value)[] known) =>
        string.Concat(Spans(message, language, known).Select(s => s.Text));

    private static string Noor(string message, string language = "en") => Say(message, language, ("name", "Noor H."));

    [Theory]
    [InlineData("en", "{{ name }} from {{ city }} bought a mug", "Noor H. bought a mug")]
    [InlineData("en", "{{ name }} in {{ city }} bought a mug", "Noor H. bought a mug")]
    [InlineData("en", "{{ name }} bought a mug out of {{ city }}.", "Noor H. bought a mug.")]
    [InlineData("de", "{{ name }} aus {{ city }} hat einen Becher gekauft", "Noor H. hat einen Becher gekauft")]
    [InlineData("de", "Gekauft in der Nähe von {{ city }}!", "Gekauft!")]
    [InlineData("fr", "{{ name }} de {{ city }} a acheté un bol", "Noor H. a acheté un bol")]
    [InlineData("fr", "{{ name }} près d’{{ city }} a acheté un bol", "Noor H. a acheté un bol")]
    [InlineData("es", "{{ name }} cerca de {{ city }} compró un cuenco", "Noor H. compró un cuenco")]
    [InlineData("nl", "{{ name }} uit {{ city }} kocht een mok", "Noor H. kocht een mok")]
    [InlineData("it", "{{ name }} dall’{{ city }} ha comprato una tazza", "Noor H. ha comprato una tazza")]
    [InlineData("pt", "{{ name }} do {{ city }} comprou uma caneca", "Noor H. comprou uma caneca")]
    [InlineData("ja", "{{ city }}の{{ name }}さんが購入しました", "Noor H.さんが購入しました")]
    [InlineData("ar", "{{ name }} من {{ city }} اشترى كوبًا", "\u2068Noor H.\u2069 اشترى كوبًا")]
    public void A_joining_word_goes_with_its_token(string language, string message, string said) =>
        Assert.Equal(said, Noor(message, language));

    [Theory]
    [InlineData("{{ name }}, {{ city }}, bought a mug", "Noor H. bought a mug")]
    [InlineData("{{ name }} ({{ city }}) bought a mug", "Noor H. bought a mug")]
    [InlineData("{{ name }} – {{ city }}", "Noor H.")]
    [InlineData("{{ city }}: {{ name }} bought", "Noor H. bought")]
    [InlineData("{{ city }}, {{ name }}", "Noor H.")]
    [InlineData("from {{ city }}, {{ name }}", "from Noor H.")]
    [InlineData("{{ name }} from {{ city }}, {{ country }}", "Noor H.")]
    [InlineData("{{ name }}, {{ city }}", "Noor H.")]
    [InlineData("Thank you, {{ city }}!", "Thank you!")]
    [InlineData("Said “{{ words }}” today", "Said today")]
    [InlineData("{{ name }} · {{ city }} · {{ product }}", "Noor H.")]
    [InlineData("Hello {{ city }}.", "Hello.")]
    [InlineData("Sold. {{ city }}. Gone.", "Sold. Gone.")]
    [InlineData("{{ number }} people bought", "People bought")]
    [InlineData("See [{{ product }}](https://pots.example/) now", "See now")]
    [InlineData("{{ name }}\n{{ city }}", "Noor H.")]
    public void Stops_and_brackets_go_with_their_token(string message, string said) =>
        Assert.Equal(said, Noor(message));

    [Theory]
    [InlineData("**{{ number }} people** bought", "people", true)]
    [InlineData("**people {{ number }}** bought", "people", true)]
    [InlineData("**{{ number }}** people bought", "people", false)]
    public void No_stars_are_left_over(string message, string word, bool bold)
    {
        var spans = Spans(message, "en");
        var said = string.Concat(spans.Select(s => s.Text));
        Assert.DoesNotContain("*", said, StringComparison.Ordinal);
        Assert.Equal("people bought", said, ignoreCase: true);
        Assert.Contains(spans, s => s.Text.Contains(word, StringComparison.OrdinalIgnoreCase) && s.Bold == bold);
    }

    [Fact]
    public void Emphasis_beside_emphasis_keeps_its_space() =>
        Assert.Equal(
            "Noor H. Mug",
            Say("**{{ name }}** **{{ product }}**", "en", ("name", "Noor H."), ("product", "Mug"))
        );

    [Theory]
    [InlineData("Merci !")]
    [InlineData("Merci ! À bientôt ?")]
    [InlineData("Tasse : « bleue » ; lot de 2")]
    public void What_the_author_spaced_stays_spaced(string message) => Assert.Equal(message, Say(message, "fr"));

    [Fact]
    public void A_space_before_a_stop_is_kept_where_the_author_set_one()
    {
        Assert.Equal("Merci !", Say("Merci {{ name }} !", "fr"));
        Assert.Equal("Merci!", Say("Merci {{ name }}!", "fr"));
    }

    [Theory]
    [InlineData("**{{ name }}**さんが**{{ product }}**を購入しました", "ノア。さんが「花瓶」を購入しました")]
    [InlineData("**「花瓶」**を購入しました", "「花瓶」を購入しました")]
    [InlineData("**{{ name }}**様", "ノア。様")]
    public void No_stars_stray_beside_scripts_without_spaces(string message, string said) =>
        Assert.Equal(said, Say(message, "ja", ("name", "ノア。"), ("product", "「花瓶」")));

    [Fact]
    public void A_value_of_two_words_stays_within_its_link()
    {
        var spans = Spans(
            "[{{ product }}](https://pots.example/find?q={{ product }})",
            "en",
            ("product", "Blue & mug")
        );
        Assert.Equal(
            new Span("Blue & mug", Link: "https://pots.example/find?q=Blue%20%26%20mug"),
            Assert.Single(spans)
        );
        Assert.Null(Assert.Single(Spans("[x]({{ product }})", "en", ("product", "javascript:alert(1)"))).Link);
    }

    [Fact]
    public void Plus_marks_underline() =>
        Assert.Equal(
            [new Span("Only "), new Span("today", Underlined: true), new Span(" at C++")],
            Spans("Only ++today++ at C++", "en")
        );

    [Fact]
    public void Values_are_never_read_as_markup()
    {
        foreach (
            var hostile in (string[])
                ["**b**", "[x](https://evil.example)", "# h", "1. x", "a\nb", "++u++", "\uE000\uE001"]
        )
            Assert.Equal(
                hostile.Replace('\n', ' '),
                Assert.Single(Spans("{{ name }}", "en", ("name", hostile))).Text.Trim('\u2068', '\u2069')
            );
    }

    [Fact]
    public void Private_use_characters_of_an_author_stand_for_nothing() =>
        Assert.Equal("Mug", Say("\uE000Mug\uE001", "en"));
}
