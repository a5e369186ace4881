namespace Outcry.Core.Installing;

/// <summary>Reads a Content-Security-Policy (W3C, level 3) as far as it can keep the snippet from loading or speaking.</summary>
public static class ScriptPolicy
{
    /// <summary>The first directive that stands in the way of the desk's address; null when none does.</summary>
    /// <param name="policy">The header's value, or the meta element's; several policies are separated by commas.</param>
    /// <param name="desk">Origin from which the script comes and to which it speaks, such as https://desk.example.</param>
    public static string? Blocks(string? policy, Uri desk)
    {
        foreach (var one in (policy ?? "").Split(',', StringSplitOptions.RemoveEmptyEntries))
        {
            var directives = one.Split(';', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
                .Select(d => d.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries))
                .GroupBy(d => d[0].ToLowerInvariant())
                // Of a directive written twice the first holds.
                .ToDictionary(g => g.Key, g => g.First()[1..]);
            foreach (var (name, fallback) in new[] { ("script-src-elem", "script-src"), ("connect-src", "") })
                if (Find(directives, name, fallback) is { } found && !Allows(found.Sources, desk))
                    return found.Name;
        }
        return null;
    }

    private static (string Name, string[] Sources)? Find(
        Dictionary<string, string[]> directives,
        string name,
        string fallback
    )
    {
        foreach (var candidate in new[] { name, fallback, "default-src" })
            if (directives.TryGetValue(candidate, out var sources))
                return (candidate, sources);
        return null;
    }

    private static bool Allows(string[] sources, Uri desk) =>
        sources.Any(s =>
            s == "*" || string.Equals(s, $"{desk.Scheme}:", StringComparison.OrdinalIgnoreCase) || Fits(s, desk)
        );

    private static bool Fits(string source, Uri desk)
    {
        if (source.StartsWith('\''))
            return false;
        var scheme = source.IndexOf("://", StringComparison.Ordinal);
        if (scheme > 0 && !string.Equals(source[..scheme], desk.Scheme, StringComparison.OrdinalIgnoreCase))
            return false;
        var rest = (scheme > 0 ? source[(scheme + 3)..] : source).Split('/')[0];
        var host = rest.Split(':')[0];
        var port = rest.Contains(':', StringComparison.Ordinal)
            ? rest[(rest.IndexOf(':', StringComparison.Ordinal) + 1)..]
            : "";
        var hostFits = host.StartsWith("*.", StringComparison.Ordinal)
            ? desk.Host.EndsWith(host[1..], StringComparison.OrdinalIgnoreCase)
            : string.Equals(host, desk.Host, StringComparison.OrdinalIgnoreCase);
        return hostFits && (port == "*" || port == (desk.IsDefaultPort ? "" : $"{desk.Port}"));
    }
}
