using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using Outcry.Server.Intake;

namespace Outcry.Server.Tests;

/// <summary>A shop that reports purchases, well-behaved unless told otherwise.</summary>
internal sealed class Sender(TestDesk desk)
{
    private readonly HttpClient _http = desk.Anonymous();

    public static JsonObject Purchase(
        string id,
        string firstName = "Noor",
        string? visitor = null,
        string? email = null
    ) =>
        JsonSerializer
            .SerializeToNode(
                new
                {
                    specversion = "1.0",
                    id,
                    source = "/shop",
                    type = "example.pots.purchase",
                    data = new
                    {
                        customer = new
                        {
                            firstName,
                            lastName = "Haddad",
                            email = email ?? $"{id}@post.example",
                        },
                        product = new
                        {
                            name = "Ash-glaze mug",
                            url = $"{TestDesk.SiteOrigin}/shop/ash-glaze-mug",
                            category = "Mugs",
                        },
                        amount = 28.5,
                        currency = "gbp",
                        visitor,
                    },
                }
            )!
            .AsObject();

    public Task<(HttpStatusCode Status, JsonElement Body, HttpResponseHeaders Headers)> SendAsync(
        JsonNode body,
        string? delivery = null,
        Func<string, string>? sign = null,
        TimeSpan skew = default,
        string contentType = "application/cloudevents+json",
        Guid? source = null
    ) => SendTextAsync(body.ToJsonString(), delivery, sign, skew, contentType, source);

    public async Task<(HttpStatusCode Status, JsonElement Body, HttpResponseHeaders Headers)> SendTextAsync(
        string body,
        string? delivery = null,
        Func<string, string>? sign = null,
        TimeSpan skew = default,
        string contentType = "application/cloudevents+json",
        Guid? source = null
    )
    {
        var bytes = Encoding.UTF8.GetBytes(body);
        var id = delivery ?? $"msg_{Guid.NewGuid():N}";
        var seconds = (DateTimeOffset.UtcNow + skew).ToUnixTimeSeconds();
        var signature = StandardWebhooks.Sign(desk.World.Checkout.Secret!, id, seconds, bytes);
        using var message = new HttpRequestMessage(HttpMethod.Post, $"/in/{source ?? desk.World.Checkout.Id}")
        {
            Content = new ByteArrayContent(bytes),
        };
        message.Content.Headers.ContentType = MediaTypeHeaderValue.Parse(contentType);
        message.Headers.Add("webhook-id", id);
        message.Headers.Add("webhook-timestamp", $"{seconds}");
        message.Headers.TryAddWithoutValidation("webhook-signature", sign?.Invoke(signature) ?? signature);
        using var answer = await _http.SendAsync(message);
        return (answer.StatusCode, await answer.JsonAsync(), answer.Headers);
    }
}
