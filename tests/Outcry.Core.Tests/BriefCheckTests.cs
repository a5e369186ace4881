using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

public sealed class BriefCheckTests
{
    private static readonly SourceOffer Offer = new(Source, "Checkout", DisplayPolicy.Start, HasNames: true, []);

    private static IReadOnlyList<Problem> Check(Brief brief, SourceOffer? offer = null) =>
        BriefCheck.Problems(brief, [offer ?? Offer]);

    [Fact]
    public void A_starter_brief_on_a_source_may_go_live() => Assert.Empty(Check(Brief()));

    private static IReadOnlyList<Problem> CheckNow(Brief brief, HouseRules? rules = null) =>
        BriefCheck.Problems(brief, [Offer], null, new CheckMoment(Now, DateTimeZone.Utc, rules ?? HouseRules.Start));

    [Fact]
    public void Dates_that_have_passed_do_not_go_live_and_can_still_be_tried()
    {
        var now = Now.InUtc().LocalDateTime;
        Brief Until(LocalDateTime until) =>
            Brief() with
            {
                When = When(6, 1, 12) with { Schedule = Schedule.Always with { Until = until } },
            };
        var problem = Assert.Single(CheckNow(Until(now.PlusSeconds(-1))));
        Assert.True(problem.Blocks);
        Assert.False(BriefFields.StopsTrying(problem));
        Assert.Empty(CheckNow(Until(now.PlusSeconds(1))));
    }

    [Fact]
    public void A_pause_below_the_gap_of_the_house_is_told()
    {
        var turns = Brief() with { When = When(6, 3, 5) };
        Assert.Contains("10 s apart, not 5", Assert.Single(CheckNow(turns)).Message, StringComparison.Ordinal);
        Assert.Empty(CheckNow(turns, HouseRules.Start with { GapSeconds = 5 }));
        Assert.Empty(CheckNow(turns with { When = When(6, 1, 5) }));
    }

    [Theory]
    [InlineData(new[] { "/shop/**" }, new[] { "/shop/**" }, true)]
    [InlineData(new[] { "/shop/*", "/quote" }, new[] { "/shop/**", "/QUOTE/" }, true)]
    [InlineData(new[] { "/shop/**" }, new[] { "/shop/*" }, false)]
    [InlineData(new[] { "/shop/**" }, new[] { "/shop/mug" }, false)]
    [InlineData(new[] { "/shop/mug" }, new[] { "/shop/**?sale" }, false)]
    [InlineData(new string[0], new[] { "/**" }, true)]
    [InlineData(new string[0], new[] { "/shop/**" }, false)]
    public void Includes_that_leave_themselves_out_are_a_fault(string[] includes, string[] excludes, bool isFault)
    {
        var problems = Check(Brief() with { Where = Where(includes, excludes) });
        Assert.Equal(isFault, problems.Any(p => p is { Field: "where.excludes", Blocks: true }));
    }

    [Theory]
    [InlineData(null, null, CalloutStanding.Live)]
    [InlineData(1, null, CalloutStanding.Scheduled)]
    [InlineData(-2, 1, CalloutStanding.Live)]
    [InlineData(-2, 0, CalloutStanding.Ended)]
    public void What_is_live_is_scheduled_before_its_dates_and_ended_after_them(
        int? from,
        int? until,
        CalloutStanding stands
    )
    {
        var now = Now.InUtc().LocalDateTime;
        LocalDateTime? In(int? hours) => hours is { } h ? now.PlusHours(h) : null;
        var brief = Brief() with
        {
            When = When(6, 1, 12) with { Schedule = Schedule.Always with { From = In(from), Until = In(until) } },
        };
        Assert.Equal(stands, CalloutStandings.Of(DefinitionState.Live, brief, Now, DateTimeZone.Utc));
        Assert.Equal(CalloutStanding.Paused, CalloutStandings.Of(DefinitionState.Paused, brief, Now, DateTimeZone.Utc));
    }

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
        var problem = Assert.Single(
            Check(Brief() with { Say = Brief().Say with { Message = "{{ shoe_size }} wide" } })
        );
        Assert.Contains("Offered are: ", problem.Message, StringComparison.Ordinal);
        Assert.Contains("product", problem.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_field_that_may_not_be_shown_yet_is_answered_with_where_it_is_allowed()
    {
        var own = Offer with { Fields = ["plan"] };
        foreach (var (token, offer) in new[] { ("amount", Offer), ("plan", own) })
        {
            var problem = Assert.Single(
                Check(
                    Brief() with
                    {
                        Say = Brief().Say with { Message = $"{{{{ {token} | default: \"x\" }}}} spent" },
                    },
                    offer
                )
            );
            Assert.True(problem.Blocks);
            Assert.Contains($"\"{token}\" may not be shown yet", problem.Message, StringComparison.Ordinal);
            Assert.Contains("\"Checkout\"", problem.Message, StringComparison.Ordinal);
        }
        var shown = own with { Display = DisplayPolicy.Start with { ShownFields = ["plan"] } };
        Assert.Empty(
            Check(Brief() with { Say = Brief().Say with { Message = "{{ plan | default: \"x\" }} spent" } }, shown)
        );
    }

    [Fact]
    public void A_field_that_some_events_lack_is_warned_of_and_does_not_block()
    {
        var open = Offer with { Display = DisplayPolicy.Start with { ShowAmount = true } };
        var hint = Assert.Single(
            Check(Brief() with { Say = Brief().Say with { Message = "{{ amount }} spent" } }, open)
        );
        Assert.False(hint.Blocks);
        Assert.Contains("empty for some events", hint.Message, StringComparison.Ordinal);
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

    [Theory]
    [InlineData("{{ name | default: someone }} just bought {{ product | default: \"a pot\" }}", "just")]
    [InlineData("{{ name | default: someone }} booked {{ product | default: \"a pot\" }}", "booked")]
    [InlineData("{{ name | default: someone }} bought {{ product }}", "product")]
    public void What_is_said_of_a_word_names_the_word(string message, string word)
    {
        var brief = Brief();
        var problem = Assert.Single(
            BriefCheck.Problems(
                brief with
                {
                    Say = brief.Say with { Message = message },
                },
                [new SourceOffer(Source, "Checkout", DisplayPolicy.Start, HasNames: true, [])],
                SiteContext.Nothing
            ),
            p => p.Word.Length > 0
        );
        Assert.Equal(("say.message", word, false), (problem.Field, problem.Word, problem.Blocks));
        Assert.Contains(word, problem.Message, StringComparison.Ordinal);
    }
}
