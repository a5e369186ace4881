using NodaTime;
using Outcry.Core.Pages;
using Outcry.Core.Rehearsing;
using Outcry.Standins.Site;

namespace Outcry.Standins.Seed;

/// <summary>What a simulated visitor does in the end, if anything.</summary>
internal enum Deed
{
    None,
    Buys,
    Books,
    JoinsLetters,
    AsksForQuote,
}

/// <summary>A simulated visit: pages with stays, and what it comes to.</summary>
internal sealed record Walk(IReadOnlyList<JourneyPage> Pages, Deed Deed, Article? About);

/// <summary>Makes up believable visits: few pages, long tails, more browsing than buying.</summary>
internal sealed class Walker(Catalogue goods, string host, Random chance)
{
    public Walk Draw()
    {
        var paths = new List<string> { Entry() };
        while (paths.Count < 9 && chance.NextDouble() < 0.66)
            paths.Add(Next(paths[^1]));
        var (deed, about) = DrawDeed(paths);
        if (deed is Deed.Buys or Deed.Books)
            paths.AddRange([goods.PathOf(about!), "/cart", "/checkout", "/checkout/thank-you"]);
        if (deed == Deed.AsksForQuote)
            paths.Add("/quote");
        return new Walk(
            [.. paths.Select(p => new JourneyPage(PageAddress.Recorded(host, p), StayMs(p), []))],
            deed,
            about
        );
    }

    private string Entry() =>
        chance.NextDouble() switch
        {
            < 0.46 => "/",
            < 0.60 => "/shop",
            < 0.76 => "/shop/" + Favoured(goods.Products).Slug,
            < 0.86 => "/workshops",
            _ => "/journal/" + goods.Journal[chance.Next(goods.Journal.Count)].Slug,
        };

    private string Next(string from) =>
        chance.NextDouble() switch
        {
            < 0.34 when !from.StartsWith("/shop/", StringComparison.Ordinal) => "/shop",
            < 0.66 => "/shop/" + Favoured(goods.Products).Slug,
            < 0.76 => "/workshops",
            < 0.87 => "/workshops/" + Favoured(goods.Workshops).Slug,
            < 0.92 => "/journal",
            < 0.97 => "/journal/" + goods.Journal[chance.Next(goods.Journal.Count)].Slug,
            _ => "/",
        };

    private (Deed, Article?) DrawDeed(List<string> paths)
    {
        var roll = chance.NextDouble();
        var product = goods.Products.FirstOrDefault(p => paths.Contains(goods.PathOf(p)));
        var workshop = goods.Workshops.FirstOrDefault(p => paths.Contains(goods.PathOf(p)));
        if (workshop is not null && roll < 0.14)
            return (Deed.Books, workshop);
        if (product is not null && roll < 0.09)
            return (Deed.Buys, product);
        return roll switch
        {
            > 0.985 => (Deed.JoinsLetters, null),
            > 0.981 => (Deed.AsksForQuote, null),
            _ => (Deed.None, null),
        };
    }

    // The first in the list are the favourites: each is a third more likely than the next.
    private Article Favoured(IReadOnlyList<Article> articles)
    {
        var at = 0;
        while (at < articles.Count - 1 && chance.NextDouble() > 0.25)
            at++;
        return articles[at];
    }

    // Times on a page are close to log-normal: a median of some twenty seconds and a few that stay for minutes.
    private long StayMs(string path)
    {
        var median =
            path.StartsWith("/journal/", StringComparison.Ordinal) ? 55.0
            : path.StartsWith("/shop/", StringComparison.Ordinal) ? 28.0
            : 19.0;
        var normal = Math.Sqrt(-2 * Math.Log(1 - chance.NextDouble())) * Math.Cos(2 * Math.PI * chance.NextDouble());
        return (long)(Math.Clamp(median * Math.Exp(0.9 * normal), 1.5, 900) * 1000);
    }
}
