using Outcry.Core.Evidence;
using Outcry.Core.Planning;
using Outcry.Core.Saying;
using Outcry.Core.Timing;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

public sealed class BriefCheckTests
{
    private static readonly SourceOffer Offer = new(Source, "Checkout", DisplayPolicy.Start, HasNames: true, []);

    private static IReadOnlyList<BriefProblem> Check(Brief brief, SourceOffer? offer = null) =>
        BriefCheck.Problems(brief, [offer ?? Offer]);

    [Fact]
    public void A_starter_brief_on_a_source_may_go_live() => Assert.Empty(Check(Brief()));

    public static TheoryData<string, Brief> Wrong =>
        new()
        {
            { "from.sources", Brief() with { From = Brief().From with { Sources = [] } } },
            { "from.windowMinutes", Brief() with { From = Brief().From with { WindowMinutes = 0 } } },
            { "from.leastNumber", Brief() with { From = Brief().From with { LeastNumber = 0 } } },
            {
                "from.conditions",
                Brief() with
                {
                    From = Brief().From with { Conditions = [new FieldCondition("category", Comparison.Is, "")] },
                }
            },
            { "say.message", Brief() with { Say = Brief().Say with { Message = "" } } },
            { "say.message", Brief() with { Say = Brief().Say with { Message = "{{ shoe_size }} bought" } } },
            {
                "say.linkAddress",
                Brief() with
                {
                    Say = Brief().Say with { Link = LinkTarget.Address, LinkAddress = "javascript:alert(1)" },
                }
            },
            { "where.includes", Brief() with { Where = Where(["shop"], []) } },
            { "where.excludes", Brief() with { Where = Where([], ["/a**"]) } },
            { "when.triggers", Brief() with { When = When(-1, 1, 12) } },
            { "when.turns", Brief() with { When = When(1, 0, 12) } },
            { "when.turnGapSeconds", Brief() with { When = When(1, 1, 0) } },
            { "howOften.every", Brief() with { HowOften = Often(RepeatUnit.Days, 0, null, 24) } },
            { "howOften.mostVisits", Brief() with { HowOften = Often(RepeatUnit.Visit, 1, 0, 24) } },
            { "howOften.hushHours", Brief() with { HowOften = Often(RepeatUnit.Visit, 1, null, -1) } },
            { "look.band", Brief() with { Look = Brief().Look with { Band = "red" } } },
            { "look.ground", Brief() with { Look = Brief().Look with { Ground = "#FFF" } } },
            { "look.staySeconds", Brief() with { Look = Brief().Look with { StaySeconds = 1 } } },
        };

    [Theory]
    [MemberData(nameof(Wrong))]
    public void Each_fault_blocks_and_names_its_field(string field, Brief brief)
    {
        var problem = Assert.Single(Check(brief), p => p.Blocks);
        Assert.Equal(field, problem.Field);
        Assert.EndsWith(".", problem.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void An_unknown_token_is_answered_with_those_on_offer()
    {
        var problem = Assert.Single(Check(Brief() with { Say = Brief().Say with { Message = "{{ amount }} spent" } }));
        Assert.Contains("product", problem.Message, StringComparison.Ordinal);
        var open = Offer with { Display = DisplayPolicy.Start with { ShowAmount = true } };
        var hint = Assert.Single(
            Check(Brief() with { Say = Brief().Say with { Message = "{{ amount }} spent" } }, open)
        );
        Assert.False(hint.Blocks);
        Assert.Contains("fallback", hint.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_source_without_names_is_mentioned_but_does_not_block() =>
        Assert.False(Assert.Single(Check(Brief(), Offer with { HasNames = false })).Blocks);

    [Theory]
    [InlineData("Somebody just bought {{ product }}", true)]
    [InlineData("{{ product | default: \"just this\" }} was bought", false)]
    [InlineData("An adjusted sentence", false)]
    public void Typed_time_words_are_pointed_out(string message, bool mentioned) =>
        Assert.Equal(
            mentioned,
            Check(Brief() with { Say = Brief().Say with { Message = message } })
                .Any(p => p.Message.Contains("typed", StringComparison.Ordinal))
        );

    [Theory]
    [InlineData("#FFFFFF", Contrast.DarkInk)]
    [InlineData("#000000", Contrast.LightInk)]
    [InlineData("#9C3517", Contrast.LightInk)]
    [InlineData("#FFB81C", Contrast.DarkInk)]
    public void The_ink_is_chosen_for_contrast(string ground, string ink)
    {
        Assert.Equal(ink, Contrast.InkOn(ground));
        Assert.True(Contrast.Ratio(ground, ink) >= Contrast.LeastForText);
    }

    [Fact]
    public void Some_ink_reads_on_every_ground()
    {
        for (var grey = 0; grey < 256; grey++)
        {
            var ground = $"#{grey:X2}{grey:X2}{grey:X2}";
            Assert.True(Contrast.Ratio(ground, Contrast.InkOn(ground)) >= Contrast.LeastForText, ground);
        }
        Assert.Equal(21, Contrast.Ratio("#000000", "#FFFFFF"), 3);
    }
}
