using System.Text.Json;
using Outcry.Tests.Shared;

namespace Outcry.Server.Tests;

public sealed class SourceTests(TestDesk desk)
{
    private static object Mapped(params (string Meaning, string Place)[] places) =>
        new
        {
            map = new
            {
                kind = "purchase",
                places = places.ToDictionary(p => p.Meaning, p => p.Place),
                fields = new { gift = "/gift" },
                currency = "GBP",
            },
        };

    private static readonly object ShopShape = Mapped(
        ("id", "/no"),
        ("firstName", "/who"),
        ("email", "/mail"),
        ("product", "/item"),
        ("amount", "/sum")
    );

    private async Task<(Listening Listening, DeskClient Owner, string Id, string Secret)> WebhookAsync(
        object? settings = null
    )
    {
        var owner = await desk.OwnerAsync();
        var listening = new Listening(desk, owner);
        var source = await listening.AddAsync("signedWebhook", "purchase", settings ?? ShopShape);
        return (listening, owner, source.Text("id"), source.Text("secret"));
    }

    private static object Order(string no, string item = "Mapped mug") =>
        new
        {
            no,
            who = "Noor Haddad",
            mail = $"{no}@post.example",
            item,
            sum = "28,50",
            gift = true,
        };

    [Fact]
    public async Task Json_of_any_shape_becomes_an_event_by_its_map()
    {
        var (listening, _, id, secret) = await WebhookAsync();
        var (status, body) = await Listening.PostAsync(desk.Anonymous(), id, secret, Order("m1"));
        Assert.Equal(HttpStatusCode.Accepted, status);
        Assert.Equal("accepted", body.Text("verdict"));
        var happened = Assert.Single(await listening.EventsAsync(id));
        Assert.Equal("Noor H. bought Mapped mug", Listening.Said(happened));
        Assert.Equal("£28.50", happened.Text("amount"));
        Assert.Equal("m•••••@•••••.example", happened.Text("maskedEmail"));
    }

    [Fact]
    public async Task A_part_that_is_missing_is_named_as_the_sender_spells_it_and_nothing_is_kept()
    {
        var (listening, _, id, secret) = await WebhookAsync();
        var (status, body) = await Listening.PostAsync(desk.Anonymous(), id, secret, new { no = "x", who = "Noor" });
        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.Equal("/item", body.Text("field"));
        Assert.Contains("product is missing", body.Text("detail"), StringComparison.Ordinal);
        Assert.Empty(await listening.EventsAsync(id));
    }

    [Fact]
    public async Task Both_secrets_hold_while_one_is_replaced()
    {
        var (_, owner, id, secret) = await WebhookAsync();
        var (_, made) = await owner.PostAsync($"/api/sites/{desk.World.Site.Id}/sources/{id}/secret");
        var http = desk.Anonymous();
        Assert.Equal(HttpStatusCode.Accepted, (await Listening.PostAsync(http, id, secret, Order("r1"))).Status);
        Assert.Equal(
            HttpStatusCode.Accepted,
            (await Listening.PostAsync(http, id, made.Text("secret"), Order("r2"))).Status
        );
        await owner.PostAsync($"/api/sites/{desk.World.Site.Id}/sources/{id}/secret");
        Assert.Equal(HttpStatusCode.Unauthorized, (await Listening.PostAsync(http, id, secret, Order("r3"))).Status);
    }

    [Fact]
    public async Task Deliveries_are_kept_with_their_verdict_and_can_be_taken_in_again_once_the_map_is_right()
    {
        var (listening, owner, id, secret) = await WebhookAsync();
        var http = desk.Anonymous();
        await Listening.PostAsync(
            http,
            id,
            secret,
            new
            {
                no = "d1",
                item = "",
                title = "Late bowl",
            }
        );
        await Listening.PostAsync(http, id, "whsec_" + Convert.ToBase64String(new byte[24]), Order("d2"));
        var list = (await owner.GetAsync($"{listening.Api}/sources/{id}/deliveries")).EnumerateArray().ToList();
        Assert.Equal(["refused", "refused"], list.Select(d => d.Text("verdict")));
        Assert.Equal([401, 400], list.Select(d => d.GetProperty("status").GetInt32()));
        // What is not signed may be anybody's, and is kept without its body.
        Assert.Equal(JsonValueKind.Null, (await Detail(list[0])).GetProperty("body").ValueKind);
        Assert.Contains("Late bowl", (await Detail(list[1])).Text("body"), StringComparison.Ordinal);

        var put = await owner.SendAsync(
            HttpMethod.Put,
            $"{listening.Api}/sources/{id}",
            new { name = "Mapped anew", settings = Mapped(("id", "/no"), ("product", "/title")) }
        );
        Assert.Equal(HttpStatusCode.NoContent, put.Status);
        var (_, again) = await owner.PostAsync($"{listening.Api}/sources/{id}/deliveries/{list[1].Text("id")}/resend");
        Assert.Equal("accepted", again.Text("verdict"));
        Assert.Equal("Someone bought Late bowl", Listening.Said(Assert.Single(await listening.EventsAsync(id))));
        var (_, twice) = await owner.PostAsync($"{listening.Api}/sources/{id}/deliveries/{list[1].Text("id")}/resend");
        Assert.Equal("repeated", twice.Text("verdict"));
        var (unsigned, _) = await owner.PostAsync(
            $"{listening.Api}/sources/{id}/deliveries/{list[0].Text("id")}/resend"
        );
        Assert.Equal(HttpStatusCode.Conflict, unsigned);

        Task<JsonElement> Detail(JsonElement d) =>
            owner.GetAsync($"{listening.Api}/sources/{id}/deliveries/{d.Text("id")}");
    }

    [Fact]
    public async Task Only_the_last_fifty_deliveries_are_kept_and_none_in_the_clear()
    {
        var (listening, owner, id, secret) = await WebhookAsync();
        var http = desk.Anonymous();
        for (var i = 0; i < 80; i++)
            await Listening.PostAsync(http, id, secret, Order($"many{i}"));
        Assert.Equal(50, (await owner.GetAsync($"{listening.Api}/sources/{id}/deliveries")).GetArrayLength());
        await using var db = desk.Database.Open();
        Assert.Equal(50, db.Deliveries.Count(d => d.SourceId == Guid.Parse(id)));
        var sealedBody = db.Deliveries.First(d => d.SourceId == Guid.Parse(id)).SealedBody;
        Assert.DoesNotContain(
            "post.example",
            System.Text.Encoding.UTF8.GetString(sealedBody),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task What_does_not_meet_the_conditions_is_left_out_and_the_sender_told_so()
    {
        var (listening, owner, id, secret) = await WebhookAsync();
        await owner.SendAsync(
            HttpMethod.Put,
            $"{listening.Api}/sources/{id}",
            new
            {
                name = "Only mugs",
                settings = new
                {
                    map = JsonSerializer.SerializeToElement(ShopShape).GetProperty("map"),
                    rules = new
                    {
                        conditions = new[]
                        {
                            new
                            {
                                field = "product",
                                comparison = "contains",
                                value = "mug",
                            },
                        },
                        join = "all",
                        holdsAll = true,
                        leastStars = 0,
                    },
                },
            }
        );
        var (_, left) = await Listening.PostAsync(desk.Anonymous(), id, secret, Order("c1", "Iron bowl"));
        Assert.Equal("leftOut", left.Text("verdict"));
        await Listening.PostAsync(desk.Anonymous(), id, secret, Order("c2", "Blue mug"));
        Assert.Equal("held", Assert.Single(await listening.EventsAsync(id)).Text("state"));
    }

    [Fact]
    public async Task A_paused_source_takes_nothing_until_it_is_resumed()
    {
        var (listening, owner, id, secret) = await WebhookAsync();
        await owner.PostAsync($"{listening.Api}/sources/{id}/pause");
        var (_, paused) = await Listening.PostAsync(desk.Anonymous(), id, secret, Order("p1"));
        Assert.Equal("leftOut", paused.Text("verdict"));
        Assert.Contains("paused", paused.Text("because"), StringComparison.Ordinal);
        await owner.PostAsync($"{listening.Api}/sources/{id}/resume");
        Assert.Equal(
            "accepted",
            (await Listening.PostAsync(desk.Anonymous(), id, secret, Order("p1"))).Body.Text("verdict")
        );
    }

    [Theory]
    [InlineData("siteForm", "purchase", "form.form", "{}")]
    [InlineData(
        "siteForm",
        "signUp",
        "form.fields",
        """{"form":{"form":"f","pages":[],"firstName":null,"lastName":null,"email":null,"product":null,"fields":["user_password"]}}"""
    )]
    [InlineData(
        "siteForm",
        "signUp",
        "form.pages",
        """{"form":{"form":"f","pages":["shop"],"firstName":null,"lastName":null,"email":null,"product":null,"fields":[]}}"""
    )]
    [InlineData(
        "siteForm",
        "signUp",
        "form.currency",
        """{"form":{"form":"f","pages":[],"firstName":null,"lastName":null,"email":null,"product":null,"fields":[],"amount":"sum"}}"""
    )]
    [InlineData(
        "siteForm",
        "signUp",
        "form.success",
        """{"form":{"form":"f","pages":[],"firstName":null,"lastName":null,"email":null,"product":null,"fields":[],"success":{"sign":"element","target":""}}}"""
    )]
    [InlineData("siteForm", "review", "eventKind", "{}")]
    [InlineData("byHand", "purchase", "eventKind", "{}")]
    [InlineData("pageScript", "purchase", "eventKind", "{}")]
    [InlineData("pageScript", "own", "script", "{}")]
    [InlineData("feed", "post", "poll.address", "{}")]
    [InlineData(
        "feed",
        "post",
        "poll.format",
        """{"poll":{"address":"https://x.example","format":"json","listPointer":"","everyMinutes":60,"most":5}}"""
    )]
    [InlineData(
        "reviewList",
        "review",
        "poll.everyMinutes",
        """{"poll":{"address":"https://x.example","format":"json","listPointer":"","everyMinutes":1,"most":5}}"""
    )]
    [InlineData(
        "reviewList",
        "review",
        "poll.address",
        """{"poll":{"address":"file:///etc/passwd","format":"json","listPointer":"","everyMinutes":60,"most":5}}"""
    )]
    [InlineData(
        "signedWebhook",
        "purchase",
        "map",
        """{"map":{"kind":"purchase","places":{"product":"item"},"fields":{}}}"""
    )]
    [InlineData("signedWebhook", "purchase", "map", """{"map":{"kind":"purchase","places":{},"fields":{}}}""")]
    [InlineData(
        "signedWebhook",
        "purchase",
        "display.shownFields",
        """{"display":{"name":"hidden","place":"none","showAmount":false,"shownFields":["secret"]}}"""
    )]
    [InlineData(
        "signedWebhook",
        "purchase",
        "rules.conditions",
        """{"rules":{"conditions":[{"field":"","comparison":"is","value":"x"}],"join":"all"}}"""
    )]
    public async Task What_cannot_work_is_refused_at_its_field(
        string kind,
        string eventKind,
        string field,
        string settings
    )
    {
        var listening = new Listening(desk, await desk.OwnerAsync());
        var (status, body) = await listening.TryAddAsync(
            kind,
            eventKind,
            JsonSerializer.Deserialize<JsonElement>(settings)
        );
        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.Equal(field, body.Text("field"));
        Assert.EndsWith(".", body.Text("detail"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_test_send_is_a_members_own_test_of_the_sources_kind()
    {
        var (listening, owner, id, _) = await WebhookAsync();
        var (status, _) = await owner.PostAsync($"{listening.Api}/sources/{id}/test");
        Assert.Equal(HttpStatusCode.OK, status);
        var happened = Assert.Single(await listening.EventsAsync(id));
        Assert.Equal(("ownTest", "Marta Q. bought Test piece"), (happened.Text("state"), Listening.Said(happened)));
    }

    [Fact]
    public async Task A_source_that_callouts_draw_on_is_not_deleted_and_one_that_none_does_is_gone_from_the_list()
    {
        var (listening, owner, id, secret) = await WebhookAsync();
        await Moments.StartAsync(owner, desk, b => b);
        var used = await owner.SendAsync(HttpMethod.Delete, $"{listening.Api}/sources/{desk.World.Checkout.Id}");
        Assert.Equal(HttpStatusCode.Conflict, used.Status);
        Assert.Contains("A moment", used.Body.Text("detail"), StringComparison.Ordinal);
        Assert.Equal(
            HttpStatusCode.NoContent,
            (await owner.SendAsync(HttpMethod.Delete, $"{listening.Api}/sources/{id}")).Status
        );
        var list = (await owner.GetAsync($"{listening.Api}/sources")).EnumerateArray().Select(s => s.Text("id"));
        Assert.DoesNotContain(id, list);
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await Listening.PostAsync(desk.Anonymous(), id, secret, Order("gone"))).Status
        );
    }

    [Fact]
    public async Task The_list_tells_a_sources_health_and_what_depends_on_it()
    {
        var (listening, owner, id, secret) = await WebhookAsync();
        await Listening.PostAsync(desk.Anonymous(), id, secret, Order("h1"));
        await Listening.PostAsync(desk.Anonymous(), id, secret, "{}");
        var source = (await owner.GetAsync($"{listening.Api}/sources"))
            .EnumerateArray()
            .Single(s => s.Text("id") == id);
        Assert.Equal(1, source.GetProperty("eventsLastDay").GetInt32());
        Assert.Equal(1, source.GetProperty("hours").EnumerateArray().Last().GetInt32());
        Assert.Equal(24, source.GetProperty("hours").GetArrayLength());
        Assert.Contains("missing", source.Text("refusedBecause"), StringComparison.Ordinal);
        var editor = await (await desk.EditorAsync()).GetAsync($"{listening.Api}/sources");
        Assert.All(editor.EnumerateArray(), s => Assert.Equal(JsonValueKind.Null, s.GetProperty("secret").ValueKind));
    }

    [Fact]
    public async Task An_endorsement_needs_its_permission_and_keeps_who_entered_it()
    {
        var owner = await desk.OwnerAsync();
        var listening = new Listening(desk, owner);
        var id = (await listening.AddAsync("byHand", "endorsement")).Text("id");
        var entry = new
        {
            who = "Birgit Solheim",
            role = "curator",
            words = "Plain pots.",
            hasPermission = false,
        };
        var (status, body) = await owner.PostAsync($"{listening.Api}/sources/{id}/entries", entry);
        Assert.Equal((HttpStatusCode.BadRequest, "hasPermission"), (status, body.Text("field")));
        await owner.PostAsync($"{listening.Api}/sources/{id}/entries", entry with { hasPermission = true });
        Assert.Equal(
            "Plain pots. Birgit Solheim, curator",
            Listening.Said(Assert.Single(await listening.EventsAsync(id)))
        );
    }

    [Fact]
    public async Task A_total_is_entered_as_of_a_date_and_not_of_tomorrow()
    {
        var owner = await desk.OwnerAsync();
        var listening = new Listening(desk, owner);
        var id = (await listening.AddAsync("byHand", "total")).Text("id");
        var (early, body) = await owner.PostAsync(
            $"{listening.Api}/sources/{id}/entries",
            new
            {
                total = "120",
                of = "ratings",
                asOf = DateTime.UtcNow.AddDays(1),
            }
        );
        Assert.Equal((HttpStatusCode.BadRequest, "asOf"), (early, body.Text("field")));
        await owner.PostAsync(
            $"{listening.Api}/sources/{id}/entries",
            new
            {
                total = "1,204",
                of = "ratings",
                asOf = $"{Ago.Days(20)}T12:00:00Z",
            }
        );
        var happened = Assert.Single(await listening.EventsAsync(id));
        Assert.Equal("1,204 ratings", Listening.Said(happened));
        Assert.StartsWith(Ago.Days(20), happened.Text("at"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_sample_shows_its_places_a_guessed_map_and_the_event_that_would_come_of_it()
    {
        var owner = await desk.OwnerAsync();
        var sample =
            """{"order":{"id":7,"customer":{"first_name":"Noor","email":"n@post.example"},"title":"Iron bowl","total":"£36"}}""";
        var (_, seen) = await owner.PostAsync(
            $"/api/sites/{desk.World.Site.Id}/sources/preview-map",
            new { eventKind = "purchase", sample }
        );
        Assert.Equal("/order/title", seen.GetProperty("map").GetProperty("places").Text("product"));
        Assert.Equal("Noor bought Iron bowl", Listening.Said(seen.GetProperty("events")[0]));
        Assert.Equal(JsonValueKind.Null, seen.GetProperty("mapFault").ValueKind);
        var (bad, why) = await owner.PostAsync(
            $"/api/sites/{desk.World.Site.Id}/sources/preview-map",
            new { eventKind = "purchase", sample = "{" }
        );
        Assert.Equal(HttpStatusCode.BadRequest, bad);
        Assert.Contains("not JSON", why.Text("detail"), StringComparison.Ordinal);
    }
}
