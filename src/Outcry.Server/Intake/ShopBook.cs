using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Saying;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake;

/// <summary>Knows the sites' shops.</summary>
internal sealed class ShopBook(SystemDb database)
{
    /// <summary>A key that is nobody's: what names no shop is checked all the same, so that it takes as long.</summary>
    public static string Nobody { get; } = StandardWebhooks.NewSecret();

    public async Task<ShopRow?> FindAsync(Guid siteId, CancellationToken stop)
    {
        await using var db = database.Open();
        return await db.Shops.AsNoTracking().FirstOrDefaultAsync(s => s.SiteId == siteId, stop);
    }

    /// <summary>Notes that the shop has said hello, makes the sources that it fills where they are not there, and says how long their events are kept; null when the key was taken back meanwhile.</summary>
    public async Task<Retention?> ConnectAsync(LiveSite site, string name, Instant now, CancellationToken stop)
    {
        await using var db = database.Open();
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        // Of two hellos at once the second finds what the first made.
        var shop = await db
            .Shops.FromSql($"select * from shops where site_id = {site.Id} for update")
            .FirstOrDefaultAsync(stop);
        if (shop is null)
            return null;
        var there = await db
            .Sources.Where(s =>
                s.SiteId == site.Id && s.DeletedAt == null && (s.Id == shop.OrdersId || s.Id == shop.StockId)
            )
            .Select(s => s.Id)
            .ToListAsync(stop);
        if (shop.OrdersId is not { } orders || !there.Contains(orders))
            shop.OrdersId = Add(EventKind.Purchase, $"Orders of {name}");
        if (shop.StockId is not { } stock || !there.Contains(stock))
            shop.StockId = Add(EventKind.StockLevel, $"Stock of {name}");
        (shop.Name, shop.ConnectedAt) = (name, now);
        (shop.RefusedAt, shop.RefusedBecause) = (null, null);
        await db.SaveChangesAsync(stop);
        await transaction.CommitAsync(stop);
        return await db.Sites.Where(s => s.Id == site.Id).Select(s => s.Keeps).FirstAsync(stop);

        Guid Add(EventKind kind, string called)
        {
            var source = new SourceRow
            {
                WorkspaceId = site.WorkspaceId,
                SiteId = site.Id,
                Name = called,
                Kind = SourceKind.Shop,
                EventKind = kind,
                Display = DisplayPolicy.For(kind),
                CreatedAt = now,
            };
            db.Sources.Add(source);
            return source.Id;
        }
    }

    public async Task HeardAsync(ShopRow shop, ShopFault? first, Instant now, CancellationToken stop)
    {
        var because =
            first is null ? null
            : first.Field.Length == 0 ? first.Detail
            : $"{first.Field}: {first.Detail}";
        await using var db = database.Open();
        await db
            .Shops.Where(s => s.SiteId == shop.SiteId)
            .ExecuteUpdateAsync(
                u =>
                    u.SetProperty(s => s.HeardAt, now)
                        .SetProperty(s => s.RefusedAt, first == null ? null : now)
                        .SetProperty(s => s.RefusedBecause, because),
                stop
            );
    }

    public async Task<IResult> RefuseAsync(
        ShopRow shop,
        string field,
        string because,
        Instant now,
        CancellationToken stop
    )
    {
        await using var db = database.Open();
        await db
            .Shops.Where(s => s.SiteId == shop.SiteId)
            .ExecuteUpdateAsync(
                u => u.SetProperty(s => s.RefusedAt, now).SetProperty(s => s.RefusedBecause, because),
                stop
            );
        return Problems.BadField(field, because);
    }
}
