using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Visitors;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Audience;

/// <summary>A segment, and what names it.</summary>
internal sealed record SegmentView(
    Guid Id,
    string Name,
    VisitorRule Rule,
    IReadOnlyList<UseView> UsedBy,
    Instant ChangedAt,
    string ChangedBy
);

/// <summary>The site's segments, by name.</summary>
internal static class ListSegments
{
    public static async Task<Ok<List<SegmentView>>> HandleAsync(
        Guid siteId,
        OutcryDb db,
        DefinitionsInUse inUse,
        CancellationToken stop
    )
    {
        var rows = await db
            .Segments.AsNoTracking()
            .Where(s => s.SiteId == siteId)
            .OrderBy(s => s.Name)
            .ToListAsync(stop);
        var uses = await UsesAsync(inUse, siteId, rows, stop);
        return TypedResults.Ok(rows.ConvertAll(r => View(r, uses)));
    }

    private const string SegmentKind = "segment";

    public static SegmentView View(SegmentRow row, ILookup<Guid, UseView> uses) =>
        new(row.Id, row.Name, row.Rule, [.. uses[row.Id]], row.ChangedAt, row.ChangedBy);

    /// <summary>What names each segment: drafts, what is live, and other segments.</summary>
    public static async Task<ILookup<Guid, UseView>> UsesAsync(
        DefinitionsInUse inUse,
        Guid siteId,
        IReadOnlyList<SegmentRow> segments,
        CancellationToken stop
    )
    {
        var byCallouts =
            from callout in await inUse.ReadAsync(siteId, stop)
            from segment in callout.References.Segments
            select (segment, new UseView(callout.Id, callout.Name, callout.Kind));
        var bySegments =
            from other in segments
            from segment in RuleParts.Segments(other.Rule).Distinct()
            select (segment, new UseView(other.Id, other.Name, SegmentKind));
        return byCallouts.Concat(bySegments).ToLookup(u => u.segment, u => u.Item2);
    }
}
