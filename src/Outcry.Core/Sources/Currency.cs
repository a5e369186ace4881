using System.Collections.Frozen;
using System.Globalization;

namespace Outcry.Core.Sources;

/// <summary>Currencies by their ISO 4217 codes.</summary>
public static class Currency
{
    // The codes in use are those of the world's regions in Unicode's CLDR, which the platform carries.
    private static readonly FrozenSet<string> Codes = CultureInfo
        .GetCultures(CultureTypes.SpecificCultures)
        .Select(RegionOf)
        .OfType<RegionInfo>()
        .Select(r => r.ISOCurrencySymbol)
        .Where(c => c.Length == 3 && c.All(char.IsAsciiLetterUpper))
        .ToFrozenSet();

    /// <summary>Whether it is the code of a currency in use, in any case.</summary>
    public static bool IsKnown(string code) => Codes.Contains(code.ToUpperInvariant());

    /// <summary>The currency that a sign alone stands for; null for signs that several share.</summary>
    public static string? OfSign(string text) =>
        text.Contains('£', StringComparison.Ordinal) ? "GBP"
        : text.Contains('€', StringComparison.Ordinal) ? "EUR"
        : null;

    private static RegionInfo? RegionOf(CultureInfo culture)
    {
        try
        {
            return new RegionInfo(culture.Name);
        }
        catch (ArgumentException)
        {
            // A culture of a whole continent has no currency.
            return null;
        }
    }
}
