using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Sites;

/// <param name="Name">The site's name, typed by whoever removes it.</param>
internal sealed record RemoveSiteRequest(string Name);

/// <param name="GoneAt">When it goes for good, with everything that was recorded of it.</param>
internal sealed record RemovedSiteView(
    Guid Id,
    string Name,
    string HomeAddress,
    Instant RemovedAt,
    string RemovedBy,
    Instant GoneAt
);

/// <summary>Takes a site out of the workspace. For a day it can be taken back as it was; then it is gone with its data.</summary>
internal static class RemoveSite
{
    /// <summary>How long a removed site can be taken back.</summary>
    public static Duration Undo { get; } = Duration.FromHours(24);

    public static async Task<Results<Ok<RemovedSiteView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        RemoveSiteRequest request,
        OutcryDb db,
        SiteNews news,
        CurrentMember member,
        TraceBook traces,
        IClock clock,
        CancellationToken stop
    )
    {
        var row = await db.Sites.FirstAsync(s => s.Id == siteId, stop);
        if (request.Name.Trim() != row.Name)
            return Problems.BadField("name", $"Type the site's name, {row.Name}, to remove it.");
        if (!await db.Sites.AnyAsync(s => s.RemovedAt == null && s.Id != siteId, stop))
            return Problems.BadField("name", "It is the workspace's only site. Add another before this one goes.");
        (row.RemovedAt, row.RemovedBy) = (clock.GetCurrentInstant(), member.Name);
        traces.Add("removed the site", row.Name, siteId);
        await db.SaveChangesAsync(stop);
        await news.TellAsync(siteId, SiteChange.Definition);
        return TypedResults.Ok(View(row));
    }

    public static async Task<Ok<List<RemovedSiteView>>> ListAsync(
        Guid workspaceId,
        OutcryDb db,
        IClock clock,
        CancellationToken stop
    )
    {
        var since = clock.GetCurrentInstant() - Undo;
        var rows = await db.Sites.AsNoTracking().Where(s => s.RemovedAt > since).OrderBy(s => s.Name).ToListAsync(stop);
        return TypedResults.Ok(rows.ConvertAll(View));
    }

    public static async Task<Results<Ok<SiteView>, ProblemHttpResult>> RestoreAsync(
        Guid workspaceId,
        Guid removedId,
        OutcryDb db,
        SiteNews news,
        TraceBook traces,
        IClock clock,
        CancellationToken stop
    )
    {
        var since = clock.GetCurrentInstant() - Undo;
        if (await db.Sites.FirstOrDefaultAsync(s => s.Id == removedId && s.RemovedAt > since, stop) is not { } row)
            return Problems.NotFound("removed site");
        (row.RemovedAt, row.RemovedBy) = (null, null);
        traces.Add("took back the site", row.Name, removedId);
        await db.SaveChangesAsync(stop);
        await news.TellAsync(removedId, SiteChange.Definition);
        return TypedResults.Ok(SiteView.Of(row));
    }

    private static RemovedSiteView View(SiteRow row) =>
        new(row.Id, row.Name, row.HomeAddress, row.RemovedAt!.Value, row.RemovedBy ?? "", row.RemovedAt.Value + Undo);
}
