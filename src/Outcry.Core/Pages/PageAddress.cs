using Outcry.Core.Care;

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

    /// <summary>Longest path kept of a page that was visited, in characters.</summary>
    public const int MaxRecordedPath = 400;

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

    /// <summary>The page at a path of a host, as somebody types the path.</summary>
    /// <returns>The page, or null when the two do not make an address.</returns>
    public static PageAddress? TryAt(string host, string pathAndQuery) => TryParse($"https://{host}{pathAndQuery}");

    /// <summary>A page as it was recorded. Whatever the record holds is a page: what is read back must never throw.</summary>
    /// <param name="host">Its host; empty when only the path is known, so that no condition on a host holds.</param>
    /// <param name="path">As <see cref="RecordedPath"/> gave it.</param>
    /// <param name="query">As <see cref="RecordedQuery"/> gave it; empty for none.</param>
    public static PageAddress Recorded(string host, string path, string query = "") =>
        new(
            NormaliseHost(host),
            [.. path.Split('/', StringSplitOptions.RemoveEmptyEntries).Select(s => s.ToLowerInvariant())],
            ReadQuery(query)
        );

    /// <summary>A page out of the note that <see cref="ToNote"/> made, or out of a bare path.</summary>
    public static PageAddress OfNote(string note)
    {
        var question = note.IndexOf('?', StringComparison.Ordinal);
        var (place, query) = question < 0 ? (note, "") : (note[..question], note[(question + 1)..]);
        var slash = place.IndexOf('/', StringComparison.Ordinal);
        return slash < 0 ? Recorded(place, "/", query) : Recorded(place[..slash], place[slash..], query);
    }

    /// <summary>Host, path and query in one text, short enough to be carried along.</summary>
    public string ToNote() =>
        _note ??=
            Host
            + RecordedPath.Replace("?", "%3f", StringComparison.Ordinal)
            + (Query.Count == 0 ? "" : $"?{RecordedQuery}");

    private string? _note;

    /// <summary>The path as it is kept: at most <see cref="MaxRecordedPath"/> characters.</summary>
    public string RecordedPath => Path.Length <= MaxRecordedPath ? Path : PlainText.Clip(Path, MaxRecordedPath);

    /// <summary>
    /// The query as it is kept, its parameters in order of their names; empty for none. One that would make it longer than
    /// <see cref="MaxRecordedPath"/> characters is left out: half a value is one that nobody sent.
    /// </summary>
    public string RecordedQuery
    {
        get
        {
            var kept = new List<string>();
            var length = 0;
            foreach (var (key, value) in Query.OrderBy(q => q.Key, StringComparer.Ordinal))
            {
                var pair = $"{Uri.EscapeDataString(key)}={Uri.EscapeDataString(value)}";
                if (length + pair.Length > MaxRecordedPath)
                    continue;
                kept.Add(pair);
                length += pair.Length + 1;
            }
            return string.Join('&', kept);
        }
    }

    /// <summary>The page without the query parameters that nobody asks for: they may say who somebody is, or open what is theirs.</summary>
    /// <param name="asked">Names of the parameters that rules ask for; those of campaigns are kept besides.</param>
    public PageAddress Keeping(IReadOnlySet<string> asked) =>
        Query.Keys.All(k => IsKept(k, asked))
            ? this
            : new PageAddress(
                Host,
                [.. Segments],
                Query.Where(q => IsKept(q.Key, asked)).ToDictionary(StringComparer.OrdinalIgnoreCase)
            );

    /// <summary>An address without its fragment, its user name and the query parameters that nobody asks for; null for what is none.</summary>
    /// <param name="address">http or https.</param>
    /// <param name="asked">As for <see cref="Keeping"/>.</param>
    public static string? Shorn(string? address, IReadOnlySet<string> asked)
    {
        if (TryParse(address) is not { } page || !Uri.TryCreate(address, UriKind.Absolute, out var uri))
            return null;
        var kept = page.Keeping(asked).RecordedQuery;
        return $"{uri.Scheme}://{WebHost.OnTheWire(uri).Authority}{uri.AbsolutePath}{(kept.Length == 0 ? "" : "?")}{kept}";
    }

    /// <summary>Campaign parameters, without "utm_" (a custom of the trade, named in no standard).</summary>
    public static IReadOnlyList<string> CampaignNames { get; } = ["source", "medium", "campaign", "term", "content"];

    private static bool IsKept(string parameter, IReadOnlySet<string> asked) =>
        asked.Contains(parameter)
        || CampaignNames.Any(n => parameter.Equals($"utm_{n}", StringComparison.OrdinalIgnoreCase));

    /// <inheritdoc />
    public override string ToString() => Host + Path;

    internal static string NormaliseHost(string host)
    {
        var lower = WebHost.OnTheWire(host.ToLowerInvariant());
        return lower.StartsWith("www.", StringComparison.Ordinal) ? lower[4..] : lower;
    }

    internal static string[] SplitPath(string path)
    {
        var segments = path.Split('/', StringSplitOptions.RemoveEmptyEntries);
        for (var i = 0; i < segments.Length; i++)
            segments[i] = Segment(segments[i]);
        return Array.IndexOf(segments, "") < 0 ? segments : [.. segments.Where(s => s.Length > 0)];
    }

    // A slash that was written as %2F is part of a name, and stays written so.
    private static string Segment(string written)
    {
        var plain = written.IndexOf('%', StringComparison.Ordinal) < 0 ? written : Uri.UnescapeDataString(written);
        return PlainText.Clean(plain).Replace("/", "%2f", StringComparison.Ordinal).ToLowerInvariant();
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

    private static string Decode(string text) => PlainText.Clean(Uri.UnescapeDataString(text.Replace('+', ' ')));
}
