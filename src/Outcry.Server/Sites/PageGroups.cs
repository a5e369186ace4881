using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Outcry.Core.Pages;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Sites;

/// <summary>Something that names a shared piece.</summary>
/// <param name="Kind">What it is: "callout", "launcher", "segment", or "brand kit", whose id is its site's.</param>
internal sealed record UseView(Guid Id, string Name, string Kind);

/// <summary>A page group, what it means now, and what names it.</summary>
/// <param name="Pages">Known pages it means.</param>
internal sealed record PageGroupView(
    Guid Id,
    string Name,
    IReadOnlyList<string> Includes,
    IReadOnlyList<string> Excludes,
    int Pages,
    double ViewsADay,
    IReadOnlyList<UseView> UsedBy
);

/// <summary>The site's page groups, as they stand on the run sheet.</summary>
internal static class PageGroups
{
    public static async Task<Ok<List<PageGroupView>>> ListAsync(
        Guid siteId,
        OutcryDb db,
        DefinitionsInUse inUse,
        LiveSites sites,
        TrafficReader reader,
        CancellationToken stop
    )
    {
        var rows = await db
            .PageGroups.AsNoTracking()
            .Where(g => g.SiteId == siteId)
            .OrderBy(g => g.Position)
            .ToListAsync(stop);
        var uses = await UsesAsync(inUse, siteId, stop);
        var traffic = await reader.ReadAsync(siteId, stop);
        return TypedResults.Ok(rows.ConvertAll(r => View(r, uses, traffic, sites.GetById(siteId))));
    }

    public static PageGroupView View(PageGroupRow row, ILookup<Guid, UseView> uses, SiteTraffic traffic, LiveSite site)
    {
        // What cannot be read any more means no page; its callouts say why they are silent.
        var rule = site.Context.Groups.GetValueOrDefault(row.Id)?.Rule ?? RuleOf(row);
        var pages = traffic.Pages.Where(p => rule.Decide(p.Page).Shown).ToList();
        return new PageGroupView(
            row.Id,
            row.Name,
            row.Includes,
            row.Excludes,
            pages.Count,
            Math.Round(pages.Sum(p => p.Views) / traffic.Days, 1),
            [.. uses[row.Id]]
        );
    }

    /// <summary>The rule of a group as far as it can be read.</summary>
    public static PageRule RuleOf(PageGroupRow row) =>
        new(
            [.. row.Includes.Select(p => PagePattern.TryParse(p, out _)).OfType<PagePattern>()],
            [.. row.Excludes.Select(p => PagePattern.TryParse(p, out _)).OfType<PagePattern>()]
        );

    /// <summary>Which callouts name each group, in their draft or in what is live.</summary>
    public static async Task<ILookup<Guid, UseView>> UsesAsync(
        DefinitionsInUse inUse,
        Guid siteId,
        CancellationToken stop
    ) =>
        (await inUse.ReadAsync(siteId, stop))
            .SelectMany(c => c.References.PageGroups.Select(group => (group, Use: new UseView(c.Id, c.Name, c.Kind))))
            .ToLookup(u => u.group, u => u.Use);
}
