using System.IO.Compression;
using System.Security.Cryptography;
using NodaTime;
using Outcry.Server.Platform;
using Outcry.Server.Sites;

namespace Outcry.Server.Visitor;

/// <summary>GET /o/{siteKey}.js: the snippet, compressed once at start.</summary>
internal sealed class SnippetFile
{
    private readonly IClock _clock;
    private readonly byte[] _plain;
    private readonly byte[] _brotli;
    private readonly string _tag;

    public SnippetFile(IWebHostEnvironment environment, IClock clock)
    {
        _clock = clock;
        var file = environment.WebRootFileProvider.GetFileInfo("snippet/outcry.js");
        _plain = file.Exists ? Read(file) : [];
        _brotli = Compress(_plain);
        _tag = $"\"{Convert.ToHexStringLower(SHA256.HashData(_plain))[..16]}\"";
    }

    public IResult Serve(HttpContext http, LiveSites sites, string siteKey)
    {
        if (sites.FindByKey(siteKey) is not { } site)
            return Problems.NotFound("site key");
        // That a browser fetched the script and then nothing was heard is how a page that blocks it shows.
        var from = VisitorDoor.HostOf(http.Request.Headers.Referer.ToString());
        if (from is null || site.Allows(from))
            site.Fetched(from, _clock.GetCurrentInstant());
        if (_plain.Length == 0)
            return Problems.Of(
                StatusCodes.Status503ServiceUnavailable,
                "not-built",
                "The snippet has not been built",
                "Run ./outcry demo."
            );
        var headers = http.Response.Headers;
        // Short, so that a new version is on every site within minutes; asking again costs a 304.
        headers.CacheControl = "public, max-age=300";
        headers.ETag = _tag;
        headers.Vary = "Accept-Encoding";
        headers["Cross-Origin-Resource-Policy"] = "cross-origin";
        if (http.Request.Headers.IfNoneMatch == _tag)
            return Results.StatusCode(StatusCodes.Status304NotModified);
        var takesBrotli = http
            .Request.Headers.AcceptEncoding.ToString()
            .Contains("br", StringComparison.OrdinalIgnoreCase);
        if (takesBrotli)
            headers.ContentEncoding = "br";
        return Results.Bytes(takesBrotli ? _brotli : _plain, "text/javascript; charset=utf-8");
    }

    private static byte[] Read(Microsoft.Extensions.FileProviders.IFileInfo file)
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
