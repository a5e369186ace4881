using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Visitors;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Audience;

/// <summary>A segment as a member describes it.</summary>
internal sealed record SegmentRequest(string Name, VisitorRule Rule);

/// <summary>Adds, changes and removes segments. A change holds at once for every callout that names the segment.</summary>
internal static class ChangeSegments
{
    private const int LongestName = 60;
    private const int MostSegments = 200;

    public static async Task<Results<Created<SegmentView>, ProblemHttpResult>> AddAsync(
        Guid siteId,
        SegmentRequest request,
        OutcryDb db,
        DefinitionsInUse inUse,
        SiteNews news,
        CurrentMember member,
        IClock clock,
        CancellationToken stop
    )
    {
        var rows = await db.Segments.Where(s => s.SiteId == siteId).ToListAsync(stop);
        if (rows.Count >= MostSegments)
            return Problems.BadField("name", $"A site has at most {MostSegments} segments.");
        var row = new SegmentRow
        {
            WorkspaceId = member.WorkspaceId,
            SiteId = siteId,
            Name = request.Name.Trim(),
            Rule = request.Rule,
            ChangedAt = clock.GetCurrentInstant(),
            ChangedBy = member.Name,
        };
        if (Objection(row, rows) is { } objection)
            return objection;
        db.Segments.Add(row);
        if (!await UniqueNames.TrySaveAsync(db, OutcryDb.SegmentNameIndex, stop))
            return UniqueNames.Taken("segment", row.Name);
        await news.TellAsync(siteId, SiteChange.Definition);
        return TypedResults.Created(
            $"/api/sites/{siteId}/segments/{row.Id}",
            ListSegments.View(row, await ListSegments.UsesAsync(inUse, siteId, rows, stop))
        );
    }

    public static async Task<Results<Ok<SegmentView>, ProblemHttpResult>> ChangeAsync(
        Guid siteId,
        Guid segmentId,
        SegmentRequest request,
        OutcryDb db,
        DefinitionsInUse inUse,
        SiteNews news,
        CurrentMember member,
        TraceBook traces,
        IClock clock,
        CancellationToken stop
    )
    {
        var rows = await db.Segments.Where(s => s.SiteId == siteId).ToListAsync(stop);
        if (rows.Find(s => s.Id == segmentId) is not { } row)
            return Problems.NotFound("segment");
        traces.Add(
            "changed the segment",
            request.Name.Trim(),
            siteId,
            TraceBook.Between(new SegmentRequest(row.Name, row.Rule), request)
        );
        (row.Name, row.Rule) = (request.Name.Trim(), request.Rule);
        (row.ChangedAt, row.ChangedBy) = (clock.GetCurrentInstant(), member.Name);
        if (Objection(row, rows) is { } objection)
            return objection;
        if (!await UniqueNames.TrySaveAsync(db, OutcryDb.SegmentNameIndex, stop))
            return UniqueNames.Taken("segment", row.Name);
        await news.TellAsync(siteId, SiteChange.Definition);
        return TypedResults.Ok(ListSegments.View(row, await ListSegments.UsesAsync(inUse, siteId, rows, stop)));
    }

    public static async Task<Results<NoContent, ProblemHttpResult>> RemoveAsync(
        Guid siteId,
        Guid segmentId,
        OutcryDb db,
        DefinitionsInUse inUse,
        SiteNews news,
        TraceBook traces,
        CancellationToken stop
    )
    {
        var rows = await db.Segments.Where(s => s.SiteId == siteId).ToListAsync(stop);
        if (rows.Find(s => s.Id == segmentId) is not { } row)
            return Problems.NotFound("segment");
        var uses = (await ListSegments.UsesAsync(inUse, siteId, rows, stop))[segmentId].ToList();
        if (uses.Count > 0)
            return Problems.Of(
                StatusCodes.Status409Conflict,
                "in-use",
                "The segment is in use",
                $"\"{row.Name}\" is named by {string.Join(", ", uses.Select(u => u.Name))}. Take it out there first."
            );
        traces.Add("removed the segment", row.Name, siteId);
        db.Segments.Remove(row);
        await db.SaveChangesAsync(stop);
        await news.TellAsync(siteId, SiteChange.Definition);
        return TypedResults.NoContent();
    }

    // Compiled among its fellows, so that a circle is found whichever of them closes it.
    private static ProblemHttpResult? Objection(SegmentRow row, IEnumerable<SegmentRow> others)
    {
        if (row.Name.Length is 0 or > LongestName)
            return Problems.BadField("name", $"A segment's name has 1 to {LongestName} characters.");
        var all = others
            .Where(o => o.Id != row.Id)
            .Append(row)
            .ToDictionary(s => s.Id, s => new Segment(s.Id, s.Name, s.Rule));
        return CompiledRule.TryCompile(new InSegment(row.Id), all, out var error) is null
            ? Problems.BadField("rule", error)
            : null;
    }
}
