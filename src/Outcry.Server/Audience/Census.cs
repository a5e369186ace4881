using NodaTime;
using Outcry.Core.Planning;
using Outcry.Core.Replaying;
using Outcry.Core.Visitors;

namespace Outcry.Server.Audience;

/// <summary>A recorded visit, and the visitor as the last page view of it left them.</summary>
internal sealed record CountedVisit(RecordedVisit Visit, VisitorRecord Visitor)
{
    public Instant At => Visit.Pages[0].At;

    public Instant LastAt => Visit.Pages[^1].At;
}

/// <summary>A recorded visitor with all visits of the period, the first first.</summary>
internal sealed record CountedVisitor(string Id, IReadOnlyList<CountedVisit> Visits)
{
    public CountedVisit Last => Visits[^1];
}

/// <summary>Everybody who was recorded on a site in the last 30 days.</summary>
/// <param name="At">When they were counted.</param>
/// <param name="From">The beginning of the period: 30 days before, or less where there was too much to hold.</param>
/// <param name="Visitors">The latest first.</param>
internal sealed record Census(Instant At, Instant From, IReadOnlyList<CountedVisitor> Visitors)
{
    private readonly Dictionary<string, CountedVisitor> _byId = Visitors.ToDictionary(v => v.Id);
    private readonly Lazy<IReadOnlyList<CountedVisit>> _visits = new(() => [.. Visitors.SelectMany(v => v.Visits)]);
    private readonly Lazy<ILookup<string, (int DepthPercent, long StayMs)>> _views = new(() =>
        Visitors
            .SelectMany(v => v.Visits)
            .SelectMany(v => v.Visit.Pages)
            .ToLookup(p => p.Page.Path, p => (p.DepthPercent, p.StayMs))
    );

    /// <summary>All visits of all visitors.</summary>
    public IReadOnlyList<CountedVisit> Visits => _visits.Value;

    /// <summary>How far and how long each view of a page went.</summary>
    public IEnumerable<(int DepthPercent, long StayMs)> ViewsOf(string path) => _views.Value[path];

    public CountedVisitor? Find(string visitorId) => _byId.GetValueOrDefault(visitorId);

    /// <summary>Visitors for whom a rule holds, as their latest visit left them.</summary>
    public IEnumerable<CountedVisitor> Matching(CompiledRule rule, SiteSnapshot site) =>
        rule.IsOpen ? Visitors : Visitors.Where(v => rule.Holds(ReaderOf(v.Last, site)));

    /// <summary>A visit as rules see it on its last page.</summary>
    public static FactReader ReaderOf(CountedVisit visit, SiteSnapshot site) =>
        new(visit.Visitor, visit.Visit.Facts, site.PastEventsOf(visit.Visit.VisitorId), visit.LastAt);
}
