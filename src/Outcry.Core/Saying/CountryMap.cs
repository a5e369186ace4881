using System.Collections.Frozen;
using System.Text.Json;

namespace Outcry.Core.Saying;

/// <summary>Draws a country's outline: a small map of the rough place, and never more exact than the country.</summary>
/// <remarks>Outlines: Natural Earth 1:50m, public domain, simplified by scripts/make-country-outlines.mjs.</remarks>
public static class CountryMap
{
    // Grey enough to be seen on a light ground and on a dark one (at least 3:1 on white and on black).
    private const string Fill = "%237f867c";

    private static readonly Lazy<FrozenDictionary<string, string>> Outlines = new(Load);

    /// <summary>The countries that can be drawn, by name in English.</summary>
    public static IReadOnlyCollection<string> Countries => Outlines.Value.Keys;

    /// <summary>A picture of the country as a data address (RFC 2397), SVG of 88 by 88; null for a country that is not known.</summary>
    /// <param name="country">Its name in English, in any case; "UK" and "USA" are understood too.</param>
    public static string? Of(string country) =>
        Outlines.Value.TryGetValue(Alias(country.Trim()), out var address) ? address : null;

    private static string Alias(string country) =>
        country.ToUpperInvariant() switch
        {
            "UK" or "GREAT BRITAIN" or "ENGLAND" or "SCOTLAND" or "WALES" or "NORTHERN IRELAND" => "United Kingdom",
            "USA" or "UNITED STATES" => "United States of America",
            "CZECH REPUBLIC" => "Czechia",
            _ => country,
        };

    private static FrozenDictionary<string, string> Load()
    {
        using var stream = typeof(CountryMap).Assembly.GetManifestResourceStream(
            "Outcry.Core.Saying.country-outlines.json"
        )!;
        using var document = JsonDocument.Parse(stream);
        return document
            .RootElement.GetProperty("outlines")
            .EnumerateObject()
            .ToFrozenDictionary(o => o.Name, o => Address(o.Value.GetString()!), StringComparer.OrdinalIgnoreCase);
    }

    private static string Address(string path) =>
        "data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 88 88'%3E"
        + $"%3Cpath fill='{Fill}' d='{path}'/%3E%3C/svg%3E";
}
