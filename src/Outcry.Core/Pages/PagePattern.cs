namespace Outcry.Core.Pages;

/// <summary>How wide a pattern casts its net; a narrower one is the more specific.</summary>
public enum PatternReach
{
    /// <summary>One page.</summary>
    Exact,

    /// <summary>Wildcards inside segments only.</summary>
    OneLevel,

    /// <summary>Any number of segments somewhere.</summary>
    AnyDepth,
}

/// <summary>A pattern that pages are compared with: an optional host, a path with wildcards, optional query conditions.</summary>
/// <remarks>
/// "*" is any run of characters inside one path segment ("/journal/*" is the articles, not the journal's own page);
/// "**" alone between slashes is any number of whole segments, none included ("/journal/**" is both).
/// "?key=value" or "?key" asks for a query parameter, on every page where no path stands before it; several are joined with
/// "&amp;".
/// </remarks>
public sealed class PagePattern
{
    /// <summary>Longest pattern taken, in characters.</summary>
    public const int MaxLength = 500;

    private PagePattern(string text, string? host, string[] segments, IReadOnlyList<QueryCondition> query)
    {
        Text = text;
        Host = host;
        Segments = segments;
        Query = query;
        Reach =
            segments.Contains(AnyDepthSegment) ? PatternReach.AnyDepth
            : segments.Any(s => s.Contains('*', StringComparison.Ordinal)) ? PatternReach.OneLevel
            : PatternReach.Exact;
    }

    internal const string AnyDepthSegment = "**";

    /// <summary>The pattern as its author wrote it.</summary>
    public string Text { get; }

    /// <summary>Host condition in lower case, possibly starting with "*.", or null for every host.</summary>
    public string? Host { get; }

    /// <summary>Lower-case path segments; "**" stands for any number of them.</summary>
    public IReadOnlyList<string> Segments { get; }

    /// <summary>Query conditions, all of which must hold.</summary>
    public IReadOnlyList<QueryCondition> Query { get; }

    /// <summary>How wide the path part reaches.</summary>
    public PatternReach Reach { get; }

    /// <summary>The path of a page that the pattern means, for when no real one is known: "/journal/any" for "/journal/*".</summary>
    public string SamplePath() =>
        "/"
        + string.Join(
            '/',
            Segments.Where(s => s != AnyDepthSegment).Select(s => s.Replace("*", "any", StringComparison.Ordinal))
        );

    /// <summary>A page that the pattern means, as <see cref="PageAddress.ToNote"/> writes it, for when no real one is known.</summary>
    internal string SampleNote() =>
        Host?.Replace("*", "any", StringComparison.Ordinal)
        + SamplePath()
        + (
            Query.Count == 0
                ? ""
                : "?"
                    + string.Join(
                        '&',
                        Query.Select(q => $"{Uri.EscapeDataString(q.Key)}={Uri.EscapeDataString(q.Value ?? "")}")
                    )
        );

    /// <summary>Reads a pattern.</summary>
    /// <returns>The pattern, or null and in <paramref name="error"/> a sentence for the person who typed it.</returns>
    public static PagePattern? TryParse(string? text, out string error)
    {
        error = Objection(text) ?? "";
        if (error.Length > 0)
            return null;
        var typed = text!.Trim();
        var bare = WithoutScheme(typed);
        var fragment = bare.IndexOf('#', StringComparison.Ordinal);
        if (fragment >= 0)
            bare = bare[..fragment];
        var question = bare.IndexOf('?', StringComparison.Ordinal);
        var query = question < 0 ? "" : bare[(question + 1)..];
        var location = question < 0 ? bare : bare[..question];
        var slash = location.IndexOf('/', StringComparison.Ordinal);
        var host = slash < 0 ? location : location[..slash];
        // A query condition alone holds on every page.
        var segments =
            location.Length == 0 ? [AnyDepthSegment] : PageAddress.SplitPath(slash < 0 ? "/" : location[slash..]);
        return new PagePattern(
            typed,
            host.Length == 0 ? null : PageAddress.NormaliseHost(host),
            segments,
            QueryCondition.ReadAll(query)
        );
    }

    /// <summary>Reads a pattern that is known to be valid.</summary>
    /// <exception cref="FormatException">It is not valid.</exception>
    public static PagePattern Parse(string text) => TryParse(text, out var error) ?? throw new FormatException(error);

    /// <summary>Whether the page is one that the pattern means.</summary>
    public bool Matches(PageAddress page) => MatchesOffPath(page) && MatchesPath(page.Segments, 0, 0);

    /// <summary>Whether every page that the other pattern means is meant by this one; false also where that cannot be told.</summary>
    public bool Covers(PagePattern other) =>
        (Host is null || Host == other.Host) && Query.All(other.Query.Contains) && CoversPath(other.Segments, 0, 0);

    // The other's wildcards are read as letters: a "*" of ours takes them in, and only our "**" a "**" of theirs.
    private bool CoversPath(IReadOnlyList<string> other, int at, int with)
    {
        if (with == Segments.Count)
            return at == other.Count;
        if (Segments[with] == AnyDepthSegment)
            return Enumerable.Range(at, other.Count - at + 1).Any(skip => CoversPath(other, skip, with + 1));
        return at < other.Count
            && other[at] != AnyDepthSegment
            && SegmentGlob.Matches(Segments[with], other[at])
            && CoversPath(other, at + 1, with + 1);
    }

    /// <summary>
    /// The path part as a regular expression (ECMAScript and .NET read it alike) over a lower-case path without trailing
    /// slash, for a browser that has to recognise a page by itself. Host and query conditions are left aside.
    /// </summary>
    public string ToPathExpression()
    {
        var parts = Segments.Select(s =>
            s == AnyDepthSegment
                ? "(?:/[^/]+)*"
                : "/" + string.Join("[^/]*", s.Split('*').Select(System.Text.RegularExpressions.Regex.Escape))
        );
        var path = string.Concat(parts);
        // The home page is "/", which has no segment; "**" alone means it too.
        return Segments.All(s => s == AnyDepthSegment) ? $"^(?:{path}|/)$" : $"^{path}$";
    }

    /// <summary>Whether host and query conditions hold, leaving the path aside (an index has looked at that).</summary>
    internal bool MatchesOffPath(PageAddress page)
    {
        if (Host is not null && !MatchesHost(page.Host))
            return false;
        for (var i = 0; i < Query.Count; i++)
            if (!Query[i].Holds(page))
                return false;
        return true;
    }

    private bool MatchesHost(string host) =>
        Host!.StartsWith("*.", StringComparison.Ordinal)
            ? host.EndsWith(Host[1..], StringComparison.Ordinal)
            : host == Host;

    private bool MatchesPath(IReadOnlyList<string> page, int at, int with)
    {
        for (; with < Segments.Count; at++, with++)
        {
            if (Segments[with] == AnyDepthSegment)
            {
                for (var skip = page.Count; skip >= at; skip--)
                    if (MatchesPath(page, skip, with + 1))
                        return true;
                return false;
            }
            if (at >= page.Count || !SegmentGlob.Matches(Segments[with], page[at]))
                return false;
        }
        return at == page.Count;
    }

    private static string? Objection(string? text)
    {
        var typed = text?.Trim() ?? "";
        if (typed.Length == 0)
            return "A pattern cannot be empty. Write a path such as /shop/*, or leave the list empty for every page.";
        if (typed.Length > MaxLength)
            return $"This pattern has {typed.Length} characters; {MaxLength} is the most.";
        if (typed.Any(char.IsWhiteSpace))
            return "A pattern cannot contain spaces. Write one pattern per line.";
        var bare = WithoutScheme(typed);
        if (bare.Length == 0 || bare is "?" || bare[0] == '#')
            return "Write a path, for example /shop?sale, or a condition on the query alone, as in ?sale.";
        var path = bare.Split('?', '#')[0];
        var segments = path.Split('/');
        if (segments.Skip(1).Any(s => s.Contains("**", StringComparison.Ordinal) && s != AnyDepthSegment))
            return "** must stand alone between slashes, as in /journal/**. Inside one part of a path use a single *.";
        if (segments.Count(s => s == AnyDepthSegment) > 3)
            return "At most three ** in one pattern.";
        if (segments[0].Length > 0 && !LooksLikeHost(segments[0]))
            return "Start a path with a slash, as in /shop/*. Before the first slash only a host may stand, as in shop.example/sale.";
        return null;
    }

    // A host has a dot or a port or is the machine itself; anything else is a path whose slash was forgotten.
    private static bool LooksLikeHost(string text) =>
        !text.Contains('*', StringComparison.Ordinal)
            ? text.Contains('.', StringComparison.Ordinal)
                || text.StartsWith("localhost", StringComparison.OrdinalIgnoreCase)
            : text.StartsWith("*.", StringComparison.Ordinal)
                && !text[2..].Contains('*', StringComparison.Ordinal)
                && text.Length > 2;

    private static string WithoutScheme(string typed)
    {
        foreach (var scheme in (ReadOnlySpan<string>)["https://", "http://"])
            if (typed.StartsWith(scheme, StringComparison.OrdinalIgnoreCase))
                return typed[scheme.Length..];
        return typed;
    }
}
