using System.Net.Http.Json;
using System.Text.Json;
using Outcry.Tests.World;

namespace Outcry.Server.Tests;

/// <summary>A signed-in member's client; every write carries the antiforgery token.</summary>
internal sealed class DeskClient(HttpClient http)
{
    public HttpClient Http { get; } = http;

    public static async Task<DeskClient> SignInAsync(HttpClient http, string email)
    {
        var client = new DeskClient(http);
        await client.TakeTokenAsync();
        using var answer = await http.PostAsJsonAsync("/api/session", new { email, password = TestWorld.Password });
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        await client.TakeTokenAsync();
        return client;
    }

    public async Task<JsonElement> GetAsync(string path) => await Http.GetFromJsonAsync<JsonElement>(path);

    public async Task<(HttpStatusCode Status, JsonElement Body)> SendAsync(
        HttpMethod method,
        string path,
        object? body = null
    )
    {
        using var message = new HttpRequestMessage(method, path)
        {
            Content = body is null ? null : JsonContent.Create(body),
        };
        using var answer = await Http.SendAsync(message);
        return (answer.StatusCode, await answer.JsonAsync());
    }

    /// <summary>Posts a body as it is.</summary>
    public async Task<(HttpStatusCode Status, JsonElement Body)> SendContentAsync(string path, HttpContent content)
    {
        using var answer = await Http.PostAsync(path, content);
        return (answer.StatusCode, await answer.JsonAsync());
    }

    public Task<(HttpStatusCode Status, JsonElement Body)> PostAsync(string path, object? body = null) =>
        SendAsync(HttpMethod.Post, path, body);

    /// <summary>Takes the antiforgery token that fits whoever is signed in now.</summary>
    public async Task TakeTokenAsync()
    {
        var session = await Http.GetFromJsonAsync<JsonElement>("/api/session");
        Http.DefaultRequestHeaders.Remove("X-Outcry-Antiforgery");
        Http.DefaultRequestHeaders.Add("X-Outcry-Antiforgery", session.Text("antiforgeryToken"));
    }
}

internal static class JsonReading
{
    public static string Text(this JsonElement element, string property) =>
        element.GetProperty(property).GetString() ?? "";

    public static async Task<JsonElement> JsonAsync(this HttpResponseMessage answer)
    {
        var text = await answer.Content.ReadAsStringAsync();
        // A file is not read here.
        return
            text.Length == 0
            || answer.Content.Headers.ContentType?.MediaType?.EndsWith("json", StringComparison.Ordinal) != true
            ? default
            : JsonSerializer.Deserialize<JsonElement>(text);
    }
}
