using System.Collections.Immutable;
using Outcry.Core.Pages;
using Outcry.Core.Publishing;
using static Outcry.Core.Publishing.DefinitionMove;
using static Outcry.Core.Publishing.DefinitionState;

namespace Outcry.Core.Tests;

/// <summary>What a site may be held to, and what its definitions share.</summary>
public sealed class HouseRulesTests
{
    private static HouseRules Start => HouseRules.Start;

    private static string? Objection(HouseRules rules, string field)
    {
        var found = HouseRulesCheck.Check(rules);
        Assert.All(found, p => Assert.Equal((field, true), (p.Field, p.Blocks)));
        return found.SingleOrDefault()?.Message;
    }

    [Fact]
    public void The_calm_start_is_one_at_once_ten_seconds_apart_six_a_visit()
    {
        Assert.Equal((1, 10, 6, 20), (Start.MostAtOnce, Start.GapSeconds, Start.MostPerVisit, Start.PatienceSeconds));
        Assert.Empty(Start.QuietPages);
        Assert.False(Start.NeedsConsent);
        Assert.Empty(HouseRulesCheck.Check(Start));
    }

    [Theory]
    [InlineData("mostAtOnce", 1, 5, "Between 1 and 5 callouts on screen at once.")]
    [InlineData("gapSeconds", 0, 600, "Between 0 and 600 seconds between two callouts.")]
    [InlineData("mostPerVisit", 1, 100, "Between 1 and 100 callouts in a visit.")]
    [InlineData("patienceSeconds", 0, 600, "Between 0 and 600 seconds of patience.")]
    public void A_number_may_be_at_either_end_and_not_beyond(string field, int least, int most, string objection)
    {
        HouseRules With(int number) =>
            field switch
            {
                "mostAtOnce" => Start with { MostAtOnce = number },
                "gapSeconds" => Start with { GapSeconds = number },
                "mostPerVisit" => Start with { MostPerVisit = number },
                _ => Start with { PatienceSeconds = number },
            };
        Assert.Null(Objection(With(least), field));
        Assert.Null(Objection(With(most), field));
        Assert.Equal(objection, Objection(With(least - 1), field));
        Assert.Equal(objection, Objection(With(most + 1), field));
    }

    [Fact]
    public void Quiet_pages_are_patterns_and_not_too_many()
    {
        var many = Enumerable.Range(0, 100).Select(i => $"/page-{i}").ToList();
        Assert.Null(Objection(Start with { QuietPages = many }, "quietPages"));
        Assert.Equal(
            "At most 100 patterns of quiet pages.",
            Objection(Start with { QuietPages = [.. many, "/one-more"] }, "quietPages")
        );
        var objection = Objection(Start with { QuietPages = ["/shop", "shop or not"] }, "quietPages");
        Assert.StartsWith("shop or not: ", objection, StringComparison.Ordinal);
        Assert.True(objection!.Length > "shop or not: ".Length);
    }

    [Theory]
    [InlineData("#cookies", null)]
    [InlineData(" .notice > button ", null)]
    [InlineData("   ", null)]
    [InlineData("<div>", "Write a selector such as #cookies or .notice, not markup or styles.")]
    [InlineData("div { color: red", "Write a selector such as #cookies or .notice, not markup or styles.")]
    [InlineData("div }", "Write a selector such as #cookies or .notice, not markup or styles.")]
    [InlineData("#", "\"#\" is no selector that a browser can read. Write one such as #cookies or .notice.")]
    public void A_selector_can_be_read_by_a_browser(string selector, string? objection)
    {
        Assert.Equal(objection, Objection(Start with { ConsentNotice = selector }, "consentNotice"));
        Assert.Equal(objection, Objection(Start with { KeepClear = selector }, "keepClear"));
    }

    [Fact]
    public void A_selector_has_at_most_300_characters()
    {
        Assert.Null(Objection(Start with { KeepClear = $"#{new string('a', 299)}" }, "keepClear"));
        Assert.Equal(
            "A selector has at most 300 characters.",
            Objection(Start with { KeepClear = $"#{new string('a', 300)}" }, "keepClear")
        );
    }

    [Fact]
    public void The_first_quiet_pattern_that_means_a_page_is_named()
    {
        var rules = Start with { QuietPages = ["/checkout/*", "/check*", "/legal"] };
        PageAddress At(string path) => PageAddress.TryAt("pots.example", path)!;
        Assert.Equal("/checkout/*", rules.QuietBy(At("/checkout/pay"))?.Text);
        Assert.Null(rules.QuietBy(At("/shop")));
    }

    [Theory]
    [InlineData(Archived, Publish, "It is archived. Restore it first, then publish.")]
    [InlineData(Archived, Pause, "Only what is live can be paused.")]
    [InlineData(Draft, Resume, "Only what is paused can be resumed.")]
    [InlineData(Live, Restore, "It is not archived.")]
    public void A_refused_move_says_what_to_do(DefinitionState from, DefinitionMove move, string sentence) =>
        Assert.Equal(new MoveAnswer(from, sentence), DefinitionLife.Decide(from, move, wasPublished: true));

    [Fact]
    public void What_is_live_is_archived_in_one_act() =>
        Assert.Equal(new MoveAnswer(Archived), DefinitionLife.Decide(Live, Archive, wasPublished: true));

    [Fact]
    public void A_sites_own_words_are_those_of_the_longest_tag()
    {
        static IReadOnlyDictionary<string, string> Words(string close) =>
            ImmutableDictionary<string, string>.Empty.Add("close", close);
        var context = SiteContext.Nothing with
        {
            OwnWords = ImmutableDictionary<string, IReadOnlyDictionary<string, string>>
                .Empty.Add("de", Words("Zu"))
                .Add("de-CH", Words("Zue")),
        };
        Assert.Equal("Zue", context.WordsOf("de-CH")?["close"]);
        Assert.Equal("Zu", context.WordsOf("de-AT")?["close"]);
        Assert.Null(context.WordsOf("fr"));
        Assert.Null(SiteContext.Nothing.WordsOf("en"));
    }

    [Fact]
    public void What_draft_and_publication_name_is_joined()
    {
        var (a, b) = (Guid.NewGuid(), Guid.NewGuid());
        var one = References.None with
        {
            Segments = new HashSet<Guid> { a },
            Pictures = new HashSet<string> { "/p/1" },
        };
        var other = References.None with
        {
            Segments = new HashSet<Guid> { b },
            PageGroups = new HashSet<Guid> { a },
            Sources = new HashSet<Guid> { b },
            Pictures = new HashSet<string> { "/P/1" },
        };
        var all = References.Join([one, other]);
        Assert.Equal(new HashSet<Guid> { a, b }, all.Segments);
        Assert.Equal([a], all.PageGroups);
        Assert.Equal([b], all.Sources);
        Assert.Equal(2, all.Pictures.Count);
        Assert.Empty(References.Join([]).Segments);
    }

    [Fact]
    public void A_hint_stands_in_nobodys_way()
    {
        Assert.False(Problem.Hint("say.message", "It is long.").Blocks);
        Assert.True(new Problem("say.message", "It is missing.").Blocks);
    }
}
