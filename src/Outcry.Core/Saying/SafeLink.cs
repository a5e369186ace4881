using Outcry.Core.Care;

namespace Outcry.Core.Saying;

/// <summary>Lets only addresses through that a visitor may be sent to.</summary>
public static class SafeLink
{
    /// <summary>Longest address taken, in characters.</summary>
    public const int MaxLength = 2_048;

    /// <summary>The address when it is http, https, mailto, tel, or a path of the page's own site; else null.</summary>
    public static string? TryPass(string? address)
    {
        var text = address?.Trim();
        if (string.IsNullOrEmpty(text) || text.Length > MaxLength || text.Any(IsMisread))
            return null;
        if (text[0] is '/' or '#' or '?')
            return StaysOnSite(text) ? text : null;
        return Uri.TryCreate(text, UriKind.Absolute, out var uri) && IsWritten(text, uri) ? text : null;
    }

    // Browsers read a backslash as a slash, and leave out controls and what does not show.
    private static bool IsMisread(char c) =>
        c == '\\' || char.IsControl(c) || char.IsWhiteSpace(c) && c != ' ' || PlainText.IsNoncharacter(c);

    // "/.//host" and "/a/..//host" are paths that begin with "//" once their dots are taken, which some read as a host.
    private static bool StaysOnSite(string path)
    {
        if (path[0] != '/')
            return true;
        var bare = path.Split('?', '#')[0];
        return !bare.Contains("//", StringComparison.Ordinal)
            && !bare.Contains("%2f%2f", StringComparison.OrdinalIgnoreCase)
            && Uri.TryCreate(Somewhere, path, out var there)
            && there.Host == Somewhere.Host;
    }

    private static readonly Uri Somewhere = new("https://page.example/");

    // "https:host" and "https:/host" are repaired by browsers, each in its own way.
    private static bool IsWritten(string text, Uri uri) =>
        uri.Scheme switch
        {
            "http" or "https" => text.StartsWith($"{uri.Scheme}://", StringComparison.OrdinalIgnoreCase)
                && uri.Host.Length > 0
                && text.Length > uri.Scheme.Length + 3
                && text[uri.Scheme.Length + 3] != '/',
            "mailto" or "tel" => true,
            _ => false,
        };

    /// <summary>The address when it can be fetched as a picture (http or https, or a path of the page's own site); else null.</summary>
    public static string? TryPassPicture(string? address) => TryPassPage(address);

    /// <summary>The address when it is that of a page (http or https, or a path of a site); else null.</summary>
    public static string? TryPassPage(string? address) =>
        TryPass(address) is { } passed
        && (passed[0] == '/' || passed.StartsWith("http", StringComparison.OrdinalIgnoreCase))
            ? passed
            : null;
}
