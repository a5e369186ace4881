using System.Text.Json;

namespace Outcry.Standins.Site;

/// <summary>Something the demo studio sells or teaches.</summary>
/// <param name="Form">What its picture shows: mug, bowl, vase, jug, bottle, plate or kit.</param>
internal sealed record Article(
    string Slug,
    string Name,
    string Category,
    decimal Price,
    int Stock,
    string Words,
    string Form,
    string Glaze,
    string Ground
);

internal sealed record JournalPiece(string Slug, string Title, string Words, IReadOnlyList<string> Paragraphs);

/// <summary>The demo studio's goods, read from the open sample data.</summary>
internal sealed record Catalogue(
    IReadOnlyList<Article> Products,
    IReadOnlyList<Article> Workshops,
    IReadOnlyList<JournalPiece> Journal
)
{
    public static Catalogue Read()
    {
        using var file = File.OpenRead(Path.Combine(AppContext.BaseDirectory, "demo", "catalogue.json"));
        return JsonSerializer.Deserialize<Catalogue>(file, JsonSerializerOptions.Web)
            ?? throw new InvalidDataException("demo/catalogue.json is empty.");
    }

    public Article? FindProduct(string slug) => Products.FirstOrDefault(p => p.Slug == slug);

    public Article? FindWorkshop(string slug) => Workshops.FirstOrDefault(p => p.Slug == slug);

    public Article? Find(string slug) => FindProduct(slug) ?? FindWorkshop(slug);

    public bool IsWorkshop(Article article) => Workshops.Contains(article);

    public string PathOf(Article article) => (IsWorkshop(article) ? "/workshops/" : "/shop/") + article.Slug;
}
