using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Http;
using Microsoft.Extensions.Logging;

namespace Outcry.Browser.Tests;

/// <summary>Pages of somebody else's, on an origin of their own, that have the demo site's snippet.</summary>
internal sealed class ForeignPages : IAsyncDisposable
{
    private const string Nonce = "bmV2ZXIgdHdpY2U";
    private readonly WebApplication _app;

    private ForeignPages(WebApplication app) => _app = app;

    public string Origin => _app.Urls.First();

    /// <summary>Serves one page at every path; "SNIPPET" in it stands for the snippet, "NONCE" for what lets a script of its own run.</summary>
    /// <param name="stage">Whose snippet.</param>
    /// <param name="html">The page.</param>
    /// <param name="isStrict">Whether it has a policy that allows nothing but the desk, with Trusted Types.</param>
    public static async Task<ForeignPages> ServeAsync(Stage stage, string html, bool isStrict = false)
    {
        var builder = WebApplication.CreateSlimBuilder();
        builder.WebHost.UseUrls("http://127.0.0.1:0");
        builder.Logging.ClearProviders();
        var app = builder.Build();
        var page = html.Replace(
                "SNIPPET",
                $"<script async src=\"{stage.Desk}/o/{stage.World.Site.Key}.js\"></script>",
                StringComparison.Ordinal
            )
            .Replace("NONCE", Nonce, StringComparison.Ordinal);
        app.MapFallback(
            (HttpContext http) =>
            {
                if (isStrict)
                    http.Response.Headers.ContentSecurityPolicy =
                        $"default-src 'none'; script-src 'nonce-{Nonce}' {stage.Desk}; connect-src {stage.Desk}; img-src 'self' data:; "
                        + "form-action 'self'; require-trusted-types-for 'script'; trusted-types 'none'";
                return Results.Content(page, "text/html; charset=utf-8");
            }
        );
        await app.StartAsync();
        var pages = new ForeignPages(app);
        await stage.AllowAsync(new Uri(pages.Origin).Authority);
        return pages;
    }

    public ValueTask DisposeAsync() => _app.DisposeAsync();
}
