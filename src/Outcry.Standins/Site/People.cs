using Outcry.Core.Evidence;

namespace Outcry.Standins.Site;

/// <summary>Made-up people, some of whom come back.</summary>
internal static class People
{
    private static readonly string[] First =
    [
        "Saoirse",
        "Noor",
        "Anselm",
        "Tomasz",
        "Callum",
        "Leila",
        "Piet",
        "Ines",
        "Maeve",
        "Oskar",
        "Freya",
        "Idris",
        "Hanne",
        "Ravi",
        "Elin",
        "Bram",
        "Aoife",
        "Yusuf",
        "Clara",
        "Emeka",
        "Sanne",
        "Niamh",
        "Jonah",
        "Priya",
        "Lotte",
        "Euan",
        "Amara",
        "Henrik",
        "Orla",
        "Mateo",
        "Wren",
        "Dilys",
        "Kofi",
        "Sylvie",
        "Rory",
        "Zainab",
    ];

    private static readonly string[] Last =
    [
        "Murphy",
        "Haddad",
        "Vermeer",
        "Kowalski",
        "Fraser",
        "Bensalem",
        "de Vries",
        "Okafor",
        "Lindqvist",
        "Byrne",
        "Ashworth",
        "Nair",
        "Peeters",
        "Moreau",
        "Campbell",
        "Osei",
        "Janssen",
        "Whitlock",
        "Rahman",
        "Doyle",
        "Hartley",
        "Visser",
        "Ibrahim",
        "Sorensen",
        "Gallagher",
        "Penrose",
        "Adeyemi",
        "Klein",
        "Thorne",
        "Quigley",
    ];

    // The last figure is how many of a hundred people come from there.
    private static readonly (string City, string Region, string Country, int Share)[] Places =
    [
        ("Leeds", "Yorkshire", "England", 16),
        ("York", "Yorkshire", "England", 6),
        ("Cork", "Munster", "Ireland", 12),
        ("Galway", "Connacht", "Ireland", 5),
        ("Bristol", "South West", "England", 12),
        ("Ghent", "East Flanders", "Belgium", 9),
        ("Utrecht", "Utrecht", "Netherlands", 9),
        ("Cupar", "Fife", "Scotland", 4),
        ("Edinburgh", "Lothian", "Scotland", 9),
        ("Cardiff", "Glamorgan", "Wales", 8),
        ("Rennes", "Brittany", "France", 6),
        ("Aarhus", "Midtjylland", "Denmark", 4),
    ];

    public static Buyer Draw(Random chance)
    {
        var first = First[chance.Next(First.Length)];
        var last = Last[chance.Next(Last.Length)];
        var place = DrawPlace(chance);
        var address = $"{first}.{last}@post.example".ToLowerInvariant().Replace(" ", "", StringComparison.Ordinal);
        return new Buyer(first, last, address, place.City, place.Region, place.Country);
    }

    /// <summary>A place, the likelier the more people come from there.</summary>
    public static Place DrawPlace(Random chance)
    {
        var at = chance.Next(Places.Sum(p => p.Share));
        foreach (var (city, region, country, share) in Places)
            if ((at -= share) < 0)
                return new Place(city, region, country);
        throw new InvalidOperationException("Shares are counted above.");
    }
}
