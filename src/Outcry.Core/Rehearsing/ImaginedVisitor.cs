using System.Collections.Immutable;
using System.Text.Json.Serialization;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Targeting;
using Outcry.Core.Visitors;

namespace Outcry.Core.Rehearsing;

/// <summary>Something that an imagined visitor did on the site.</summary>
/// <param name="Kind">What.</param>
/// <param name="Source">Through which source it was heard; null for any.</param>
/// <param name="Product">About what; empty for nothing.</param>
/// <param name="Category">Of which category; empty for none.</param>
/// <param name="DaysAgo">How many whole days ago, 0 to 730; today's was an hour ago.</param>
public sealed record ImaginedEvent(
    EventKind Kind,
    Guid? Source = null,
    string Product = "",
    string Category = "",
    int DaysAgo = 0
)
{
    internal PastEvent At(Instant now) =>
        new(Kind, Source ?? Guid.Empty, now - Duration.FromDays(DaysAgo) - Duration.FromHours(1), Product, Category);
}

/// <summary>A visitor as somebody at the desk imagines them: what is left unsaid is as with a newcomer at a desktop.</summary>
/// <remarks>Callouts that were met were met in the visit before this one, so whoever met any has visited before.</remarks>
public sealed record ImaginedVisitor
{
    /// <summary>Visits, pages in a visit and pages ever at most.</summary>
    public const int MostCounted = 10_000;

    /// <summary>Hours since the last visit at most: two years.</summary>
    public const int MostHours = 730 * 24;

    /// <summary>Texts in one list at most, and characters in one of them.</summary>
    public const int MostTexts = 60;

    /// <summary>Who has never been here.</summary>
    public static ImaginedVisitor Newcomer { get; } = new();

    /// <summary>Number of this visit, from 1.</summary>
    public int VisitNumber { get; init; } = 1;

    /// <summary>Pages looked at in this visit before the first one imagined, from 0.</summary>
    public int PagesBefore { get; init; }

    /// <summary>Pages looked at ever before the first one imagined; as few as fit the rest when smaller than that.</summary>
    public int PagesEver { get; init; }

    /// <summary>Seconds since this visit began, where it has had pages before.</summary>
    public int SecondsOnSite { get; init; }

    /// <summary>Hours since the visit before this one, 1 to <see cref="MostHours"/>.</summary>
    public int HoursSinceLastVisit { get; init; } = 24;

    /// <summary>Whether every callout was met in the visit before.</summary>
    public bool MetEverything { get; init; }

    /// <summary>Callouts met in the visit before.</summary>
    public IReadOnlyList<Guid> Saw { get; init; } = [];

    /// <summary>Callouts closed in the visit before.</summary>
    public IReadOnlyList<Guid> Closed { get; init; } = [];

    /// <summary>What the visitor holds.</summary>
    public Device Device { get; init; } = Device.Desktop;

    /// <summary>BCP 47 tags, the most wanted first; none for the site's own language.</summary>
    public IReadOnlyList<string> Languages { get; init; } = [];

    /// <summary>Country by name; empty when unknown.</summary>
    public string Country { get; init; } = "";

    /// <summary>Region by name; empty when unknown.</summary>
    public string Region { get; init; } = "";

    /// <summary>City by name; empty when unknown.</summary>
    public string City { get; init; } = "";

    /// <summary>Hour on the visitor's clock, 0 to 23; null for the site's own.</summary>
    public int? LocalHour { get; init; }

    /// <summary>Whether the page has said who it is.</summary>
    public bool IsKnown { get; init; }

    /// <summary>What the page says of its visitor, by name.</summary>
    public IReadOnlyDictionary<string, string> Attributes { get; init; } = ImmutableDictionary<string, string>.Empty;

    /// <summary>The visitor's tags.</summary>
    public IReadOnlyList<string> Tags { get; init; } = [];

    /// <summary>Whether the visitor agreed to be addressed and remembered.</summary>
    public bool Agreed { get; init; } = true;

    /// <summary>The visit's first page; empty for the first one imagined.</summary>
    public string EntryPage { get; init; } = "";

    /// <summary>Host of the page that led here; empty for none.</summary>
    public string Referrer { get; init; } = "";

    /// <summary>Campaign parameters by name, without "utm_".</summary>
    public IReadOnlyDictionary<string, string> Campaign { get; init; } = ImmutableDictionary<string, string>.Empty;

    /// <summary>What the visitor did on the site.</summary>
    public IReadOnlyList<ImaginedEvent> PastEvents { get; init; } = [];

    /// <summary>What is wrong with it, said to a person; null for nothing.</summary>
    [JsonIgnore]
    public string? Problem =>
        VisitNumber is < 1 or > MostCounted ? $"The number of the visit is 1 to {MostCounted}."
        : PagesBefore is < 0 or > MostCounted || PagesEver is < 0 or > MostCounted ? $"Pages are 0 to {MostCounted}."
        : SecondsOnSite is < 0 or > 86_400 ? "Seconds on the site are 0 to 86,400."
        : HoursSinceLastVisit is < 1 or > MostHours ? $"Hours since the last visit are 1 to {MostHours}."
        : LocalHour is < 0 or > 23 ? "The hour on the visitor's clock is 0 to 23."
        : PastEvents.Any(d => d.DaysAgo is < 0 or > 730) ? "What the visitor did lies 0 to 730 days back."
        : TooMany ? $"At most {MostTexts} entries in one list, with 200 characters each."
        : null;

    private bool TooMany =>
        Math.Max(Math.Max(Saw.Count, Closed.Count), Math.Max(PastEvents.Count, Languages.Count)) > MostTexts
        || Math.Max(Attributes.Count + Campaign.Count, Tags.Count) > MostTexts
        || Texts.Any(t => t.Length > 200);

    private IEnumerable<string> Texts =>
        [
            Country,
            Region,
            City,
            EntryPage,
            Referrer,
            .. Languages,
            .. Tags,
            .. Attributes.SelectMany(a => (string[])[a.Key, a.Value]),
            .. Campaign.SelectMany(c => (string[])[c.Key, c.Value]),
            .. PastEvents.SelectMany(d => (string[])[d.Product, d.Category]),
        ];

    /// <summary>By which way the visit came in.</summary>
    [JsonIgnore]
    public WayIn CameBy => new(EntryPage, Referrer, Campaign);

    /// <summary>What is known of the visitor beside what a browser carries.</summary>
    /// <param name="now">When the visit is imagined.</param>
    /// <param name="zone">The site's time zone.</param>
    public VisitorFacts FactsAt(Instant now, DateTimeZone zone) =>
        new()
        {
            Device = Device,
            Languages = Languages,
            Place = new Place(City, Region, Country),
            IsKnown = IsKnown,
            Attributes = Attributes,
            Tags = Tags,
            Agreed = Agreed,
            LocalOffset = LocalHour is { } hour ? OffsetFor(hour, now) : zone.GetUtcOffset(now),
        };

    /// <summary>What the visitor did, newest first.</summary>
    public IReadOnlyList<PastEvent> PastEventsAt(Instant now) =>
        [.. PastEvents.Select(d => d.At(now)).OrderByDescending(d => d.At)];

    /// <summary>The visitor's record before the first page imagined.</summary>
    /// <param name="visitorId">Whose id it bears, which shuffles and holdbacks go by.</param>
    /// <param name="now">When the visit is imagined.</param>
    /// <param name="callouts">The site's callouts, for what was met and how long a close hushes.</param>
    public VisitorRecord RecordAt(string visitorId, Instant now, IReadOnlyList<Callout> callouts)
    {
        var metAny = MetEverything || Saw.Count + Closed.Count > 0;
        var number = metAny ? Math.Max(2, VisitNumber) : VisitNumber;
        var started = now - Duration.FromSeconds(PagesBefore > 0 ? SecondsOnSite : 0);
        var visitor = VisitorRecord.New(visitorId, started) with { PagesEver = Math.Max(PagesEver, Fewest(number)) };
        if (number > 1)
            visitor = LastVisit(visitor, number - 1, started - Duration.FromHours(HoursSinceLastVisit), callouts);
        if (PagesBefore == 0)
            return visitor;
        return visitor with
        {
            LastVisitAt = number > 1 ? visitor.Visit.LastSeenAt : null,
            Visit = new VisitFigures(number, PagesBefore, started, now, 0, null) { WayIn = CameBy },
        };
    }

    private int Fewest(int number) => number - 1 + PagesBefore;

    private VisitorRecord LastVisit(VisitorRecord visitor, int number, Instant at, IReadOnlyList<Callout> callouts)
    {
        visitor = visitor with { FirstSeenAt = at, Visit = new VisitFigures(number, 1, at, at, 0, null) };
        var known = callouts.ToDictionary(c => c.Id);
        foreach (var id in MetEverything ? callouts.Select(c => c.Id).Union(Saw).Union(Closed) : Saw.Union(Closed))
            visitor = visitor.Started(id, at, takesBudget: true).Ended(at);
        foreach (var id in Closed)
            visitor = visitor.Closed(
                id,
                at,
                known.TryGetValue(id, out var callout) ? callout.Targeting.Hush : Duration.Zero,
                callout?.Class == CalloutClass.Dialog
            );
        return visitor;
    }

    // Clocks of the world run from 12 hours behind universal time to 14 ahead of it.
    private static Offset OffsetFor(int hour, Instant now)
    {
        var ahead = hour - now.InUtc().Hour;
        return Offset.FromHours(
            ahead > 14 ? ahead - 24
            : ahead < -12 ? ahead + 24
            : ahead
        );
    }
}
