using System.Text.Json;
using CsCheck;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Sources;

namespace Outcry.Core.Tests;

public sealed class MappingTests
{
    private static readonly Instant Now = Instant.FromUtc(2015, 11, 24, 12, 0);
    private static readonly DateTimeZone London = DateTimeZoneProviders.Tzdb["Europe/London"];
    private static readonly ReadingContext Context = new(() => "fallback", Now, London);

    private const string Order = """
        { "order": { "number": 1007, "placed": "2015-11-24T09:30:00+01:00", "total_price": "1,234.50", "currency": "EUR",
          "buyer": { "first": "Noor", "family~name": "Haddad", "mail": "noor@post.example" },
          "lines": [ { "title": "Iron bowl", "page/url": "https://pots.example/shop/iron-bowl" }, { "title": "Mug" } ], "gift": true, "note": null } }
        """;

    private static (IncomingEvent? Event, ArrivalFault? Fault) Read(EventMap map, string json = Order)
    {
        var document = JsonDocument.Parse(json).RootElement;
        return MapReader.Read(map, place => JsonPlaces.Read(document, place), Context);
    }

    private static EventMap Map(EventKind kind, params (FieldMeaning, string)[] places) =>
        new(kind, places.ToDictionary(p => p.Item1, p => p.Item2), new Dictionary<string, string>());

    [Fact]
    public void An_event_is_read_from_json_of_any_shape()
    {
        var map = Map(
            EventKind.Purchase,
            (FieldMeaning.Id, "/order/number"),
            (FieldMeaning.Time, "/order/placed"),
            (FieldMeaning.FirstName, "/order/buyer/first"),
            (FieldMeaning.LastName, "/order/buyer/family~0name"),
            (FieldMeaning.Email, "/order/buyer/mail"),
            (FieldMeaning.Product, "/order/lines/0/title"),
            (FieldMeaning.ProductAddress, "/order/lines/0/page~1url"),
            (FieldMeaning.Amount, "/order/total_price"),
            (FieldMeaning.Currency, "/order/currency")
        ) with
        {
            Fields = new Dictionary<string, string> { ["gift"] = "/order/gift", ["note"] = "/order/note" },
        };
        var (arrival, fault) = Read(map);
        Assert.Null(fault);
        Assert.Equal("1007", arrival!.ExternalId);
        Assert.Equal(Instant.FromUtc(2015, 11, 24, 8, 30), arrival.At);
        Assert.Equal(("Noor", "Haddad"), (arrival.FirstName, arrival.LastName));
        Assert.Equal("https://pots.example/shop/iron-bowl", arrival.Product!.Address);
        Assert.Equal((1234.50m, "EUR"), (arrival.Amount, arrival.Currency));
        Assert.Equal("true", arrival.Fields["gift"]);
        Assert.False(arrival.Fields.ContainsKey("note"));
    }

    [Fact]
    public void The_places_of_a_sample_are_listed_with_examples_and_can_be_read_back()
    {
        var document = JsonDocument.Parse(Order).RootElement;
        var places = JsonPlaces.List(document);
        Assert.Contains(places, p => p is { Pointer: "/order/buyer/family~0name", Sample: "Haddad" });
        Assert.Contains(places, p => p.Pointer == "/order/lines/0/page~1url");
        Assert.DoesNotContain(places, p => p.Pointer.StartsWith("/order/lines/1", StringComparison.Ordinal));
        Assert.All(places, p => Assert.Equal(p.Sample, JsonPlaces.Read(document, p.Pointer)));
    }

    [Fact]
    public void A_sample_without_end_is_listed_to_an_end()
    {
        var deep = string.Concat(Enumerable.Repeat("{\"a\":", 60)) + "1" + new string('}', 60);
        Assert.Empty(JsonPlaces.List(JsonDocument.Parse(deep, new JsonDocumentOptions { MaxDepth = 100 }).RootElement));
        var wide = JsonSerializer.SerializeToElement(Enumerable.Range(0, 1000).ToDictionary(i => $"k{i}", i => i));
        Assert.Equal(JsonPlaces.MostListed, JsonPlaces.List(wide).Count);
    }

    [Theory]
    [InlineData("/order/none", "is missing")]
    [InlineData("not a pointer", "is missing")]
    public void A_needed_part_that_is_not_there_is_named_in_the_senders_spelling(string place, string because)
    {
        var (_, fault) = Read(Map(EventKind.Purchase, (FieldMeaning.Product, place)));
        Assert.Equal(place, fault!.Field);
        Assert.Contains(because, fault.Sentence, StringComparison.Ordinal);
    }

    [Fact]
    public void A_time_in_the_future_or_none_at_all_is_refused()
    {
        var map = Map(EventKind.SignUp, (FieldMeaning.Time, "/at"));
        Assert.Contains(
            "future",
            Read(map, """{"at":"2015-11-24T12:06:00Z"}""").Fault!.Sentence,
            StringComparison.Ordinal
        );
        Assert.Contains("no time", Read(map, """{"at":"soon"}""").Fault!.Sentence, StringComparison.Ordinal);
        Assert.Null(Read(map, """{"at":"2015-11-24T12:04:00Z"}""").Fault);
    }

    [Fact]
    public void An_amount_needs_a_currency_and_takes_its_sign_for_one()
    {
        var map = Map(EventKind.Purchase, (FieldMeaning.Product, "/p"), (FieldMeaning.Amount, "/a"));
        Assert.Contains("ISO 4217", Read(map, """{"p":"Mug","a":"28"}""").Fault!.Sentence, StringComparison.Ordinal);
        Assert.Equal("GBP", Read(map, """{"p":"Mug","a":"£28"}""").Event!.Currency);
        Assert.Equal("EUR", Read(map with { Currency = "EUR" }, """{"p":"Mug","a":28}""").Event!.Currency);
    }

    [Theory]
    [InlineData(EventKind.Review, FieldMeaning.Stars, "6", "stars")]
    [InlineData(EventKind.Review, FieldMeaning.Stars, "five", "stars")]
    [InlineData(EventKind.Total, FieldMeaning.Total, "many", "whole number")]
    [InlineData(EventKind.Total, FieldMeaning.Total, "1.5", "whole number")]
    public void A_figure_that_is_none_is_refused_with_what_it_should_be(
        EventKind kind,
        FieldMeaning meaning,
        string text,
        string because
    )
    {
        var (_, fault) = MapReader.Read(Map(kind, (meaning, "x")), _ => text, Context);
        Assert.Contains(because, fault!.Sentence, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("javascript:alert(1)")]
    [InlineData("data:text/html,x")]
    [InlineData("/relative")]
    public void An_address_that_is_not_on_the_web_is_refused(string address) =>
        Assert.NotNull(
            MapReader
                .Read(
                    Map(EventKind.Purchase, (FieldMeaning.Product, "p"), (FieldMeaning.ProductAddress, "a")),
                    place => place == "p" ? "Mug" : address,
                    Context
                )
                .Fault
        );

    [Theory]
    [InlineData("28", 28)]
    [InlineData("28.5", 28.5)]
    [InlineData("28,50 €", 28.5)]
    [InlineData("£1,234.50", 1234.5)]
    [InlineData("1.234,50", 1234.5)]
    [InlineData("1,234", 1234)]
    [InlineData("1.234", 1234)]
    [InlineData("12.345.678", 12345678)]
    [InlineData("EUR 1 200", 1200)]
    [InlineData("1'200.00 CHF", 1200)]
    [InlineData("0", 0)]
    public void Money_is_read_as_people_and_programs_write_it(string text, double amount) =>
        Assert.Equal((decimal)amount, ValueReading.Amount(text));

    [Theory]
    [InlineData("")]
    [InlineData("-5")]
    [InlineData("free")]
    [InlineData("1e9")]
    [InlineData("2000000000")]
    [InlineData("NaN")]
    [InlineData("..")]
    public void What_is_no_amount_is_none(string text) => Assert.Null(ValueReading.Amount(text));

    [Fact]
    public void Any_amount_is_read_back_from_how_it_is_written() =>
        Gen.Long[0, 99_999_999_999]
            .Sample(cents =>
            {
                var amount = cents / 100m;
                var written = amount.ToString("N2", System.Globalization.CultureInfo.InvariantCulture);
                var continental = written.Replace(',', '_').Replace('.', ',').Replace('_', '.');
                return ValueReading.Amount(written) == amount && ValueReading.Amount(continental) == amount;
            });

    [Theory]
    [InlineData("2015-11-24T10:00:00Z", "2015-11-24T10:00:00Z")]
    [InlineData("2015-07-01T10:00:00+02:00", "2015-07-01T08:00:00Z")]
    [InlineData("2015-07-01 10:00", "2015-07-01T09:00:00Z")]
    [InlineData("2015-07-01T10:00:00.5", "2015-07-01T09:00:00.5Z")]
    [InlineData("2015-03-29 01:30", "2015-03-29T01:30:00Z")]
    [InlineData("2015-10-25 01:30", "2015-10-25T00:30:00Z")]
    [InlineData("2015-11-24", "2015-11-24T00:00:00Z")]
    [InlineData("1448380800", "2015-11-24T16:00:00Z")]
    [InlineData("1448380800123", "2015-11-24T16:00:00.123Z")]
    [InlineData("Tue, 24 Nov 2015 10:00:00 +0000", "2015-11-24T10:00:00Z")]
    public void Times_are_read_and_those_without_offset_are_the_sites_own(string text, string instant) =>
        Assert.Equal(NodaTime.Text.InstantPattern.ExtendedIso.Parse(instant).Value, ValueReading.Time(text, London));

    [Theory]
    [InlineData("")]
    [InlineData("yesterday")]
    [InlineData("03/04/2015")]
    [InlineData("1970-01-01")]
    [InlineData("2015-13-01")]
    [InlineData("12")]
    public void What_is_no_time_or_before_2000_is_none(string text) => Assert.Null(ValueReading.Time(text, London));

    [Fact]
    public void A_map_is_guessed_from_the_names_people_give()
    {
        var orders = MapGuess.Guess(
            EventKind.Purchase,
            ["Order ID", "Created at", "Customer name", "E-mail", "Product", "Total", "Currency", "Shoe size"]
        );
        Assert.Equal("Order ID", orders.Places[FieldMeaning.Id]);
        Assert.Equal("Created at", orders.Places[FieldMeaning.Time]);
        Assert.Equal("Signed up", MapGuess.Guess(EventKind.SignUp, ["Name", "Signed up"]).Places[FieldMeaning.Time]);
        Assert.Equal("Customer name", orders.Places[FieldMeaning.FirstName]);
        Assert.Equal("E-mail", orders.Places[FieldMeaning.Email]);
        Assert.Equal("Total", orders.Places[FieldMeaning.Amount]);
        Assert.DoesNotContain("Shoe size", orders.Places.Values);
        Assert.Null(orders.Fault());
    }

    [Fact]
    public void A_guess_looks_at_the_last_part_of_a_pointer_and_takes_no_place_twice()
    {
        var map = MapGuess.Guess(EventKind.Review, ["/data/0/id", "/data/0/author", "/data/0/rating", "/data/0/text"]);
        Assert.Equal("/data/0/rating", map.Places[FieldMeaning.Stars]);
        Assert.Equal("/data/0/text", map.Places[FieldMeaning.Words]);
        Assert.Equal(map.Places.Count, map.Places.Values.Distinct().Count());
    }

    [Fact]
    public void A_whole_name_is_believed_before_a_last_part()
    {
        var map = MapGuess.Guess(EventKind.Purchase, ["/product/name", "/customer/name", "/customer/email"]);
        Assert.Equal("/product/name", map.Places[FieldMeaning.Product]);
        Assert.Equal("/customer/name", map.Places[FieldMeaning.FirstName]);
    }

    [Fact]
    public void A_kind_offers_what_it_needs_and_nothing_that_makes_no_sense_in_it()
    {
        Assert.Contains(FieldMeaning.Stars, EventMap.Offered(EventKind.Review));
        Assert.DoesNotContain(FieldMeaning.Amount, EventMap.Offered(EventKind.Review));
        Assert.DoesNotContain(FieldMeaning.Stars, EventMap.Offered(EventKind.Purchase));
        foreach (var kind in Enum.GetValues<EventKind>())
            Assert.Empty(EventMap.Needed(kind).Except(EventMap.Offered(kind)));
    }

    [Fact]
    public void A_total_is_money_in_an_order_and_a_count_in_a_profile()
    {
        Assert.Equal("total", MapGuess.Guess(EventKind.Purchase, ["total", "product"]).Places[FieldMeaning.Amount]);
        Assert.Equal("total", MapGuess.Guess(EventKind.Total, ["total"]).Places[FieldMeaning.Total]);
    }

    [Fact]
    public void A_map_says_what_it_lacks()
    {
        Assert.Contains("product", EventMap.Empty(EventKind.Purchase).Fault(), StringComparison.Ordinal);
        Assert.Null(EventMap.Empty(EventKind.SignUp).Fault());
        var odd = EventMap.Empty(EventKind.SignUp) with { Fields = new Dictionary<string, string> { ["a b"] = "/x" } };
        Assert.Contains("\"a b\"", odd.Fault(), StringComparison.Ordinal);
        Assert.Contains(
            "ISO 4217",
            (EventMap.Empty(EventKind.SignUp) with { Currency = "XXQ" }).Fault(),
            StringComparison.Ordinal
        );
    }

    [Theory]
    [InlineData("password", "password", "", false)]
    [InlineData("user_password", "text", "", false)]
    [InlineData("card-number", "text", "", false)]
    [InlineData("a", "text", "billing cc-number", false)]
    [InlineData("a", "hidden", "", false)]
    [InlineData("a", "file", "", false)]
    [InlineData("email", "email", "email", true)]
    public void Passwords_and_cards_may_not_be_mapped(string name, string type, string autocomplete, bool may) =>
        Assert.Equal(may, SafeField.MayLeave(name, type, autocomplete));

    [Fact]
    public void Text_is_cut_between_characters_and_never_inside_one()
    {
        var pots = string.Concat(Enumerable.Repeat("🏺", 150));
        var (arrival, _) = MapReader.Read(
            EventMap.Empty(EventKind.SignUp) with
            {
                Fields = new Dictionary<string, string> { ["f"] = "x" },
            },
            _ => pots,
            Context
        );
        Assert.Equal(200, arrival!.Fields["f"].Length);
        Assert.DoesNotContain('\uFFFD', arrival.Fields["f"]);
    }
}
