using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Ledger;

/// <summary>What is done with chosen events.</summary>
internal enum EventAct
{
    /// <summary>Take them out of everything visitors see.</summary>
    Hide,

    /// <summary>Let visitors see them: hidden ones again, held ones for the first time.</summary>
    Release,

    /// <summary>Delete them; for ten minutes this can be taken back.</summary>
    Delete,

    /// <summary>Take a deletion back.</summary>
    Restore,
}

/// <summary>Events by their ids, or all that pass a filter.</summary>
/// <param name="Ids">Chosen one by one; at most 1,000.</param>
/// <param name="All">The filter, for all that pass it; null for the ids alone.</param>
internal sealed record ChangeEventsRequest(EventAct Act, IReadOnlyList<Guid> Ids, EventFilter? All = null);

/// <summary>How many were changed, and which, so that a deletion can be taken back.</summary>
/// <param name="UndoUntil">Until when a deletion can be taken back.</param>
internal sealed record ChangedEventsView(int Changed, IReadOnlyList<Guid> Ids, Instant? UndoUntil);

/// <summary>Hides, releases, deletes and restores events, one or many at a time.</summary>
internal static class ChangeEvents
{
    private const int MostIds = 1_000;
    private const int MostByFilter = 100_000;

    public static async Task<Results<Ok<ChangedEventsView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        ChangeEventsRequest request,
        OutcryDb db,
        LiveSites sites,
        SiteNews news,
        CurrentMember member,
        TraceBook traces,
        IClock clock,
        CancellationToken stop
    )
    {
        if (request.Ids.Count > MostIds)
            return Problems.BadField(
                "ids",
                $"At most {MostIds} at a time. To change more, choose all that pass the filter."
            );
        var now = clock.GetCurrentInstant();
        var ids = request.Ids.ToList();
        if (request.All is { } filter && request.Act != EventAct.Restore)
        {
            var (passing, problem) = filter.Apply(db, sites.GetById(siteId), now);
            if (passing is null)
                return problem!;
            ids = await passing.OrderByDescending(e => e.At).Select(e => e.Id).Take(MostByFilter + 1).ToListAsync(stop);
            if (ids.Count > MostByFilter)
                return Problems.BadField("all", $"More than {MostByFilter} events pass the filter. Narrow it first.");
        }
        var changed = await ActAsync(db, siteId, ids, request.Act, member.Name, now, stop);
        await NoteAsync(siteId, request.Act, changed, db, traces, stop);
        if (changed.Count > 0)
            await news.TellAsync(siteId, SiteChange.Definition);
        return TypedResults.Ok(
            new ChangedEventsView(
                changed.Count,
                changed,
                request.Act == EventAct.Delete && changed.Count > 0 ? now + DeletedEvents.UndoFor : null
            )
        );
    }

    private static async Task<List<Guid>> ActAsync(
        OutcryDb db,
        Guid siteId,
        List<Guid> ids,
        EventAct act,
        string by,
        Instant now,
        CancellationToken stop
    )
    {
        var chosen = db.Events.Where(e => e.SiteId == siteId && ids.Contains(e.Id));
        var fitting = act switch
        {
            EventAct.Hide => chosen.Where(e => e.State == EventState.Usable || e.State == EventState.Held),
            EventAct.Release => chosen.Where(e =>
                e.State == EventState.Hidden || e.State == EventState.Held || e.State == EventState.Duplicate
            ),
            EventAct.Delete => chosen.Where(e => e.State != EventState.Deleted),
            _ => chosen.Where(e => e.State == EventState.Deleted && e.DeletedFrom != null),
        };
        var changed = await fitting.Select(e => e.Id).ToListAsync(stop);
        var rows = db.Events.Where(e => e.SiteId == siteId && changed.Contains(e.Id));
        await (
            act switch
            {
                EventAct.Hide => rows.ExecuteUpdateAsync(
                    u => u.SetProperty(e => e.State, EventState.Hidden).SetProperty(e => e.HiddenBy, by),
                    stop
                ),
                EventAct.Release => rows.ExecuteUpdateAsync(
                    u =>
                        u.SetProperty(e => e.State, EventState.Usable)
                            .SetProperty(e => e.HiddenBy, (string?)null)
                            .SetProperty(e => e.HeldBecause, (string?)null),
                    stop
                ),
                EventAct.Delete => rows.ExecuteUpdateAsync(
                    u =>
                        u.SetProperty(e => e.DeletedFrom, e => e.State)
                            .SetProperty(e => e.State, EventState.Deleted)
                            .SetProperty(e => e.DeletedAt, now)
                            .SetProperty(e => e.DeletedBy, by),
                    stop
                ),
                _ => rows.ExecuteUpdateAsync(
                    u =>
                        u.SetProperty(e => e.State, e => e.DeletedFrom!.Value)
                            .SetProperty(e => e.DeletedFrom, (EventState?)null)
                            .SetProperty(e => e.DeletedAt, (Instant?)null)
                            .SetProperty(e => e.DeletedBy, (string?)null),
                    stop
                ),
            }
        );
        return changed;
    }

    public static Task<Results<NoContent, ProblemHttpResult>> HideAsync(
        Guid siteId,
        Guid eventId,
        OutcryDb db,
        SiteNews news,
        CurrentMember member,
        TraceBook traces,
        CancellationToken stop
    ) => MoveAsync(siteId, eventId, EventAct.Hide, db, news, member, traces, stop);

    public static Task<Results<NoContent, ProblemHttpResult>> ReleaseAsync(
        Guid siteId,
        Guid eventId,
        OutcryDb db,
        SiteNews news,
        CurrentMember member,
        TraceBook traces,
        CancellationToken stop
    ) => MoveAsync(siteId, eventId, EventAct.Release, db, news, member, traces, stop);

    private static async Task<Results<NoContent, ProblemHttpResult>> MoveAsync(
        Guid siteId,
        Guid eventId,
        EventAct act,
        OutcryDb db,
        SiteNews news,
        CurrentMember member,
        TraceBook traces,
        CancellationToken stop
    )
    {
        var state = await db
            .Events.Where(e => e.Id == eventId && e.SiteId == siteId && e.State != EventState.Deleted)
            .Select(e => (EventState?)e.State)
            .FirstOrDefaultAsync(stop);
        if (state is null)
            return Problems.NotFound("event");
        if (state == EventState.OwnTest)
            return Problems.Of(
                StatusCodes.Status409Conflict,
                "event-state",
                "This event cannot be moved so",
                "A member's own test is never public, so there is nothing to hide or release."
            );
        var changed = await ActAsync(db, siteId, [eventId], act, member.Name, Instant.MinValue, stop);
        await NoteAsync(siteId, act, changed, db, traces, stop);
        if (changed.Count > 0)
            await news.TellAsync(siteId, SiteChange.Definition);
        return TypedResults.NoContent();
    }

    // Who the events are about is not said: a trace cannot be erased.
    private static async Task NoteAsync(
        Guid siteId,
        EventAct act,
        List<Guid> changed,
        OutcryDb db,
        TraceBook traces,
        CancellationToken stop
    )
    {
        if (changed.Count == 0)
            return;
        var verb = act switch
        {
            EventAct.Hide => "hid",
            EventAct.Release => "released",
            EventAct.Delete => "deleted",
            _ => "took back",
        };
        traces.Add(
            verb,
            changed.Count == 1 ? "an event" : $"{changed.Count} events",
            siteId,
            link: changed.Count == 1 ? $"event/{changed[0]}" : ""
        );
        await db.SaveChangesAsync(stop);
    }
}
