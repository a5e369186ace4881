using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Server.Intake;
using Outcry.Store.Rows;

namespace Outcry.Server.Tests;

/// <summary>A shop's add-on: given the site's id and key, it says hello, sends its past and its products, then news.</summary>
public sealed class ShopTests(TestDesk desk)
{
    private string Api => $"/api/sites/{desk.World.Site.Id}/shop";

    private async Task<(HttpStatusCode Status, JsonElement Body)> PostAsync(
        string door,
        string key,
        object body,
        string type = "application/json",
        string? site = null
    )
    {
        var bytes = Encoding.UTF8.GetBytes(body as string ?? JsonSerializer.Serialize(body));
        var id = $"shop_{Guid.NewGuid():N}";
        var seconds = DateTimeOffset.UtcNow.ToUnixTimeSeconds();
        using var message = new HttpRequestMessage(HttpMethod.Post, $"/shop/{site ?? desk.World.Site.Key}/{door}")
        {
            Content = new ByteArrayContent(bytes),
        };
        message.Content.Headers.ContentType = MediaTypeHeaderValue.Parse(type);
        message.Headers.Add("webhook-id", id);
        message.Headers.Add("webhook-timestamp", $"{seconds}");
        message.Headers.Add("webhook-signature", StandardWebhooks.Sign(key, id, seconds, bytes));
        using var answer = await desk.Anonymous().SendAsync(message);
        return (answer.StatusCode, await answer.JsonAsync());
    }

    private Task<(HttpStatusCode Status, JsonElement Body)> EventsAsync(string key, JsonArray events) =>
        PostAsync("events", key, events.ToJsonString(), "application/cloudevents-batch+json");

    private static async Task<string> KeyAsync(DeskClient owner, string api)
    {
        var (status, made) = await owner.PostAsync($"{api}/key");
        Assert.Equal(HttpStatusCode.OK, status);
        return made.GetProperty("shop").Text("key");
    }

    private static JsonNode Order(string id, int daysAgo)
    {
        var order = Sender.Purchase(id);
        order["time"] = DateTimeOffset.UtcNow.AddDays(-daysAgo);
        return order;
    }

    private static JsonNode Stock(string id, int left) =>
        JsonSerializer.SerializeToNode(
            new
            {
                specversion = "1.0",
                id,
                source = "/shop",
                type = "example.pots.stock",
                data = new { product = new { name = "Salt jug", category = "Jugs" }, left },
            }
        )!;

    [Fact]
    public async Task A_shop_connects_by_id_and_key_and_brings_its_past_its_products_and_its_news()
    {
        var owner = await desk.OwnerAsync();
        // Whoever connected before is let go, and with it what it said of itself.
        await owner.SendAsync(HttpMethod.Delete, Api);
        var key = await KeyAsync(owner, Api);
        var (early, _) = await EventsAsync(key, [Order("shop-early", 0)]);
        var run = Guid.NewGuid().ToString("N")[..8];

        var (status, welcome) = await PostAsync("connect", key, new { name = "Kiln shop" });
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.EndsWith($"/shop/{desk.World.Site.Key}/events", welcome.Text("events"), StringComparison.Ordinal);
        Assert.True(welcome.GetProperty("since").GetDateTimeOffset() < DateTimeOffset.UtcNow.AddDays(-80));
        // Hello twice is one shop.
        await PostAsync("connect", key, new { name = "Kiln shop" });
        var shop = (await owner.GetAsync(Api)).GetProperty("shop");
        Assert.Equal("Kiln shop", shop.Text("name"));
        var ids = new[] { shop.GetProperty("ordersId").GetGuid(), shop.GetProperty("stockId").GetGuid() };

        var past = new JsonArray([.. Enumerable.Range(0, 30).Select(i => Order($"{run}-{i}", i))]);
        past.Add(Stock($"{run}-stock", 2));
        past.Add(
            JsonNode.Parse(
                """{ "specversion": "1.0", "id": "x", "source": "/s", "type": "example.signup", "data": {} }"""
            )
        );
        var (_, receipt) = await EventsAsync(key, past);
        Assert.Equal(31, receipt.GetProperty("added").GetInt32());
        var refused = Assert.Single(receipt.GetProperty("refused").EnumerateArray());
        Assert.Equal((31, "type"), (refused.GetProperty("index").GetInt32(), refused.Text("field")));
        // Sent again, nothing is there twice; news come one at a time.
        var (_, again) = await EventsAsync(key, [Order($"{run}-3", 3), Order($"{run}-new", 0)]);
        Assert.Equal((1, 1), (again.GetProperty("added").GetInt32(), again.GetProperty("repeated").GetInt32()));

        var sources = (await owner.GetAsync($"/api/sites/{desk.World.Site.Id}/sources")).EnumerateArray().ToList();
        Assert.Equal(
            ["Orders of Kiln shop", "Stock of Kiln shop"],
            sources.Where(s => ids.Contains(s.GetProperty("id").GetGuid())).Select(s => s.Text("name")).Order()
        );
        await using var db = desk.Database.Open();
        Assert.Equal(31, await db.Events.CountAsync(e => e.SourceId == ids[0]));
        var stock = await db.Events.SingleAsync(e => e.SourceId == ids[1]);
        Assert.Equal((EventKind.StockLevel, "2", "Jugs"), (stock.Kind, stock.Fields["left"], stock.ProductCategory));
        Assert.Equal(HttpStatusCode.Conflict, early);
        await DeleteAsync(owner, ids);
    }

    // A site has so many sources and no more, and other tests want some.
    private async Task DeleteAsync(DeskClient owner, params Guid[] sources)
    {
        foreach (var id in sources)
            await owner.SendAsync(HttpMethod.Delete, $"/api/sites/{desk.World.Site.Id}/sources/{id}");
    }

    [Fact]
    public async Task Only_the_key_of_this_site_opens_and_a_new_key_voids_the_old()
    {
        var owner = await desk.OwnerAsync();
        var old = await KeyAsync(owner, Api);
        var key = await KeyAsync(owner, Api);
        var hello = new { name = "Kiln shop" };
        Assert.Equal(HttpStatusCode.Unauthorized, (await PostAsync("connect", old, hello)).Status);
        Assert.Equal(HttpStatusCode.Unauthorized, (await PostAsync("connect", key, hello, site: "elsewhere")).Status);
        Assert.Equal(HttpStatusCode.Unauthorized, (await PostAsync("connect", key, hello, site: "none")).Status);
        Assert.Equal(HttpStatusCode.BadRequest, (await PostAsync("connect", key, new { name = 3 })).Status);
        Assert.Equal(HttpStatusCode.BadRequest, (await PostAsync("connect", key, "[")).Status);
        Assert.Equal(HttpStatusCode.OK, (await PostAsync("connect", key, hello)).Status);
        Assert.Equal(HttpStatusCode.UnsupportedMediaType, (await PostAsync("events", key, "[]")).Status);
        Assert.Equal(HttpStatusCode.BadRequest, (await EventsAsync(key, [])).Status);
        var bad = await EventsAsync(key, [JsonValue.Create(7), JsonNode.Parse("{}")]);
        Assert.Equal((HttpStatusCode.OK, 2), (bad.Status, bad.Body.GetProperty("refused").GetArrayLength()));
        Assert.StartsWith(
            "The body must be one JSON object",
            (await owner.GetAsync(Api)).GetProperty("shop").Text("refusedBecause"),
            StringComparison.Ordinal
        );

        var editor = await desk.EditorAsync();
        Assert.Equal(JsonValueKind.Null, (await editor.GetAsync(Api)).GetProperty("shop").GetProperty("key").ValueKind);
        Assert.Equal(HttpStatusCode.Forbidden, (await editor.PostAsync($"{Api}/key")).Status);
    }

    [Fact]
    public async Task Forms_are_counted_before_anybody_listens_and_begin_the_tally_of_whoever_does()
    {
        var owner = await desk.OwnerAsync();
        var key = $"early-{Guid.NewGuid():N}";
        for (var i = 0; i < 3; i++)
        {
            var visitor = new Browser(desk);
            await visitor.PlanAsync("/early");
            await TellAsync(
                visitor,
                new
                {
                    found = new[]
                    {
                        new
                        {
                            key,
                            fields = new[]
                            {
                                new
                                {
                                    name = "email",
                                    type = "email",
                                    label = "E-mail",
                                },
                            },
                        },
                    },
                }
            );
            await TellAsync(visitor, new { sent = key });
            // A script that sends after the browser did is one sending; what nobody met is none.
            await TellAsync(visitor, new { sent = key });
            await TellAsync(visitor, new { sent = $"made-up-{i}" });
        }
        var met = (await owner.GetAsync($"/api/sites/{desk.World.Site.Id}/forms"))
            .GetProperty("forms")
            .EnumerateArray()
            .Single(f => f.Text("key") == key);
        Assert.Equal(3, met.GetProperty("sent").GetInt32());

        var listening = new Listening(desk, owner);
        object Form(object? success) =>
            new
            {
                form = new
                {
                    form = key,
                    pages = Array.Empty<string>(),
                    firstName = (string?)null,
                    lastName = (string?)null,
                    email = "email",
                    product = (string?)null,
                    fields = Array.Empty<string>(),
                    success,
                },
            };
        // What a page proves was proved for none of them.
        var proved = (await listening.AddAsync("siteForm", "signUp", Form(new { sign = "page", target = "/thanks" })))
            .GetProperty("id")
            .GetGuid();
        await using var db = desk.Database.Open();
        Assert.Equal(0, await db.Events.CountAsync(e => e.SourceId == proved));
        var source = (await listening.AddAsync("siteForm", "signUp", Form(null))).GetProperty("id").GetGuid();
        var events = await db.Events.Where(e => e.SourceId == source).ToListAsync();
        Assert.Equal(3, events.Select(e => e.VisitorId).Distinct().Count());
        Assert.All(events, e => Assert.Equal(("/early", ""), (new Uri(e.Page!).AbsolutePath, e.FirstName)));
        Assert.Equal(0, await db.FormSends.CountAsync(f => f.Key == key));
        Assert.Equal(
            3,
            desk.Services.GetRequiredService<Sites.LiveSites>()
                .GetById(desk.World.Site.Id)
                .Events.Count(e => e.SourceId == source)
        );
        await DeleteAsync(owner, proved, source);
    }

    private static async Task TellAsync(Browser visitor, object what) =>
        (await visitor.ReportAsync("/early", what)).EnsureSuccessStatusCode();

    [Fact]
    public async Task A_site_is_removed_by_its_typed_name_taken_back_for_a_day_and_then_gone_with_its_data()
    {
        var owner = await desk.OwnerAsync();
        var (_, made) = await owner.PostAsync(
            $"/api/workspaces/{desk.World.Site.WorkspaceId}/sites",
            new
            {
                name = "Third kiln",
                homeAddress = "https://third.example/",
                timeZone = "Europe/Berlin",
                language = "en",
            }
        );
        var (id, site) = (made.GetProperty("id").GetGuid(), $"/api/sites/{made.Text("id")}");
        var (kind, _) = await owner.PostAsync($"{site}/remove", new { name = "third kiln" });
        Assert.Equal(HttpStatusCode.BadRequest, kind);
        var editor = await desk.EditorAsync();
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await editor.PostAsync($"{site}/remove", new { name = "Third kiln" })).Status
        );

        Assert.Equal(HttpStatusCode.OK, (await owner.PostAsync($"{site}/remove", new { name = "Third kiln" })).Status);
        Assert.Equal(HttpStatusCode.NotFound, (await owner.SendAsync(HttpMethod.Get, $"{site}/strip")).Status);
        using (var plan = await new Browser(desk).AskAsync(site: made.Text("key"), origin: "https://third.example"))
            Assert.False(plan.IsSuccessStatusCode);
        Assert.DoesNotContain(
            (await owner.GetAsync("/api/sites")).EnumerateArray(),
            s => s.Text("name") == "Third kiln"
        );
        var removed = (await owner.GetAsync($"/api/workspaces/{desk.World.Site.WorkspaceId}/sites/removed"))
            .EnumerateArray()
            .Single(s => s.Text("name") == "Third kiln");
        Assert.Equal("Marta Quill", removed.Text("removedBy"));
        var stranger = await desk.StrangerAsync();
        Assert.Equal(
            HttpStatusCode.NotFound,
            (
                await stranger.PostAsync($"/api/workspaces/{desk.World.Site.WorkspaceId}/sites/removed/{id}/restore")
            ).Status
        );
        Assert.Equal(
            HttpStatusCode.OK,
            (await owner.PostAsync($"/api/workspaces/{desk.World.Site.WorkspaceId}/sites/removed/{id}/restore")).Status
        );
        Assert.Equal(HttpStatusCode.OK, (await owner.SendAsync(HttpMethod.Get, $"{site}/strip")).Status);

        await owner.PostAsync($"{site}/remove", new { name = "Third kiln" });
        var sweep = desk.Services.GetRequiredService<Background.RetentionSweep>();
        await sweep.RunAsync(CancellationToken.None);
        await using var db = desk.Database.Open();
        Assert.True(await db.Sites.AnyAsync(s => s.Id == id));
        await db
            .Sites.Where(s => s.Id == id)
            .ExecuteUpdateAsync(u =>
                u.SetProperty(s => s.RemovedAt, SystemClock.Instance.GetCurrentInstant() - Duration.FromHours(25))
            );
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await owner.PostAsync($"/api/workspaces/{desk.World.Site.WorkspaceId}/sites/removed/{id}/restore")).Status
        );
        Assert.True((await sweep.RunAsync(CancellationToken.None)).Sites >= 1);
        Assert.False(await db.Sites.AnyAsync(s => s.Id == id));
        Assert.False(await db.PageGroups.AnyAsync(g => g.SiteId == id));
        Assert.True(await db.PageGroups.AnyAsync(g => g.SiteId == desk.World.Site.Id));
    }
}
