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
        if (string.IsNullOrEmpty(text) || text.Length > MaxLength || text.Any(char.IsControl))
            return null;
        if (text[0] is '/' or '#' or '?')
            return text.StartsWith("//", StringComparison.Ordinal) || text.StartsWith("/\\", StringComparison.Ordinal)
                ? null
                : text;
        return
            Uri.TryCreate(text, UriKind.Absolute, out var uri) && uri.Scheme is ("http" or "https" or "mailto" or "tel")
            ? text
            : null;
    }

    /// <summary>The address when it can be fetched as a picture (http or https, or a path of the page's own site); else null.</summary>
    public static string? TryPassPicture(string? address) =>
        TryPass(address) is { } passed
        && (passed[0] == '/' || passed.StartsWith("http", StringComparison.OrdinalIgnoreCase))
            ? passed
            : null;
}
