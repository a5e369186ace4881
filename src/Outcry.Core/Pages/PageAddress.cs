namespace Outcry.Core.Pages;

/// <summary>One page of a site, in the form in which page rules compare it.</summary>
/// <remarks>
/// Letter case, a trailing slash, the scheme, a leading "www." and the fragment never matter, so none of them is kept.
/// Percent-encoded characters of the path are decoded, so "/caf%C3%A9" and "/café" are one page.
/// </remarks>
public sealed class PageAddress
{
    /// <summary>Longest address taken, in characters; a longer one is no page anybody typed.</summary>
    public const int MaxLength = 2_048;

    private PageAddress(string host, string[] segments, IReadOnlyDictionary<string, string> query)
    {
        Host = host;
        Segments = segments;
        Query = query;
        Path = "/" + string.Join('/', segments);
    }

    /// <summary>Lower-case host with the port where it is not the scheme's own, without "www.".</summary>
    public string Host { get; }

    /// <summary>Lower-case path without a trailing slash; "/" for the home page.</summary>
    public string Path { get; }

    /// <summary>The path's parts between slashes; none for the home page.</summary>
    public IReadOnlyList<string> Segments { get; }

    /// <summary>Query parameters; of a repeated key the first value counts. Keys ignore case.</summary>
    public IReadOnlyDictionary<string, string> Query { get; }

    /// <summary>Reads an absolute http or https address.</summary>
    /// <returns>The page, or null when the text is no such address or longer than <see cref="MaxLength"/>.</returns>
    public static PageAddress? TryParse(string? address)
    {
        if (string.IsNullOrEmpty(address) || address.Length > MaxLength)
            return null;
        if (!Uri.TryCreate(address, UriKind.Absolute, out var uri) || uri.Scheme is not ("http" or "https"))
            return null;
        var host = NormaliseHost(uri.IsDefaultPort ? uri.Host : $"{uri.Host}:{uri.Port}");
        return new PageAddress(host, SplitPath(uri.AbsolutePath), ReadQuery(uri.Query));
    }

    /// <summary>The page at a path of a host, for callers who hold the two apart.</summary>
    /// <exception cref="ArgumentException">The two do not make an address.</exception>
    public static PageAddress At(string host, string pathAndQuery) =>
        TryParse($"https://{host}{pathAndQuery}")
        ?? throw new ArgumentException("Not a page address.", nameof(pathAndQuery));

    /// <inheritdoc />
    public override string ToString() => Host + Path;

    internal static string NormaliseHost(string host)
    {
        var lower = host.ToLowerInvariant();
        return lower.StartsWith("www.", StringComparison.Ordinal) ? lower[4..] : lower;
    }

    internal static string[] SplitPath(string path)
    {
        var segments = path.Split('/', StringSplitOptions.RemoveEmptyEntries);
        for (var i = 0; i < segments.Length; i++)
            segments[i] = Uri.UnescapeDataString(segments[i]).ToLowerInvariant();
        return segments;
    }

    private static Dictionary<string, string> ReadQuery(string query)
    {
        var read = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase);
        foreach (var part in query.TrimStart('?').Split('&', StringSplitOptions.RemoveEmptyEntries))
        {
            var equals = part.IndexOf('=', StringComparison.Ordinal);
            var key = equals < 0 ? part : part[..equals];
            var value = equals < 0 ? "" : part[(equals + 1)..];
            read.TryAdd(Decode(key), Decode(value));
        }
        return read;
    }

    private static string Decode(string text) => Uri.UnescapeDataString(text.Replace('+', ' '));
}
