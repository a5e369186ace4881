using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Claims;
using Outcry.Core.Evidence;
using Outcry.Server.Intake;
using Outcry.Server.Visitor;

namespace Outcry.Browser.Tests;

/// <summary>Brings events in without a browser, for tests of what browsers then show.</summary>
internal sealed class Stock(Stage stage)
{
    private readonly HttpClient _http = new();

    public Task<bool> BoughtAsync(string name, string email, string product, string? category = null) =>
        PostAsync(
            new
            {
                specversion = "1.0",
                id = Guid.NewGuid().ToString("N"),
                source = "/test",
                type = "test.purchase",
                data = new { customer = new { name, email }, product = new { name = product, category } },
            }
        );

    /// <summary>Sends each string as product, as name and as category; those that make no product's name are refused.</summary>
    public async Task<int> HostileAsync(IReadOnlyList<string> strings)
    {
        var taken = 0;
        foreach (var text in strings)
            if (await BoughtAsync(text, $"{Guid.NewGuid():N}@post.example", text, "Hostile"))
                taken++;
        return taken;
    }

    /// <summary>The callout's events and what the plan would have the browser say of each.</summary>
    public async Task<IReadOnlyList<(string Product, string Said, object[] Spans)>> TurnsAsync(Guid callout)
    {
        var site = stage.Sites.GetById(stage.World.Site.Id);
        var live = site.Callouts.Single(c => c.Id == callout);
        await using var db = stage.Database.Open();
        var rows = await db.Events.Where(e => e.ProductCategory == "Hostile").ToListAsync();
        return
        [
            .. rows.Select(r =>
            {
                var turn = PreparedEvidence.Word(
                    live.Brief.Say,
                    live.Messages.Own,
                    r.ToEvent(),
                    site.DisplayOf(r.SourceId),
                    new PlaceCrowd([]),
                    SystemClock.Instance.GetCurrentInstant(),
                    site.Zone
                );
                return (
                    r.ProductName!,
                    string.Concat(turn.Spans.Select(s => s.Text)),
                    turn.Spans.Select(s =>
                            (object)
                                new
                                {
                                    t = s.Text,
                                    b = s.Bold,
                                    i = s.Italic,
                                    h = s.Link,
                                }
                        )
                        .ToArray()
                );
            }),
        ];
    }

    private async Task<bool> PostAsync(object body)
    {
        var bytes = JsonSerializer.SerializeToUtf8Bytes(body);
        var seconds = DateTimeOffset.UtcNow.ToUnixTimeSeconds();
        var id = Guid.NewGuid().ToString("N");
        using var message = new HttpRequestMessage(HttpMethod.Post, $"{stage.Desk}/in/{stage.World.Checkout.Id}")
        {
            Content = new ByteArrayContent(bytes),
        };
        message.Content.Headers.ContentType = new MediaTypeHeaderValue("application/cloudevents+json");
        message.Headers.Add("webhook-id", id);
        message.Headers.Add("webhook-timestamp", $"{seconds}");
        message.Headers.TryAddWithoutValidation(
            "webhook-signature",
            StandardWebhooks.Sign(stage.World.Checkout.Secret!, id, seconds, bytes)
        );
        using var answer = await _http.SendAsync(message);
        return answer.IsSuccessStatusCode;
    }
}
