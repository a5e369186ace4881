using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Sources;
using Outcry.Server.Intake.Polls;
using Outcry.Store.Rows;

namespace Outcry.Server.Tests;

/// <summary>Lists as others publish them, well and badly.</summary>
public sealed class ListReaderTests
{
    private static readonly Instant Now = Instant.FromUtc(2015, 11, 24, 12, 0);

    private static ItemList Read(PollFormat format, string text, string list = "") =>
        ListReader.Read(text, new Polling("http://x.example", format, list, 60, 100));

    private static IncomingEvent Event(ItemList list, PollFormat format, int place = 0)
    {
        var item = list.Items[place];
        var (arrival, fault) = MapReader.Read(
            ListReader.OwnMap(format)!,
            item.Read,
            new ReadingContext(item.ContentId, Now, DateTimeZone.Utc)
        );
        Assert.Null(fault);
        return arrival!;
    }

    private static string Page(params string[] blocks) =>
        "<html><body>"
        + string.Concat(blocks.Select(b => $"<script type=\"application/ld+json\">{b}</script>"))
        + "</body></html>";

    [Fact]
    public void A_review_inside_its_product_is_of_that_product()
    {
        var list = Read(
            PollFormat.JsonLd,
            Page(
                """{"@context":"https://schema.org","@type":"Product","name":"Iron bowl","url":"https://pots.example/bowl","review":{"@type":"Review","author":"Maeve","datePublished":"2015-11-01","reviewRating":{"ratingValue":"4.5"},"reviewBody":"Deep red."}}"""
            )
        );
        var review = Event(list, PollFormat.JsonLd);
        Assert.Equal(("Iron bowl", "https://pots.example/bowl"), (review.Product!.Name, review.Product.Address));
        Assert.Equal(("Maeve", "4.5", "Deep red."), (review.FirstName, review.Fields["stars"], review.Fields["words"]));
        Assert.Equal(Instant.FromUtc(2015, 11, 1, 0, 0), review.At);
    }

    [Fact]
    public void Reviews_in_graphs_lists_and_several_blocks_are_all_found_and_a_broken_block_is_passed_over()
    {
        var list = Read(
            PollFormat.JsonLd,
            Page(
                """{"@graph":[{"@type":"WebSite"},{"@type":["Thing","Product"],"name":"Jug","review":[{"@type":"Review","reviewRating":{"ratingValue":5}},{"@type":"Review","reviewRating":{"ratingValue":3}}]}]}""",
                "{ not json",
                """[{"@type":"Review","reviewRating":{"ratingValue":4},"itemReviewed":{"name":"Vase"}}]"""
            )
        );
        Assert.Equal(
            ["5", "3", "4"],
            Enumerable.Range(0, 3).Select(i => Event(list, PollFormat.JsonLd, i).Fields["stars"])
        );
        Assert.Equal("Vase", Event(list, PollFormat.JsonLd, 2).Product!.Name);
    }

    [Fact]
    public void A_page_without_reviews_says_so() =>
        Assert.Contains(
            "No schema.org Review",
            Read(PollFormat.JsonLd, "<p>hello</p>").Fault,
            StringComparison.Ordinal
        );

    [Fact]
    public void A_feeds_markup_becomes_text_and_its_script_only_words()
    {
        var list = Read(
            PollFormat.Feed,
            """
            <?xml version="1.0"?><rss version="2.0"><channel><title>Journal</title><link>https://pots.example</link><description>x</description>
            <item><title>Kiln &lt;b&gt;opening&lt;/b&gt;</title><link>https://pots.example/journal/kiln</link><guid>k1</guid>
            <pubDate>Tue, 17 Nov 2015 09:00:00 +0100</pubDate><description>&lt;p&gt;Two days &lt;script&gt;alert(1)&lt;/script&gt; of waiting&lt;/p&gt;</description></item>
            </channel></rss>
            """
        );
        var post = Event(list, PollFormat.Feed);
        Assert.Equal(("k1", "Kiln opening"), (post.ExternalId, post.Product!.Name));
        Assert.Equal("https://pots.example/journal/kiln", post.Product.Address);
        Assert.Equal(Instant.FromUtc(2015, 11, 17, 8, 0), post.At);
        Assert.DoesNotContain("<", post.Fields["words"], StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("a;b\n1;2\n")]
    [InlineData("a,b\r\n1,2\r\n")]
    [InlineData("a\tb\n1\t2")]
    [InlineData("\uFEFFa,b\n1,2\n\n\n")]
    public void The_separator_of_a_list_is_found(string text)
    {
        var item = Assert.Single(Read(PollFormat.Csv, text.TrimStart('\uFEFF')).Items);
        Assert.Equal(("1", "2", null), (item.Read("a"), item.Read("b"), item.Read("c")));
    }

    [Fact]
    public void The_same_item_has_the_same_id_and_another_another()
    {
        var twice = Read(PollFormat.Csv, "a,b\n1,2\n1,2\n1,3\n").Items;
        Assert.Equal(twice[0].ContentId(), twice[1].ContentId());
        Assert.NotEqual(twice[0].ContentId(), twice[2].ContentId());
        // Cells are told apart, not only their letters.
        var shifted = Read(PollFormat.Csv, "a,b\n1,23\n12,3\n").Items;
        Assert.NotEqual(shifted[0].ContentId(), shifted[1].ContentId());
    }

    [Theory]
    // A blank line before the first object, and a pointer left over from another format.
    [InlineData(PollFormat.NdJson, "\n\n{\"a\":1,\"b\":{\"c\":2}}\n{\"d\":3}", "/data", "/a=1 /b/c=2")]
    [InlineData(PollFormat.Json, "{\"data\":[{\"a\":1},{\"b\":2}]}", "/data", "/a=1")]
    [InlineData(PollFormat.Json, "[]", "", "")]
    [InlineData(PollFormat.Csv, "Name,Stars\nNoor,5\n", "", "Name=Noor Stars=5")]
    [InlineData(PollFormat.Csv, "Name,Stars\n", "", "Name= Stars=")]
    [InlineData(PollFormat.Csv, "Name,Stars\nNoor\n", "", "Name=Noor Stars=")]
    public void A_list_tells_its_places_with_the_first_items_values(
        PollFormat format,
        string text,
        string list,
        string places
    ) => Assert.Equal(places, string.Join(' ', Read(format, text, list).Places.Select(p => $"{p.Pointer}={p.Sample}")));

    [Theory]
    [InlineData(PollFormat.Json, "3", "", "neither an object nor a list")]
    [InlineData(PollFormat.Json, "{}", "/data", "Nothing stands at /data")]
    [InlineData(PollFormat.Json, "{", "", "not JSON")]
    [InlineData(PollFormat.NdJson, "{}\nnope", "", "not JSON")]
    [InlineData(PollFormat.Csv, "", "", "empty")]
    [InlineData(PollFormat.Feed, "<html></html>", "", "neither RSS nor Atom")]
    public void What_cannot_be_read_is_said_in_words(PollFormat format, string text, string list, string because) =>
        Assert.Contains(because, Read(format, text, list).Fault, StringComparison.Ordinal);
}
