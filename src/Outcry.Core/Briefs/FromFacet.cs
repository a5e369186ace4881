using Outcry.Core.Evidence;

namespace Outcry.Core.Briefs;

/// <summary>What a count counts.</summary>
public enum Measure
{
    /// <summary>Events of the sources.</summary>
    Events,

    /// <summary>People behind the events, each once.</summary>
    People,

    /// <summary>Page views of the counted pages.</summary>
    PageViews,

    /// <summary>Visitors who looked at the counted pages, each once.</summary>
    Visitors,
}

/// <summary>Whose events a visitor is told, by place.</summary>
public enum Nearness
{
    /// <summary>Everybody's.</summary>
    Anywhere,

    /// <summary>Those of the visitor's country first, then all others.</summary>
    CountryFirst,

    /// <summary>Only those of the visitor's country.</summary>
    CountryOnly,

    /// <summary>Those of the visitor's region first, then all others.</summary>
    RegionFirst,

    /// <summary>Only those of the visitor's region.</summary>
    RegionOnly,
}

/// <summary>Which events it draws on.</summary>
/// <param name="Sources">Ids of the sources.</param>
/// <param name="Conditions">Conditions on the events.</param>
/// <param name="Join">How the conditions are joined.</param>
/// <param name="WindowMinutes">Rolling window, 1 minute to 730 days; null for all time, and for a headcount: here now.</param>
/// <param name="OldestDays">Events older than this are left aside before anything is counted: 1 to 730; null for no limit but the window.</param>
/// <param name="LeastNumber">Fewest before anything is said: 1 to 10,000.</param>
/// <param name="Shuffle">Shuffled, steady within a visit, instead of newest first.</param>
/// <param name="Measure">What a count counts.</param>
/// <param name="Near">Whose events, by place.</param>
/// <param name="Pages">Pages on which it must have happened, and which page views are counted; none for everywhere.</param>
/// <param name="OfThisPage">Only what is about the product of the page on which it is read.</param>
/// <param name="MostLeft">For a remainder: the most that may be left before it is said, 1 to 10,000.</param>
/// <param name="LeastStars">For a quote: the fewest stars, 0 to 5; 0 also takes what has none.</param>
public sealed record FromFacet(
    IReadOnlyList<Guid> Sources,
    IReadOnlyList<FieldCondition> Conditions,
    Join Join,
    int? WindowMinutes,
    int? OldestDays,
    int LeastNumber,
    bool Shuffle,
    Measure Measure,
    Nearness Near,
    IReadOnlyList<string> Pages,
    bool OfThisPage,
    int MostLeft,
    decimal LeastStars
);
