using System.Globalization;
using System.Text;
using System.Text.Encodings.Web;
using System.Text.RegularExpressions;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.WebUtilities;
using Outcry.Core.Pages;
using Outcry.Server.Platform;

namespace Outcry.Server.Sites;

/// <summary>
/// A neutral page of the desk's own that stands in for a page of the site where that cannot be framed: the site has not
/// the snippet yet, or forbids framing. The real snippet runs on it and draws the draft.
/// </summary>
internal static partial class StageSketch
{
    /// <summary>The parameter that names the element where an inset would stand.</summary>
    public const string PlaceParameter = "outcry-place";

    // Containers that a page may well have; anything else becomes a plain block.
    private static readonly HashSet<string> Tags =
    [
        "div",
        "section",
        "main",
        "article",
        "aside",
        "header",
        "footer",
        "nav",
        "p",
        "span",
        "h1",
        "h2",
        "h3",
        "figure",
    ];

    public static Results<ContentHttpResult, ProblemHttpResult> Handle(HttpContext http, Guid siteId, LiveSites sites)
    {
        var site = sites.GetById(siteId);
        http.Response.Headers.CacheControl = "no-store";
        http.Items[SecurityHeaders.FramedByDesk] = SecurityHeaders.Sketch;
        var place = http.Request.Query[PlaceParameter].ToString();
        return TypedResults.Content(Html(site, place), "text/html", Encoding.UTF8);
    }

    /// <summary>Where the sketches of a site's pages are.</summary>
    public static string PathOf(Guid siteId) => $"/api/sites/{siteId}/sketch";

    /// <summary>The page of the site that a sketch stands for; null when the address is none of this site's sketches.</summary>
    public static PageAddress? PageOf(HttpRequest request, string address, LiveSite site)
    {
        // Every page view of every site comes by here, so the first look is a cheap one.
        if (!address.Contains("/sketch/", StringComparison.OrdinalIgnoreCase))
            return null;
        if (!Uri.TryCreate(address, UriKind.Absolute, out var uri) || uri.Authority != request.Host.Value)
            return null;
        var root = PathOf(site.Id) + "/";
        if (!uri.AbsolutePath.StartsWith(root, StringComparison.OrdinalIgnoreCase))
            return null;
        var query = QueryHelpers.ParseQuery(uri.Query);
        query.Remove(PlaceParameter);
        var home = new Uri(site.HomeAddress).GetLeftPart(UriPartial.Authority);
        var page = QueryHelpers.AddQueryString(
            $"{home}/{uri.AbsolutePath[root.Length..]}",
            query.SelectMany(p => p.Value, (p, v) => KeyValuePair.Create(p.Key, v))
        );
        return PageAddress.TryParse(page);
    }

    private static string Html(LiveSite site, string place) =>
        string.Create(
            CultureInfo.InvariantCulture,
            $"""
            <!doctype html>
            <html lang="{Encode(site.Context.Language)}">
            <head>
            <meta charset="utf-8">
            <meta name="viewport" content="width=device-width, initial-scale=1">
            <title>Sketch of a page</title>
            <link rel="stylesheet" href="/sketch.css">
            <script src="/o/{Encode(site.Key)}.js" async></script>
            </head>
            <body>
            <header><b>{Encode(site.Name)}</b><i></i><i></i><i></i></header>
            <main>
            <h1></h1>
            {Place(place)}
            <figure></figure>
            <p></p><p></p><p></p>
            <section><div></div><div></div><div></div></section>
            <p></p><p></p><p></p><p></p>
            </main>
            <footer>Sketch of a page</footer>
            </body>
            </html>
            """
        );

    /// <summary>Elements that a selector of the plain sort finds, nested as it says; empty when it is of another sort.</summary>
    internal static string Place(string selector)
    {
        var steps = Combinator().Split(selector.Split(',')[0].Trim());
        if (selector.Length is 0 or > 200 || !steps.All(s => Step().IsMatch(s)))
            return "";
        var (open, close) = (new StringBuilder(), new StringBuilder());
        foreach (var step in steps)
        {
            var tag = TagName().Match(step).Value.ToLowerInvariant();
            tag = Tags.Contains(tag) ? tag : "div";
            var classes = ClassName().Matches(step).Select(m => m.Groups[1].Value);
            open.Append(
                CultureInfo.InvariantCulture,
                $"<{tag} class=\"{Encode(string.Join(' ', classes.Append("place")))}\""
            );
            if (Id().Match(step) is { Success: true } id)
                open.Append(CultureInfo.InvariantCulture, $" id=\"{Encode(id.Groups[1].Value)}\"");
            foreach (Match attribute in Attribute().Matches(step))
                open.Append(
                    CultureInfo.InvariantCulture,
                    $" {attribute.Groups[1].Value}=\"{Encode(attribute.Groups[2].Value)}\""
                );
            open.Append('>');
            close.Insert(0, $"</{tag}>");
        }
        return open.Append(close).ToString();
    }

    private static string Encode(string text) => HtmlEncoder.Default.Encode(text);

    [GeneratedRegex(@"\s*>\s*|\s+")]
    private static partial Regex Combinator();

    [GeneratedRegex(@"^(?=.)[a-zA-Z0-9]*(#[\w-]+|\.[\w-]+|\[data-[\w-]+(=""?[^""\]<>]*""?)?\])*$")]
    private static partial Regex Step();

    [GeneratedRegex("^[a-zA-Z0-9]*")]
    private static partial Regex TagName();

    [GeneratedRegex(@"\.([\w-]+)")]
    private static partial Regex ClassName();

    [GeneratedRegex(@"#([\w-]+)")]
    private static partial Regex Id();

    [GeneratedRegex(@"\[(data-[\w-]+)(?:=""?([^""\]]*)""?)?\]")]
    private static partial Regex Attribute();
}
