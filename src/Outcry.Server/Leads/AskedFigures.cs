using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Asking;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Signals;

namespace Outcry.Server.Leads;

/// <summary>What became of those whom a prompt asked.</summary>
/// <param name="Days">Over how many days.</param>
/// <param name="Asked">Distinct visitors who saw it half for a second.</param>
/// <param name="Gave">Distinct people who said yes.</param>
/// <param name="Confirmed">Of those, who may be written to.</param>
/// <param name="Rate">Gave of asked; null where nobody was asked.</param>
internal sealed record AskedFiguresView(int Days, int Asked, int Gave, int Confirmed, ShareView? Rate);

/// <summary>A share with its interval of 95 % (Wilson, 1927).</summary>
internal sealed record ShareView(double Share, double Low, double High);

/// <summary>Counts what became of those whom a prompt asked.</summary>
internal static class AskedFigures
{
    private const int Days = 30;

    public static async Task<Results<Ok<AskedFiguresView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid calloutId,
        OutcryDb db,
        SignalFigures signals,
        IClock clock,
        CancellationToken stop
    )
    {
        if (!await db.Definitions.AnyAsync(d => d.Id == calloutId && d.SiteId == siteId, stop))
            return Problems.NotFound("callout");
        var from = clock.GetCurrentInstant() - Duration.FromDays(Days);
        var yeses = db
            .LeadYeses.Where(y => y.SiteId == siteId && y.CalloutId == calloutId && y.At >= from)
            .Join(db.Leads.Where(l => !l.IsTest), y => y.LeadId, l => l.Id, (y, l) => l);
        var gave = await yeses.Select(l => l.Id).Distinct().CountAsync(stop);
        var confirmed = await yeses
            .Where(l => l.State == LeadState.Confirmed)
            .Select(l => l.Id)
            .Distinct()
            .CountAsync(stop);
        var asked = await signals.VisitorsOfAsync(calloutId, from, stop);
        return TypedResults.Ok(
            new AskedFiguresView(
                Days,
                asked,
                gave,
                confirmed,
                // Who saw it before these days may have said yes within them.
                asked == 0
                    ? null
                    : View(Wilson.Of(Math.Min(gave, asked), asked))
            )
        );
    }

    private static ShareView View(Wilson share) => new(share.Share, share.Low, share.High);
}
