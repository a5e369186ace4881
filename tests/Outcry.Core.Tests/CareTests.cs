using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Saying;
using Outcry.Core.Sources;

namespace Outcry.Core.Tests;

public sealed class CareTests
{
    // Below the first step nothing can be rounded down to: the amount is said as it is.
    private static readonly (decimal, string)[] Small =
    [
        (0.4m, "£0.40"),
        (9.5m, "£9.50"),
        (10m, "£10+"),
        (19m, "£10+"),
    ];

    private static readonly Instant Now = Instant.FromUtc(2015, 11, 24, 12, 0);
    private static readonly byte[] Key = [.. Enumerable.Range(0, 32).Select(i => (byte)i)];
    private static readonly Guid Form = Guid.Parse("00000000-0000-0000-0000-000000000001");
    private static readonly Guid Shop = Guid.Parse("00000000-0000-0000-0000-000000000002");

    // The published test vectors of BLAKE3: bytes 0, 1, 2 and so on under this key.
    [Theory]
    [InlineData(0, "92b2b75604ed3c761f9d6f62392c8a92")]
    [InlineData(1, "6d7878dfff2f485635d39013278ae14f")]
    public void A_keyed_hash_is_what_its_specification_says(int length, string expected)
    {
        Span<byte> hash = stackalloc byte[KeyedHash.Bytes];
        byte[] data = [.. Enumerable.Range(0, length).Select(i => (byte)i)];
        KeyedHash.Write("whats the Elvish word for friend"u8, data, hash);
        Assert.Equal(expected, Convert.ToHexStringLower(hash));
    }

    [Fact]
    public void A_keyed_hash_takes_no_key_of_another_length()
    {
        Assert.ThrowsAny<ArgumentException>(() => KeyedHash.HexOf(new byte[KeyedHash.KeyBytes - 1], "text"));
        Assert.NotEqual(KeyedHash.HexOf(Key, "text"), KeyedHash.HexOf(new byte[KeyedHash.KeyBytes], "text"));
    }

    [Theory]
    [InlineData(NameStyle.FirstAndInitial, "Saoirse M.")]
    [InlineData(NameStyle.FirstOnly, "Saoirse")]
    [InlineData(NameStyle.Initials, "S. M.")]
    [InlineData(NameStyle.InitialOnly, "S.")]
    [InlineData(NameStyle.Hidden, "")]
    public void A_name_is_shown_at_its_level_and_never_beyond(NameStyle style, string shown)
    {
        var name = PersonName.Shorten("Saoirse", "Murphy");
        Assert.Equal(shown, name.Shown(style));
        Assert.DoesNotContain("urphy", name.ToString(), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("jane@post.example", "")]
    [InlineData("Jane jane@post.example", "Jane")]
    [InlineData("Jane +44 20 7946 0018", "Jane")]
    [InlineData("07946001812", "")]
    public void What_is_an_address_or_a_number_is_no_name(string typed, string first) =>
        Assert.Equal(first, PersonName.Shorten(typed, null).First);

    [Fact]
    public void One_person_is_one_key_whatever_the_case_and_the_writing_of_the_number()
    {
        var typed = PersonClues.Of(Key, " Noor@Post.example ", "+44 (20) 7946-0018", "GB");
        var again = PersonClues.Of(Key, "noor@post.EXAMPLE", "020 7946 0018", "GB");
        Assert.Equal(typed, again);
        Assert.StartsWith("e:", typed.EmailKey, StringComparison.Ordinal);
        Assert.StartsWith("p:", typed.PhoneKey, StringComparison.Ordinal);
    }

    [Fact]
    public void A_key_says_nothing_without_the_sites_own_key()
    {
        var ours = PersonClues.Of(Key, "noor@post.example", null, "GB").EmailKey!;
        var theirs = PersonClues.Of(new byte[32], "noor@post.example", null, "GB").EmailKey!;
        Assert.NotEqual(ours, theirs);
        Assert.DoesNotContain("noor", ours, StringComparison.OrdinalIgnoreCase);
    }

    [Theory]
    [InlineData("noor@post.example", "07946 0018", "v1", "e:")]
    [InlineData(null, "07946 0018", "v1", "p:")]
    [InlineData("no address", "12", "v1", "v:v1")]
    [InlineData(null, null, null, "x:order-1")]
    public void People_are_told_apart_by_the_best_clue_there_is(
        string? email,
        string? phone,
        string? visitor,
        string key
    ) =>
        Assert.StartsWith(
            key,
            PersonClues.Of(Key, email, phone, "GB").Primary(visitor, "order-1"),
            StringComparison.Ordinal
        );

    [Theory]
    [InlineData("+44 20 7946 0018", "•••••18")]
    [InlineData("1234", "")]
    [InlineData(null, "")]
    public void A_number_is_masked_but_for_its_end(string? phone, string masked) =>
        Assert.Equal(masked, Mask.Phone(phone));

    private static ToldEvent Told(
        Guid source,
        int minute = 0,
        EventKind kind = EventKind.Purchase,
        string person = "e:1",
        string product = "Mug",
        bool named = true
    ) => new(source, kind, person, null, product, Now + Duration.FromMinutes(minute), named);

    [Fact]
    public void An_order_reported_by_form_and_shop_is_told_once()
    {
        Assert.True(Repetition.IsRepeat(Told(Shop), Told(Form, -3, named: false)));
        Assert.True(Repetition.IsRepeat(Told(Form, 10, product: "mug", named: false), Told(Shop)));
        Assert.False(Repetition.IsRepeat(Told(Form, 11, named: false), Told(Shop)));
    }

    [Fact]
    public void A_form_sent_twice_is_told_once_and_two_orders_are_two()
    {
        Assert.True(Repetition.IsRepeat(Told(Form, 1, named: false), Told(Form, named: false)));
        Assert.False(Repetition.IsRepeat(Told(Shop, 1), Told(Shop)));
    }

    [Fact]
    public void Another_person_product_or_kind_is_no_repeat()
    {
        Assert.False(Repetition.IsRepeat(Told(Shop), Told(Form, person: "e:2")));
        Assert.False(Repetition.IsRepeat(Told(Shop), Told(Form, product: "Jug")));
        Assert.False(Repetition.IsRepeat(Told(Shop), Told(Form, kind: EventKind.SignUp)));
        Assert.False(Repetition.IsRepeat(Told(Shop, person: "v:1"), Told(Form, person: "v:1")));
    }

    [Theory]
    [InlineData("p:1", "p:1", null, true)]
    [InlineData("p:1", "e:2", "p:1", true)]
    [InlineData("p:1", "e:2", "p:2", false)]
    [InlineData(null, "p:1", null, false)]
    public void A_number_told_beside_an_address_makes_them_one_person(
        string? phone,
        string before,
        string? beforePhone,
        bool repeats
    ) =>
        Assert.Equal(
            repeats,
            Repetition.IsRepeat(
                Told(Shop) with
                {
                    PhoneKey = phone,
                },
                Told(Form, person: before) with
                {
                    PhoneKey = beforePhone,
                }
            )
        );

    private static IncomingEvent Arrived(string name = "Noor", string? stars = null) =>
        new()
        {
            ExternalId = "1",
            Kind = EventKind.Review,
            At = Now,
            FirstName = name,
            Fields = stars is null ? [] : new Dictionary<string, string> { [EventFields.Stars] = stars },
        };

    private static readonly BlockedWords Words = new(["grotbag"], new FoldedText());

    [Fact]
    public void A_tests_state_comes_before_everything_else()
    {
        var first = FirstLook.Decide(Arrived("Grotbag"), SourceRules.Open, Words, isOwn: true, isRepeat: true);
        Assert.Equal(EventState.OwnTest, first.State);
        Assert.Equal(
            EventState.OwnTest,
            FirstLook.Decide(Arrived() with { IsTest = true }, SourceRules.Open, Words, false, false).State
        );
    }

    [Fact]
    public void A_blocked_word_holds_an_event_and_says_which_word() =>
        Assert.Equal(
            new FirstState(EventState.Held, "grotbag"),
            FirstLook.Decide(Arrived("G r o t b a g"), SourceRules.Open, Words, false, false)
        );

    [Fact]
    public void A_word_in_any_shown_field_holds_it()
    {
        var arrived = Arrived() with { Fields = new Dictionary<string, string> { ["words"] = "what a grotbag" } };
        Assert.Equal(EventState.Held, FirstLook.Decide(arrived, SourceRules.Open, Words, false, false).State);
    }

    [Theory]
    [InlineData("3.5", EventState.Hidden)]
    [InlineData("4", EventState.Usable)]
    [InlineData(null, EventState.Usable)]
    public void Reviews_below_the_least_stars_are_hidden(string? stars, EventState state) =>
        Assert.Equal(
            state,
            FirstLook.Decide(Arrived(stars: stars), SourceRules.Open with { LeastStars = 4 }, Words, false, false).State
        );

    [Fact]
    public void A_source_can_hold_everything_and_a_repeat_is_a_repeat()
    {
        var holds = SourceRules.Open with { HoldsAll = true };
        Assert.Equal(EventState.Held, FirstLook.Decide(Arrived(), holds, Words, false, false).State);
        Assert.Equal(EventState.Duplicate, FirstLook.Decide(Arrived(), holds, Words, false, isRepeat: true).State);
    }

    [Theory]
    [InlineData(0, 0)]
    [InlineData(9.9, 9)]
    [InlineData(10, 10)]
    [InlineData(64, 60)]
    [InlineData(199, 150)]
    [InlineData(999, 950)]
    [InlineData(1234, 1200)]
    public void A_number_is_rounded_down_to_a_friendly_step(double number, double rounded) =>
        Assert.Equal((decimal)rounded, Rounding.Down((decimal)number));

    [Fact]
    public void A_negative_number_is_a_callers_mistake() =>
        Assert.Throws<ArgumentOutOfRangeException>(() => Rounding.Down(-1));

    [Fact]
    public void An_amount_is_shown_only_if_allowed_and_rounded_if_asked()
    {
        var happened = new LedgerEvent
        {
            Id = Guid.Empty,
            SourceId = Shop,
            Kind = EventKind.Purchase,
            At = Now,
            PersonKey = "e:1",
            Amount = 64,
            Currency = "GBP",
        };
        Dictionary<string, string> Tokens(DisplayPolicy d) => EventTokens.Read(happened, d, new PlaceCrowd([]), Now);
        Assert.False(Tokens(DisplayPolicy.Start).ContainsKey("amount"));
        Assert.Equal("£64.00", Tokens(DisplayPolicy.Start with { ShowAmount = true })["amount"]);
        var rounded = DisplayPolicy.Start with { ShowAmount = true, RoundAmount = true };
        foreach (var (amount, said) in Small)
            Assert.Equal(
                said,
                EventTokens.Read(happened with { Amount = amount }, rounded, new PlaceCrowd([]), Now)["amount"]
            );
        Assert.Equal("£60+", Tokens(DisplayPolicy.Start with { ShowAmount = true, RoundAmount = true })["amount"]);
    }

    [Theory]
    [InlineData("de", "Jemand")]
    [InlineData("de-AT", "Jemand")]
    [InlineData("tlh", "Someone")]
    [InlineData("fr-CA", "Un potier")]
    public void The_noun_follows_the_language_and_the_sites_own_choice(string language, string noun) =>
        Assert.Equal(
            noun,
            NeutralNoun.For(language, new Dictionary<string, string> { ["fr"] = " Un potier ", ["de"] = "" })
        );

    [Theory]
    [InlineData(ConsentMode.AtOnce, false, false, true)]
    [InlineData(ConsentMode.AtOnce, true, true, false)]
    [InlineData(ConsentMode.AfterConsent, false, false, false)]
    [InlineData(ConsentMode.AfterConsent, true, false, true)]
    [InlineData(ConsentMode.AfterConsent, true, true, false)]
    public void Nothing_is_stored_before_consent_nor_against_privacy_control(
        ConsentMode mode,
        bool agreed,
        bool control,
        bool may
    ) => Assert.Equal(may, Consent.MayStore(mode, agreed, control));

    [Fact]
    public void Data_is_kept_as_long_as_the_site_says()
    {
        var keeps = new Retention(30, 2, 0, 180);
        Assert.Equal(Now - Duration.FromDays(30), keeps.EventsFrom(Now));
        Assert.Equal(new LocalDate(2015, 11, 22), keeps.VisitsFrom(Now));
        Assert.Equal(Now, keeps.DeliveriesFrom(Now));
        Assert.Null(keeps.Fault());
    }

    [Theory]
    [InlineData(0, 1, 1, 1, "eventDays")]
    [InlineData(3651, 1, 1, 1, "eventDays")]
    [InlineData(1, 401, 1, 1, "visitDays")]
    [InlineData(1, 1, 31, 1, "deliveryDays")]
    [InlineData(1, 1, 1, 731, "visitorDays")]
    public void A_term_out_of_range_is_named(int events, int visits, int deliveries, int visitors, string field) =>
        Assert.Equal(field, new Retention(events, visits, deliveries, visitors).Fault()!.Value.Field);

    [Theory]
    [InlineData("preview.pots.example", true)]
    [InlineData("PREVIEW.pots.example", true)]
    [InlineData("a.copy.example", true)]
    [InlineData("copy.example", false)]
    [InlineData("pots.example", false)]
    public void A_test_host_is_told_by_its_name_or_its_domain(string host, bool fits) =>
        Assert.Equal(fits, HostRule.Fits(["preview.pots.example", "*.copy.example"], host));
}
