using System.Text.Json;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
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
