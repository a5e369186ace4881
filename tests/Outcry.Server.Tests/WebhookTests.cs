using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Outcry.Core.Evidence;

namespace Outcry.Server.Tests;

public sealed class WebhookTests(TestDesk desk)
{
    private readonly Sender _shop = new(desk);

    [Fact]
    public async Task A_signed_purchase_is_accepted_and_stands_in_the_ledger_shortened()
    {
        var (status, body, _) = await _shop.SendAsync(Sender.Purchase("order-a"));
        Assert.Equal(HttpStatusCode.Accepted, status);
        await using var db = desk.Database.Open();
        var row = await db.Events.SingleAsync(e => e.Id == body.GetProperty("id").GetGuid());
        Assert.Equal(
            ("Noor", "H", "Noor H•••••", "o•••••@•••••.example"),
            (row.FirstName, row.LastInitial, row.MaskedName, row.MaskedEmail)
        );
        Assert.Equal((28.5m, "GBP", EventState.Usable), (row.Amount, row.Currency, row.State));
        Assert.DoesNotContain("addad", System.Text.Json.JsonSerializer.Serialize(row), StringComparison.Ordinal);
        Assert.DoesNotContain("post.example", System.Text.Json.JsonSerializer.Serialize(row), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_repeated_event_id_is_accepted_again_without_a_second_event()
    {
        var first = await _shop.SendAsync(Sender.Purchase("order-b"));
        var again = await _shop.SendAsync(Sender.Purchase("order-b"));
        Assert.Equal(HttpStatusCode.Accepted, again.Status);
        Assert.Equal(first.Body.Text("id"), again.Body.Text("id"));
    }

    [Fact]
    public async Task A_repeated_delivery_id_is_accepted_again_without_a_second_event()
    {
        var first = await _shop.SendAsync(Sender.Purchase("order-c1"), delivery: "msg_once");
        var again = await _shop.SendAsync(Sender.Purchase("order-c2"), delivery: "msg_once");
        Assert.Equal((HttpStatusCode.Accepted, first.Body.Text("id")), (again.Status, again.Body.Text("id")));
    }

    [Fact]
    public async Task The_same_event_sent_many_times_at_once_is_one_event()
    {
        var sent = await Task.WhenAll(
            Enumerable.Range(0, 12).Select(_ => _shop.SendAsync(Sender.Purchase("order-race")))
        );
        Assert.All(sent, s => Assert.Equal(HttpStatusCode.Accepted, s.Status));
        Assert.Single(sent.Select(s => s.Body.Text("id")).Distinct());
    }

    [Fact]
    public async Task A_missing_wrong_or_late_signature_is_refused()
    {
        var order = Sender.Purchase("order-d");
        Assert.Equal(HttpStatusCode.Unauthorized, (await _shop.SendAsync(order, sign: _ => "")).Status);
        Assert.Equal(HttpStatusCode.Unauthorized, (await _shop.SendAsync(order, sign: _ => "v1,bm90IGl0")).Status);
        Assert.Equal(HttpStatusCode.Unauthorized, (await _shop.SendAsync(order, sign: s => "v2" + s[2..])).Status);
        var late = await _shop.SendAsync(order, skew: TimeSpan.FromMinutes(-6));
        Assert.Equal(HttpStatusCode.Unauthorized, late.Status);
        Assert.Contains("clock", late.Body.Text("detail"), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Unauthorized, (await _shop.SendAsync(order, skew: TimeSpan.FromMinutes(6))).Status);
        Assert.Equal(
            HttpStatusCode.Accepted,
            (await _shop.SendAsync(order, sign: s => $"v1,bm90IGl0 {s}", skew: TimeSpan.FromMinutes(4))).Status
        );
    }

    public static TheoryData<string, string> Faults =>
        new()
        {
            { "specversion", """{"id":"x","source":"/s","type":"a.purchase","data":{}}""" },
            { "id", """{"specversion":"1.0","source":"/s","type":"a.purchase","data":{}}""" },
            {
                "type",
                """{"specversion":"1.0","id":"x","source":"/s","type":"a.parade","data":{"product":{"name":"m"}}}"""
            },
            { "data", """{"specversion":"1.0","id":"x","source":"/s","type":"a.purchase","data":"text"}""" },
            { "data.product.name", """{"specversion":"1.0","id":"x","source":"/s","type":"a.purchase","data":{}}""" },
            {
                "data.amount",
                """{"specversion":"1.0","id":"x","source":"/s","type":"a.purchase","data":{"product":{"name":"m"},"amount":"28"}}"""
            },
            {
                "data.currency",
                """{"specversion":"1.0","id":"x","source":"/s","type":"a.purchase","data":{"product":{"name":"m"},"amount":28}}"""
            },
            {
                "data.product.url",
                """{"specversion":"1.0","id":"x","source":"/s","type":"a.purchase","data":{"product":{"name":"m","url":"javascript:1"}}}"""
            },
            {
                "data.customer",
                """{"specversion":"1.0","id":"x","source":"/s","type":"a.purchase","data":{"product":{"name":"m"},"customer":"me"}}"""
            },
            {
                "time",
                """{"specversion":"1.0","id":"x","source":"/s","type":"a.purchase","time":"2999-01-01T00:00:00Z","data":{"product":{"name":"m"}}}"""
            },
            {
                "time",
                """{"specversion":"1.0","id":"x","source":"/s","type":"a.purchase","time":"yesterday","data":{"product":{"name":"m"}}}"""
            },
            { "", "not json" },
            { "", "[]" },
        };

    [Theory]
    [MemberData(nameof(Faults))]
    public async Task A_malformed_event_is_refused_and_its_field_named(string field, string body)
    {
        var (status, problem, _) = await _shop.SendTextAsync(body);
        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.Equal(field, problem.Text("field"));
        Assert.Equal("urn:outcry:problem:bad-field", problem.Text("type"));
    }

    [Fact]
    public async Task Other_content_types_and_large_bodies_are_refused()
    {
        Assert.Equal(
            HttpStatusCode.UnsupportedMediaType,
            (await _shop.SendAsync(Sender.Purchase("x"), contentType: "text/csv")).Status
        );
        var large = Sender.Purchase("large");
        large["data"]!["page"] = new string('x', 260 * 1024);
        Assert.Equal(HttpStatusCode.RequestEntityTooLarge, (await _shop.SendAsync(large)).Status);
        Assert.Equal(
            HttpStatusCode.RequestEntityTooLarge,
            (await _shop.SendTextAsync(new string(' ', 10 * 1024 * 1024))).Status
        );
    }

    [Fact]
    public async Task An_unknown_source_is_not_found() =>
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await _shop.SendAsync(Sender.Purchase("x"), source: Guid.NewGuid())).Status
        );

    [Fact]
    public async Task A_form_source_takes_no_webhooks() =>
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await _shop.SendAsync(Sender.Purchase("x"), source: desk.World.Newsletter.Id)).Status
        );

    [Fact]
    public async Task A_flood_is_slowed_down_with_a_time_to_come_back()
    {
        // To a source of its own, so that no other test is slowed down.
        var source = Guid.NewGuid();
        for (var lot = 0; lot < 40; lot++)
        {
            var answers = await Task.WhenAll(
                Enumerable.Range(0, 50).Select(_ => _shop.SendAsync(new JsonObject(), source: source))
            );
            if (Array.Find(answers, a => a.Status == HttpStatusCode.TooManyRequests) is { Headers: not null } slowed)
            {
                Assert.NotNull(slowed.Headers.RetryAfter);
                return;
            }
        }
        Assert.Fail("Two thousand requests in a row were all let through.");
    }

    [Theory]
    [InlineData("bearer")]
    [InlineData("address")]
    public async Task A_plain_connector_may_post_with_its_secret_where_the_owner_chose_so(string proof)
    {
        var owner = await desk.OwnerAsync();
        var listening = new Listening(desk, owner);
        var map = new
        {
            kind = "purchase",
            places = new { product = "/item" },
            fields = new { },
            currency = "",
        };
        var source = await listening.AddAsync("signedWebhook", "purchase", new { map });
        var (id, secret) = (source.Text("id"), source.Text("secret"));
        object Settings() => new { name = source.Text("name"), settings = new { map, proof } };
        var editor = await desk.EditorAsync();
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await editor.SendAsync(HttpMethod.Put, $"{listening.Api}/sources/{id}", Settings())).Status
        );
        Assert.Equal(HttpStatusCode.Unauthorized, await PostAsync(id, proof, secret));
        await owner.SendAsync(HttpMethod.Put, $"{listening.Api}/sources/{id}", Settings());

        Assert.Equal(HttpStatusCode.Unauthorized, await PostAsync(id, proof, "whsec_wrong"));
        Assert.Equal(HttpStatusCode.Unauthorized, await PostAsync(id, proof, null));
        Assert.Equal(HttpStatusCode.Accepted, await PostAsync(id, proof, secret));
        // The same body again is the same event.
        Assert.Equal(HttpStatusCode.Accepted, await PostAsync(id, proof, secret));
        Assert.Single(await listening.EventsAsync(id));

        var (_, rotated) = await owner.PostAsync($"{listening.Api}/sources/{id}/secret");
        Assert.Equal(HttpStatusCode.Accepted, await PostAsync(id, proof, secret));
        Assert.Equal(HttpStatusCode.Accepted, await PostAsync(id, proof, rotated.Text("secret")));
    }

    private async Task<HttpStatusCode> PostAsync(string source, string proof, string? secret)
    {
        var query = proof == "address" && secret is not null ? $"?secret={Uri.EscapeDataString(secret)}" : "";
        using var message = new HttpRequestMessage(HttpMethod.Post, $"/in/{source}{query}")
        {
            Content = new StringContent("{\"item\":\"Ash-glaze mug\"}", System.Text.Encoding.UTF8, "application/json"),
        };
        if (proof == "bearer" && secret is not null)
            message.Headers.TryAddWithoutValidation("Authorization", $"Bearer {secret}");
        using var answer = await desk.Anonymous().SendAsync(message);
        return answer.StatusCode;
    }
}
