using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Planning;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Callouts;

/// <summary>Start a moment, on a source if one is named and for a page group if one is; or as a copy of another callout.</summary>
internal sealed record StartRequest(Guid? Source = null, Guid? CopyOf = null, Guid? PageGroup = null);

/// <summary>Begins a callout with start values that are good enough to leave alone.</summary>
internal static class StartCallout
{
    public static async Task<Results<Created<CalloutView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        StartRequest request,
        OutcryDb db,
        LiveSites sites,
        CurrentMember member,
        IClock clock,
        CancellationToken stop
    )
    {
        var site = sites.GetById(siteId);
        var (name, brief, problem) = request.CopyOf is { } original
            ? await CopyAsync(db, siteId, original, stop)
            : Begin(site, request.Source);
        if (problem is not null)
            return problem;
        if (request.PageGroup is { } groupId)
        {
            if (
                await db.PageGroups.FirstOrDefaultAsync(g => g.Id == groupId && g.SiteId == siteId, stop)
                is not { } group
            )
                return Problems.BadField("pageGroup", "There is no such page group on this site.");
            brief = brief! with { Where = new WhereFacet(group.Includes, group.Excludes) };
        }
        var now = clock.GetCurrentInstant();
        var row = new CalloutRow
        {
            WorkspaceId = member.WorkspaceId,
            SiteId = siteId,
            Name = name,
            State = CalloutState.Draft,
            Draft = brief!,
            DraftVersion = 1,
            CreatedAt = now,
            ChangedAt = now,
            ChangedBy = member.Name,
        };
        db.Callouts.Add(row);
        await db.SaveChangesAsync(stop);
        return TypedResults.Created(
            $"/api/sites/{siteId}/callouts/{row.Id}",
            await CalloutView.ReadAsync(db, row, site, stop)
        );
    }

    private static (string Name, Brief? Brief, ProblemHttpResult? Problem) Begin(LiveSite site, Guid? sourceId)
    {
        if (sourceId is null)
            return ("A new moment", StarterBrief.Moment(EventKind.Purchase, []), null);
        if (!site.Sources.TryGetValue(sourceId.Value, out var source))
            return ("", null, Problems.BadField("source", "There is no such source on this site."));
        var name = source.EventKind switch
        {
            EventKind.Purchase => "Somebody bought",
            EventKind.Booking => "Somebody booked",
            EventKind.SignUp => "Somebody signed up",
            _ => "Somebody asked",
        };
        return (name, StarterBrief.Moment(source.EventKind, [source.Id]), null);
    }

    private static async Task<(string Name, Brief? Brief, ProblemHttpResult? Problem)> CopyAsync(
        OutcryDb db,
        Guid siteId,
        Guid original,
        CancellationToken stop
    ) =>
        await CalloutView.FindAsync(db, siteId, original, stop) is { } row
            ? ($"{row.Name}, copy", row.Draft, null)
            : ("", null, Problems.NotFound("callout"));
}
