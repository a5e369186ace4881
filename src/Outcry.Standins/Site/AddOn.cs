using System.Globalization;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using Outcry.Server.Intake;

namespace Outcry.Standins.Site;

/// <summary>What the shop's owner pasted into the add-on.</summary>
/// <param name="Desk">Where the desk is.</param>
/// <param name="SiteId">The site's id there.</param>
/// <param name="Key">What every message is signed with.</param>
internal sealed record AddOnSettings(string Desk, string SiteId, string Key);

/// <summary>
/// The reference add-on of a shop: three lines pasted into its back office connect it. It says hello, sends the orders of the
/// past and how much is left of every piece, and from then on each order as it is placed.
/// </summary>
internal sealed partial class AddOn(IHttpClientFactory clients, Catalogue goods, Stockroom stock, ILogger<AddOn> log)
{
    private const string ShopName = "Emberwick Pottery shop";
    private const string Batch = "application/cloudevents-batch+json";

    /// <summary>An order every so often in the shop's own books, which the desk has not heard of.</summary>
    private static readonly TimeSpan BetweenOrders = TimeSpan.FromHours(31);

    private AddOnSettings? _connected;
    private string _events = "";

    public AddOnSettings? Connected => Volatile.Read(ref _connected);

    /// <summary>Forgets the desk; orders are reported as before.</summary>
    public void Disconnect() => Volatile.Write(ref _connected, null);

    /// <summary>Connects and sends everything; returns what became of it, in a sentence for the shop's owner.</summary>
    public async Task<(bool Done, string Said)> ConnectAsync(AddOnSettings settings, string origin)
    {
        if (
            !Uri.TryCreate(settings.Desk, UriKind.Absolute, out var desk)
            || desk.Scheme is not ("http" or "https")
            || settings.SiteId.Length == 0
        )
            return (false, "Paste all three lines as the desk shows them.");
        try
        {
            var hello = JsonSerializer.SerializeToUtf8Bytes(new { name = ShopName });
            var door = new Uri(desk, $"/shop/{Uri.EscapeDataString(settings.SiteId)}/connect");
            var (ok, welcome) = await PostAsync(door, settings.Key, hello, "application/json");
            if (!ok)
                return (false, welcome.TryGetProperty("detail", out var why) ? why.GetString()! : "The desk refused.");
            _events = welcome.GetProperty("events").GetString()!;
            var since = welcome.GetProperty("since").GetDateTimeOffset();
            var most = welcome.GetProperty("most").GetInt32();
            var (orders, levels) = (Past(since, origin).ToList(), Levels(origin).ToList());
            var added = 0;
            foreach (var lot in orders.Concat(levels).Chunk(most))
            {
                var (taken, receipt) = await PostAsync(new Uri(_events), settings.Key, Join(lot), Batch);
                if (!taken)
                    return (false, "Connected, but the desk refused what was sent. Try again.");
                added += receipt.GetProperty("added").GetInt32();
            }
            Volatile.Write(ref _connected, settings);
            return (
                true,
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"Connected to {welcome.GetProperty("site").GetString()}. Sent {orders.Count} orders of the past and the stock of {levels.Count} pieces; {added} of them are new there. Orders go there as they are placed."
                )
            );
        }
        catch (Exception away) when (away is HttpRequestException or TaskCanceledException or FormatException)
        {
            Away(away);
            return (false, "The desk does not answer at that address, or the key is not one.");
        }
    }

    /// <summary>Reports an order and what is left of the piece; does nothing until the shop is connected.</summary>
    public async Task SendAsync(Order order, int left)
    {
        if (Connected is not { } settings)
            return;
        var address = order.Origin + goods.PathOf(order.Article);
        try
        {
            await PostAsync(
                new Uri(_events),
                settings.Key,
                Join([order.ToCloudEvent(), Level(order.Article, left, address, DateTimeOffset.UtcNow)]),
                Batch
            );
        }
        catch (Exception away) when (away is HttpRequestException or TaskCanceledException)
        {
            Away(away);
        }
    }

    // The same orders whenever they are asked for: an order has one id, and is told once.
    private IEnumerable<byte[]> Past(DateTimeOffset since, string origin)
    {
        var articles = goods.Products.Concat(goods.Workshops).ToList();
        var today = new DateTimeOffset(DateTimeOffset.UtcNow.UtcDateTime.Date, TimeSpan.Zero);
        for (var at = today; at > since; at -= BetweenOrders)
        {
            var days = (int)(at - DateTimeOffset.UnixEpoch).TotalDays;
            var article = articles[days % articles.Count];
            yield return new Order(
                $"book-{at:yyyyMMddHH}",
                at,
                People.Draw(new Random(days)),
                article,
                goods.IsWorkshop(article) ? "booking" : "purchase",
                null,
                origin,
                goods.PathOf(article)
            ).ToCloudEvent();
        }
    }

    private IEnumerable<byte[]> Levels(string origin) =>
        goods.Products.Select(a => Level(a, stock.Left(a.Slug), origin + goods.PathOf(a), DateTimeOffset.UtcNow));

    private static byte[] Level(Article article, int left, string address, DateTimeOffset at) =>
        JsonSerializer.SerializeToUtf8Bytes(
            new
            {
                specversion = "1.0",
                id = $"level-{article.Slug}-{at.ToUnixTimeMilliseconds()}",
                source = "/emberwick/shop",
                type = "example.emberwick.stock",
                time = at,
                data = new
                {
                    product = new
                    {
                        name = article.Name,
                        url = address,
                        category = article.Category,
                    },
                    left,
                },
            }
        );

    private static byte[] Join(IEnumerable<byte[]> events) =>
        Encoding.UTF8.GetBytes($"[{string.Join(',', events.Select(Encoding.UTF8.GetString))}]");

    private async Task<(bool Ok, JsonElement Answer)> PostAsync(Uri door, string key, byte[] body, string type)
    {
        var id = $"addon_{Guid.NewGuid():N}";
        var seconds = DateTimeOffset.UtcNow.ToUnixTimeSeconds();
        using var message = new HttpRequestMessage(HttpMethod.Post, door) { Content = new ByteArrayContent(body) };
        message.Content.Headers.ContentType = new MediaTypeHeaderValue(type);
        message.Headers.Add(StandardWebhooks.IdHeader, id);
        message.Headers.Add(StandardWebhooks.TimestampHeader, $"{seconds}");
        message.Headers.Add(StandardWebhooks.SignatureHeader, StandardWebhooks.Sign(key, id, seconds, body));
        using var http = clients.CreateClient(nameof(AddOn));
        using var answer = await http.SendAsync(message);
        var text = await answer.Content.ReadAsStringAsync();
        return (answer.IsSuccessStatusCode, JsonSerializer.Deserialize<JsonElement>(text.Length == 0 ? "{}" : text));
    }

    [LoggerMessage(2003, LogLevel.Warning, "The desk is away")]
    private partial void Away(Exception away);
}

/// <summary>The page of the shop's back office on which the add-on is set up.</summary>
internal static class BackOffice
{
    public const string Path = "/back-office/add-on";

    public static void MapBackOffice(this WebApplication app)
    {
        app.MapGet(Path, (AddOn addOn) => Page(addOn.Connected, null, addOn.Connected is not null));
        app.MapPost(Path, ConnectAsync);
        app.MapPost(
            $"{Path}/off",
            (AddOn addOn) =>
            {
                addOn.Disconnect();
                return Page(null, (true, "Disconnected. The desk keeps what it was sent."));
            }
        );
    }

    private static async Task<IResult> ConnectAsync(HttpContext http, AddOn addOn)
    {
        var form = await http.Request.ReadFormAsync();
        var settings = new AddOnSettings(
            form["desk"].ToString().Trim(),
            form["site"].ToString().Trim(),
            form["key"].ToString().Trim()
        );
        var (done, said) = await addOn.ConnectAsync(settings, $"{http.Request.Scheme}://{http.Request.Host}");
        return Page(done ? addOn.Connected : settings, (done, said), done);
    }

    // The back office is the owner's: it carries no snippet and stands on no page of the shop.
    private static IResult Page(AddOnSettings? settings, (bool Done, string Said)? result, bool connected = false) =>
        Results.Content(
            $"""
            <!doctype html>
            <html lang="en">
            <head>
            <meta charset="utf-8">
            <meta name="viewport" content="width=device-width, initial-scale=1">
            <meta name="robots" content="noindex">
            <title>Add-on | Back office of Emberwick Pottery</title>
            <link rel="stylesheet" href="/site.css">
            </head>
            <body>
            <header class="top"><span class="brand">Emberwick <i>back office</i></span></header>
            <main><section class="text"><h1>Connect the desk</h1>
            <p>Paste the three lines that the desk shows under "Add a source". Past orders and the stock of every piece are sent at once, new orders as they are placed.</p>
            {(
                result is { } r
                    ? $"<p role=\"status\"><b>{(r.Done ? "" : "That did not work. ")}{Html.Text(r.Said)}</b></p>"
                    : ""
            )}
            <form class="stack" method="post" action="{Path}">
            <label>Desk <input name="desk" required value="{Html.Text(settings?.Desk)}" placeholder="http://"></label>
            <label>Site id <input name="site" required value="{Html.Text(settings?.SiteId)}" autocomplete="off"></label>
            <label>Key <input name="key" required type="password" autocomplete="off"></label>
            <button>{(connected ? "Connect anew" : "Connect")}</button></form>
            {(connected ? $"<form class=\"stack\" method=\"post\" action=\"{Path}/off\"><button>Disconnect</button></form>" : "")}
            </section></main>
            </body></html>
            """,
            "text/html; charset=utf-8"
        );
}
