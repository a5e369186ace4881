using NodaTime;
using Outcry.Core.Asking;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;

namespace Outcry.Core.Tests;

/// <summary>What a prompt asks for, reads, keeps and takes back.</summary>
public sealed class AskingTests
{
    private static readonly Instant Noon = Instant.FromUtc(2015, 6, 1, 12, 0);
    private static readonly Guid Letters = Guid.NewGuid();
    private static readonly Guid Kiln = Guid.NewGuid();

    private static PromptField Field(FieldKind kind, string key, bool required = true, params string[] choices) =>
        new(Guid.NewGuid(), kind, key, required, [new FieldWords("", "What?", choices)]);

    private static AskFacet Ask(params PromptField[] fields) =>
        new(
            fields,
            [],
            [new AskWords("", "Send", "One letter a month.", "", "Thank you", "", "")],
            Ticks: true,
            Confirms: fields.Any(f => f.Kind == FieldKind.Email && f.Required),
            Reward.Nothing,
            []
        );

    private static AnswerSheet Read(AskFacet ask, bool agreed, params (string Key, string Value)[] given) =>
        AnswerSheet.Read(
            ask,
            given.ToDictionary(g => g.Key, g => g.Value),
            agreed,
            At("https://emberwick.example/shop?ref=autumn&card=4111111111111111&pw=x")
        );

    private static AnsweredAt At(string page, string entry = "", string language = "en-GB") =>
        new(PageAddress.TryParse(page), PageAddress.OfNote(entry), "GB", language, "en-GB");

    [Theory]
    [InlineData("noor@POST.example", "noor@post.example")]
    [InlineData("Noor.H+kiln@post.example", "Noor.H+kiln@post.example")]
    [InlineData("noor@bücher.example", "noor@xn--bcher-kva.example")]
    // A Cyrillic letter that looks like a Latin one makes another domain, and is kept as one.
    [InlineData("noor@pоst.example", "noor@xn--pst-sed.example")]
    [InlineData("noor@post", null)]
    [InlineData("noor post@post.example", null)]
    [InlineData("a@b@post.example", null)]
    [InlineData("noor@post.example\r\nBcc: all@post.example", null)]
    [InlineData("Noor <noor@post.example>", null)]
    [InlineData("@post.example", null)]
    public void An_address_is_read_or_refused_and_never_mended(string written, string? read) =>
        Assert.Equal(read, AnswerSheet.ReadEmail(written));

    [Fact]
    public void Answers_are_read_by_what_was_asked_and_faults_stand_at_their_field()
    {
        var ask = Ask(
            Field(FieldKind.Email, "email"),
            Field(FieldKind.Phone, "phone", required: false),
            Field(FieldKind.Choice, "size", required: false, "Small", "Large"),
            Field(FieldKind.Choices, "likes", required: false, "Mugs", "Bowls", "Jugs"),
            Field(FieldKind.Number, "party", required: false),
            Field(FieldKind.Date, "day", required: false)
        );
        var sheet = Read(
            ask,
            agreed: true,
            ("email", " noor@post.example "),
            ("phone", "07460 123456"),
            ("size", "Large"),
            ("likes", "Mugs\nJugs"),
            ("party", "2,5"),
            ("day", "2015-06-20"),
            ("nobody_asked", "x")
        );
        Assert.Empty(sheet.Faults);
        Assert.Equal(("noor@post.example", "+447460123456"), (sheet.Email, sheet.Phone));
        Assert.Equal(
            ["2.5", "2015-06-20", "Large", "Mugs\nJugs"],
            new[] { "party", "day", "size", "likes" }.Select(k => sheet.Values[k])
        );
        Assert.DoesNotContain("nobody_asked", sheet.Values.Keys);
        var wrong = Read(
            ask,
            agreed: false,
            ("phone", "12"),
            ("size", "Huge"),
            ("likes", "Mugs\nPlates"),
            ("party", "two"),
            ("day", "20 June")
        );
        Assert.Equal(
            [
                ("day", BuiltInWord.CheckDate),
                ("email", BuiltInWord.FillIn),
                ("likes", BuiltInWord.FillIn),
                ("party", BuiltInWord.CheckPhone),
                ("phone", BuiltInWord.CheckPhone),
                (AnswerSheet.Box, BuiltInWord.TickBox),
                ("size", BuiltInWord.FillIn),
            ],
            wrong.Faults.OrderBy(f => f.Key, StringComparer.Ordinal).Select(f => (f.Key, f.Value))
        );
        Assert.Equal(BuiltInWord.TooLong, Read(ask, true, ("email", new string('a', 5_000_000))).Faults["email"]);
    }

    [Fact]
    public void A_box_besides_the_promise_is_kept_by_the_words_that_were_ticked_in_the_language_they_were_read_in()
    {
        var box = Field(FieldKind.Consent, "older") with
        {
            Words = [new FieldWords("", "I am over 16", []), new FieldWords("nl", "Ik ben ouder dan 16", [])],
        };
        var ask = Ask(Field(FieldKind.Email, "email"), box);
        AnswerSheet Tick(string? sent, string language) =>
            AnswerSheet.Read(
                ask,
                new[] { ("email", "noor@post.example"), ("older", sent) }
                    .Where(g => g.Item2 is not null)
                    .ToDictionary(g => g.Item1, g => g.Item2!),
                agreed: true,
                At("https://emberwick.example/", language: language)
            );
        Assert.Equal("I am over 16", Tick("yes", "en-GB").Values["older"]);
        Assert.Equal("Ik ben ouder dan 16", Tick("yes", "nl-BE").Values["older"]);
        // Left alone, or anything but a tick, is a no, and is told as one.
        Assert.Equal(BuiltInWord.TickBox, Tick(null, "en-GB").Faults["older"]);
        Assert.Equal(BuiltInWord.TickBox, Tick("I am over 16", "en-GB").Faults["older"]);
        // Nobody agrees to words that were not there.
        Assert.Contains(
            AskCheck.Problems(
                ask with
                {
                    Fields = [ask.Fields[0], box with { Words = [box.Words[0]] }],
                    Words = [ask.Words[0], ask.Words[0] with { Language = "nl" }],
                },
                ["nl"]
            ),
            p => p is { Field: "ask.fields", Blocks: true } && p.Message.Contains("older", StringComparison.Ordinal)
        );
        Assert.Contains(
            AskCheck.Problems(
                Ask(Field(FieldKind.Email, "email"), Field(FieldKind.Consent, "x") with { Words = [] }),
                []
            ),
            p => p is { Field: "ask.fields", Blocks: true }
        );
    }

    [Theory]
    [InlineData(true, "stays away")]
    [InlineData(false, "no code")]
    public void An_empty_pool_stands_beside_what_it_gives(bool away, string says)
    {
        var pool = Guid.NewGuid();
        var brief = StarterBrief.For(CalloutKind.Prompt, EventKind.SignUp, []) with
        {
            Ask = Ask(Field(FieldKind.Email, "email")) with { Reward = new Reward(RewardKind.Pool, "", pool, away) },
        };
        var setting = new CheckSetting(
            SiteContext.Nothing,
            [],
            new CheckMoment(Noon, DateTimeZone.Utc, HouseRules.Start)
        );
        IEnumerable<Problem> At(CheckSetting s) =>
            BriefKind.Instance.Check(brief, s).Where(p => p.Field == "ask.reward");
        Assert.Empty(At(setting));
        var told = Assert.Single(At(setting with { IsPoolEmpty = p => p == pool }));
        Assert.False(told.Blocks);
        Assert.Contains(says, told.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void What_a_second_person_reads_has_the_boxes_in_it()
    {
        var brief = StarterBrief.For(CalloutKind.Prompt, EventKind.SignUp, []) with
        {
            Ask = Ask(Field(FieldKind.Email, "email"), Field(FieldKind.Consent, "calls")),
        };
        var other = brief with
        {
            Ask = Ask(
                Field(FieldKind.Email, "email"),
                Field(FieldKind.Consent, "calls") with
                {
                    Words = [new FieldWords("", "You may ring me, too", [])],
                }
            ),
        };
        Assert.NotEqual(BriefKind.Instance.PromiseOf(brief), BriefKind.Instance.PromiseOf(other));
    }

    [Fact]
    public void A_value_is_kept_of_the_page_by_which_they_came_in_where_it_is_asked_of_that()
    {
        var ask = Ask(Field(FieldKind.Email, "email")) with
        {
            Hidden =
            [
                new HiddenField("first", "", "ref") { OfEntry = true },
                new HiddenField("last", "", "ref"),
                new HiddenField("paid", "", "card") { OfEntry = true },
            ],
        };
        var sheet = AnswerSheet.Read(
            ask,
            new Dictionary<string, string> { ["email"] = "noor@post.example" },
            agreed: true,
            At(
                "https://emberwick.example/shop?ref=shelf",
                "emberwick.example/shop?card=4111%201111%201111%201111&Ref=autumn%20fair"
            )
        );
        Assert.Equal(("autumn fair", "shelf"), (sheet.Values["first"], sheet.Values["last"]));
        Assert.DoesNotContain("paid", sheet.Values.Keys);
    }

    [Theory]
    [InlineData("mag", true)]
    [InlineData("ref", true)]
    [InlineData("email", false)]
    [InlineData("subscriberMail", false)]
    [InlineData("mobile", false)]
    [InlineData("first_name", false)]
    [InlineData("zip", false)]
    public void Nothing_that_says_who_somebody_is_is_known_of_whoever_only_comes_in(string parameter, bool may)
    {
        IEnumerable<Problem> Of(bool entry) =>
            AskCheck
                .Problems(
                    Ask(Field(FieldKind.Email, "email")) with
                    {
                        Hidden = [new HiddenField("kept", "", parameter) { OfEntry = entry }],
                    },
                    []
                )
                .Where(p => p is { Field: "ask.hidden", Blocks: true });
        Assert.Equal(may, !Of(entry: true).Any());
        // With the yes itself it is theirs to give.
        Assert.Empty(Of(entry: false));
    }

    [Theory]
    [InlineData(LeadState.Waiting, true)]
    [InlineData(LeadState.Confirmed, true)]
    [InlineData(LeadState.Withdrawn, false)]
    [InlineData(LeadState.Unreachable, false)]
    public void What_waits_to_be_sent_goes_to_whoever_neither_took_it_back_nor_cannot_be_reached(
        LeadState state,
        bool goes
    ) => Assert.Equal(goes, LeadLife.MayStillGoTo(state));

    [Theory]
    [InlineData("/thanks?for=letters", "https://emberwick.example/thanks?for=letters")]
    [InlineData("https://shop.emberwick.example/thanks", "https://shop.emberwick.example/thanks")]
    [InlineData("https://b\u00fccher.example/danke", "https://xn--bcher-kva.example/danke")]
    [InlineData("https://elsewhere.example/thanks", null)]
    [InlineData("https://shop.emberwick.example@elsewhere.example/", null)]
    [InlineData("https://shop.emberwick.example:8443/thanks", null)]
    [InlineData("//elsewhere.example/thanks", null)]
    [InlineData("/\\elsewhere.example", null)]
    [InlineData("mailto:team@emberwick.example", null)]
    [InlineData("javascript:alert(1)", null)]
    [InlineData("thanks", null)]
    public void The_press_that_confirms_leads_to_pages_of_the_site_only(string landing, string? there)
    {
        static bool Allows(string host) =>
            host is "emberwick.example" or "shop.emberwick.example" or "xn--bcher-kva.example";
        Assert.Equal(there, AskCheck.LandingOf(landing, new Uri("https://emberwick.example"), Allows)?.AbsoluteUri);
        var ask = Ask(Field(FieldKind.Email, "email")) with { Landing = landing };
        Assert.Equal(
            there is null,
            AskCheck.Problems(ask, [], Allows).Any(p => p is { Field: "ask.confirms", Blocks: true })
        );
    }

    [Fact]
    public void A_parameter_too_long_to_be_kept_is_left_out_whole()
    {
        var page = PageAddress.TryParse(
            $"https://emberwick.example/?a={new string('x', 390)}&b=autumn&c={new string('y', 40)}"
        )!;
        var back = PageAddress.OfNote(page.ToNote()).Query;
        Assert.Equal((390, "autumn"), (back["a"].Length, back.GetValueOrDefault("b", "autumn")));
        Assert.All(back, q => Assert.Equal(page.Query[q.Key], q.Value));
        Assert.True(page.RecordedQuery.Length <= PageAddress.MaxRecordedPath);
    }

    [Fact]
    public void Of_the_address_only_what_was_named_is_kept_and_no_number_of_a_card()
    {
        var ask = Ask(Field(FieldKind.Email, "email")) with
        {
            Hidden = [new("by", "", "ref"), new("paid", "", "card"), new("fixed", "spring", "")],
        };
        var sheet = Read(ask, agreed: true, ("email", "noor@post.example"));
        Assert.Equal(("autumn", "spring"), (sheet.Values["by"], sheet.Values["fixed"]));
        Assert.DoesNotContain("paid", sheet.Values.Keys);
        Assert.Contains(
            AskCheck.Problems(ask with { Hidden = [new("p", "", "password")] }, []),
            p => p is { Field: "ask.hidden", Blocks: true }
        );
    }

    [Fact]
    public void Nothing_that_takes_an_address_goes_live_without_a_promise_in_each_language()
    {
        var ask = Ask(Field(FieldKind.Email, "email"));
        Assert.DoesNotContain(AskCheck.Problems(ask, []), p => p.Blocks);
        Assert.Contains(
            AskCheck.Problems(ask, ["nl"]),
            p => p.Blocks && p.Message.StartsWith("nl: ", StringComparison.Ordinal)
        );
        var silent = ask with { Words = [ask.Words[0] with { Promise = "" }] };
        Assert.Contains(AskCheck.Problems(silent, []), p => p is { Field: "ask.promise", Blocks: true });
        Assert.Contains(AskCheck.Problems(null, []), p => p is { Field: "ask.fields", Blocks: true });
        var below = ask with { Blocks = [FaceBlock.Button, FaceBlock.Message] };
        Assert.Contains(AskCheck.Problems(below, []), p => p is { Field: "ask.blocks", Blocks: true });
        Assert.Equal(6, below.Order.Count);
        Assert.Contains(
            AskCheck.Problems(ask with { Blocks = [FaceBlock.Promise, FaceBlock.Button] }, []),
            p => p is { Field: "ask.blocks", Blocks: false }
        );
        Assert.Contains(
            AskCheck.Problems(ask with { Blocks = [FaceBlock.Button, FaceBlock.Button] }, []),
            p => p is { Field: "ask.blocks", Blocks: true }
        );
        var afterwards = ask with { Second = new SecondFace("javascript:alert(1)", "red", "#FFFFFF") };
        Assert.Equal(
            2,
            BriefCheck
                .Problems(StarterBrief.For(CalloutKind.Prompt, EventKind.SignUp, []) with { Ask = afterwards }, [])
                .Count(p => p is { Field: "ask.second", Blocks: true })
        );
        var byPhone = Ask(Field(FieldKind.Phone, "phone")) with { Confirms = true };
        Assert.Contains(AskCheck.Problems(byPhone, []), p => p is { Field: "ask.confirms", Blocks: true });
        // The promise is what a second person reads.
        var brief = StarterBrief.For(CalloutKind.Prompt, EventKind.SignUp, []) with
        {
            Ask = ask,
        };
        Assert.Contains("One letter a month.", BriefKind.Instance.PromiseOf(brief), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("nl", "Sturen")]
    [InlineData("nl-BE", "Sturen")]
    [InlineData("en-GB", "Send")]
    [InlineData("fr", "Send")]
    public void It_asks_in_the_readers_language_or_in_the_sites_own(string language, string button)
    {
        var ask = Ask(Field(FieldKind.Email, "email"));
        ask = ask with { Words = [.. ask.Words, ask.Words[0] with { Language = "nl", Button = "Sturen" }] };
        Assert.Equal(button, ask.WordsIn(language, "en").Button);
    }

    [Theory]
    [InlineData(LeadState.Waiting, true)]
    [InlineData(LeadState.Confirmed, true)]
    [InlineData(LeadState.Withdrawn, false)]
    [InlineData(LeadState.Unreachable, false)]
    public void Whoever_may_be_written_to_is_asked_nothing_and_nobody_by_words_that_they_took_back(
        LeadState state,
        bool hasGiven
    )
    {
        var ask = Ask(Field(FieldKind.Email, "email"));
        var dutch = ask.Words[0] with { Language = "nl", Promise = "Een brief per maand." };
        var before = AskedBefore.Of(state, ["Een brief per maand."]);
        Assert.Equal(hasGiven, before.HasGiven);
        Assert.False(before.TookBackPromiseOf(ask));
        Assert.True(before.TookBackPromiseOf(ask with { Words = [.. ask.Words, dutch] }));
        Assert.False(AskedBefore.Nothing.TookBackPromiseOf(ask));
        var both = before.And(new AskedBefore(true, new HashSet<string> { ask.Words[0].Promise }));
        Assert.True(both.HasGiven && both.TookBackPromiseOf(ask));
    }

    /// <summary>Random orders of everything that can happen to a person.</summary>
    [Fact]
    public void Whoever_took_it_back_is_never_written_to_by_that_promise_again_whatever_comes()
    {
        for (var seed = 0; seed < 2_000; seed++)
        {
            var chance = new Random(seed);
            var life = LeadLife.Begin(Letters, confirms: true, Noon);
            var (tookBack, sinceThen) = (new HashSet<Guid>(), new HashSet<Guid>());
            for (var step = 1; step < 30; step++)
            {
                var now = Noon + Duration.FromHours(step);
                var before = life;
                switch (chance.Next(5))
                {
                    case 0:
                        var promise = chance.Next(2) == 0 ? Letters : Kiln;
                        life = life.SayYes(promise, confirms: chance.Next(2) == 0, now);
                        if (!tookBack.Contains(promise))
                            sinceThen.Add(promise);
                        break;
                    case 1:
                        life = life.Confirm(now);
                        break;
                    case 2:
                        tookBack.UnionWith(life.Promises);
                        sinceThen.Clear();
                        life = life.Withdraw(now);
                        break;
                    case 3:
                        life = life.ComeBack(now);
                        break;
                    default:
                        break;
                }
                Assert.Empty(life.Promises.Intersect(tookBack));
                // Withdrawn ends only by a yes to another promise.
                if (before.State == LeadState.Withdrawn && life.State != LeadState.Withdrawn)
                    Assert.NotEmpty(sinceThen);
                Assert.Equal(life.State == LeadState.Confirmed, life.MayBeWrittenTo);
                if (life.MayBeWrittenTo)
                    Assert.NotNull(life.ConfirmedAt);
                // Done twice is done once.
                Assert.Equal(life.Confirm(now).State, life.Confirm(now).Confirm(now).State);
                Assert.Equal(life.Withdraw(now).State, life.Withdraw(now).Withdraw(now).State);
            }
        }
    }

    [Theory]
    // Figures after Newcombe, "Two-sided confidence intervals for the single proportion", 1998, table I, method 3.
    [InlineData(81, 263, 0.2553, 0.3662)]
    [InlineData(15, 148, 0.0624, 0.1605)]
    [InlineData(0, 20, 0.0000, 0.1611)]
    [InlineData(1, 29, 0.0061, 0.1718)]
    public void A_share_comes_with_the_interval_it_lies_in(int some, int all, double low, double high)
    {
        var wilson = Wilson.Of(some, all);
        Assert.Equal(low, wilson.Low, 4);
        Assert.Equal(high, wilson.High, 4);
        Assert.InRange(wilson.Share, wilson.Low, wilson.High);
        Assert.Throws<ArgumentOutOfRangeException>(() => Wilson.Of(all + 1, all));
        Assert.Throws<ArgumentOutOfRangeException>(() => Wilson.Of(0, 0));
    }

    [Theory]
    [InlineData("mira@post.exmaple", "mira@post.example")]
    [InlineData("mira@pots.example", "mira@post.example")]
    [InlineData("mira@pst.example", "mira@post.example")]
    [InlineData("mira@postt.example", "mira@post.example")]
    [InlineData("mira@posd.example", "mira@post.example")]
    [InlineData("a@b@post.examplx", "a@b@post.example")]
    [InlineData("mira@post.example", null)]
    [InlineData("mira@POST.example", null)]
    [InlineData("mira@tops.example", null)]
    [InlineData("mira@letters.example", null)]
    [InlineData("mira@pos.example.net", null)]
    [InlineData("mira", null)]
    public void An_address_one_slip_from_what_many_give_is_asked_after(string typed, string? meant) =>
        Assert.Equal(meant, MistypedDomain.Meant(typed, ["post.example", "letter.example.net"]));

    [Theory]
    [InlineData("", 0)]
    [InlineData("The kiln opens", 1)]
    [InlineData("€", 1)]
    public void A_text_message_goes_in_as_few_parts_as_its_letters_allow(string text, int parts) =>
        Assert.Equal(parts, Outcry.Core.Following.ShortMessage.Parts(text));

    [Fact]
    public void A_text_message_has_160_letters_of_seven_bits_or_70_of_sixteen_and_less_in_each_part_of_several()
    {
        static int Parts(char letter, int count) => Outcry.Core.Following.ShortMessage.Parts(new string(letter, count));
        Assert.Equal((1, 2, 2, 3), (Parts('a', 160), Parts('a', 161), Parts('a', 306), Parts('a', 307)));
        // Those of the extension count twice.
        Assert.Equal((1, 2), (Parts('€', 80), Parts('€', 81)));
        Assert.Equal((1, 2, 2, 3), (Parts('窯', 70), Parts('窯', 71), Parts('窯', 134), Parts('窯', 135)));
    }
}
