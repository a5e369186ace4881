using System.Text.Json;

namespace Outcry.Server.Tests;

/// <summary>What the snippet asks and tells, as one visitor's browser.</summary>
internal sealed class Browser(TestDesk desk)
{
    private readonly HttpClient _http = desk.Anonymous();

    public string? Passport { get; set; }

    public string? Token { get; set; }

    public string Visitor { get; private set; } = "";

    /// <summary>A person's browser, unless a test says otherwise.</summary>
    public string UserAgent { get; set; } =
        "Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/156.0.0.0 Safari/537.36";

    /// <summary>What it says in Accept-Language; empty for nothing.</summary>
    public string Languages { get; init; } = "";

    public async Task<JsonElement> PlanAsync(string path = "/shop", object[]? log = null)
    {
        using var answer = await AskAsync(path, log);
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        var plan = await answer.JsonAsync();
        Take(plan);
        return plan;
    }

    /// <summary>Takes what a plan gives the browser to carry.</summary>
    public void Take(JsonElement plan) => (Passport, Visitor) = (plan.Text("passport"), plan.Text("visitor"));

    public Task<HttpResponseMessage> AskAsync(
        string path = "/shop",
        object[]? log = null,
        string? site = null,
        string origin = TestDesk.SiteOrigin
    ) =>
        SendAsync(
            "/v/plan",
            new
            {
                site = site ?? desk.World.Site.Key,
                page = TestDesk.SiteOrigin + path,
                width = 1280,
                passport = Passport,
                token = Token,
                log = log ?? [],
            },
            origin
        );

    /// <summary>Asks for the plan of a page of the desk's own.</summary>
    public Task<HttpResponseMessage> AskAtAsync(string address) =>
        SendAsync(
            "/v/plan",
            new
            {
                site = desk.World.Site.Key,
                page = address,
                width = 1280,
                token = Token,
                log = Array.Empty<object>(),
            },
            TestDesk.Origin
        );

    public Task<HttpResponseMessage> TellAsync(object[] signals, object? form = null, string path = "/shop") =>
        SendAsync(
            "/v/signals",
            new
            {
                site = desk.World.Site.Key,
                page = TestDesk.SiteOrigin + path,
                width = 1280,
                passport = Passport,
                signals,
                form,
            },
            TestDesk.SiteOrigin
        );

    /// <summary>Gives a sign of life of an open page; what is no longer live comes back.</summary>
    public async Task<List<Guid>> AliveAsync(string path, params Guid[] on)
    {
        using var answer = await SendAsync(
            "/v/alive",
            new
            {
                site = desk.World.Site.Key,
                page = TestDesk.SiteOrigin + path,
                passport = Passport,
                on,
            },
            TestDesk.SiteOrigin
        );
        answer.EnsureSuccessStatusCode();
        return [.. (await answer.JsonAsync()).GetProperty("over").EnumerateArray().Select(o => o.GetGuid())];
    }

    /// <summary>Says which of the places asked about the page has.</summary>
    public async Task SayPlacesAsync(string path, string[] found, string[] inView)
    {
        using var answer = await SendAsync(
            "/v/signals",
            new
            {
                site = desk.World.Site.Key,
                page = TestDesk.SiteOrigin + path,
                width = 1280,
                passport = Passport,
                places = new { found, inView },
            },
            TestDesk.SiteOrigin
        );
        answer.EnsureSuccessStatusCode();
    }

    /// <summary>Reports something beside the page view's own signals.</summary>
    public Task<HttpResponseMessage> ReportAsync(string path, object what)
    {
        var body = JsonSerializer.SerializeToNode(what)!.AsObject();
        (body["site"], body["page"], body["width"]) = (desk.World.Site.Key, TestDesk.SiteOrigin + path, 1280);
        body["passport"] = Passport;
        return SendAsync("/v/signals", body, TestDesk.SiteOrigin);
    }

    public async Task<HttpResponseMessage> SendAsync(string path, object body, string origin)
    {
        using var message = new HttpRequestMessage(HttpMethod.Post, path)
        {
            Content = new StringContent(JsonSerializer.Serialize(body), System.Text.Encoding.UTF8, "text/plain"),
        };
        message.Headers.Add("Origin", origin);
        if (UserAgent.Length > 0)
            message.Headers.TryAddWithoutValidation("User-Agent", UserAgent);
        if (Languages.Length > 0)
            message.Headers.TryAddWithoutValidation("Accept-Language", Languages);
        return await _http.SendAsync(message);
    }

    public static List<Guid> Cues(JsonElement plan) =>
        [.. plan.GetProperty("cues").EnumerateArray().Select(c => c.GetProperty("id").GetGuid())];

    public static string Said(JsonElement cue) =>
        string.Concat(cue.GetProperty("turns")[0].GetProperty("spans").EnumerateArray().Select(s => s.Text("t")));
}

/// <summary>Waits for what happens within a moment and not at once.</summary>
internal static class Eventually
{
    public static async Task<T> GetAsync<T>(Func<Task<T>> ask, Func<T, bool> good)
    {
        for (var attempt = 0; ; attempt++)
        {
            var got = await ask();
            if (good(got))
                return got;
            Assert.True(attempt < 200, "It did not come about within twenty seconds.");
            await Task.Delay(100);
        }
    }
}
