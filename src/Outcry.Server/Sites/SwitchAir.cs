using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Server.Platform;
using Outcry.Store;

namespace Outcry.Server.Sites;

/// <param name="OffAir">Whether nothing at all is to be shown.</param>
internal sealed record SwitchAirRequest(bool OffAir);

/// <summary>Silences a whole site at once, and lets it speak again.</summary>
internal static class SwitchAir
{
    public static async Task<NoContent> HandleAsync(
        Guid siteId,
        SwitchAirRequest request,
        OutcryDb db,
        SiteNews news,
        CurrentMember member,
        TraceBook traces,
        IClock clock,
        CancellationToken stop
    )
    {
        var row = await db.Sites.FirstAsync(s => s.Id == siteId, stop);
        if (row.OffAir != request.OffAir)
        {
            (row.OffAir, row.SwitchedBy, row.SwitchedAt) = (request.OffAir, member.Name, clock.GetCurrentInstant());
            traces.Add(request.OffAir ? "took off air" : "put back on air", row.Name, siteId);
            await db.SaveChangesAsync(stop);
            await news.TellAsync(siteId, SiteChange.Definition);
        }
        return TypedResults.NoContent();
    }
}
