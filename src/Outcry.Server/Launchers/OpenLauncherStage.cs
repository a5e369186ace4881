using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using Outcry.Core.Greetings;
using Outcry.Core.Rehearsing;
using Outcry.Server.Passports;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.Launchers;

/// <param name="At">Local date and time of the site; now when left out.</param>
internal sealed record LauncherStageRequest(ImaginedVisitor Visitor, string? At = null);

/// <summary>Makes the signed token by which the site's page shows this draft as one visitor would meet it.</summary>
internal static class OpenLauncherStage
{
    private static readonly Duration Life = Duration.FromHours(4);

    public static async Task<Results<Ok<StageView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid id,
        LauncherStageRequest request,
        OutcryDb db,
        LiveSites sites,
        IClock clock,
        CancellationToken stop
    )
    {
        if (request.Visitor.Problem is { } odd)
            return Problems.BadField("visitor", odd);
        if (await db.FindDefinitionAsync(siteId, LauncherKind.Launcher, id, stop) is null)
            return Problems.NotFound("launcher");
        var (site, now) = (sites.GetById(siteId), clock.GetCurrentInstant());
        Instant? at = null;
        if (!string.IsNullOrEmpty(request.At))
        {
            at = ClimbLadder.TimeOf(request.At, now, site);
            if (at is null)
                return Problems.BadField("at", "The time is a local date and time such as 2026-11-24T14:00.");
        }
        var token = PrivateToken.MakeStage(site, request.Visitor, id, now + Life, at);
        return TypedResults.Ok(StageView.Of(site, token));
    }
}
