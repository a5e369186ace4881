using System.Text.Json;

namespace Outcry.Server.Tests;

public sealed class InstallTests(TestDesk desk)
{
    private string Api => $"/api/sites/{desk.World.Site.Id}/install";

    /// <summary>Adds a host to the site's allowed ones, whatever others are there.</summary>
    internal static async Task AllowAsync(DeskClient owner, TestDesk desk, string host)
    {
        var install = await owner.GetAsync($"/api/sites/{desk.World.Site.Id}/install");
        var hosts = install.GetProperty("hosts").EnumerateArray().Select(h => h.GetString()).Append(host).Distinct();
        var (status, _) = await owner.SendAsync(
            HttpMethod.Put,
            $"/api/sites/{desk.World.Site.Id}/install/hosts",
            new { hosts }
        );
        Assert.Equal(HttpStatusCode.NoContent, status);
    }

    [Fact]
    public async Task A_new_site_waits_is_loaded_and_then_heard_host_by_host()
    {
        var owner = await desk.OwnerAsync();
        var (status, made) = await owner.PostAsync(
            $"/api/workspaces/{desk.World.Site.WorkspaceId}/sites",
            new
            {
                name = "Second kiln",
                homeAddress = "https://second.example/start",
                timeZone = "Europe/Berlin",
                language = "de",
            }
        );
        Assert.Equal(HttpStatusCode.Created, status);
        var install = $"/api/sites/{made.Text("id")}/install";
        Assert.Equal("waiting", (await owner.GetAsync(install)).Text("state"));
        using (var script = await desk.Anonymous().GetAsync($"/o/{made.Text("key")}.js"))
            Assert.Equal(HttpStatusCode.OK, script.StatusCode);
        Assert.NotEqual(JsonValueKind.Null, (await owner.GetAsync(install)).GetProperty("fetchedAt").ValueKind);

        using var wrong = await new Browser(desk).AskAsync(site: made.Text("key"), origin: "https://copy.example");
        Assert.Equal(HttpStatusCode.Forbidden, wrong.StatusCode);
        var refused = await owner.GetAsync(install);
        Assert.Equal(("wrongHost", "copy.example"), (refused.Text("state"), refused.Text("refusedHost")));

        await SpeakAsync(made.Text("key"), "https://second.example");
        var heard = await owner.GetAsync(install);
        Assert.Equal(
            ("heard", "second.example"),
            (heard.Text("state"), heard.GetProperty("hostsHeard")[0].Text("host"))
        );
    }

    [Fact]
    public async Task A_site_whose_host_has_letters_beyond_ascii_is_heard_and_its_desk_opens()
    {
        var owner = await desk.OwnerAsync();
        var name = $"b\u00fccher{Guid.NewGuid():N}"[..14];
        var (status, made) = await owner.PostAsync(
            $"/api/workspaces/{desk.World.Site.WorkspaceId}/sites",
            new
            {
                name,
                homeAddress = $"https://{name}.example/",
                timeZone = "Europe/Berlin",
                language = "de",
            }
        );
        Assert.Equal(HttpStatusCode.Created, status);
        // Its hosts stand in a header of every page of the desk, and a server refuses to send one of other letters.
        using (var session = await owner.Http.GetAsync("/api/session", TestContext.Current.CancellationToken))
            Assert.True(
                System.Text.Ascii.IsValid(session.Headers.GetValues("Content-Security-Policy").Single()),
                $"{session.Headers}"
            );
        var wire = new System.Globalization.IdnMapping().GetAscii($"{name}.example");
        await SpeakAsync(made.Text("key"), $"https://{wire}");
        var set = await owner.SendAsync(
            HttpMethod.Put,
            $"/api/sites/{made.Text("id")}/install/hosts",
            new { hosts = new[] { $"{name}.example", $"*.{name}.example" }, testHosts = Array.Empty<string>() }
        );
        Assert.True(set.Status == HttpStatusCode.NoContent, $"{set.Body}");
        await SpeakAsync(made.Text("key"), $"https://sale.{wire}");
    }

    private async Task SpeakAsync(string key, string origin)
    {
        using var answer = await new Browser(desk).SendAsync(
            "/v/plan",
            new
            {
                site = key,
                page = $"{origin}/",
                width = 800,
            },
            origin
        );
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
    }

    [Theory]
    [InlineData("", "https://x.example", "Europe/London", "en", "name")]
    [InlineData("X", "x.example", "Europe/London", "en", "homeAddress")]
    [InlineData("X", "ftp://x.example", "Europe/London", "en", "homeAddress")]
    [InlineData("X", "https://user@x.example", "Europe/London", "en", "homeAddress")]
    [InlineData("X", "https://x.example", "London", "en", "timeZone")]
    [InlineData("X", "https://x.example", "Europe/London", "english please", "language")]
    public async Task A_site_that_cannot_be_is_refused_at_its_field(
        string name,
        string homeAddress,
        string timeZone,
        string language,
        string field
    )
    {
        var (status, body) = await (await desk.OwnerAsync()).PostAsync(
            $"/api/workspaces/{desk.World.Site.WorkspaceId}/sites",
            new
            {
                name,
                homeAddress,
                timeZone,
                language,
            }
        );
        Assert.Equal((HttpStatusCode.BadRequest, field), (status, body.Text("field")));
        var editor = await (await desk.EditorAsync()).PostAsync(
            $"/api/workspaces/{desk.World.Site.WorkspaceId}/sites",
            new
            {
                name,
                homeAddress,
                timeZone,
                language,
            }
        );
        Assert.Equal(HttpStatusCode.Forbidden, editor.Status);
    }

    [Fact]
    public async Task A_host_is_for_visitors_or_for_trying_things_out()
    {
        var owner = await desk.OwnerAsync();
        var install = await owner.GetAsync(Api);
        var hosts = install.GetProperty("hosts").EnumerateArray().Select(h => h.GetString()).ToList();
        var (status, body) = await owner.SendAsync(HttpMethod.Put, $"{Api}/hosts", new { hosts, testHosts = hosts });
        Assert.Equal((HttpStatusCode.BadRequest, "testHosts"), (status, body.Text("field")));
    }

    [Fact]
    public async Task An_install_link_shows_the_line_without_an_account_and_nothing_to_whoever_made_it_up()
    {
        var (_, link) = await (await desk.EditorAsync()).PostAsync($"{Api}/install-link");
        var token = new Uri(link.Text("url")).Fragment[1..];
        using var shown = await desk.Anonymous().GetAsync($"/api/install-links/{token}");
        Assert.Equal(HttpStatusCode.OK, shown.StatusCode);
        Assert.Contains(desk.World.Site.Key, (await shown.JsonAsync()).Text("snippet"), StringComparison.Ordinal);
        foreach (var forged in new[] { token[..^2] + "xx", "nonsense", $"{desk.OtherSite.Key}~{token.Split('~')[1]}" })
        {
            using var refused = await desk.Anonymous().GetAsync($"/api/install-links/{forged}");
            Assert.Equal(HttpStatusCode.NotFound, refused.StatusCode);
        }
        // It opens the install page and nothing else: a browser that brings it is no member's.
        var plan = await new Browser(desk) { Token = token.Split('~')[1] }.PlanAsync("/shop");
        Assert.True(plan.GetProperty("counted").GetBoolean());
    }

    [Fact]
    public async Task The_line_is_handed_to_a_developer_by_mail()
    {
        var editor = await desk.EditorAsync();
        var (bad, _) = await editor.PostAsync($"{Api}/hand-over", new { to = "Wren <wren>", note = "" });
        Assert.Equal(HttpStatusCode.BadRequest, bad);
        var (status, body) = await editor.PostAsync(
            $"{Api}/hand-over",
            new { to = "wren@builders.example", note = "Before Friday, please." }
        );
        Assert.True(status == HttpStatusCode.OK, body.ToString());
        using var outside = new HttpClient();
        var mails = JsonSerializer.Deserialize<JsonElement>(
            await outside.GetStringAsync($"{desk.Outside}/mailbox.json")
        );
        var mail = mails.EnumerateArray().First(m => m.Text("to") == "wren@builders.example");
        Assert.Contains("Before Friday, please.", mail.Text("text"), StringComparison.Ordinal);
        Assert.Contains($"/o/{desk.World.Site.Key}.js", mail.Text("text"), StringComparison.Ordinal);
        Assert.Contains("/handed-over#", mail.Text("text"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_page_is_checked_for_the_line_its_policy_and_what_each_callout_would_do()
    {
        var owner = await desk.OwnerAsync();
        await AllowAsync(owner, desk, new Uri(desk.Outside).Authority);
        var callout = await Moments.StartAsync(
            owner,
            desk,
            b => b with { Where = new Core.Targeting.WhereFacet(["/checked/*"], [], [], Replaces: false) }
        );
        await Moments.PublishAsync(owner, desk, callout);
        var (_, seen) = await owner.PostAsync($"{Api}/check", new { address = $"{desk.Outside}/shop" });
        Assert.True(seen.GetProperty("hostAllowed").GetBoolean());
        Assert.Contains(
            seen.GetProperty("tests").EnumerateArray(),
            t => t.Text("name") == "Line" && t.Text("sentence").Contains("does not stand", StringComparison.Ordinal)
        );
        var verdict = seen.GetProperty("callouts").EnumerateArray().Single(c => c.Text("id") == callout.ToString());
        Assert.False(verdict.GetProperty("shows").GetBoolean());
        Assert.Contains("does not match", verdict.Text("sentence"), StringComparison.Ordinal);
        var (_, foreign) = await owner.PostAsync($"{Api}/check", new { address = "http://169.254.169.254/latest" });
        Assert.False(foreign.GetProperty("hostAllowed").GetBoolean());
        Assert.Equal("Host", foreign.GetProperty("tests")[0].Text("name"));
    }

    [Fact]
    public async Task Traffic_is_counted_by_visitor_from_the_first_page_view_and_tests_apart()
    {
        var owner = await desk.OwnerAsync();
        var before = await owner.GetAsync($"/api/sites/{desk.World.Site.Id}/traffic");
        var visitor = new Browser(desk);
        await visitor.PlanAsync("/workshops/raku-day");
        for (var i = 0; i < 3; i++)
            await visitor.TellAsync([new { id = Guid.NewGuid(), kind = "view" }], path: "/workshops/raku-day");
        var after = await owner.GetAsync($"/api/sites/{desk.World.Site.Id}/traffic");
        var (was, now) = (Workshops(before), Workshops(after));
        Assert.Equal(was.Views + 3, now.Views);
        Assert.Equal(was.Visitors + 1, now.Visitors);
        Assert.True(now.Here >= 1);

        static (int Views, int Visitors, int Here) Workshops(JsonElement traffic)
        {
            var group = traffic.GetProperty("groups").EnumerateArray().Single(g => g.Text("name") == "Workshops");
            var hour = group.GetProperty("hour");
            return (
                hour.GetProperty("views").GetInt32(),
                hour.GetProperty("visitors").GetInt32(),
                group.GetProperty("now").GetInt32()
            );
        }
    }
}
