using Microsoft.AspNetCore.StaticFiles;
using Microsoft.Net.Http.Headers;

namespace Outcry.Server.Platform;

/// <summary>Serves the desk: its hashed files for ever, its one page fresh each time.</summary>
internal static class DeskPages
{
    /// <summary>The built files; those under /assets carry their hash in the name and never change.</summary>
    public static StaticFileOptions Files { get; } =
        new()
        {
            ContentTypeProvider = new FileExtensionContentTypeProvider
            {
                // Types for developers, no film.
                Mappings = { [".ts"] = "text/plain; charset=utf-8" },
            },
            OnPrepareResponse = file =>
            {
                if (file.Context.Request.Path.StartsWithSegments("/assets"))
                    file.Context.Response.Headers[HeaderNames.CacheControl] = "public, max-age=31536000, immutable";
                // The supplied pictures are shown on other people's pages.
                if (file.Context.Request.Path.StartsWithSegments("/pictures"))
                {
                    file.Context.Response.Headers[HeaderNames.CacheControl] = "public, max-age=86400";
                    file.Context.Response.Headers["Cross-Origin-Resource-Policy"] = "cross-origin";
                }
            },
        };

    // Only for reading: a write that fits no endpoint is told why by the router.
    public static void MapDesk(this WebApplication app) =>
        app.MapGet("/{**path}", ServeAsync).WithOrder(int.MaxValue).ExcludeFromDescription();

    private static async Task ServeAsync(HttpContext http, IWebHostEnvironment environment)
    {
        if (IsForPrograms(http.Request.Path))
        {
            await Problems.NotFound("address").ExecuteAsync(http);
            return;
        }
        var page = environment.WebRootFileProvider.GetFileInfo("index.html");
        if (!page.Exists)
        {
            http.Response.StatusCode = StatusCodes.Status503ServiceUnavailable;
            await http.Response.WriteAsync("The desk has not been built. Run ./outcry demo.");
            return;
        }
        http.Response.ContentType = "text/html; charset=utf-8";
        http.Response.Headers[HeaderNames.CacheControl] = "no-store";
        await http.Response.SendFileAsync(page, http.RequestAborted);
    }

    private static bool IsForPrograms(PathString path) =>
        path.StartsWithSegments("/api")
        || path.StartsWithSegments("/assets")
        || path.StartsWithSegments("/o")
        || path.StartsWithSegments("/v")
        || path.StartsWithSegments("/in")
        || path.StartsWithSegments("/openapi");
}
