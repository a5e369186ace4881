using System.Text.Json;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Outcry.Core.Planning;
using Outcry.Store;

namespace Outcry.Server.Callouts;

/// <summary>All callouts of a site with their figures; archived ones only when asked for.</summary>
internal static class ListCallouts
{
    public static async Task<Ok<List<CalloutListView>>> HandleAsync(
        Guid siteId,
        OutcryDb db,
        CalloutFigures figures,
        CancellationToken stop,
        bool archived = false
    )
    {
        var rows = await db
            .Callouts.AsNoTracking()
            .Where(c => c.SiteId == siteId && (c.State == CalloutState.Archived) == archived)
            .OrderBy(c => c.CreatedAt)
            .ToListAsync(stop);
        var ids = rows.ConvertAll(r => r.Id);
        var live = await db.Revisions.AsNoTracking().Where(r => ids.Contains(r.CalloutId)).ToListAsync(stop);
        var newest = live.GroupBy(r => r.CalloutId).ToDictionary(g => g.Key, g => g.MaxBy(r => r.Number)!);
        var counted = await figures.ReadAsync(ids, stop);
        return TypedResults.Ok(
            rows.ConvertAll(c => new CalloutListView(
                c.Id,
                c.Name,
                c.State,
                c.Revision,
                c.Revision > 0 && !Same(newest[c.Id].Brief, c.Draft),
                c.Draft,
                counted.GetValueOrDefault(c.Id, FiguresView.None),
                c.ChangedAt,
                c.ChangedBy
            ))
        );
    }

    private static bool Same(Brief one, Brief other) =>
        JsonSerializer.Serialize(one, JsonColumn.Options) == JsonSerializer.Serialize(other, JsonColumn.Options);
}
