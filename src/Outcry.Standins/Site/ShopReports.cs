using System.Net.Http.Headers;
using System.Text.Json;
using Outcry.Server.Intake;

namespace Outcry.Standins.Site;

/// <summary>Who bought or booked, as the checkout form has it.</summary>
internal sealed record Buyer(
    string FirstName,
    string LastName,
    string Email,
    string City,
    string Region,
    string Country
);

/// <summary>One thing bought, as the shop's own server reports it.</summary>
internal sealed record Order(
    string Id,
    DateTimeOffset At,
    Buyer Buyer,
    Article Article,
    string Kind,
    string? Visitor,
    string Origin,
    string Path
)
{
    /// <summary>The order as a CloudEvents 1.0 JSON event.</summary>
    public byte[] ToCloudEvent() =>
        JsonSerializer.SerializeToUtf8Bytes(
            new
            {
                specversion = "1.0",
                id = Id,
                source = "/emberwick/shop",
                type = $"example.emberwick.{Kind}",
                time = At,
                datacontenttype = "application/json",
                data = new
                {
                    customer = new
                    {
                        firstName = Buyer.FirstName,
                        lastName = Buyer.LastName,
                        email = Buyer.Email,
                        city = Buyer.City,
                        region = Buyer.Region,
                        country = Buyer.Country,
                    },
                    product = new
                    {
                        name = Article.Name,
                        url = Origin + Path,
                        image = $"{Origin}/img/{Article.Slug}.svg",
                        category = Article.Category,
                    },
                    amount = Article.Price,
                    currency = "GBP",
                    page = Origin + Path,
                    visitor = Visitor,
                },
            }
        );
}

/// <summary>Posts orders to the desk, signed as Standard Webhooks, and tries again a few times when it is away.</summary>
internal sealed partial class ShopReports(HttpClient http, SiteSettings settings, ILogger<ShopReports> log)
{
    public Task SendAsync(Order order) =>
        SendAsync(
            settings.Webhook,
            settings.Secret,
            $"msg_{order.Id}",
            order.ToCloudEvent(),
            "application/cloudevents+json"
        );

    /// <summary>Reports how many of a piece are left, in the shop platform's own JSON.</summary>
    public Task SendStockAsync(Article article, int left, string address)
    {
        var body = JsonSerializer.SerializeToUtf8Bytes(
            new
            {
                change = new { at = DateTimeOffset.UtcNow.ToUnixTimeSeconds(), reason = "sold" },
                item = new
                {
                    title = article.Name,
                    handle = article.Slug,
                    page = address,
                },
                levels = new[] { new { location = "studio", on_hand = left } },
            }
        );
        return SendAsync(
            settings.StockWebhook,
            settings.StockSecret,
            $"stock_{Guid.NewGuid():N}",
            body,
            "application/json"
        );
    }

    private async Task SendAsync(string address, string secret, string id, byte[] body, string type)
    {
        if (address.Length == 0)
            return;
        for (var attempt = 1; attempt <= 3; attempt++)
        {
            try
            {
                using var answer = await http.SendAsync(Message(address, secret, body, id, type));
                if (answer.IsSuccessStatusCode)
                    return;
                Refused((int)answer.StatusCode, await answer.Content.ReadAsStringAsync());
            }
            // A desk that does not answer in time is away as well; the order stands either way.
            catch (Exception away) when (away is HttpRequestException or TaskCanceledException)
            {
                Away(away);
            }
            await Task.Delay(TimeSpan.FromSeconds(attempt));
        }
    }

    private static HttpRequestMessage Message(string address, string secret, byte[] body, string id, string type)
    {
        var seconds = DateTimeOffset.UtcNow.ToUnixTimeSeconds();
        var message = new HttpRequestMessage(HttpMethod.Post, address) { Content = new ByteArrayContent(body) };
        message.Content.Headers.ContentType = new MediaTypeHeaderValue(type);
        message.Headers.Add(StandardWebhooks.IdHeader, id);
        message.Headers.Add(StandardWebhooks.TimestampHeader, $"{seconds}");
        message.Headers.Add(StandardWebhooks.SignatureHeader, StandardWebhooks.Sign(secret, id, seconds, body));
        return message;
    }

    [LoggerMessage(2001, LogLevel.Warning, "The desk refused an order with {Status}: {Answer}")]
    private partial void Refused(int status, string answer);

    [LoggerMessage(2002, LogLevel.Warning, "The desk is away")]
    private partial void Away(Exception away);
}
