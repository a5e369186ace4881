using System.Globalization;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using Outcry.Server.Intake;

namespace Outcry.Server.Tests;

/// <summary>Adds sources through the desk's own endpoints and looks at what came of them.</summary>
internal sealed class Listening(TestDesk desk, DeskClient member)
{
    public string Api => $"/api/sites/{desk.World.Site.Id}";

    public async Task<JsonElement> AddAsync(string kind, string eventKind, object? settings = null, string? name = null)
    {
        var (status, body) = await TryAddAsync(kind, eventKind, settings, name);
        Assert.True(status == HttpStatusCode.Created, $"{status}: {body}");
        return body;
    }

    public Task<(HttpStatusCode Status, JsonElement Body)> TryAddAsync(
        string kind,
        string eventKind,
        object? settings = null,
        string? name = null
    ) =>
        member.PostAsync(
            $"{Api}/sources",
            new
            {
                name = name ?? $"{kind} {Guid.NewGuid():N}",
                kind,
                eventKind,
                settings = settings ?? new { },
            }
        );

    /// <summary>The source's events in the ledger, newest first.</summary>
    public async Task<List<JsonElement>> EventsAsync(string source, string more = "")
    {
        var page = await member.GetAsync($"{Api}/events?source={source}{more}");
        return [.. page.GetProperty("events").EnumerateArray()];
    }

    public static string Said(JsonElement happened) =>
        string.Concat(happened.GetProperty("spans").EnumerateArray().Select(s => s.Text("text")));

    /// <summary>Posts JSON to a webhook, signed with a secret.</summary>
    public static async Task<(HttpStatusCode Status, JsonElement Body)> PostAsync(
        HttpClient http,
        string source,
        string secret,
        object body,
        string? id = null
    )
    {
        var bytes = Encoding.UTF8.GetBytes(body as string ?? JsonSerializer.Serialize(body));
        var seconds = DateTimeOffset.UtcNow.ToUnixTimeSeconds();
        id ??= $"msg_{Guid.NewGuid():N}";
        using var message = new HttpRequestMessage(HttpMethod.Post, $"/in/{source}")
        {
            Content = new ByteArrayContent(bytes),
        };
        message.Content.Headers.ContentType = new MediaTypeHeaderValue("application/json");
        message.Headers.Add("webhook-id", id);
        message.Headers.Add("webhook-timestamp", seconds.ToString(CultureInfo.InvariantCulture));
        message.Headers.TryAddWithoutValidation("webhook-signature", StandardWebhooks.Sign(secret, id, seconds, bytes));
        using var answer = await http.SendAsync(message);
        return (answer.StatusCode, await answer.JsonAsync());
    }
}
