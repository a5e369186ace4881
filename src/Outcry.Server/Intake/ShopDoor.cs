using System.Text.Json;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Saying;
using Outcry.Core.Sources;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Server.Visitor;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake;

/// <summary>What a shop's add-on is told once it is connected.</summary>
/// <param name="Site">The site's name, for the person who connects it.</param>
/// <param name="Since">Orders placed from here on are wanted, those of the past among them.</param>
/// <param name="Events">Where everything is posted to.</param>
/// <param name="Most">Events in one message at most.</param>
internal sealed record ShopWelcome(string Site, Instant Since, string Events, int Most);

/// <summary>What became of a shop's message.</summary>
/// <param name="Added">Events that are new in the ledger.</param>
/// <param name="Repeated">Events that were there already.</param>
/// <param name="LeftOut">Events that the source's conditions leave out, or that came while it is paused.</param>
/// <param name="Refused">Events that cannot be taken, by their place in the message; everything else is taken.</param>
internal sealed record ShopReceipt(int Added, int Repeated, int LeftOut, IReadOnlyList<ShopFault> Refused);

/// <param name="Index">Place in the message, from 0.</param>
internal sealed record ShopFault(int Index, string Field, string Detail);

/// <summary>
/// The two doors of a shop's add-on. It is given the site's id and key by its owner, says hello, sends orders of the past and
/// products with their stock, and then whatever is new. Every message is signed with the key, as Standard Webhooks.
/// </summary>
internal static class ShopDoor
{
    private const string Batch = "application/cloudevents-batch+json";
    private const int LongestName = 60;

    public static void MapShopDoor(this WebApplication app)
    {
        var doors = app.MapGroup("/shop/{siteKey}").WithTags("Intake").RequireRateLimiting(Limits.Intake);
        doors
            .MapPost("/connect", ConnectAsync)
            .WithName("ConnectShop")
            .WithDescription(
                "A shop's add-on says hello: JSON { name }, signed with the shop's key as Standard Webhooks. Answers where to post and from when on orders are wanted."
            )
            .Produces<ShopWelcome>()
            .ProducesProblem(StatusCodes.Status400BadRequest)
            .ProducesProblem(StatusCodes.Status401Unauthorized)
            .ProducesProblem(StatusCodes.Status413PayloadTooLarge);
        doors
            .MapPost("/events", TakeAsync)
            .WithName("TakeShopEvents")
            .WithDescription(
                $"Orders, bookings and stock levels, 1 to {ShopIntake.Most} CloudEvents in batch mode ({Batch}), each shaped as at /in/{{sourceId}}; signed with the shop's key as Standard Webhooks."
            )
            .Produces<ShopReceipt>()
            .ProducesProblem(StatusCodes.Status400BadRequest)
            .ProducesProblem(StatusCodes.Status401Unauthorized)
            .ProducesProblem(StatusCodes.Status409Conflict)
            .ProducesProblem(StatusCodes.Status413PayloadTooLarge)
            .ProducesProblem(StatusCodes.Status415UnsupportedMediaType);
    }

    private static async Task<IResult> ConnectAsync(
        HttpContext http,
        string siteKey,
        LiveSites sites,
        ShopBook shops,
        SiteNews news,
        IClock clock
    )
    {
        var now = clock.GetCurrentInstant();
        var (site, shop, body, refused) = await OpenAsync(http, siteKey, sites, shops, now);
        if (refused is not null)
            return refused;
        string? name;
        try
        {
            var json = JsonGate.Parse(body);
            name =
                json.ValueKind == JsonValueKind.Object
                && json.TryGetProperty("name", out var said)
                && said.ValueKind == JsonValueKind.String
                    ? PlainText.OrNull(said.GetString())?.Trim()
                    : null;
        }
        catch (JsonException bad)
        {
            return await shops.RefuseAsync(shop!, "", CloudEventReader.NotJson(bad).Sentence, now, http.RequestAborted);
        }
        if (name is not { Length: > 0 and <= LongestName })
            return await shops.RefuseAsync(
                shop!,
                "name",
                $"Say the shop's name, 1 to {LongestName} characters.",
                now,
                http.RequestAborted
            );
        if (await shops.ConnectAsync(site!, name, now, http.RequestAborted) is not { } keeps)
            return Problems.NotFound("shop any more");
        await news.TellAsync(site!.Id, SiteChange.Definition);
        // Older orders would be cleared away again.
        var since = Instant.Max(keeps.EventsFrom(now), now - ShopIntake.Past);
        return TypedResults.Ok(
            new ShopWelcome(
                site.Name,
                since,
                $"{http.Request.Scheme}://{http.Request.Host}/shop/{site.Key}/events",
                ShopIntake.Most
            )
        );
    }

    private static async Task<IResult> TakeAsync(
        HttpContext http,
        string siteKey,
        LiveSites sites,
        ShopBook shops,
        ShopIntake intake,
        IClock clock
    )
    {
        var now = clock.GetCurrentInstant();
        var (site, shop, body, refused) = await OpenAsync(http, siteKey, sites, shops, now);
        if (refused is not null)
            return refused;
        if (http.Request.ContentType?.Split(';')[0].Trim().ToLowerInvariant() != Batch)
            return Problems.Of(
                StatusCodes.Status415UnsupportedMediaType,
                "content-type",
                "This content type is not taken",
                $"Send CloudEvents in batch mode, as {Batch}."
            );
        if (
            shop!.OrdersId is not { } orders
            || shop.StockId is not { } stock
            || site!.Sources.GetValueOrDefault(orders) is not { } ordersSource
            || site.Sources.GetValueOrDefault(stock) is not { } stockSource
        )
            return Problems.Of(
                StatusCodes.Status409Conflict,
                "not-connected",
                "This shop is not connected",
                "Post its name to /connect first."
            );
        JsonElement list;
        try
        {
            list = JsonGate.Parse(body);
        }
        catch (JsonException bad)
        {
            return await shops.RefuseAsync(shop, "", CloudEventReader.NotJson(bad).Sentence, now, http.RequestAborted);
        }
        if (list.ValueKind != JsonValueKind.Array || list.GetArrayLength() is 0 or > ShopIntake.Most)
            return await shops.RefuseAsync(
                shop,
                "",
                $"The body must be a list of 1 to {ShopIntake.Most} CloudEvents.",
                now,
                http.RequestAborted
            );
        var receipt = await intake.TakeAsync(
            site,
            new ShopSources(ordersSource, stockSource),
            list,
            http.Request.Headers[StandardWebhooks.IdHeader].ToString(),
            now,
            http.RequestAborted
        );
        await shops.HeardAsync(shop, receipt.Refused.Count > 0 ? receipt.Refused[0] : null, now, http.RequestAborted);
        return TypedResults.Ok(receipt);
    }

    // Whether a site has a shop is nobody's business who cannot sign: all three answers are the same.
    private static async Task<(LiveSite? Site, ShopRow? Shop, byte[] Body, IResult? Refused)> OpenAsync(
        HttpContext http,
        string siteKey,
        LiveSites sites,
        ShopBook shops,
        Instant now
    )
    {
        if (await BodyLimits.TryReadAsync(http.Request, BodyLimits.IntakeBytes, http.RequestAborted) is not { } body)
            return (null, null, [], Problems.TooLarge(BodyLimits.IntakeBytes));
        var site = sites.FindByKey(siteKey);
        var shop = site is null ? null : await shops.FindAsync(site.Id, http.RequestAborted);
        var headers = http.Request.Headers;
        var objection = StandardWebhooks.Objection(
            shop?.Key ?? ShopBook.Nobody,
            headers[StandardWebhooks.IdHeader],
            headers[StandardWebhooks.TimestampHeader],
            headers[StandardWebhooks.SignatureHeader],
            body,
            now
        );
        return objection is null && site is not null && shop is not null
            ? (site, shop, body, null)
            : (
                null,
                null,
                [],
                Problems.Of(
                    StatusCodes.Status401Unauthorized,
                    "signature",
                    "The site's id or the shop's key does not fit",
                    objection ?? "No signature fits the body and the key."
                )
            );
    }
}

/// <summary>The sources that a shop fills.</summary>
internal sealed record ShopSources(SourceRow Orders, SourceRow Stock);

/// <summary>Takes a shop's events into the ledger.</summary>
internal sealed class ShopIntake(EventRecorder recorder, SiteNews news)
{
    /// <summary>Events in one message at most.</summary>
    public const int Most = 200;

    /// <summary>So far back orders of the past are asked for.</summary>
    public static Duration Past { get; } = Duration.FromDays(90);

    /// <summary>From so many on a message is taken as a lot, after which the site is read anew.</summary>
    private const int ManyAtOnce = 10;

    private const int MostNamed = 20;

    public async Task<ShopReceipt> TakeAsync(
        LiveSite site,
        ShopSources to,
        JsonElement list,
        string message,
        Instant now,
        CancellationToken stop
    )
    {
        var faults = new List<ShopFault>();
        var read = new List<(SourceRow Source, Arrival Arrival, bool IsOwn)>();
        var index = 0;
        foreach (var item in list.EnumerateArray())
        {
            var body = System.Text.Encoding.UTF8.GetBytes(item.GetRawText());
            var (arrival, fault) = CloudEventReader.Read(body, $"{message}-{index}", now);
            var source = arrival is null ? null : SourceOf(arrival.Kind, to);
            if (arrival is not null && source is not null)
                read.Add((source, arrival, IsOwn(site, arrival)));
            else if (faults.Count < MostNamed)
                faults.Add(
                    fault is null
                        ? new ShopFault(index, "type", "A shop sends orders, purchases, bookings and stock levels.")
                        : new ShopFault(index, fault.Field, fault.Sentence)
                );
            index++;
        }
        var receipt =
            read.Count < ManyAtOnce ? await OneByOneAsync(read, now, stop) : await AsLotAsync(site, read, now, stop);
        return receipt with { Refused = faults };
    }

    private async Task<ShopReceipt> OneByOneAsync(
        List<(SourceRow Source, Arrival Arrival, bool IsOwn)> read,
        Instant now,
        CancellationToken stop
    )
    {
        var (added, repeated, leftOut) = (0, 0, 0);
        foreach (var (source, arrival, isOwn) in read)
            switch ((await recorder.RecordAsync(arrival, source, isOwn, now, stop)).Verdict)
            {
                case DeliveryVerdict.Accepted:
                    added++;
                    break;
                case DeliveryVerdict.Repeated:
                    repeated++;
                    break;
                default:
                    leftOut++;
                    break;
            }
        return new ShopReceipt(added, repeated, leftOut, []);
    }

    private async Task<ShopReceipt> AsLotAsync(
        LiveSite site,
        List<(SourceRow Source, Arrival Arrival, bool IsOwn)> read,
        Instant now,
        CancellationToken stop
    )
    {
        var paused = read.FindAll(r => r.Source.PausedAt is not null);
        var sum = new ShopReceipt(0, 0, paused.Count, []);
        foreach (var lot in read.Except(paused).Where(r => !r.IsOwn).GroupBy(r => r.Source))
        {
            var taken = await recorder.RecordManyAsync(
                [.. lot.Select(r => r.Arrival)],
                lot.Key,
                null,
                dryRun: false,
                now,
                stop
            );
            sum = sum with
            {
                Added = sum.Added + taken.Added,
                Repeated = sum.Repeated + taken.Repeated,
                LeftOut = sum.LeftOut + taken.LeftOut,
            };
        }
        var own = await OneByOneAsync(read.FindAll(r => r.IsOwn && r.Source.PausedAt is null), now, stop);
        await news.TellAsync(site.Id, SiteChange.Definition);
        return sum with
        {
            Added = sum.Added + own.Added,
            Repeated = sum.Repeated + own.Repeated,
            LeftOut = sum.LeftOut + own.LeftOut,
        };
    }

    private static SourceRow? SourceOf(EventKind kind, ShopSources to) =>
        kind switch
        {
            EventKind.Purchase or EventKind.Booking => to.Orders,
            EventKind.StockLevel => to.Stock,
            _ => null,
        };

    // What a member's own browser did, or what happened on a test host, is a test, whoever reports it.
    private static bool IsOwn(LiveSite site, Arrival arrival) =>
        (arrival.VisitorId is { } visitor && Passport.IsMember(visitor)) || site.IsTestPage(arrival.Page);
}

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
