using System.Globalization;
using NodaTime;
using Outcry.Core.Evidence;

namespace Outcry.Core.Visitors;

/// <summary>One visitor on one page view, as rules see them.</summary>
/// <param name="record">What the browser carries.</param>
/// <param name="facts">What this page view adds.</param>
/// <param name="deeds">What the visitor did, newest first.</param>
/// <param name="now">The page view's start.</param>
public sealed class FactReader(VisitorRecord record, VisitorFacts facts, IReadOnlyList<PastEvent> deeds, Instant now)
{
    /// <summary>The visitor's record.</summary>
    public VisitorRecord Record => record;

    /// <summary>The page view's facts.</summary>
    public VisitorFacts Facts => facts;

    /// <summary>What the visitor did, newest first.</summary>
    public IReadOnlyList<PastEvent> PastEvents => deeds;

    /// <summary>The page view's start.</summary>
    public Instant Now => now;

    /// <summary>The value of a fact that is a number; null when it has none.</summary>
    public int? Number(VisitorFact fact) =>
        fact switch
        {
            VisitorFact.VisitNumber => record.Visit.Number,
            VisitorFact.PagesThisVisit => record.Visit.Pages,
            VisitorFact.PagesEver => record.PagesEver,
            VisitorFact.SecondsOnSite => (int)Math.Min(int.MaxValue, (now - record.Visit.StartedAt).TotalSeconds),
            VisitorFact.DaysSinceLastVisit => record.LastVisitAt is { } last ? (int)(now - last).TotalDays : null,
            VisitorFact.LocalHour => now.WithOffset(facts.LocalOffset).Hour,
            _ => null,
        };

    /// <summary>The value of a fact that is a word; empty when it has none.</summary>
    public string Text(VisitorFact fact, string key) =>
        fact switch
        {
            VisitorFact.Standing => record.IsNew ? "new" : "returning",
            VisitorFact.EntryPage => record.Visit.WayIn.EntryPage,
            VisitorFact.Referrer => record.Visit.WayIn.Referrer,
            VisitorFact.Campaign => record.Visit.WayIn.Campaign.GetValueOrDefault(key, ""),
            VisitorFact.Device => facts.Device switch
            {
                Device.Phone => "phone",
                Device.Tablet => "tablet",
                _ => "desktop",
            },
            VisitorFact.Country => facts.Place.Country,
            VisitorFact.Region => facts.Place.Region,
            VisitorFact.City => facts.Place.City,
            VisitorFact.Identity => facts.IsKnown ? "known" : "anonymous",
            VisitorFact.Attribute => facts.Attributes.GetValueOrDefault(key, ""),
            VisitorFact.Language => facts.Languages.Count > 0 ? facts.Languages[0] : "",
            VisitorFact.Tag => string.Join(", ", facts.Tags),
            _ => Number(fact)?.ToString(CultureInfo.InvariantCulture) ?? "",
        };

    /// <summary>When the visitor last did what a test asks for; null for never, or not within its days.</summary>
    public Instant? LastDid(FactTest test)
    {
        var last = test.Fact switch
        {
            VisitorFact.Bought => LastDeed(d => d.Kind == EventKind.Purchase && Concerns(d, test.Value)),
            VisitorFact.Submitted => LastDeed(d =>
                d.Kind is EventKind.SignUp or EventKind.Enquiry or EventKind.Booking
                && (test.Key.Length == 0 || (Guid.TryParse(test.Key, out var source) && d.SourceId == source))
            ),
            VisitorFact.Saw => Met(test.Key)?.LastStartAt,
            VisitorFact.Closed => Met(test.Key)?.LastCloseAt,
            _ => null,
        };
        return last is { } at && (test.WithinDays is not { } days || now - at < Duration.FromDays(days)) ? at : null;
    }

    /// <summary>When the visitor last did something that was heard through one of the sources; null for never.</summary>
    public Instant? LastDid(IReadOnlyCollection<Guid> sources) => LastDeed(d => sources.Contains(d.SourceId));

    private Instant? LastDeed(Predicate<PastEvent> fits)
    {
        for (var i = 0; i < deeds.Count; i++)
            if (deeds[i].At <= now && fits(deeds[i]))
                return deeds[i].At;
        return null;
    }

    private Exposure? Met(string callout) =>
        Guid.TryParse(callout, out var id) ? record.Exposures.GetValueOrDefault(id) : null;

    private static bool Concerns(PastEvent deed, string value) =>
        value.Length == 0
        || deed.Product.Contains(value, StringComparison.OrdinalIgnoreCase)
        || string.Equals(deed.Category, value, StringComparison.OrdinalIgnoreCase);
}
