namespace Outcry.Core.Evidence;

/// <summary>How fine a place may be said.</summary>
public enum PlaceLevel
{
    /// <summary>Not at all.</summary>
    None,

    /// <summary>The country.</summary>
    Country,

    /// <summary>The region.</summary>
    Region,

    /// <summary>The city.</summary>
    City,
}

/// <summary>Where somebody was, from fine to coarse; any part may be empty.</summary>
public sealed record Place(string City, string Region, string Country)
{
    /// <summary>Nothing is known.</summary>
    public static Place Unknown { get; } = new("", "", "");

    /// <summary>The name of the place at one level; empty when that is not known.</summary>
    public string Named(PlaceLevel level) =>
        level switch
        {
            PlaceLevel.City => City,
            PlaceLevel.Region => Region,
            PlaceLevel.Country => Country,
            _ => "",
        };
}

/// <summary>Counts who shares a place, so that a place is never said more finely than a crowd stands in it.</summary>
public sealed class PlaceCrowd
{
    /// <summary>Distinct people who must share a level before it is said.</summary>
    public const int FewestPeople = 5;

    private readonly Dictionary<(PlaceLevel, string), HashSet<string>> _people = [];

    /// <summary>Counts the people behind the given events, each once.</summary>
    public PlaceCrowd(IEnumerable<LedgerEvent> window)
    {
        var events = window as IReadOnlyCollection<LedgerEvent> ?? [.. window];
        var people = new DistinctPeople(events);
        foreach (var happened in events)
            for (var level = PlaceLevel.Country; level <= PlaceLevel.City; level++)
                if (Key(happened.Place, level) is { } key)
                    PeopleAt(key).Add(people.Of(happened));
    }

    /// <summary>The finest allowed level at which the place is shared by enough people; <see cref="PlaceLevel.None"/> when there is none.</summary>
    public PlaceLevel FinestLevel(Place place, PlaceLevel allowed)
    {
        for (var level = allowed; level > PlaceLevel.None; level--)
            if (SharedBy(place, level) >= FewestPeople)
                return level;
        return PlaceLevel.None;
    }

    /// <summary>Distinct people known at the place's level.</summary>
    public int SharedBy(Place place, PlaceLevel level) =>
        Key(place, level) is { } key && _people.TryGetValue(key, out var people) ? people.Count : 0;

    /// <summary>The place as it may be said: at the finest shared level, or empty.</summary>
    public string Shown(Place place, PlaceLevel allowed) => place.Named(FinestLevel(place, allowed));

    private HashSet<string> PeopleAt((PlaceLevel, string) key)
    {
        if (!_people.TryGetValue(key, out var people))
            _people[key] = people = [];
        return people;
    }

    // A city is told apart by its region and its country: there is more than one Springfield.
    private static (PlaceLevel, string)? Key(Place place, PlaceLevel level)
    {
        var name = place.Named(level);
        var within = level == PlaceLevel.City ? $"{place.Country}|{place.Region}" : place.Country;
        return name.Length == 0 ? null : (level, $"{within}|{name}".ToUpperInvariant());
    }
}
