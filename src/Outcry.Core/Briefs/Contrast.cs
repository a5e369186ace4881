using System.Globalization;

namespace Outcry.Core.Briefs;

/// <summary>Contrast between two colours. Source: WCAG 2.2, "relative luminance" and "contrast ratio".</summary>
public static class Contrast
{
    /// <summary>Least ratio for text of ordinary size (WCAG 2.2, 1.4.3, level AA).</summary>
    public const double LeastForText = 4.5;

    /// <summary>Dark ink of the callouts' words.</summary>
    public const string DarkInk = "#15181E";

    /// <summary>Light ink of the callouts' words.</summary>
    public const string LightInk = "#FFFFFF";

    /// <summary>Plain black, for the narrow band of middle greys on which neither ink reaches 4.5.</summary>
    public const string Black = "#000000";

    /// <summary>The ink that reads better on a ground; what is returned always reaches 4.5, since black or white always does.</summary>
    public static string InkOn(string ground)
    {
        var better = Ratio(ground, DarkInk) >= Ratio(ground, LightInk) ? DarkInk : LightInk;
        return Ratio(ground, better) >= LeastForText ? better : Black;
    }

    /// <summary>The ratio of two #RRGGBB colours: 1 (alike) to 21 (black and white).</summary>
    /// <exception cref="FormatException">One of them is no such colour.</exception>
    public static double Ratio(string one, string other)
    {
        var (a, b) = (Luminance(one), Luminance(other));
        return (Math.Max(a, b) + 0.05) / (Math.Min(a, b) + 0.05);
    }

    /// <summary>Whether the text is a colour of the form #RRGGBB.</summary>
    public static bool IsColour(string? text) =>
        text is { Length: 7 } && text[0] == '#' && text.Skip(1).All(char.IsAsciiHexDigit);

    private static double Luminance(string colour)
    {
        if (!IsColour(colour))
            throw new FormatException($"'{colour}' is not a colour of the form #RRGGBB.");
        return 0.2126 * Channel(colour, 1) + 0.7152 * Channel(colour, 3) + 0.0722 * Channel(colour, 5);
    }

    private static double Channel(string colour, int at)
    {
        var share = int.Parse(colour.AsSpan(at, 2), NumberStyles.HexNumber, CultureInfo.InvariantCulture) / 255.0;
        return share <= 0.04045 ? share / 12.92 : Math.Pow((share + 0.055) / 1.055, 2.4);
    }
}
