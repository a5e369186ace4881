using System.Globalization;
using System.Text;

namespace Outcry.Standins.Site;

/// <summary>Draws the studio's pots as SVG: a silhouette in two glazes, a few specks, a table and a light.</summary>
internal static class Pottery
{
    private const string Clay = "#B98A64";

    public static string Draw(Article article)
    {
        var silhouette = Silhouette(article.Form);
        var svg = new StringBuilder();
        svg.Append(
            CultureInfo.InvariantCulture,
            $"""
            <svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 400 400" role="img" aria-label="{Html.Text(
                article.Name
            )}">
            <defs><clipPath id="pot"><path d="{silhouette}"/></clipPath></defs>
            <rect width="400" height="400" fill="{article.Ground}"/>
            <rect y="300" width="400" height="100" fill="#000" opacity=".12"/>
            <ellipse cx="205" cy="336" rx="130" ry="16" fill="#000" opacity=".22"/>
            {Handle(article)}
            <g clip-path="url(#pot)">
            <rect width="400" height="400" fill="{article.Glaze}"/>
            <path d="M0 270 q50 -26 100 0 t100 0 t100 0 t100 0 V400 H0Z" fill="{Clay}"/>
            <rect x="128" width="16" height="400" fill="#fff" opacity=".28"/>
            <path d="M250 0 H400 V400 H270Z" fill="#000" opacity=".14"/>
            """
        );
        Specks(svg, article.Slug);
        svg.Append("</g></svg>");
        return svg.ToString();
    }

    /// <summary>A wall with two shelves of pots, to stand behind something.</summary>
    public static string DrawShelves(IEnumerable<Article> articles)
    {
        var svg = new StringBuilder(
            """
            <svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 1200 800" role="img" aria-label="Shelves in the studio">
            <rect width="1200" height="800" fill="#DDD3C6"/><path d="M0 0 H520 L260 800 H0Z" fill="#fff" opacity=".22"/>
            """
        );
        foreach (var (article, place) in articles.Select((a, i) => (a, i)))
        {
            var (x, y) = (30 + place % 5 * 230, place < 5 ? 60 : 430);
            // Only the pot and its shadow: the wall behind it is everybody's.
            var pot = Draw(article with { Ground = "none" })
                .Replace(
                    "viewBox",
                    $"x=\"{x}\" y=\"{y}\" width=\"260\" height=\"260\" viewBox",
                    StringComparison.Ordinal
                )
                .Replace("\"pot\"", $"\"pot{place}\"", StringComparison.Ordinal)
                .Replace("#pot)", $"#pot{place})", StringComparison.Ordinal)
                .Replace(
                    "<rect y=\"300\" width=\"400\" height=\"100\" fill=\"#000\" opacity=\".12\"/>",
                    "",
                    StringComparison.Ordinal
                );
            svg.Append(pot);
        }
        return svg.Append(
                """<rect y="278" width="1200" height="26" fill="#7B5F45"/><rect y="648" width="1200" height="26" fill="#7B5F45"/></svg>"""
            )
            .ToString();
    }

    private static string Silhouette(string form) =>
        form switch
        {
            "bowl" => "M80 190 H320 C320 280 270 338 200 338 C130 338 80 280 80 190Z",
            "plate" => "M50 270 H350 C340 310 290 336 200 336 C110 336 60 310 50 270Z",
            "vase" => "M165 60 H235 L228 130 C300 170 310 290 250 338 H150 C90 290 100 170 172 130Z",
            "bottle" => "M180 40 H220 L222 150 C290 190 290 300 250 338 H150 C110 300 110 190 178 150Z",
            "jug" => "M130 110 L245 110 L285 90 L270 140 C310 220 290 300 265 338 H135 C105 290 100 200 130 110Z",
            "kit" => "M90 200 H310 V338 H90Z M120 150 H200 V200 H120Z M215 165 H285 V200 H215Z",
            _ => "M115 130 H275 C280 200 275 290 258 338 H132 C115 290 110 200 115 130Z",
        };

    private static string Handle(Article article) =>
        article.Form switch
        {
            "mug" =>
                $"<path d=\"M265 170 C350 160 350 280 262 290\" fill=\"none\" stroke=\"{article.Glaze}\" stroke-width=\"24\"/>",
            "jug" =>
                $"<path d=\"M135 140 C50 140 60 280 125 290\" fill=\"none\" stroke=\"{article.Glaze}\" stroke-width=\"22\"/>",
            _ => "",
        };

    private static void Specks(StringBuilder svg, string seed)
    {
        // Any steady spread will do; the same pot must look the same at every request.
        var at = seed.Aggregate(17, (sum, letter) => (sum * 31 + letter) % 9973);
        for (var i = 0; i < 26; i++)
        {
            at = (at * 137 + 71) % 9973;
            var (x, y) = (80 + at % 240, 60 + at / 7 % 270);
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<circle cx=\"{x}\" cy=\"{y}\" r=\"{1.2 + at % 3}\" fill=\"#000\" opacity=\".3\"/>"
            );
        }
    }
}
