using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Outcry.Core.Pages;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Sites;

/// <summary>A page group as a member describes it.</summary>
internal sealed record PageGroupRequest(string Name, IReadOnlyList<string> Includes, IReadOnlyList<string> Excludes);

/// <summary>All page groups of the site, in the order in which the run sheet has them.</summary>
internal sealed record PageGroupOrder(IReadOnlyList<Guid> Groups);

/// <summary>Adds, changes, orders and removes page groups. A change holds at once for every callout that names the group.</summary>
internal static class ChangePageGroups
{
    private const int LongestName = 40;
    private const int MostGroups = 100;
    private const int MostPatterns = 100;

    public static async Task<Results<Created<PageGroupView>, ProblemHttpResult>> AddAsync(
        Guid siteId,
        PageGroupRequest request,
        OutcryDb db,
        DefinitionsInUse inUse,
        LiveSites sites,
        TrafficReader traffic,
        SiteNews news,
        CurrentMember member,
        CancellationToken stop
    )
    {
        var rows = await db.PageGroups.Where(g => g.SiteId == siteId).ToListAsync(stop);
        if (rows.Count >= MostGroups)
            return Problems.BadField("name", $"A site has at most {MostGroups} page groups.");
        if (Objection(request) is { } objection)
            return objection;
        var row = new PageGroupRow
        {
            WorkspaceId = member.WorkspaceId,
            SiteId = siteId,
            Name = request.Name.Trim(),
            Includes = Clean(request.Includes),
            Excludes = Clean(request.Excludes),
            Position = rows.Select(r => r.Position).DefaultIfEmpty(-1).Max() + 1,
        };
        db.PageGroups.Add(row);
        if (!await UniqueNames.TrySaveAsync(db, OutcryDb.GroupNameIndex, stop))
            return UniqueNames.Taken("page group", row.Name);
        await news.TellAsync(siteId, SiteChange.Definition);
        return TypedResults.Created(
            $"/api/sites/{siteId}/page-groups/{row.Id}",
            await ViewAsync(row, inUse, sites, traffic, stop)
        );
    }

    public static async Task<Results<Ok<PageGroupView>, ProblemHttpResult>> ChangeAsync(
        Guid siteId,
        Guid groupId,
        PageGroupRequest request,
        OutcryDb db,
        DefinitionsInUse inUse,
        LiveSites sites,
        TrafficReader traffic,
        SiteNews news,
        TraceBook traces,
        CancellationToken stop
    )
    {
        if (await FindAsync(db, siteId, groupId, stop) is not { } row)
            return Problems.NotFound("page group");
        if (Objection(request) is { } objection)
            return objection;
        var before = new PageGroupRequest(row.Name, row.Includes, row.Excludes);
        (row.Name, row.Includes, row.Excludes) = (
            request.Name.Trim(),
            Clean(request.Includes),
            Clean(request.Excludes)
        );
        var after = new PageGroupRequest(row.Name, row.Includes, row.Excludes);
        traces.Add("changed the page group", row.Name, siteId, TraceBook.Between(before, after));
        if (!await UniqueNames.TrySaveAsync(db, OutcryDb.GroupNameIndex, stop))
            return UniqueNames.Taken("page group", row.Name);
        await news.TellAsync(siteId, SiteChange.Definition);
        return TypedResults.Ok(await ViewAsync(row, inUse, sites, traffic, stop));
    }

    public static async Task<Results<NoContent, ProblemHttpResult>> OrderAsync(
        Guid siteId,
        PageGroupOrder request,
        OutcryDb db,
        DefinitionsInUse inUse,
        SiteNews news,
        CancellationToken stop
    )
    {
        var rows = await db.PageGroups.Where(g => g.SiteId == siteId).ToListAsync(stop);
        if (!request.Groups.ToHashSet().SetEquals(rows.Select(r => r.Id)) || request.Groups.Count != rows.Count)
            return Problems.Of(
                StatusCodes.Status409Conflict,
                "groups-changed",
                "The page groups have changed meanwhile",
                "A colleague added or removed one. Reload to see it before you order them."
            );
        foreach (var row in rows)
            row.Position = request.Groups.ToList().IndexOf(row.Id);
        await db.SaveChangesAsync(stop);
        await news.TellAsync(siteId, SiteChange.Definition);
        return TypedResults.NoContent();
    }

    public static async Task<Results<NoContent, ProblemHttpResult>> RemoveAsync(
        Guid siteId,
        Guid groupId,
        OutcryDb db,
        DefinitionsInUse inUse,
        SiteNews news,
        TraceBook traces,
        CancellationToken stop
    )
    {
        if (await FindAsync(db, siteId, groupId, stop) is not { } row)
            return Problems.NotFound("page group");
        var uses = (await PageGroups.UsesAsync(inUse, siteId, stop))[groupId].ToList();
        if (uses.Count > 0)
            return Problems.Of(
                StatusCodes.Status409Conflict,
                "in-use",
                "The page group is in use",
                $"\"{row.Name}\" is named by {string.Join(", ", uses.Select(u => u.Name))}. Take it out there first."
            );
        traces.Add("removed the page group", row.Name, siteId);
        db.PageGroups.Remove(row);
        await db.SaveChangesAsync(stop);
        await news.TellAsync(siteId, SiteChange.Definition);
        return TypedResults.NoContent();
    }

    private static ProblemHttpResult? Objection(PageGroupRequest request)
    {
        if (request.Name.Trim().Length is 0 or > LongestName)
            return Problems.BadField("name", $"A page group's name has 1 to {LongestName} characters.");
        if (Clean(request.Includes).Count == 0)
            return Problems.BadField("includes", "Give at least one pattern. /** is every page.");
        if (request.Includes.Count + request.Excludes.Count > MostPatterns)
            return Problems.BadField("includes", $"A page group has at most {MostPatterns} patterns.");
        foreach (var (field, patterns) in new[] { ("includes", request.Includes), ("excludes", request.Excludes) })
        foreach (var pattern in Clean(patterns))
            if (PagePattern.TryParse(pattern, out var error) is null)
                return Problems.BadField(field, $"{pattern}: {error}");
        return null;
    }

    private static List<string> Clean(IReadOnlyList<string> patterns) =>
        [.. patterns.Select(p => p.Trim()).Where(p => p.Length > 0).Distinct()];

    private static Task<PageGroupRow?> FindAsync(OutcryDb db, Guid siteId, Guid groupId, CancellationToken stop) =>
        db.PageGroups.FirstOrDefaultAsync(g => g.SiteId == siteId && g.Id == groupId, stop);

    private static async Task<PageGroupView> ViewAsync(
        PageGroupRow row,
        DefinitionsInUse inUse,
        LiveSites sites,
        TrafficReader traffic,
        CancellationToken stop
    ) =>
        PageGroups.View(
            row,
            await PageGroups.UsesAsync(inUse, row.SiteId, stop),
            await traffic.ReadAsync(row.SiteId, stop),
            sites.GetById(row.SiteId)
        );
}
