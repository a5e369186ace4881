using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Server.Intake;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake.Desk;

/// <summary>The site's shop, as its add-on connects it.</summary>
/// <param name="SiteId">What the add-on is given to know the site by.</param>
/// <param name="Desk">Where the add-on finds this desk.</param>
/// <param name="Key">What it signs with; null for whoever is not an owner.</param>
/// <param name="Name">How the shop calls itself; null until it has connected.</param>
/// <param name="RefusedBecause">Why something it sent was last refused; null when the last was taken.</param>
internal sealed record ShopView(
    string SiteId,
    string Desk,
    string? Key,
    Instant CreatedAt,
    string? Name,
    Instant? ConnectedAt,
    Instant? HeardAt,
    Instant? RefusedAt,
    string? RefusedBecause,
    Guid? OrdersId,
    Guid? StockId
);

/// <summary>Whether the site has a shop.</summary>
internal sealed record ShopState(ShopView? Shop);

/// <summary>Makes the key with which a shop's add-on connects, replaces it, takes it back.</summary>
internal static class ConnectShop
{
    public static async Task<Ok<ShopState>> ShowAsync(
        Guid siteId,
        OutcryDb db,
        LiveSites sites,
        CurrentMember member,
        HttpRequest http,
        CancellationToken stop
    )
    {
        var row = await db.Shops.AsNoTracking().FirstOrDefaultAsync(s => s.SiteId == siteId, stop);
        return TypedResults.Ok(new ShopState(row is null ? null : View(row, sites.GetById(siteId), member, http)));
    }

    /// <summary>Makes the key, or another in its place; the one before is void at once.</summary>
    public static async Task<Ok<ShopState>> MakeKeyAsync(
        Guid siteId,
        OutcryDb db,
        LiveSites sites,
        CurrentMember member,
        HttpRequest http,
        IClock clock,
        CancellationToken stop
    )
    {
        var row = await db.Shops.FirstOrDefaultAsync(s => s.SiteId == siteId, stop);
        if (row is null)
            db.Shops.Add(
                row = new ShopRow
                {
                    SiteId = siteId,
                    WorkspaceId = member.WorkspaceId,
                    Key = StandardWebhooks.NewSecret(),
                    CreatedAt = clock.GetCurrentInstant(),
                }
            );
        else
            row.Key = StandardWebhooks.NewSecret();
        await db.SaveChangesAsync(stop);
        return TypedResults.Ok(new ShopState(View(row, sites.GetById(siteId), member, http)));
    }

    /// <summary>Takes the key back. The shop's sources and events stay.</summary>
    public static async Task<NoContent> DisconnectAsync(Guid siteId, OutcryDb db, CancellationToken stop)
    {
        await db.Shops.Where(s => s.SiteId == siteId).ExecuteDeleteAsync(stop);
        return TypedResults.NoContent();
    }

    private static ShopView View(ShopRow row, LiveSite site, CurrentMember member, HttpRequest http) =>
        new(
            site.Key,
            $"{http.Scheme}://{http.Host}",
            member.May(Right.Connect) ? row.Key : null,
            row.CreatedAt,
            row.Name,
            row.ConnectedAt,
            row.HeardAt,
            row.RefusedAt,
            row.RefusedBecause,
            row.OrdersId,
            row.StockId
        );
}
