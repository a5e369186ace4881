using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Core.Briefs;
using Outcry.Core.Publishing;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Signals;

namespace Outcry.Server.Team;

/// <param name="Visitors">Different visitors since the month began (UTC), over all sites; those of test hosts do not count.</param>
internal sealed record WorkspaceUseView(int Visitors, int CalloutsLive, int Sites);

/// <param name="Warnings">What an owner should know now: from 80 % of a limit on.</param>
internal sealed record LimitsView(WorkspaceLimits Limits, WorkspaceUseView Use, IReadOnlyList<string> Warnings);

/// <summary>A workspace's limits with its use beside them.</summary>
internal static class WorkspaceUse
{
    /// <summary>The start of the calendar month, by which visitors are counted.</summary>
    public static Instant MonthOf(Instant now) =>
        now.InUtc().Date.With(DateAdjusters.StartOfMonth).AtMidnight().InUtc().ToInstant();

    public static async Task<Ok<LimitsView>> ShowAsync(
        Guid workspaceId,
        OutcryDb db,
        SignalFigures signals,
        IClock clock,
        CancellationToken stop
    )
    {
        var limits = await db.Workspaces.Where(w => w.Id == workspaceId).Select(w => w.Limits).FirstAsync(stop);
        return TypedResults.Ok(
            View(limits, await CountAsync(workspaceId, db, signals, clock.GetCurrentInstant(), stop))
        );
    }

    public static async Task<Results<Ok<LimitsView>, ProblemHttpResult>> SetAsync(
        Guid workspaceId,
        WorkspaceLimits request,
        OutcryDb db,
        SignalFigures signals,
        TraceBook traces,
        IClock clock,
        CancellationToken stop
    )
    {
        if (request.Check() is [var problem, ..])
            return Problems.BadField(problem.Field, problem.Message);
        var row = await db.Workspaces.FirstAsync(w => w.Id == workspaceId, stop);
        traces.Add("changed the limits", row.Name, changes: TraceBook.Between(row.Limits, request));
        row.Limits = request;
        // Whoever changes them wants to be told anew.
        (row.LimitWarned, row.LimitReached) = (null, null);
        await db.SaveChangesAsync(stop);
        return TypedResults.Ok(
            View(request, await CountAsync(workspaceId, db, signals, clock.GetCurrentInstant(), stop))
        );
    }

    /// <summary>How much a workspace uses now.</summary>
    public static async Task<WorkspaceUseView> CountAsync(
        Guid workspaceId,
        OutcryDb db,
        SignalFigures signals,
        Instant now,
        CancellationToken stop
    )
    {
        var sites = await db
            .Sites.IgnoreQueryFilters()
            .Where(s => s.WorkspaceId == workspaceId && s.RemovedAt == null)
            .Select(s => s.Id)
            .ToListAsync(stop);
        return new WorkspaceUseView(
            await signals.VisitorsSinceAsync(sites, MonthOf(now), stop),
            await db
                .Definitions.IgnoreQueryFilters()
                .CountAsync(
                    d =>
                        sites.Contains(d.SiteId)
                        && d.Kind == BriefKind.Callout
                        && d.State == DefinitionState.Live
                        && d.DeletedAt == null,
                    stop
                ),
            sites.Count
        );
    }

    private static LimitsView View(WorkspaceLimits limits, WorkspaceUseView use) =>
        new(limits, use, limits.Warnings(use.Visitors, use.CalloutsLive, use.Sites));
}
