using CsCheck;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Care;
using Outcry.Core.Claims;
using Outcry.Core.Evidence;
using Outcry.Core.Explaining;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Core.Saying;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

/// <summary>What strangers and careless hands can write, and what must come of it.</summary>
public sealed class StrangersTextTests
{
    [Theory]
    [InlineData("""{{ (1..100000000) | join: "," }}""", "join")]
    [InlineData("""{{ (1..100000000) }}""", "range")]
    [InlineData("""{{ name | split: "" }}""", "split")]
    [InlineData("""{{ name | date: "%s" }}""", "date")]
    [InlineData("""{{ name == "x" }}""", "calculated")]
    [InlineData("""{{ name["x"] }}""", "brackets")]
    [InlineData("""{{ name | append: (1..9) }}""", "range")]
    public void A_message_that_computes_is_refused_with_what_stands_in_the_way(string message, string says)
    {
        Assert.Null(MessageTemplate.TryParse(message, out var error));
        Assert.Contains(says, error, StringComparison.OrdinalIgnoreCase);
    }

    [Theory]
    [InlineData("""{{ name | default: "Someone" }} bought {{ product }}""")]
    [InlineData("""{{ name | default: someone | upcase }} and {{ city | prepend: "from " | strip }}""")]
    [InlineData("""A kit went out {{ from_place | replace: "from", "to" }}""")]
    [InlineData("""{{ number | plural: one: "person", other: "people" }}""")]
    public void What_a_sentence_needs_is_taken(string message)
    {
        Assert.NotNull(MessageTemplate.TryParse(message, out _));
    }

    [Theory]
    [InlineData("""{{ name | replace: "", "a" }}""", "look for")]
    [InlineData(
        """{{ name | append: "x" | replace: "x", "XXXXXXXXXXXXXXXXXXXX" | replace: "X", "xxxxxxxxxxxxxxxxxxxx" | replace: "x", "XXXXXXXXXXXXXXXXXXXX" | replace: "X", "xxxxxxxxxxxxxxxxxxxx" }}""",
        "longer"
    )]
    [InlineData(
        """{{ name | plural: other: "####################" | plural: other: "####################" | plural: other: "####################" }}""",
        "longer"
    )]
    public void What_multiplies_itself_is_found_before_it_goes_live(string message, string says)
    {
        Assert.Contains(says, MessageTemplate.TryParse(message, out _)!.Failure, StringComparison.Ordinal);
        var brief = Brief() with { Say = Brief().Say with { Message = message } };
        Assert.Contains(BriefCheck.Problems(brief, []), p => p.Blocks && p.Field == "say.message");
    }

    [Fact]
    public void Filters_can_stand_one_behind_another_only_so_often() =>
        Assert.Null(
            MessageTemplate.TryParse("{{ name " + string.Concat(Enumerable.Repeat("| upcase ", 40)) + "}}", out _)
        );

    [Fact]
    public void A_message_that_comes_to_too_much_cannot_be_said_and_is_found_before_it_goes_live()
    {
        var long8 =
            "{{ name | append: name | append: name | append: name | append: name | append: name | append: name | append: name }}";
        var template = MessageTemplate.TryParse(long8 + long8 + long8, out _)!;
        Assert.Throws<WordingException>(() =>
            template.Render(new Dictionary<string, string> { ["name"] = new string('x', 200) })
        );
        Assert.Contains("longer", template.Failure, StringComparison.Ordinal);
        var brief = Brief() with { Say = Brief().Say with { Message = long8 + long8 + long8 } };
        Assert.Contains(BriefCheck.Problems(brief, []), p => p.Blocks && p.Field == "say.message");
    }

    [Fact]
    public void A_wording_that_fails_silences_its_own_callout_and_says_so()
    {
        var long8 =
            "{{ product | append: product | append: product | append: product | append: product | append: product | append: product }}";
        var bad = Live("bad", Brief() with { Say = Brief().Say with { Message = long8 + long8 + long8 + long8 } });
        var good = Live("good", Brief());
        var events = Enumerable
            .Range(0, 5)
            .Select(i =>
                Event(ago: Duration.FromMinutes(i + 1)) with
                {
                    Product = new EventProduct(new string('x', 190)),
                }
            )
            .ToList();
        var site = Site([bad, good], events);

        var plan = Planner.MakePlan(
            site,
            Shop,
            VisitorRecord.New("v", Now).Arrive(Now),
            VisitorFacts.Unknown,
            Now,
            PlanOptions.Explained
        );

        Assert.Equal(good.Id, Assert.Single(plan.Armed).Callout.Id);
        var silent = Assert.Single(plan.LeftOut);
        Assert.Equal(bad.Id, silent.Callout.Id);
        Assert.Contains("longer", Assert.IsType<WordingFailed>(silent.Reason).Because, StringComparison.Ordinal);
        Assert.Equal(ControlPlace.Say, ReasonCatalogue.ControlOf(silent.Reason));
        Assert.IsType<WordingFailed>(site.Evidence[site.Callouts.ToList().IndexOf(bad)].ClaimNow.Missing);
    }

    [Fact]
    public void A_page_group_that_is_gone_is_no_licence_to_show_everywhere()
    {
        var brief = Brief() with { Where = new WhereFacet([], [], [Guid.NewGuid()], Replaces: false) };
        Assert.Throws<FormatException>(() => Live("a", brief));
    }

    private static readonly Gen<string> Paths = Gen.OneOf(
            Gen.Char['a', 'z'].Select(c => c.ToString()),
            OneOf(
                "/",
                "//",
                "%2F",
                "%3F",
                "%23",
                "%00",
                "%25",
                "é",
                "%C3%A9",
                "?q=1",
                "#x",
                ".",
                "..",
                " ",
                "İ",
                "%EF%BF%BE",
                "&",
                "="
            )
        )
        .Array[0, 60]
        .Select(parts => "/" + string.Concat(parts));

    [Fact]
    public void A_page_that_was_recorded_is_read_back_as_the_page_it_was() =>
        Paths.Sample(
            path =>
            {
                if (PageAddress.TryParse($"https://Pots.example{path}") is not { } page)
                    return;
                var back = PageAddress.Recorded(page.Host, page.RecordedPath, page.RecordedQuery);
                Assert.Equal(page.Path, back.Path);
                Assert.Equal(page.Segments, back.Segments);
                Assert.Equal(page.Query, back.Query);
                var noted = PageAddress.OfNote(page.ToNote());
                Assert.Equal((page.Host, page.Query.Count), (noted.Host, noted.Query.Count));
            },
            iter: Cases.Of(20_000)
        );

    [Fact]
    public void Whatever_stands_in_the_record_is_a_page() =>
        Gen.Select(Gen.String, Gen.String, Gen.String)
            .Sample(
                (host, path, query) =>
                {
                    var page = PageAddress.Recorded(host, path, query);
                    _ = (page.ToNote(), page.RecordedPath, PageAddress.OfNote(path).Path);
                    Assert.StartsWith("/", page.Path, StringComparison.Ordinal);
                    Assert.InRange(page.RecordedPath.Length, 1, PageAddress.MaxRecordedPath);
                },
                iter: Cases.Of(20_000)
            );

    [Fact]
    public void The_longest_address_taken_leaves_a_path_that_fits_the_record()
    {
        var page = PageAddress.TryParse("https://pots.example/" + new string('a', PageAddress.MaxLength - 21))!;
        Assert.Equal(PageAddress.MaxRecordedPath, page.RecordedPath.Length);
        Assert.Null(PageAddress.TryParse("https://pots.example/" + new string('a', PageAddress.MaxLength - 20)));
    }

    [Theory]
    [InlineData(
        "https://u:p@pots.example/reset/7?token=abc&ref=x&utm_source=letter#access_token=1",
        "https://pots.example/reset/7?ref=x&utm_source=letter"
    )]
    [InlineData("https://pots.example/shop?q=noor%40post.example", "https://pots.example/shop")]
    [InlineData("not an address", null)]
    public void Of_an_address_only_what_somebody_asks_for_is_kept(string address, string? kept) =>
        Assert.Equal(kept, PageAddress.Shorn(address, new HashSet<string> { "ref" }));

    [Theory]
    [InlineData("https:\\\\evil.example")]
    [InlineData("https:\\/evil.example")]
    [InlineData("https:evil.example")]
    [InlineData("https:/evil.example")]
    [InlineData("https:///evil.example")]
    [InlineData("/.//evil.example")]
    [InlineData("/a/..//evil.example")]
    [InlineData("/\\evil.example")]
    [InlineData("\\\\evil.example")]
    [InlineData("/%2f%2fevil.example/..")]
    [InlineData("//evil.example")]
    [InlineData("java\tscript:alert(1)")]
    [InlineData("/a\u2028b")]
    public void An_address_that_browsers_read_otherwise_is_no_link(string address) =>
        Assert.Null(SafeLink.TryPass(address));

    [Theory]
    [InlineData("https://pots.example/shop?x=//y")]
    [InlineData("/shop/salt-jug?ref=//home#top")]
    [InlineData("?sale")]
    [InlineData("mailto:studio@pots.example")]
    public void An_honest_address_is_a_link(string address) => Assert.Equal(address, SafeLink.TryPass(address));

    [Theory]
    [InlineData("note", "call +44 7700 900123 after six", "call •••••23 after six")]
    [InlineData("note", "write to Noor.H@post.example, please", "write to N•••••@•••••.example, please")]
    [InlineData("note", "4111 1111 1111 1111", "•••••11")]
    [InlineData("note", "DE89 3704 0044 0532 0130 00", "•••••")]
    [InlineData("note", "order 2015-11-24, 12 pieces", "order 2015-11-24, 12 pieces")]
    [InlineData("note", "30,000 pots for £1,204.50", "30,000 pots for £1,204.50")]
    [InlineData("contact_name", "Ravi Nair", "Ravi N•••••")]
    [InlineData("kunde", "Anne-Marie von der Heide", "Anne-Marie von der H•••••")]
    [InlineData("street", "12 Kiln Lane", "•••••")]
    [InlineData("Postcode", "LS1 4DY", "•••••")]
    [InlineData("mobile", "07700 900123", "•••••23")]
    [InlineData("e_mail", "a@post.example", "a•••••@•••••.example")]
    [InlineData("plan", "studio", "studio")]
    [InlineData("product_name", "Moon jar", "Moon jar")]
    public void What_looks_private_is_masked_whatever_it_is_called(string field, string value, string kept) =>
        Assert.Equal(kept, PrivateContent.Mask(field, value));

    [Theory]
    [InlineData("030 123456", "DE", "+4930123456")]
    [InlineData("+49 30 123456", "GB", "+4930123456")]
    [InlineData("0049-30-123456", "DE", "+4930123456")]
    [InlineData("020 7946 0018", "GB", "+442079460018")]
    [InlineData("12", "GB", null)]
    [InlineData("no number", "GB", null)]
    [InlineData("020 7946 0018", "ZZ", null)]
    public void A_number_is_one_number_however_it_is_dialled(string written, string region, string? e164) =>
        Assert.Equal(e164, PhoneNumber.ToE164(written, region));

    [Theory]
    [InlineData("Europe/London", "en", "GB")]
    [InlineData("Europe/Berlin", "de", "DE")]
    [InlineData("UTC", "de-AT", "AT")]
    [InlineData("UTC", "en", "ZZ")]
    [InlineData("No/Such", "", "ZZ")]
    public void A_site_is_at_home_where_its_clock_or_its_language_is(string zone, string language, string region) =>
        Assert.Equal(region, HomeRegion.Of(zone, language));

    private static LedgerEvent Of(string person, string? phone = null) =>
        Event(ago: Duration.FromMinutes(1)) with
        {
            PersonKey = person,
            PhoneKey = phone,
        };

    [Fact]
    public void Records_that_share_an_address_or_a_number_are_one_person()
    {
        LedgerEvent[] events = [Of("e:1", "p:1"), Of("p:1", "p:1"), Of("e:2", "p:2"), Of("e:3", "p:2"), Of("e:4")];
        Assert.Equal(3, new DistinctPeople(events).Count(events));
        Assert.True(events[0].IsSamePerson(events[1]));
        Assert.False(events[0].IsSamePerson(events[2]));
    }

    [Fact]
    public void However_the_records_come_people_are_as_many_as_the_groups_that_share_a_key() =>
        Gen.Select(Gen.Int[0, 8], Gen.Int[0, 8])
            .Array[0, 25]
            .Sample(
                pairs =>
                {
                    var events = pairs.Select(p => Of($"e:{p.Item1}", p.Item2 == 0 ? null : $"p:{p.Item2}")).ToList();
                    // The slow way: spread each event's mark over all that share a key until nothing changes.
                    var marks = Enumerable.Range(0, events.Count).ToArray();
                    for (var changed = true; changed; )
                    {
                        changed = false;
                        for (var i = 0; i < events.Count; i++)
                        for (var j = 0; j < events.Count; j++)
                            if (events[i].IsSamePerson(events[j]) && marks[j] < marks[i])
                                (marks[i], changed) = (marks[j], true);
                    }
                    Assert.Equal(marks.Distinct().Count(), new DistinctPeople(events).Count(events));
                },
                iter: Cases.Of(3_000)
            );

    [Fact]
    public void A_city_of_the_same_name_in_another_region_is_another_place()
    {
        var crowd = new PlaceCrowd(
            Enumerable
                .Range(0, 6)
                .Select(i =>
                    Of($"e:{i}") with
                    {
                        Place = new Place("Springfield", i < 3 ? "Illinois" : "Ohio", "United States"),
                    }
                )
        );
        var here = new Place("Springfield", "Ohio", "United States");
        Assert.Equal(PlaceLevel.Country, crowd.FinestLevel(here, PlaceLevel.City));
        Assert.Equal(3, crowd.SharedBy(here, PlaceLevel.City));
    }

    [Fact]
    public void Five_records_of_one_person_are_no_crowd()
    {
        var crowd = new PlaceCrowd(
            Enumerable.Range(0, 5).Select(i => Of($"e:{i}", "p:1") with { Place = new Place("Leeds", "", "UK") })
        );
        Assert.Equal(1, crowd.SharedBy(new Place("Leeds", "", "UK"), PlaceLevel.City));
    }

    [Theory]
    [InlineData("salt-jug.example/shop", "salt-jug.example/shop", true)]
    [InlineData("salt-jug.example/shop", "other.example/shop", false)]
    [InlineData("/shop?ref=letter", "salt-jug.example/shop?ref=letter", true)]
    [InlineData("/shop?ref=letter", "salt-jug.example/shop", false)]
    [InlineData("/shop", "/shop", true)]
    public void A_first_page_is_compared_with_its_host_and_its_query(string pattern, string note, bool holds)
    {
        var visitor = VisitorRecord
            .New("v", Now)
            .Arrive(Now)
            .CameIn(new WayIn(note, "", new Dictionary<string, string>()));
        var rule = CompiledRule.Compile(
            new FactTest(VisitorFact.EntryPage, FactComparison.Is, pattern),
            new Dictionary<Guid, Segment>()
        );
        Assert.Equal(holds, rule.Holds(new FactReader(visitor, VisitorFacts.Unknown, [], Now)));
    }

    [Theory]
    [InlineData("Noor", false, "Noor")]
    [InlineData("נור", false, "\u2068נור\u2069")]
    [InlineData("Noor", true, "\u2068Noor\u2069")]
    [InlineData("12", true, "12")]
    public void A_value_of_the_other_direction_stands_by_itself(string value, bool rightToLeft, string said)
    {
        var template = MessageTemplate.TryParse("{{ name }}", out _)!;
        var voice = Voice.Of(rightToLeft ? "ar" : "en", []);
        var spans = template.Render(new Dictionary<string, string> { ["name"] = value }, voice);
        Assert.Equal(said, string.Concat(spans.Select(s => s.Text)));
    }

    [Theory]
    [InlineData(0, 20)]
    [InlineData(1_000, 20)]
    [InlineData(100_800, 1_000)]
    public void A_rush_is_told_from_the_usual_pace(int lastWeek, int most) => Assert.Equal(most, Rush.Most(lastWeek));
}
