using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Outcry.Core.Evidence;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.Ledger;

/// <summary>Takes an event out of everything visitors see, or lets it back.</summary>
internal static class HideEvent
{
    public static Task<Results<NoContent, ProblemHttpResult>> HideAsync(
        Guid siteId,
        Guid eventId,
        OutcryDb db,
        SiteNews news,
        CurrentMember member,
        CancellationToken stop
    ) => MoveAsync(siteId, eventId, EventState.Usable, EventState.Hidden, db, news, member, stop);

    public static Task<Results<NoContent, ProblemHttpResult>> ReleaseAsync(
        Guid siteId,
        Guid eventId,
        OutcryDb db,
        SiteNews news,
        CurrentMember member,
        CancellationToken stop
    ) => MoveAsync(siteId, eventId, EventState.Hidden, EventState.Usable, db, news, member, stop);

    private static async Task<Results<NoContent, ProblemHttpResult>> MoveAsync(
        Guid siteId,
        Guid eventId,
        EventState from,
        EventState to,
        OutcryDb db,
        SiteNews news,
        CurrentMember member,
        CancellationToken stop
    )
    {
        var row = await db.Events.FirstOrDefaultAsync(e => e.Id == eventId && e.SiteId == siteId, stop);
        if (row is null)
            return Problems.NotFound("event");
        if (row.State == to)
            return TypedResults.NoContent();
        if (row.State != from)
            return Problems.Of(
                StatusCodes.Status409Conflict,
                "event-state",
                "This event cannot be moved so",
                "A member's own test is never public, so there is nothing to hide or release."
            );
        row.State = to;
        row.HiddenBy = to == EventState.Hidden ? member.Name : null;
        await db.SaveChangesAsync(stop);
        await news.TellAsync(siteId, SiteChange.Definition, null, stop);
        return TypedResults.NoContent();
    }
}
