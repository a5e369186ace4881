using System.Globalization;
using System.Security.Cryptography;
using System.ServiceModel.Syndication;
using System.Text;
using System.Text.Json;
using System.Xml;
using AngleSharp.Html.Parser;
using CsvHelper;
using CsvHelper.Configuration;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Sources;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake.Polls;

/// <summary>One item of a list: how to read its places, and what an id is made of where it has none.</summary>
internal sealed record ListItem(int Row, Func<string, string?> Read, Func<string> Content)
{
    /// <summary>An id of its content, worked out where it is asked for: of most items nobody does.</summary>
    public string ContentId() => ListReader.ContentId(Content());
}

/// <summary>What a fetched answer holds, or the sentence that says why nothing can be read from it.</summary>
/// <param name="Places">Places that can be pointed at, with the first item's values; none in formats that say themselves what their parts mean.</param>
internal sealed record ItemList(IReadOnlyList<ListItem> Items, IReadOnlyList<JsonPlace> Places, string? Fault)
{
    public static ItemList Unreadable(string fault) => new([], [], fault);

    public static ItemList OfJson(IEnumerable<JsonElement> items)
    {
        var all = items.ToList();
        return new ItemList(
            [.. all.Select((item, i) => ListReader.Of(i + 1, item))],
            all.Count == 0 ? [] : JsonPlaces.List(all[0]),
            null
        );
    }
}

/// <summary>Reads lists in the formats that reviews, totals and feeds are published in.</summary>
internal static class ListReader
{
    /// <summary>Items looked at in one answer.</summary>
    private const int MostItems = 5_000;

    public static ItemList Read(string text, Polling poll)
    {
        try
        {
            return poll.Format switch
            {
                PollFormat.Json => Json(text, poll.ListPointer),
                PollFormat.NdJson => NdJson(text),
                PollFormat.Csv => Csv(text),
                PollFormat.JsonLd => JsonLd(text),
                _ => Feed(text),
            };
        }
        catch (JsonException bad)
        {
            return ItemList.Unreadable($"It is not JSON: line {bad.LineNumber + 1}.");
        }
        catch (XmlException bad)
        {
            return ItemList.Unreadable($"It is neither RSS nor Atom: line {bad.LineNumber}.");
        }
        catch (MaxFieldSizeException)
        {
            return ItemList.Unreadable("A cell of it is longer than 64 KB: a quotation mark may not be closed.");
        }
        catch (CsvHelperException)
        {
            return ItemList.Unreadable("It is no comma-separated list.");
        }
    }

    /// <summary>The map that fits a format that says itself what its parts mean; null where a person has to say it.</summary>
    public static EventMap? OwnMap(PollFormat format) =>
        format switch
        {
            PollFormat.Feed => Map(
                EventKind.Post,
                (FieldMeaning.Id, "id"),
                (FieldMeaning.Time, "published"),
                (FieldMeaning.Product, "title"),
                (FieldMeaning.ProductAddress, "link"),
                (FieldMeaning.Words, "summary")
            ),
            PollFormat.JsonLd => Map(
                EventKind.Review,
                (FieldMeaning.Id, "/@id"),
                (FieldMeaning.Time, "/datePublished"),
                (FieldMeaning.FirstName, "/author/name"),
                (FieldMeaning.Stars, "/reviewRating/ratingValue"),
                (FieldMeaning.Words, "/reviewBody"),
                (FieldMeaning.Product, "/itemReviewed/name"),
                (FieldMeaning.ProductAddress, "/itemReviewed/url")
            ),
            _ => null,
        };

    /// <summary>SHA-256 of what an item says, for items without an id: the same item read twice is one.</summary>
    public static string ContentId(string content) =>
        "c:" + Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(content)).AsSpan(0, 16));

    public static ListItem Of(int row, JsonElement item) =>
        new(row, place => JsonPlaces.Read(item, place), item.GetRawText);

    private static ItemList Json(string text, string pointer)
    {
        var document = JsonGate.Parse(text);
        var at = document;
        if (pointer.Length > 0)
        {
            if (
                !global::Json.Pointer.JsonPointer.TryParse(pointer, out var parsed)
                || parsed.Evaluate(document) is not { } found
            )
                return ItemList.Unreadable($"Nothing stands at {pointer}.");
            at = found;
        }
        return at.ValueKind switch
        {
            JsonValueKind.Array => ItemList.OfJson(at.EnumerateArray().Take(MostItems)),
            JsonValueKind.Object => ItemList.OfJson([at]),
            _ => ItemList.Unreadable("It is neither an object nor a list."),
        };
    }

    private static ItemList NdJson(string text) =>
        ItemList.OfJson(
            text.Split('\n')
                .Select(l => l.Trim())
                .Where(l => l.Length > 0)
                .Take(MostItems)
                .Select(line => JsonGate.Parse(line))
        );

    private static ItemList Csv(string text)
    {
        using var reader = new CsvReader(new StringReader(text), CsvSettings);
        var items = new List<ListItem>();
        if (!reader.Read() || !reader.ReadHeader())
            return ItemList.Unreadable("It is empty: not even a heading line.");
        var heading = reader.HeaderRecord!;
        string[] first = [];
        while (items.Count < MostItems && reader.Read())
        {
            var cells = reader.Parser.Record!;
            if (items.Count == 0)
                first = cells;
            items.Add(
                new ListItem(
                    items.Count + 2,
                    place => Array.IndexOf(heading, place) is >= 0 and var i && i < cells.Length ? cells[i] : null,
                    () => string.Join('\u001f', cells)
                )
            );
        }
        return new ItemList(items, Columns(heading, first), null);
    }

    /// <summary>The columns of a CSV file as places, with the first row's values shortened to examples.</summary>
    public static IReadOnlyList<JsonPlace> Columns(string[] heading, string[] first) =>
        [.. heading.Select((name, i) => new JsonPlace(name, JsonPlaces.Sample(first.ElementAtOrDefault(i) ?? "")))];

    /// <summary>Longest cell taken, in characters.</summary>
    private const double LongestCell = 64 * 1024;

    public static CsvConfiguration CsvSettings { get; } =
        new(CultureInfo.InvariantCulture)
        {
            BadDataFound = null,
            MissingFieldFound = null,
            DetectDelimiter = true,
            DetectDelimiterValues = [",", ";", "\t"],
            IgnoreBlankLines = true,
            // A quote that is never closed makes one cell of the whole rest of a file.
            MaxFieldSize = LongestCell,
        };

    // A page may hold several blocks, each one thing, a list, or a graph; reviews also stand inside the product they are of.
    private static ItemList JsonLd(string html)
    {
        var page = new HtmlParser().ParseDocument(html);
        var reviews = new List<ListItem>();
        foreach (var block in page.QuerySelectorAll("script[type='application/ld+json']"))
            if (TryParse(block.TextContent) is { } document)
                Collect(document, default, reviews);
        return reviews.Count > 0
            ? new ItemList(reviews, [], null)
            : ItemList.Unreadable("No schema.org Review stands in this page's JSON-LD.");
    }

    private static JsonElement? TryParse(string json)
    {
        try
        {
            return JsonGate.Parse(json);
        }
        catch (JsonException)
        {
            // One broken block of a page does not spoil the others.
            return null;
        }
    }

    private static void Collect(JsonElement at, JsonElement product, List<ListItem> reviews)
    {
        if (reviews.Count >= MostItems)
            return;
        if (at.ValueKind == JsonValueKind.Array)
            foreach (var item in at.EnumerateArray())
                Collect(item, product, reviews);
        if (at.ValueKind != JsonValueKind.Object)
            return;
        if (Is(at, "Review"))
        {
            reviews.Add(WithProduct(reviews.Count + 1, at, product));
            return;
        }
        foreach (var part in at.EnumerateObject())
            if (part.Name is "@graph" or "review" or "reviews" or "mainEntity" or "itemListElement" or "item")
                Collect(part.Value, Is(at, "Product") ? at : product, reviews);
    }

    private static ListItem WithProduct(int row, JsonElement review, JsonElement product) =>
        Of(row, review) with
        {
            Read = place =>
                JsonPlaces.Read(review, place)
                ?? (
                    place.StartsWith("/itemReviewed", StringComparison.Ordinal)
                    && product.ValueKind == JsonValueKind.Object
                        ? JsonPlaces.Read(product, place["/itemReviewed".Length..])
                    : place == "/author/name" ? JsonPlaces.Read(review, "/author")
                    : null
                ),
        };

    private static bool Is(JsonElement at, string type) =>
        at.TryGetProperty("@type", out var found)
        && (
            found.ValueKind == JsonValueKind.String
                ? found.GetString() == type
                : found.ValueKind == JsonValueKind.Array
                    && found.EnumerateArray().Any(t => t.ValueKind == JsonValueKind.String && t.GetString() == type)
        );

    private static ItemList Feed(string text)
    {
        // No document type, so no entities that would unfold without end, and nothing fetched from elsewhere.
        using var xml = XmlReader.Create(
            new StringReader(text.TrimStart('\uFEFF', ' ', '\r', '\n')),
            new XmlReaderSettings { DtdProcessing = DtdProcessing.Prohibit, XmlResolver = null }
        );
        var feed = SyndicationFeed.Load(xml);
        return new ItemList([.. feed.Items.Take(MostItems).Select(PostOf)], [], null);
    }

    private static ListItem PostOf(SyndicationItem post, int place)
    {
        var link = post.Links.FirstOrDefault(l => l.RelationshipType is "alternate" or null)?.Uri?.ToString();
        var published = post.PublishDate > DateTimeOffset.MinValue ? post.PublishDate : post.LastUpdatedTime;
        var parts = new Dictionary<string, string?>
        {
            ["id"] = post.Id ?? link,
            ["title"] = Plain(post.Title?.Text),
            ["link"] = link,
            ["published"] =
                published > DateTimeOffset.MinValue ? published.ToString("O", CultureInfo.InvariantCulture) : null,
            ["summary"] = Plain(post.Summary?.Text),
        };
        return new ListItem(place + 1, parts.GetValueOrDefault, () => $"{link}|{post.Title?.Text}");
    }

    // Feeds carry markup; what is told is text.
    private static string? Plain(string? markup) =>
        markup is null ? null : new HtmlParser().ParseDocument(markup).Body?.TextContent.Trim();

    private static EventMap Map(EventKind kind, params (FieldMeaning, string)[] places) =>
        new(kind, places.ToDictionary(p => p.Item1, p => p.Item2), new Dictionary<string, string>());
}
