using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Rehearsing;
using Outcry.Server.Audience;
using Outcry.Server.Platform;
using Outcry.Server.RunSheet;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.Callouts;

/// <summary>What would follow from publishing a draft, played on every kind of page before it is done.</summary>
internal static class PreviewPublication
{
    public static async Task<Results<Ok<PublicationView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid id,
        OutcryDb db,
        LiveSites sites,
        LookedCounter counter,
        TrafficReader reader,
        CensusTaker taker,
        IClock clock,
        CancellationToken stop
    )
    {
        if (await db.FindDefinitionAsync(siteId, BriefKind.Callout, id, stop) is not { } row)
            return Problems.NotFound("callout");
        var site = sites.GetById(siteId);
        var now = clock.GetCurrentInstant();
        if (await DraftSnapshot.TryMakeAsync(site, row, counter, now, stop) is not { } made)
            return TypedResults.Ok(new PublicationView([], []));
        var groups = await db
            .PageGroups.AsNoTracking()
            .Where(g => g.SiteId == siteId)
            .OrderBy(g => g.Position)
            .ToListAsync(stop);
        var maker = new RunSheetMaker(
            site,
            SheetSetting.Plain(made.Site.OnAir(), now),
            await reader.ReadAsync(siteId, stop),
            await taker.ReadAsync(site, stop)
        )
        {
            Groups = groups,
        };
        return TypedResults.Ok(maker.Publication(groups, site.Snapshot.OnAir(), id));
    }
}
