using System.Net.Http.Json;
using System.Text.Json;

namespace Outcry.Server.Tests;

public sealed class AccessTests(TestDesk desk)
{
    [Fact]
    public async Task Another_workspaces_member_finds_none_of_this_ones_endpoints()
    {
        var owner = await desk.OwnerAsync();
        var callout = await Moments.StartAsync(owner, desk, b => b);
        var (_, sent, _) = await new Sender(desk).SendAsync(Sender.Purchase("tenant"));
        var stranger = await desk.StrangerAsync();
        var document = await desk.Anonymous().GetFromJsonAsync<JsonElement>("/openapi/v1.json");
        var tried = 0;
        foreach (
            var path in document
                .GetProperty("paths")
                .EnumerateObject()
                .Where(p => p.Name.Contains("{siteId}", StringComparison.Ordinal))
        )
        foreach (
            var method in path
                .Value.EnumerateObject()
                .Where(m => m.Name is "get" or "post" or "put" or "delete" or "patch")
        )
        {
            foreach (var site in new[] { desk.World.Site.Id, desk.OtherSite.Id })
            {
                // On their own site, only what names something of ours is a trespass.
                if (
                    site == desk.OtherSite.Id
                    && !path.Name.Contains("Id}/", StringComparison.Ordinal) | path.Name.LastIndexOf('{') < 20
                )
                    continue;
                var address = path
                    .Name.Replace("{siteId}", $"{site}", StringComparison.Ordinal)
                    .Replace("{calloutId}", $"{callout}", StringComparison.Ordinal)
                    .Replace("{eventId}", sent.Text("id"), StringComparison.Ordinal)
                    .Replace("{sourceId}", $"{desk.World.Checkout.Id}", StringComparison.Ordinal);
                // What is named besides is nobody's; it must not be found either.
                address = System.Text.RegularExpressions.Regex.Replace(address, @"\{\w+Id\}", $"{Guid.NewGuid()}");
                if (
                    site == desk.OtherSite.Id
                    && !address.Contains($"{callout}", StringComparison.Ordinal)
                    && !address.Contains(sent.Text("id"), StringComparison.Ordinal)
                    && !address.Contains($"{desk.World.Checkout.Id}/", StringComparison.Ordinal)
                )
                    continue;
                var body = method.Name is "get" ? null : BodyFor(path.Name);
                var query = path.Name.EndsWith("rehearsal", StringComparison.Ordinal) ? "?path=/" : "";
                var (status, _) = await stranger.SendAsync(
                    new HttpMethod(method.Name.ToUpperInvariant()),
                    address + query,
                    body
                );
                Assert.True(status == HttpStatusCode.NotFound, $"{method.Name} {address} answered {status}");
                tried++;
            }
        }
        Assert.True(tried >= 20, $"only {tried} endpoints were tried");
    }

    internal static object BodyFor(string path) =>
        path.EndsWith("}/group", StringComparison.Ordinal) ? new { group = "x" }
        : path.EndsWith("draft", StringComparison.Ordinal)
            ? new
            {
                name = "x",
                version = 2,
                content = JsonSerializer.SerializeToElement(
                    Core.Briefs.StarterBrief.Moment(Core.Evidence.EventKind.Purchase, []),
                    Store.JsonColumn.Options
                ),
            }
        : new
        {
            // Everything that any endpoint asks for, so that none refuses for what is missing.
            version = 2,
            hosts = new[] { "x.test" },
            includes = Array.Empty<string>(),
            excludes = Array.Empty<string>(),
            name = "x",
            homeAddress = "http://x.test/",
            timeZone = "UTC",
            language = "en",
            kind = "fileImport",
            eventKind = "purchase",
            settings = new { },
            fields = new { },
            act = "delete",
            ids = Array.Empty<Guid>(),
            email = "a@b.example",
            events = Array.Empty<Guid>(),
            visitors = Array.Empty<string>(),
            deliveries = Array.Empty<Guid>(),
            foundBy = "name",
            query = "",
            text = "x",
            to = "a@b.example",
            address = "http://x.test/",
            upload = Guid.NewGuid(),
            source = Guid.NewGuid(),
            map = new
            {
                kind = "purchase",
                places = new { product = "x" },
                fields = new { },
                currency = "",
            },
            dryRun = true,
            sample = "{}",
            poll = new
            {
                address = "http://x.test",
                format = "json",
                listPointer = "",
                everyMinutes = 60,
                most = 1,
            },
        };

    [Fact]
    public async Task A_list_holds_only_ones_own_sites()
    {
        var stranger = await desk.StrangerAsync();
        Assert.Equal("Elsewhere", Assert.Single((await stranger.GetAsync("/api/sites")).EnumerateArray()).Text("name"));
    }

    [Fact]
    public async Task Nothing_of_the_desk_is_answered_to_nobody()
    {
        using var http = desk.Anonymous();
        using var answer = await http.GetAsync("/api/sites");
        Assert.Equal(HttpStatusCode.Unauthorized, answer.StatusCode);
        Assert.Equal("urn:outcry:problem:signed-out", (await answer.JsonAsync()).Text("type"));
    }

    [Fact]
    public async Task A_write_without_the_antiforgery_token_is_refused()
    {
        var owner = await desk.OwnerAsync();
        owner.Http.DefaultRequestHeaders.Remove("X-Outcry-Antiforgery");
        var (status, problem) = await owner.PostAsync($"/api/sites/{desk.World.Site.Id}/callouts", new { });
        Assert.Equal((HttpStatusCode.BadRequest, "urn:outcry:problem:antiforgery"), (status, problem.Text("type")));
    }

    [Fact]
    public async Task Cookies_and_headers_keep_the_desk_to_itself()
    {
        using var http = desk.Anonymous();
        using var page = await http.GetAsync("/");
        var policy = page.Headers.GetValues("Content-Security-Policy").Single();
        Assert.Contains("default-src 'self'", policy, StringComparison.Ordinal);
        Assert.Contains("frame-src 'none'", policy, StringComparison.Ordinal);
        Assert.DoesNotContain("unsafe", policy, StringComparison.Ordinal);
        Assert.Equal("nosniff", page.Headers.GetValues("X-Content-Type-Options").Single());
        using var session = await http.GetAsync("/api/session");
        Assert.All(session.Headers.GetValues("Set-Cookie"), c => Assert.Matches("(?i)httponly", c));
        Assert.All(session.Headers.GetValues("Set-Cookie"), c => Assert.Matches("(?i)samesite", c));
        var owner = await desk.OwnerAsync();
        using var framed = await owner.Http.GetAsync("/");
        Assert.Contains(
            "http://pots.test:5081",
            framed.Headers.GetValues("Content-Security-Policy").Single(),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task Only_owners_change_hosts_and_only_hosts_are_taken()
    {
        var path = $"/api/sites/{desk.World.Site.Id}/install/hosts";
        var editor = await desk.EditorAsync();
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await editor.SendAsync(HttpMethod.Put, path, new { hosts = new[] { "x.test" } })).Status
        );
        var owner = await desk.OwnerAsync();
        foreach (var bad in new[] { "https://x.test", "x.test/path", "a b", "*", "" })
            Assert.Equal(
                HttpStatusCode.BadRequest,
                (await owner.SendAsync(HttpMethod.Put, path, new { hosts = new[] { bad } })).Status
            );
        var good = await owner.SendAsync(
            HttpMethod.Put,
            path,
            new { hosts = new[] { "pots.test:5081", "*.pots.test" } }
        );
        Assert.Equal(HttpStatusCode.NoContent, good.Status);
    }

    [Fact]
    public async Task The_snippet_is_served_compressed_to_known_keys_only()
    {
        using var http = desk.Anonymous();
        http.DefaultRequestHeaders.AcceptEncoding.ParseAdd("br");
        using var known = await http.GetAsync($"/o/{desk.World.Site.Key}.js");
        Assert.Equal(HttpStatusCode.OK, known.StatusCode);
        Assert.Equal("br", known.Content.Headers.ContentEncoding.Single());
        Assert.InRange((await known.Content.ReadAsByteArrayAsync()).Length, 1_000, 9 * 1024);
        using var unknown = await http.GetAsync("/o/nosuchkey.js");
        Assert.Equal(HttpStatusCode.NotFound, unknown.StatusCode);
    }

    [Fact]
    public async Task A_write_in_the_wrong_content_type_is_told_so_and_an_unknown_address_is_not_found()
    {
        var owner = await desk.OwnerAsync();
        using var text = new StringContent("hosts", System.Text.Encoding.UTF8, "text/csv");
        using var wrong = await owner.Http.PutAsync($"/api/sites/{desk.World.Site.Id}/install/hosts", text);
        Assert.Equal(HttpStatusCode.UnsupportedMediaType, wrong.StatusCode);
        Assert.Equal("application/problem+json", wrong.Content.Headers.ContentType!.MediaType);
        using var unknown = await owner.Http.GetAsync("/api/nothing/here");
        Assert.Equal(HttpStatusCode.NotFound, unknown.StatusCode);
        Assert.Equal("application/problem+json", unknown.Content.Headers.ContentType!.MediaType);
    }

    [Fact]
    public async Task The_desks_files_are_served_for_ever_and_its_page_fresh()
    {
        using var http = desk.Anonymous();
        using var page = await http.GetAsync("/callouts");
        Assert.Equal("no-store", page.Headers.CacheControl!.ToString());
        var script = System
            .Text.RegularExpressions.Regex.Match(await page.Content.ReadAsStringAsync(), "/assets/[^\"]+\\.js")
            .Value;
        using var file = await http.GetAsync(script);
        Assert.Equal("text/javascript", file.Content.Headers.ContentType!.MediaType);
        Assert.Contains("immutable", file.Headers.CacheControl!.ToString(), StringComparison.Ordinal);
        Assert.Equal("nosniff", file.Headers.GetValues("X-Content-Type-Options").Single());
    }

    [Fact]
    public async Task Health_answers()
    {
        using var http = desk.Anonymous();
        Assert.Equal(HttpStatusCode.OK, (await http.GetAsync("/health/live")).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await http.GetAsync("/health/ready")).StatusCode);
    }
}
