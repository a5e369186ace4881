using System.Globalization;
using System.Net;

namespace Outcry.Standins.Site;

/// <summary>The demo site's page frame.</summary>
internal static class Html
{
    public static string Text(string? value) => WebUtility.HtmlEncode(value ?? "");

    public static string Price(decimal amount) => "£" + amount.ToString("0.##", CultureInfo.InvariantCulture);

    public static IResult Page(SiteSettings settings, HttpContext http, string title, string body, int status = 200) =>
        Results.Content(Frame(settings, http, title, body), "text/html; charset=utf-8", statusCode: status);

    private static string Frame(SiteSettings settings, HttpContext http, string title, string body) =>
        $"""
            <!doctype html>
            <html lang="en">
            <head>
            <meta charset="utf-8">
            <meta name="viewport" content="width=device-width, initial-scale=1">
            <title>{Text(title)}</title>
            <link rel="icon" href="/favicon.svg" type="image/svg+xml">
            <link rel="preload" href="/fonts/petrona-latin-wght-normal.woff2" as="font" type="font/woff2" crossorigin>
            <link rel="stylesheet" href="/site.css">
            {Snippet(settings)}
            </head>
            <body>
            <header class="top"><a class="brand" href="/">Emberwick <i>Pottery</i></a>
            <nav aria-label="Main"><a href="/shop">Shop</a><a href="/workshops">Workshops</a><a href="/journal">Journal</a><a href="/studio">Studio</a><a href="/quote">Commissions</a><a href="/cart">Basket ({Basket.Count(
                http
            )})</a></nav></header>
            <main>{body}</main>
            <footer>
            <form id="newsletter" method="post" action="/newsletter">
            <h2>Letters from the kiln</h2><p>Once a month: what came out, what cracked, what is next.</p>
            <div class="row"><label>First name <input name="first_name" autocomplete="given-name"></label>
            <label>E-mail <input name="email" type="email" required autocomplete="email"></label>
            <button>Send me letters</button></div></form>
            <p class="small">Emberwick Pottery is a made-up studio. Nothing here can be bought, and nothing is sent.</p>
            </footer>
            </body></html>
            """;

    private static string Snippet(SiteSettings settings) =>
        settings.SiteKey.Length == 0
            ? ""
            : $"<script async src=\"{Text(settings.Desk)}/o/{Text(settings.SiteKey)}.js\"></script>";
}
