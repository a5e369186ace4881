using CsCheck;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Saying;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

public sealed class SayingTests
{
    private const int Day = 24 * 60;

    private static string Text(IEnumerable<Span> spans) => string.Concat(spans.Select(s => s.Text));

    private static IReadOnlyList<Span> Render(string message, params (string, string)[] values) =>
        MessageTemplate.TryParse(message, out var error)?.Render(values.ToDictionary(v => v.Item1, v => v.Item2))
        ?? throw new InvalidOperationException(error);

    [Fact]
    public void Tokens_are_filled_and_marked_text_is_styled()
    {
        var spans = Render(
            "**{{ name }}** bought *{{ product }}*, [look](/shop)",
            ("name", "Noor H."),
            ("product", "a mug")
        );
        Assert.Equal(
            [
                new Span("Noor H.", Bold: true),
                new Span(" bought "),
                new Span("a mug", Italic: true),
                new Span(", "),
                new Span("look", Link: "/shop"),
            ],
            spans
        );
    }

    [Fact]
    public void A_fallback_stands_where_a_value_is_missing_or_empty()
    {
        Assert.Equal("Someone bought", Text(Render("{{ name | default: \"Someone\" }} bought")));
        Assert.Equal("Someone bought", Text(Render("{{ name | default: \"Someone\" }} bought", ("name", ""))));
    }

    [Fact]
    public void An_empty_token_leaves_no_gap_behind()
    {
        Assert.Equal("Noor bought a mug", Text(Render("Noor {{ from_place }} bought a mug")));
        Assert.Equal("Noor bought a mug.", Text(Render("Noor bought a mug {{ from_place }}.")));
    }

    [Theory]
    [InlineData("<img src=x onerror=alert(1)>")]
    [InlineData("**bold** [x](javascript:alert(1))")]
    [InlineData("{{ name }} {% include 'x' %}")]
    [InlineData("a & b \\ c `d` # e")]
    [InlineData("&lt;b&gt; &amp;")]
    [InlineData("1. list")]
    [InlineData("- list")]
    [InlineData("two  spaces , and a stop .")]
    public void What_a_name_contains_is_said_as_text(string name)
    {
        var spans = Render("{{ name }} bought", ("name", name));
        Assert.Equal($"{name} bought", Text(spans));
        Assert.All(spans, s => Assert.True(s is { Bold: false, Italic: false, Link: null }));
    }

    [Fact]
    public void Any_name_at_all_is_said_as_text() =>
        Gen.String[Gen.Char[' ', '~'], 1, 40]
            .Select(s => string.Join(' ', s.Split(' ', StringSplitOptions.RemoveEmptyEntries)))
            .Where(s => s.Length > 0)
            .Sample(name => Text(Render("x {{ name }} x", ("name", name))) == $"x {name} x");

    [Theory]
    [InlineData("")]
    [InlineData("{{ name ")]
    [InlineData("{% for i in (1..9) %}x{% endfor %}")]
    public void A_message_that_cannot_be_read_is_refused_with_a_sentence(string message)
    {
        Assert.Null(MessageTemplate.TryParse(message, out var error));
        Assert.NotEmpty(error);
    }

    [Fact]
    public void The_tokens_used_are_known() =>
        Assert.Equal(
            ["name", "product"],
            MessageTemplate.TryParse("{{ name }} {{ product | upcase }} {{ name }}", out _)!.Tokens
        );

    [Theory]
    [InlineData("https://pots.example/a", true)]
    [InlineData("/shop", true)]
    [InlineData("mailto:a@b.example", true)]
    [InlineData("javascript:alert(1)", false)]
    [InlineData("//evil.example", false)]
    [InlineData("/\\evil.example", false)]
    [InlineData("data:text/html,x", false)]
    [InlineData("", false)]
    public void Only_harmless_links_pass(string address, bool passes) =>
        Assert.Equal(passes, SafeLink.TryPass(address) is not null);

    [Theory]
    [InlineData(-5, "just now")]
    [InlineData(59, "just now")]
    [InlineData(60, "1 minute ago")]
    [InlineData(59 * 60 + 59, "59 minutes ago")]
    [InlineData(3600, "1 hour ago")]
    [InlineData(23 * 3600 + 3599, "23 hours ago")]
    [InlineData(24 * 3600, "1 day ago")]
    [InlineData(7 * 24 * 3600, "1 week ago")]
    [InlineData(29 * 24 * 3600, "4 weeks ago")]
    [InlineData(61 * 24 * 3600, "2 months ago")]
    public void An_age_is_said_rounded_down(int seconds, string said) =>
        Assert.Equal(said, RelativeTime.Ago(Duration.FromSeconds(seconds), Voice.English));

    [Theory]
    [InlineData(15 * 60 + 10, 7 * Day, "16 hours")]
    [InlineData(6 * Day + 3 * 60, 7 * Day, "7 days")]
    [InlineData(29 * Day + 5 * 60, 30 * Day, "30 days")]
    [InlineData(28 * Day + 5 * 60, 30 * Day, "29 days")]
    [InlineData(400 * Day, null, "400 days")]
    [InlineData(14 * Day, null, "14 days")]
    [InlineData(16 * 60, null, "16 hours")]
    [InlineData(16 * 60 + 1, null, "17 hours")]
    [InlineData(47 * 60 + 30, 2 * Day, "2 days")]
    [InlineData(119, null, "119 minutes")]
    [InlineData(120, null, "2 hours")]
    [InlineData(48 * 60, null, "2 days")]
    [InlineData(49 * 60 + 50, 50 * 60, "50 hours")]
    [InlineData(1, null, "minute")]
    [InlineData(2, null, "2 minutes")]
    public void A_span_is_rounded_up_and_never_said_longer_than_its_window(int minutes, int? window, string said) =>
        Assert.Equal(
            said,
            SpanPhrase.Say(Duration.FromMinutes(minutes), window is { } w ? Duration.FromMinutes(w) : null)
        );

    [Fact]
    public void A_source_that_hides_names_gives_none_away()
    {
        var hidden = DisplayPolicy.Start with { Name = NameStyle.Hidden, Place = PlaceLevel.None };
        var values = EventTokens.Read(Event(amount: 5), hidden, new PlaceCrowd([]), Now);
        Assert.Equal("", values["name"]);
        Assert.Equal("", values["first_name"]);
        Assert.False(values.ContainsKey(EventTokens.Amount));
    }

    [Fact]
    public void An_initial_only_policy_keeps_the_first_name_back()
    {
        var values = EventTokens.Read(
            Event(),
            DisplayPolicy.Start with
            {
                Name = NameStyle.InitialOnly,
            },
            new PlaceCrowd([]),
            Now
        );
        Assert.Equal(("N.", ""), (values["name"], values["first_name"]));
    }

    [Fact]
    public void Starter_wording_is_known_when_left_as_it_was()
    {
        Assert.All(Enum.GetValues<EventKind>(), k => Assert.True(StarterWording.IsUntouched(StarterWording.For(k))));
        Assert.False(StarterWording.IsUntouched("Somebody bought something"));
    }
}
