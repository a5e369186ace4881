using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Planning;
using Outcry.Core.Visitors;
using Outcry.Server.Platform;
using Outcry.Server.Sites;

namespace Outcry.Server.Audience;

/// <summary>A recorded visitor. Nothing says who it is: a site's own id for this browser, and what the visit showed.</summary>
/// <param name="Short">The id's first characters, by which people tell visitors apart.</param>
/// <param name="Visit">Number of the latest visit.</param>
/// <param name="Pages">Pages of the latest visit.</param>
/// <param name="Entry">Its first page.</param>
/// <param name="Place">The finest place known; empty for none.</param>
/// <param name="Did">What the visitor did on the site, kind by kind.</param>
internal sealed record VisitorView(
    string Id,
    string Short,
    Instant LastAt,
    int Visit,
    int Pages,
    string Entry,
    Device Device,
    string Place,
    string Language,
    bool IsKnown,
    IReadOnlyList<EventKind> Did
)
{
    public static VisitorView Of(CountedVisitor visitor, SiteSnapshot site)
    {
        var last = visitor.Last;
        var (facts, pages) = (last.Visit.Facts, last.Visit.Pages);
        return new VisitorView(
            visitor.Id,
            visitor.Id[..Math.Min(6, visitor.Id.Length)],
            last.LastAt,
            last.Visit.Number,
            pages.Count,
            pages[0].Page.Path,
            facts.Device,
            PlaceOf(facts.Place),
            facts.Languages.Count > 0 ? facts.Languages[0] : "",
            facts.IsKnown,
            [.. site.PastEventsOf(visitor.Id).Select(d => d.Kind).Distinct()]
        );
    }

    private static string PlaceOf(Place place) =>
        string.Join(", ", new[] { place.City, place.Country }.Where(p => p.Length > 0)) is { Length: > 0 } known
            ? known
            : place.Region;
}

/// <param name="Total">How many there are in all.</param>
internal sealed record VisitorPageView(int Total, int Of, Instant From, IReadOnlyList<VisitorView> Visitors);

/// <summary>The recorded visitors of the last 30 days, the latest first, page by page.</summary>
internal static class ListVisitors
{
    private const int InPage = 50;

    public static async Task<Results<Ok<VisitorPageView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        LiveSites sites,
        CensusTaker taker,
        CancellationToken stop,
        Guid? segment = null,
        string? page = null,
        int skip = 0
    )
    {
        var site = sites.GetById(siteId);
        var rule = CompiledRule.Everybody;
        if (segment is { } id)
        {
            if (!site.Context.Segments.ContainsKey(id))
                return Problems.NotFound("segment");
            rule = CompiledRule.Compile(new InSegment(id), site.Context.Segments);
        }
        var census = await taker.ReadAsync(site, stop);
        var such = census
            .Matching(rule, site.Snapshot)
            .Where(v =>
                string.IsNullOrEmpty(page)
                || v.Visits.Any(visit =>
                    visit.Visit.Pages.Any(p => p.Page.Path.Contains(page, StringComparison.OrdinalIgnoreCase))
                )
            )
            .ToList();
        return TypedResults.Ok(
            new VisitorPageView(
                such.Count,
                census.Visitors.Count,
                census.From,
                [.. such.Skip(Math.Max(0, skip)).Take(InPage).Select(v => VisitorView.Of(v, site.Snapshot))]
            )
        );
    }
}
