using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Planning;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.RunSheet;

/// <summary>The run sheet for one persona, as of now.</summary>
internal static class ShowRunSheet
{
    public static async Task<Results<Ok<RunSheetView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        OutcryDb db,
        LiveSites sites,
        RunSheetMaker maker,
        IClock clock,
        CancellationToken stop,
        string? persona = null
    )
    {
        if (!QueryChoice.TryRead<Persona>(persona, out var chosen))
            return Problems.BadField("persona", "The persona is new, backAfterADay or closedOne.");
        var imagined = chosen ?? Persona.New;
        var site = sites.GetById(siteId);
        var groups = await db
            .PageGroups.AsNoTracking()
            .Where(g => g.SiteId == siteId)
            .OrderBy(g => g.Position)
            .ToListAsync(stop);
        var states = await db
            .Callouts.Where(c => c.SiteId == siteId)
            .GroupBy(c => c.State)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToDictionaryAsync(g => g.Key, g => g.Count, stop);
        var now = clock.GetCurrentInstant();
        return TypedResults.Ok(
            new RunSheetView(
                imagined,
                now,
                site.Rules,
                states.GetValueOrDefault(CalloutState.Draft),
                states.GetValueOrDefault(CalloutState.Paused),
                await maker.MakeAsync(site, groups, imagined, now, stop)
            )
        );
    }
}
