using NodaTime.TimeZones;

namespace Outcry.Core.Care;

/// <summary>The country in which a site is at home, by its time zone, else by its language.</summary>
public static class HomeRegion
{
    private static readonly Lazy<IReadOnlyDictionary<string, string>> ByZone = new(() =>
        (TzdbDateTimeZoneSource.Default.ZoneLocations ?? [])
            .GroupBy(l => l.ZoneId)
            .ToDictionary(g => g.Key, g => g.First().CountryCode)
    );

    /// <summary>ISO 3166-1 code of two letters; <see cref="PhoneNumber.UnknownRegion"/> when neither tells.</summary>
    /// <param name="zone">IANA time zone, such as "Europe/London".</param>
    /// <param name="language">BCP 47 tag, such as "de-AT".</param>
    public static string Of(string zone, string language) =>
        ByZone.Value.GetValueOrDefault(
            TzdbDateTimeZoneSource.Default.CanonicalIdMap.TryGetValue(zone, out var canonical) ? canonical : zone
        )
        ?? language
            .Split('-')
            .Skip(1)
            .FirstOrDefault(p => p.Length == 2 && p.All(char.IsAsciiLetter))
            ?.ToUpperInvariant()
        ?? PhoneNumber.UnknownRegion;
}
