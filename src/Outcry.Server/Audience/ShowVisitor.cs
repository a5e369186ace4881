using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Rehearsing;
using Outcry.Core.Replaying;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.Audience;

internal sealed record VisitedPageView(string Path, Instant At, long StayMs, int DepthPercent);

/// <param name="Referrer">Host of the page that led here; empty for none.</param>
internal sealed record VisitView(
    int Number,
    Instant At,
    string Referrer,
    IReadOnlyDictionary<string, string> Campaign,
    IReadOnlyList<VisitedPageView> Pages
);

/// <summary>What a visitor met of one callout in the last 30 days.</summary>
internal sealed record MetView(
    Guid CalloutId,
    string Name,
    int Visits,
    Instant LastAt,
    Instant? ClosedAt,
    Instant? ClickedAt
);

/// <param name="EventId">The event in the ledger.</param>
internal sealed record PastEventView(Guid EventId, Instant At, EventKind Kind, string About);

/// <summary>A visitor with everything that is recorded.</summary>
/// <param name="Attributes">What the page said of the visitor; nothing private.</param>
/// <param name="Segments">Segments the visitor belongs to.</param>
internal sealed record VisitorHistoryView(
    VisitorView Visitor,
    IReadOnlyDictionary<string, string> Attributes,
    IReadOnlyList<string> Segments,
    IReadOnlyList<VisitView> Visits,
    IReadOnlyList<MetView> Met,
    IReadOnlyList<PastEventView> Did
);

/// <summary>A recorded visit, made into one that can be rehearsed.</summary>
internal sealed record RecordedJourneyView(ImaginedVisitor Visitor, IReadOnlyList<PlannedPage> Pages, Instant At);

/// <summary>One recorded visitor: visits, callouts met, deeds.</summary>
internal static class ShowVisitor
{
    private const int MostVisits = 50;

    public static async Task<Results<Ok<VisitorHistoryView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        string visitorId,
        OutcryDb db,
        LiveSites sites,
        CensusTaker taker,
        CancellationToken stop
    )
    {
        var site = sites.GetById(siteId);
        if ((await taker.ReadAsync(site, stop)).Find(visitorId) is not { } visitor)
            return Problems.NotFound("visitor");
        var names = await db.DefinitionsOf(siteId, BriefKind.Callout)
            .AsNoTracking()
            .ToDictionaryAsync(c => c.Id, c => c.Name, stop);
        var did = await db
            .Events.AsNoTracking()
            .Where(e => e.SiteId == siteId && e.VisitorId == visitorId && e.State != EventState.Deleted)
            .OrderByDescending(e => e.At)
            .Take(MostVisits)
            .Select(e => new PastEventView(e.Id, e.At, e.Kind, e.ProductName ?? ""))
            .ToListAsync(stop);
        var reader = Census.ReaderOf(visitor.Last, site.Snapshot);
        return TypedResults.Ok(
            new VisitorHistoryView(
                VisitorView.Of(visitor, site.Snapshot),
                visitor.Last.Visit.Facts.Attributes,
                [
                    .. site
                        .Context.Segments.Values.Where(s =>
                            Core.Visitors.CompiledRule.TryCompile(s.Rule, site.Context.Segments, out _)?.Holds(reader)
                            == true
                        )
                        .Select(s => s.Name)
                        .Order(),
                ],
                [.. visitor.Visits.Reverse().Take(MostVisits).Select(v => View(v.Visit))],
                [
                    .. visitor
                        .Last.Visitor.Exposures.Where(e => names.ContainsKey(e.Key))
                        .OrderByDescending(e => e.Value.LastStartAt)
                        .Select(e => new MetView(
                            e.Key,
                            names[e.Key],
                            e.Value.Visits,
                            e.Value.LastStartAt,
                            e.Value.LastCloseAt,
                            e.Value.LastClickAt
                        )),
                ],
                did
            )
        );
    }

    public static async Task<Results<Ok<RecordedJourneyView>, ProblemHttpResult>> JourneyAsync(
        Guid siteId,
        string visitorId,
        int number,
        LiveSites sites,
        CensusTaker taker,
        CancellationToken stop
    )
    {
        var site = sites.GetById(siteId);
        var visitor = (await taker.ReadAsync(site, stop)).Find(visitorId);
        var place = visitor?.Visits.ToList().FindIndex(v => v.Visit.Number == number) ?? -1;
        if (visitor is null || place < 0)
            return Problems.NotFound("visit");
        var counted = visitor.Visits[place];
        var before = place > 0 ? visitor.Visits[place - 1] : null;
        return TypedResults.Ok(
            new RecordedJourneyView(
                counted.Visit.Imagine(before?.LastAt, site.Snapshot.PastEventsOf(visitorId)),
                [
                    .. counted
                        .Visit.Pages.Take(PlannedPage.Most)
                        .Select(
                            (p, i) =>
                                new PlannedPage(
                                    p.Page.Path,
                                    (int)Math.Clamp(p.StayMs / 1000, 1, PlannedPage.MostSeconds),
                                    p.DepthPercent,
                                    Leaves: i == counted.Visit.Pages.Count - 1
                                )
                        ),
                ],
                counted.At
            )
        );
    }

    private static VisitView View(RecordedVisit visit) =>
        new(
            visit.Number,
            visit.Pages[0].At,
            visit.CameBy.Referrer,
            visit.CameBy.Campaign,
            [.. visit.Pages.Select(p => new VisitedPageView(p.Page.Path, p.At, p.StayMs, p.DepthPercent))]
        );
}
