using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Planning;
using Outcry.Server.Platform;
using Outcry.Store;

namespace Outcry.Server.Callouts;

/// <summary>A frozen version of a brief.</summary>
internal sealed record RevisionView(int Number, Instant At, string By, Brief Brief);

/// <summary>A callout's revisions, newest first. One is restored by saving its brief as the draft.</summary>
internal static class ListRevisions
{
    private const int Most = 200;

    public static async Task<Results<Ok<List<RevisionView>>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid calloutId,
        OutcryDb db,
        CancellationToken stop
    )
    {
        if (await CalloutView.FindAsync(db, siteId, calloutId, stop) is null)
            return Problems.NotFound("callout");
        var rows = await db
            .Revisions.AsNoTracking()
            .Where(r => r.CalloutId == calloutId)
            .OrderByDescending(r => r.Number)
            .Take(Most)
            .ToListAsync(stop);
        return TypedResults.Ok(rows.ConvertAll(r => new RevisionView(r.Number, r.PublishedAt, r.PublishedBy, r.Brief)));
    }
}
