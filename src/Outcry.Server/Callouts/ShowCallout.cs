using Microsoft.AspNetCore.Http.HttpResults;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.Callouts;

/// <summary>One callout with its draft.</summary>
internal static class ShowCallout
{
    public static async Task<Results<Ok<CalloutView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid calloutId,
        OutcryDb db,
        LiveSites sites,
        CancellationToken stop
    ) =>
        await CalloutView.FindAsync(db, siteId, calloutId, stop) is { } row
            ? TypedResults.Ok(await CalloutView.ReadAsync(db, row, sites.GetById(siteId), stop))
            : Problems.NotFound("callout");
}
