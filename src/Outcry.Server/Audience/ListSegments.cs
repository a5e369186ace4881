using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Planning;
using Outcry.Core.Visitors;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Audience;

/// <summary>Something that names a segment.</summary>
internal sealed record SegmentUseView(Guid Id, string Name, bool IsCallout);

/// <summary>A segment, and what names it.</summary>
internal sealed record SegmentView(
    Guid Id,
    string Name,
    VisitorRule Rule,
    IReadOnlyList<SegmentUseView> UsedBy,
    Instant ChangedAt,
    string ChangedBy
);

/// <summary>The site's segments, by name.</summary>
internal static class ListSegments
{
    public static async Task<Ok<List<SegmentView>>> HandleAsync(Guid siteId, OutcryDb db, CancellationToken stop)
    {
        var rows = await db
            .Segments.AsNoTracking()
            .Where(s => s.SiteId == siteId)
            .OrderBy(s => s.Name)
            .ToListAsync(stop);
        var uses = await UsesAsync(db, siteId, rows, stop);
        return TypedResults.Ok(rows.ConvertAll(r => View(r, uses)));
    }

    public static SegmentView View(SegmentRow row, ILookup<Guid, SegmentUseView> uses) =>
        new(row.Id, row.Name, row.Rule, [.. uses[row.Id]], row.ChangedAt, row.ChangedBy);

    /// <summary>What names each segment: drafts, what is live, and other segments.</summary>
    public static async Task<ILookup<Guid, SegmentUseView>> UsesAsync(
        OutcryDb db,
        Guid siteId,
        IReadOnlyList<SegmentRow> segments,
        CancellationToken stop
    )
    {
        var callouts = await db
            .Callouts.AsNoTracking()
            .Where(c => c.SiteId == siteId && c.State != CalloutState.Archived)
            .ToListAsync(stop);
        var live = await db
            .Callouts.Where(c => c.SiteId == siteId && c.State != CalloutState.Archived)
            .Join(
                db.Revisions,
                c => new { c.Id, Number = c.Revision },
                r => new { Id = r.CalloutId, r.Number },
                (c, r) => new { c.Id, r.Brief }
            )
            .ToDictionaryAsync(r => r.Id, r => r.Brief, stop);
        var byCallouts =
            from callout in callouts
            from segment in RuleParts
                .Segments(callout.Draft.Who.Rule)
                .Concat(live.TryGetValue(callout.Id, out var brief) ? RuleParts.Segments(brief.Who.Rule) : [])
                .Distinct()
            select (segment, new SegmentUseView(callout.Id, callout.Name, IsCallout: true));
        var bySegments =
            from other in segments
            from segment in RuleParts.Segments(other.Rule).Distinct()
            select (segment, new SegmentUseView(other.Id, other.Name, IsCallout: false));
        return byCallouts.Concat(bySegments).ToLookup(u => u.segment, u => u.Item2);
    }
}
