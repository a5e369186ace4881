using System.Collections.Concurrent;
using System.IO.Compression;
using System.Security.Cryptography;
using System.Text;
using System.Text.RegularExpressions;
using NodaTime;
using Outcry.Server.Platform;
using Outcry.Server.Sites;

namespace Outcry.Server.Visitor;

/// <summary>Paths of what the snippet fetches where it is needed.</summary>
/// <param name="Draw">Draws a slip, and watches the page for what callouts wait for.</param>
/// <param name="Shapes">Draws what few pages need.</param>
/// <param name="Listen">Watches forms and baskets.</param>
/// <param name="Member">Draws what only the site's own people see.</param>
/// <param name="Launch">Draws a launcher.</param>
/// <param name="Panel">Draws what is in its panel.</param>
/// <param name="Talk">Holds a talk.</param>
/// <param name="Ask">Draws what a prompt asks for.</param>
internal readonly record struct FilePaths(
    string Draw,
    string Shapes,
    string Listen,
    string Member,
    string Launch,
    string Panel,
    string Talk,
    string Ask
);

/// <summary>
/// The snippet (GET /o/{siteKey}.js) and what it fetches on demand (GET /o/more/{part}-{version}.js), compressed once at start.
/// </summary>
internal sealed class SnippetFiles
{
    private static readonly string[] Parts = ["draw", "shapes", "listen", "member", "launch", "panel", "talk", "ask"];

    private readonly IClock _clock;
    private readonly Packed _snippet;
    private readonly Dictionary<string, Packed> _parts;

    public SnippetFiles(IWebHostEnvironment environment, IClock clock)
    {
        _clock = clock;
        _snippet = Packed.Read(environment, "snippet/outcry.js");
        _parts = Parts.ToDictionary(p => p, p => Packed.Read(environment, $"snippet/{p}.js"));
        Paths = new FilePaths(
            PathOf("draw"),
            PathOf("shapes"),
            PathOf("listen"),
            PathOf("member"),
            PathOf("launch"),
            PathOf("panel"),
            PathOf("talk"),
            PathOf("ask")
        );
    }

    /// <summary>Where what belongs to this version of the snippet is fetched on demand.</summary>
    public FilePaths Paths { get; }

    private string PathOf(string part) => $"/o/more/{part}-{_parts[part].Version}.js";

    public IResult Serve(HttpContext http, LiveSites sites, string siteKey)
    {
        if (sites.FindByKey(siteKey) is not { } site)
            return Problems.NotFound("site key");
        // That a browser fetched the script and then nothing was heard is how a page that blocks it shows.
        var from = VisitorDoor.HostOf(http.Request.Headers.Referer.ToString());
        if (from is null || site.Allows(from))
            site.Hearing.Fetched(from, _clock.GetCurrentInstant());
        // Short, so that a new version is on every site within minutes; asking again costs a 304.
        return For(site).Serve(http, "public, max-age=300");
    }

    /// <summary>Stands in the built file where the names of query parameters go that a site's rules ask for.</summary>
    private const string Asked = "|asked)";

    private const int MostKept = 200;
    private readonly ConcurrentDictionary<string, Packed> _bySite = new();

    // Hardly any site asks for a parameter; those that ask for the same share one file.
    private Packed For(LiveSite site)
    {
        var names = string.Concat(
            site.AskedQuery.Order(StringComparer.OrdinalIgnoreCase)
                .Select(n => $"|{Regex.Escape(Uri.EscapeDataString(n))}")
        );
        if (_bySite.TryGetValue(names, out var known))
            return known;
        if (_bySite.Count >= MostKept)
            _bySite.Clear();
        var text = Encoding.UTF8.GetString(_snippet.Plain);
        return _bySite[names] = Packed.Of(
            Encoding.UTF8.GetBytes(text.Replace(Asked, $"{names})", StringComparison.Ordinal))
        );
    }

    /// <summary>Serves what the snippet fetches on demand; to a page that has an older snippet, the part as it is now.</summary>
    public IResult ServeMore(HttpContext http, string part, string version)
    {
        if (!_parts.TryGetValue(part, out var file))
            return Problems.NotFound("part of the snippet");
        // A module of another site's page is only run when it may be read there.
        http.Response.Headers.AccessControlAllowOrigin = "*";
        return file.Serve(
            http,
            version == file.Version ? "public, max-age=31536000, immutable" : "public, max-age=300"
        );
    }

    private sealed record Packed(byte[] Plain, byte[] Brotli, string Version)
    {
        public static Packed Read(IWebHostEnvironment environment, string path)
        {
            var file = environment.WebRootFileProvider.GetFileInfo(path);
            return Of(file.Exists ? ReadAll(file) : []);
        }

        public static Packed Of(byte[] plain) =>
            new(plain, Compress(plain), Convert.ToHexStringLower(SHA256.HashData(plain))[..16]);

        public IResult Serve(HttpContext http, string caching)
        {
            if (Plain.Length == 0)
                return Problems.Of(
                    StatusCodes.Status503ServiceUnavailable,
                    "not-built",
                    "The snippet has not been built",
                    "Run ./outcry demo."
                );
            var headers = http.Response.Headers;
            var tag = $"\"{Version}\"";
            headers.CacheControl = caching;
            headers.ETag = tag;
            headers.Vary = "Accept-Encoding";
            headers["Cross-Origin-Resource-Policy"] = "cross-origin";
            if (http.Request.Headers.IfNoneMatch == tag)
                return Results.StatusCode(StatusCodes.Status304NotModified);
            var takesBrotli = TakesBrotli(http.Request);
            if (takesBrotli)
                headers.ContentEncoding = "br";
            return Results.Bytes(takesBrotli ? Brotli : Plain, "text/javascript; charset=utf-8");
        }

        // "br;q=0" says that it is not taken (RFC 9110 §12.5.3).
        private static bool TakesBrotli(HttpRequest request) =>
            request
                .GetTypedHeaders()
                .AcceptEncoding.Any(e =>
                    e.Value.Equals("br", StringComparison.OrdinalIgnoreCase) && e.Quality is null or > 0
                );

        private static byte[] ReadAll(Microsoft.Extensions.FileProviders.IFileInfo file)
        {
            using var stream = file.CreateReadStream();
            using var copy = new MemoryStream();
            stream.CopyTo(copy);
            return copy.ToArray();
        }

        private static byte[] Compress(byte[] plain)
        {
            using var packed = new MemoryStream();
            using (var brotli = new BrotliStream(packed, CompressionLevel.SmallestSize, leaveOpen: true))
                brotli.Write(plain);
            return packed.ToArray();
        }
    }
}
