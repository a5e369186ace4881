using System.Globalization;
using System.Text.Json;

namespace Outcry.Standins.Site;

/// <summary>What a customer wrote of an article; small letters, as the list's JSON has them.</summary>
internal sealed record Review(string id, string author, int rating, string text, string item, string created)
{
    public static IReadOnlyList<Review> All(Catalogue goods)
    {
        var today = DateTime.UtcNow.Date;
        var words = new (string Author, int Stars, string Text, string Slug, int DaysAgo)[]
        {
            (
                "Maeve Thorne",
                5,
                "The glaze runs like a small river. My morning coffee has never been so slow.",
                "ash-glaze-mug",
                1
            ),
            ("Henrik Lindqvist", 4, "Heavier than it looks, in a good way.", "iron-bowl", 2),
            ("Amara Osei", 5, "Made my first pot at the kitchen table. It leans. I love it.", "first-pot-kit", 3),
            ("Rory Campbell", 2, "Arrived with a chip; they sent another one at once.", "speckled-plate", 4),
            ("Sanne Visser", 5, "Two hours of not looking at a screen, and a pot to show for it.", "wheel-throwing", 5),
            ("Clara Moreau", 4, "The red is deeper than in the picture.", "iron-bowl", 8),
            ("Idris Bensalem", 5, "Fire, smoke, and a bowl that cannot be made twice.", "raku-day", 9),
            ("Lotte Klein", 3, "Pretty. The handle is small for my hand.", "ash-glaze-mug", 12),
        };
        return
        [
            .. words.Select(
                (w, i) =>
                    new Review(
                        $"r{i + 101}",
                        w.Author,
                        w.Stars,
                        w.Text,
                        goods.Find(w.Slug)!.Name,
                        today
                            .AddDays(-w.DaysAgo)
                            .AddHours(9 + i)
                            .ToString("yyyy-MM-dd'T'HH:mm:ss'Z'", CultureInfo.InvariantCulture)
                    )
            ),
        ];
    }

    /// <summary>Reviews of a product as schema.org JSON-LD, as its page carries them.</summary>
    public static string JsonLd(Catalogue goods, Article article, string origin) =>
        JsonSerializer.Serialize(
            new Dictionary<string, object>
            {
                ["@context"] = "https://schema.org",
                ["@type"] = "Product",
                ["name"] = article.Name,
                ["url"] = origin + goods.PathOf(article),
                ["review"] = All(goods)
                    .Where(r => r.item == article.Name)
                    .Select(r => new Dictionary<string, object>
                    {
                        ["@type"] = "Review",
                        ["@id"] = $"{origin}/reviews/{r.id}",
                        ["author"] = new Dictionary<string, object> { ["@type"] = "Person", ["name"] = r.author },
                        ["datePublished"] = r.created,
                        ["reviewRating"] = new Dictionary<string, object>
                        {
                            ["@type"] = "Rating",
                            ["ratingValue"] = r.rating,
                        },
                        ["reviewBody"] = r.text,
                    }),
            }
        );
}
