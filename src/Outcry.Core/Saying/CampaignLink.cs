namespace Outcry.Core.Saying;

/// <summary>Marks links so that the site's own web statistics see where a visit to them came from.</summary>
public static class CampaignLink
{
    /// <summary>
    /// Appends the usual campaign parameters to an http address or a path; parameters that are there already stay as they
    /// are, and mail and telephone links are left alone.
    /// </summary>
    /// <param name="link">An address that <see cref="SafeLink"/> let pass.</param>
    /// <param name="campaign">The campaign's name; empty for no parameters.</param>
    public static string Mark(string link, string campaign)
    {
        if (campaign.Length == 0 || link[0] == '#')
            return link;
        if (link[0] is not ('/' or '?') && !link.StartsWith("http", StringComparison.OrdinalIgnoreCase))
            return link;
        var hash = link.IndexOf('#', StringComparison.Ordinal);
        var fragment = hash < 0 ? "" : link[hash..];
        var bare = hash < 0 ? link : link[..hash];
        foreach (var (name, value) in Parameters(campaign))
            if (!HasParameter(bare, name))
                bare +=
                    $"{(bare.Contains('?', StringComparison.Ordinal) ? (bare[^1] is '?' or '&' ? "" : "&") : "?")}{name}={Uri.EscapeDataString(value)}";
        return bare + fragment;
    }

    private static IEnumerable<(string Name, string Value)> Parameters(string campaign) =>
        [("utm_source", "onsite"), ("utm_medium", "callout"), ("utm_campaign", campaign)];

    private static bool HasParameter(string address, string name) =>
        address.Contains($"?{name}=", StringComparison.OrdinalIgnoreCase)
        || address.Contains($"&{name}=", StringComparison.OrdinalIgnoreCase);
}
