using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Outcry.Store;

namespace Outcry.Server.Sites;

/// <summary>A page group, as callouts name it.</summary>
internal sealed record PageGroupView(
    Guid Id,
    string Name,
    IReadOnlyList<string> Includes,
    IReadOnlyList<string> Excludes
);

/// <summary>The site's page groups, as they stand on the run sheet.</summary>
internal static class PageGroups
{
    public static async Task<Ok<List<PageGroupView>>> ListAsync(Guid siteId, OutcryDb db, CancellationToken stop) =>
        TypedResults.Ok(
            await db
                .PageGroups.AsNoTracking()
                .Where(g => g.SiteId == siteId)
                .OrderBy(g => g.Position)
                .Select(g => new PageGroupView(g.Id, g.Name, g.Includes, g.Excludes))
                .ToListAsync(stop)
        );
}
