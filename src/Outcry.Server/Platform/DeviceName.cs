namespace Outcry.Server.Platform;

/// <summary>A browser by the name its member would give it, from what it says of itself. Nothing is decided by it.</summary>
internal static class DeviceName
{
    // The first that fits: most name others besides themselves.
    private static readonly (string Sign, string Name)[] Browsers =
    [
        ("Edg", "Edge"),
        ("OPR/", "Opera"),
        ("Firefox/", "Firefox"),
        ("FxiOS/", "Firefox"),
        ("CriOS/", "Chrome"),
        ("Chrome/", "Chrome"),
        ("Safari/", "Safari"),
    ];

    private static readonly (string Sign, string Name)[] Systems =
    [
        ("iPhone", "iPhone"),
        ("iPad", "iPad"),
        ("Android", "Android"),
        ("Windows", "Windows"),
        ("Macintosh", "Mac"),
        ("CrOS", "ChromeOS"),
        ("Linux", "Linux"),
    ];

    /// <summary>"Firefox on Linux"; "a program" for what names no browser.</summary>
    public static string Of(string agent)
    {
        var browser = Browsers.FirstOrDefault(b => agent.Contains(b.Sign, StringComparison.Ordinal)).Name;
        var system = Systems.FirstOrDefault(s => agent.Contains(s.Sign, StringComparison.Ordinal)).Name;
        return browser is null ? "a program"
            : system is null ? browser
            : $"{browser} on {system}";
    }
}
