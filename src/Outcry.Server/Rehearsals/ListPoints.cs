using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Server.Platform;
using Outcry.Store;

namespace Outcry.Server.Rehearsals;

/// <summary>An element that somebody of the team pointed at on the site's own page.</summary>
internal sealed record PointView(Guid Id, string Selector, string Label, string Path, int Matches, Instant At);

/// <summary>The elements pointed at in the last day, newest first.</summary>
internal static class ListPoints
{
    private const int Most = 20;

    public static async Task<Ok<List<PointView>>> HandleAsync(
        Guid siteId,
        OutcryDb db,
        IClock clock,
        CancellationToken stop
    )
    {
        var since = clock.GetCurrentInstant() - Duration.FromDays(1);
        return TypedResults.Ok(
            await db
                .Points.Where(p => p.SiteId == siteId && p.At >= since)
                .OrderByDescending(p => p.At)
                .Take(Most)
                .Select(p => new PointView(p.Id, p.Selector, p.Label, p.Path, p.Matches, p.At))
                .ToListAsync(stop)
        );
    }

    public static async Task<Results<NoContent, ProblemHttpResult>> RemoveAsync(
        Guid siteId,
        Guid pointId,
        OutcryDb db,
        CancellationToken stop
    ) =>
        await db.Points.Where(p => p.SiteId == siteId && p.Id == pointId).ExecuteDeleteAsync(stop) == 1
            ? TypedResults.NoContent()
            : Problems.NotFound("point");
}
