namespace Outcry.Core.Pages;

/// <summary>A full address turned into a pattern, with a hint where something was left out.</summary>
/// <param name="Pattern">The pattern to offer.</param>
/// <param name="Hint">A sentence for the person who pasted, or null when nothing was changed.</param>
public sealed record PastedAddress(string Pattern, string? Hint)
{
    private static readonly string[] TrackingPrefixes = ["utm_", "campaign"];

    /// <summary>Turns a pasted address into the pattern of its page.</summary>
    /// <param name="text">What was pasted; a pattern passes through unchanged.</param>
    /// <param name="ownHosts">The site's hosts, which need not be repeated in a pattern.</param>
    public static PastedAddress Read(string text, IReadOnlyCollection<string> ownHosts)
    {
        var trimmed = text.Trim();
        if (!trimmed.Contains("://", StringComparison.Ordinal) || PageAddress.TryParse(trimmed) is not { } page)
            return new PastedAddress(trimmed, null);

        var host = ownHosts.Any(h => PageAddress.NormaliseHost(h) == page.Host) ? "" : page.Host;
        var kept = page.Query.Where(q => !IsTracking(q.Key)).ToList();
        var query =
            kept.Count == 0
                ? ""
                : "?" + string.Join('&', kept.Select(q => q.Value.Length == 0 ? q.Key : $"{q.Key}={q.Value}"));
        var dropped = page.Query.Keys.Where(IsTracking).ToList();
        var hint =
            dropped.Count == 0
                ? null
                : $"Left out {string.Join(", ", dropped)}: tracking parameters differ from visit to visit, so the page would hardly ever match.";
        return new PastedAddress(host + page.Path + query, hint);
    }

    private static bool IsTracking(string key) =>
        TrackingPrefixes.Any(p => key.StartsWith(p, StringComparison.OrdinalIgnoreCase))
        || key.EndsWith("clid", StringComparison.OrdinalIgnoreCase)
        || key.Equals("ref", StringComparison.OrdinalIgnoreCase);
}
