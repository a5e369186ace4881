using CsCheck;
using Outcry.Core.Pages;

namespace Outcry.Core.Tests;

public sealed class PagePatternTests
{
    [Theory]
    [InlineData("/shop", "https://pots.example/shop", true)]
    [InlineData("/shop", "https://pots.example/Shop/", true)]
    [InlineData("/shop", "https://pots.example/shop/mug", false)]
    [InlineData("/", "https://pots.example", true)]
    [InlineData("/", "https://pots.example/shop", false)]
    [InlineData("/journal/*", "https://pots.example/journal/first-hour", true)]
    [InlineData("/journal/*", "https://pots.example/journal", false)]
    [InlineData("/journal/*", "https://pots.example/journal/a/b", false)]
    [InlineData("/journal/**", "https://pots.example/journal", true)]
    [InlineData("/journal/**", "https://pots.example/journal/a/b", true)]
    [InlineData("/journal/**", "https://pots.example/journals", false)]
    [InlineData("/journal/first-hour-*", "https://pots.example/journal/first-hour-wheel", true)]
    [InlineData("/**/thank-you", "https://pots.example/checkout/thank-you", true)]
    [InlineData("/**/thank-you", "https://pots.example/thank-you", true)]
    [InlineData("/a/**/z", "https://pots.example/a/b/c/z", true)]
    [InlineData("pots.example/shop", "https://www.pots.example/shop", true)]
    [InlineData("other.example/shop", "https://pots.example/shop", false)]
    [InlineData("*.pots.example/shop", "https://sale.pots.example/shop", true)]
    [InlineData("b\u00fccher.example/shop", "https://xn--bcher-kva.example/shop", true)]
    [InlineData("*.b\u00fccher.example/shop", "https://sale.xn--bcher-kva.example/shop", true)]
    [InlineData("b\u00fccher.example:5081/shop", "http://xn--bcher-kva.example:5081/shop", true)]
    [InlineData("localhost:5081/shop", "http://localhost:5081/shop", true)]
    [InlineData("/shop?sale", "https://pots.example/shop?sale=1", true)]
    [InlineData("/shop?sale=1", "https://pots.example/shop?SALE=1&x=2", true)]
    [InlineData("/shop?sale=1", "https://pots.example/shop?sale=2", false)]
    [InlineData("/shop", "https://pots.example/shop?anything#there", true)]
    [InlineData("/caf%C3%A9", "https://pots.example/café", true)]
    [InlineData("https://pots.example/shop", "http://pots.example/shop", true)]
    public void Means_the_pages_it_says(string pattern, string address, bool matches)
    {
        var page = PageAddress.TryParse(address)!;
        Assert.Equal(matches, PagePattern.Parse(pattern).Matches(page));
        Assert.Equal(matches, new PageIndex([PageRule.Parse([pattern], [])]).RulesShowing(page).Count == 1);
    }

    [Theory]
    [InlineData("")]
    [InlineData("   ")]
    [InlineData("/a b")]
    [InlineData("/a**b")]
    [InlineData("shop")]
    [InlineData("*/shop")]
    [InlineData("/**/a/**/b/**/c/**")]
    public void Refuses_nonsense_with_a_sentence(string pattern)
    {
        Assert.Null(PagePattern.TryParse(pattern, out var error));
        Assert.EndsWith(".", error, StringComparison.Ordinal);
    }

    [Fact]
    public void Refuses_a_pattern_that_is_too_long() =>
        Assert.Null(PagePattern.TryParse("/" + new string('a', PagePattern.MaxLength), out _));

    [Theory]
    [InlineData("/shop", PatternReach.Exact)]
    [InlineData("/shop/*", PatternReach.OneLevel)]
    [InlineData("/shop/**", PatternReach.AnyDepth)]
    public void Knows_how_far_it_reaches(string pattern, PatternReach reach) =>
        Assert.Equal(reach, PagePattern.Parse(pattern).Reach);

    [Fact]
    public void Excludes_win_and_no_include_means_every_page()
    {
        var page = PageAddress.TryParse("https://pots.example/shop/mug")!;
        Assert.True(PageRule.Everywhere.Decide(page).Shown);
        Assert.False(PageRule.Parse(["/shop/*"], ["/shop/mug"]).Decide(page).Shown);
        Assert.Equal("/shop/mug", PageRule.Parse(["/shop/*"], ["/shop/mug"]).Decide(page).Decider!.Text);
        Assert.Equal("/shop/*", PageRule.Parse(["/a", "/shop/*"], []).Decide(page).Decider!.Text);
    }

    private static readonly Gen<string> Segment = Samples.OneOf("a", "b", "ab", "*", "a*", "*b", "**");

    private static readonly Gen<string> Pattern = Segment.Array[0, 4].Select(s => "/" + string.Join('/', s));

    private static readonly Gen<PageAddress> Page = Samples
        .OneOf("a", "b", "ab", "aab", "c")
        .Array[0, 5]
        .Select(s => PageAddress.TryAt("pots.example", "/" + string.Join('/', s))!);

    [Fact]
    public void The_index_agrees_with_each_rule_asked_alone() =>
        Gen.Select(Gen.Select(Pattern.Array[0, 3], Pattern.Array[0, 2]).Array[1, 12], Page)
            .Where(
                (rules, page) =>
                    rules.All(r => r.Item1.Concat(r.Item2).All(p => PagePattern.TryParse(p, out _) is not null))
            )
            .Sample(
                (rules, page) =>
                {
                    var parsed = rules.Select(r => PageRule.Parse(r.Item1, r.Item2)).ToList();
                    var alone = parsed.Select((r, i) => (r, i)).Where(x => x.r.Decide(page).Shown).Select(x => x.i);
                    return alone.SequenceEqual(new PageIndex(parsed).RulesShowing(page));
                }
            );

    [Fact]
    public void A_page_that_many_patterns_may_still_fit_counts_once_for_each()
    {
        // Each of these is still possible after every segment, and its "**" is come by in two ways.
        var rules = Enumerable
            .Range(0, 40)
            .Select(i => PageRule.Parse([$"/**/a{new string('*', i % 2)}/**", $"/**/{i}/**", "/*a/**"], []))
            .ToList();
        var index = new PageIndex(rules);
        Assert.Equal(Enumerable.Range(0, 40), index.RulesShowing(PageAddress.TryAt("pots.example", "/a/a/a/a")!));
        Assert.Equal([7], index.RulesShowing(PageAddress.TryAt("pots.example", "/b/7/b")!));
    }

    [Fact]
    public void A_pasted_address_becomes_a_pattern_without_tracking_parameters()
    {
        var read = PastedAddress.Read("https://pots.example/Shop/Mug?utm_source=letter&size=2#top", ["pots.example"]);
        Assert.Equal("/shop/mug?size=2", read.Pattern);
        Assert.Contains("utm_source", read.Hint, StringComparison.Ordinal);
        Assert.Equal("other.example/a", PastedAddress.Read("https://other.example/a", ["pots.example"]).Pattern);
        Assert.Null(PastedAddress.Read("/shop/*", ["pots.example"]).Hint);
    }

    [Theory]
    [InlineData("ftp://pots.example/")]
    [InlineData("javascript:alert(1)")]
    [InlineData("/shop")]
    [InlineData("")]
    public void An_address_that_is_no_page_is_not_read(string address) => Assert.Null(PageAddress.TryParse(address));

    [Theory]
    [InlineData("/find?q=blue+mug", "/find?q=blue%20mug", true)]
    [InlineData("/find?q=blue+mug", "/find?q=blue+mug", true)]
    [InlineData("?q=blue+mug", "/find?q=blue+mug", true)]
    [InlineData("?q=blue+mug", "/find/it?q=red", false)]
    [InlineData("?q", "/", false)]
    [InlineData("?q", "/?q=1", true)]
    public void A_plus_in_a_query_is_a_space_and_a_condition_alone_is_for_every_page(
        string pattern,
        string page,
        bool fits
    ) => Assert.Equal(fits, PagePattern.Parse(pattern).Matches(PageAddress.TryAt("pots.example", page)!));
}
