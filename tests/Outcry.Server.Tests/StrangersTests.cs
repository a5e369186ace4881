using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Outcry.Core.Evidence;
using Outcry.Core.Planning;
using Outcry.Core.Visitors;
using Outcry.Server.Intake;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.Tests;

/// <summary>A desk of its own: what these tests send would be in the way of others.</summary>
public sealed class StrangersDesk : TestDesk;

/// <summary>What anybody can send without an account, and what must not come of it.</summary>
public sealed class StrangersTests(StrangersDesk desk) : IClassFixture<StrangersDesk>
{
    private string Api => $"/api/sites/{desk.World.Site.Id}";

    private LiveSite Live => desk.Services.GetRequiredService<LiveSites>().GetById(desk.World.Site.Id);

    private Task<HttpResponseMessage> TellAsync(
        Browser browser,
        object more,
        string page = "/quote",
        string origin = TestDesk.SiteOrigin
    )
    {
        var body = JsonSerializer.SerializeToNode(more)!.AsObject();
        body["site"] = desk.World.Site.Key;
        body["page"] = origin + page;
        body["width"] = 1280;
        body["passport"] = browser.Passport;
        return browser.SendAsync("/v/signals", body, origin);
    }

    private static object View() =>
        new
        {
            id = Guid.NewGuid(),
            kind = "view",
            value = 0,
        };

    private async Task<Browser> VisitorAsync(string page = "/quote")
    {
        var browser = new Browser(desk);
        await browser.PlanAsync(page);
        return browser;
    }

    /// <summary>A source that named events of pages go to, and its name.</summary>
    private async Task<(Guid Source, string Name)> ScriptAsync()
    {
        var name = $"ring_{Guid.NewGuid():N}";
        var source = await new Listening(desk, await desk.OwnerAsync()).AddAsync(
            "pageScript",
            "own",
            new
            {
                script = new
                {
                    names = new[] { name },
                    basketSelector = "",
                    productSelector = "h1",
                },
            }
        );
        return (source.GetProperty("id").GetGuid(), name);
    }

    private static object Track(string name, object? data = null) =>
        new
        {
            track = new[]
            {
                new
                {
                    id = Guid.NewGuid(),
                    name,
                    data = data ?? new { email = $"{Guid.NewGuid():N}@post.example" },
                },
            },
        };

    // Texts that are none, as browsers and senders can write them: each in JSON's own spelling.
    private static readonly string[] HostileJson =
    [
        "\\u0000",
        "\\ud800",
        "\\udc00x",
        "\\ufffe",
        "\\ufdd0",
        "\\u202eevil",
        "Z" + string.Concat(Enumerable.Repeat("\\u0335", 400)),
        "\\u200b",
    ];

    [Fact]
    public async Task Four_hostile_senders_take_no_signal_of_anybody_else_with_them()
    {
        var hostile = HostileJson.Select(async text =>
        {
            var browser = await VisitorAsync();
            for (var i = 0; i < 5; i++)
            {
                var body =
                    $$$"""{"site":"{{{desk.World.Site.Key}}}","page":"{{{TestDesk.SiteOrigin}}}/quote?utm_source={{{text}}}","width":1280,"passport":"{{{browser.Passport}}}","signals":[{"id":"{{{Guid.NewGuid()}}}","kind":"view","value":0}],"identify":{"data":{"plan":"{{{text}}}"}},"found":[{"key":"{{{text}}}","fields":[]}]}""";
                using var answer = await RawAsync("/v/signals", body);
                Assert.True((int)answer.StatusCode < 500, $"{text}: {answer.StatusCode}");
                var plan =
                    $$$"""{"site":"{{{desk.World.Site.Key}}}","page":"{{{TestDesk.SiteOrigin}}}/a%00b","width":1280,"referrer":"https://x.test/{{{text}}}","languages":["{{{text}}}"],"attributes":{"a":"{{{text}}}"}}""";
                using var planned = await RawAsync("/v/plan", plan);
                Assert.True((int)planned.StatusCode < 500, $"{text}: {planned.StatusCode}");
            }
        });
        var honest = Enumerable
            .Range(0, 12)
            .Select(async _ =>
            {
                var browser = await VisitorAsync("/shop");
                for (var i = 0; i < 10; i++)
                {
                    using var answer = await browser.TellAsync([View()]);
                    Assert.Equal(HttpStatusCode.Accepted, answer.StatusCode);
                }
            });
        await Task.WhenAll(hostile.Concat(honest));
    }

    private async Task<HttpResponseMessage> RawAsync(string path, string body)
    {
        using var message = new HttpRequestMessage(HttpMethod.Post, path)
        {
            Content = new StringContent(body, Encoding.UTF8, "text/plain"),
        };
        message.Headers.Add("Origin", TestDesk.SiteOrigin);
        message.Headers.TryAddWithoutValidation("User-Agent", new Browser(desk).UserAgent);
        return await desk.Anonymous().SendAsync(message);
    }

    [Fact]
    public async Task Texts_that_are_none_reach_the_ledger_mended_by_every_way_in()
    {
        var owner = await desk.OwnerAsync();
        var listening = new Listening(desk, owner);
        object map = new
        {
            kind = "purchase",
            places = new
            {
                id = "/no",
                firstName = "/who",
                product = "/item",
            },
            fields = new { },
        };
        var source = await listening.AddAsync("signedWebhook", "purchase", new { map });
        var number = 0;
        foreach (var text in HostileJson)
        {
            var (status, body) = await Listening.PostAsync(
                desk.Anonymous(),
                source.Text("id"),
                source.Text("secret"),
                $$"""{"no":"n{{number++}}{{text}}","who":"Noor{{text}}","item":"Bowl {{text}}"}"""
            );
            Assert.True(status == HttpStatusCode.Accepted, $"{text}: {status} {body}");
        }
        var events = await listening.EventsAsync(source.Text("id"));
        Assert.Equal(HostileJson.Length, events.Count);
        Assert.All(events, e => Assert.Equal(PlainTextOf(Listening.Said(e)), Listening.Said(e)));
        // Only what cannot be seen is no name at all.
        var (refused, problem) = await Listening.PostAsync(
            desk.Anonymous(),
            source.Text("id"),
            source.Text("secret"),
            """{"no":"n-none","who":"Noor","item":"\u200b\u2060"}"""
        );
        Assert.Equal((HttpStatusCode.BadRequest, "/item"), (refused, problem.Text("field")));

        static string PlainTextOf(string said) => Core.Care.PlainText.Clean(said);
    }

    [Theory]
    [InlineData("""{"languages":[null]}""", "languages")]
    [InlineData("""{"log":[null]}""", "log")]
    public async Task An_empty_entry_of_a_list_is_answered_so_that_the_page_can_read_it(string part, string field)
    {
        var body = JsonNode.Parse(part)!.AsObject();
        (body["site"], body["page"], body["width"]) = (desk.World.Site.Key, $"{TestDesk.SiteOrigin}/shop", 1280);
        using var answer = await new Browser(desk).SendAsync("/v/plan", body, TestDesk.SiteOrigin);
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Equal(TestDesk.SiteOrigin, answer.Headers.GetValues("Access-Control-Allow-Origin").Single());
        Assert.Equal(field, (await answer.JsonAsync()).Text("field"));
    }

    [Theory]
    [InlineData("""{"signals":[null]}""")]
    [InlineData("""{"track":[null]}""")]
    [InlineData("""{"found":[null]}""")]
    [InlineData("""{"found":[{"key":"k","fields":[null]}]}""")]
    public async Task An_empty_entry_of_a_report_is_refused_too(string part)
    {
        using var answer = await TellAsync(await VisitorAsync(), JsonNode.Parse(part)!);
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.True(answer.Headers.Contains("Access-Control-Allow-Origin"));
    }

    [Fact]
    public async Task Keys_said_twice_are_no_trouble()
    {
        var body =
            $$"""{"site":"{{desk.World.Site.Key}}","page":"{{TestDesk.SiteOrigin}}/shop","width":1280,"attributes":{"plan":"a","plan":"b"," plan":"c","Plan":"d"},"width":1280}""";
        using var answer = await RawAsync("/v/plan", body);
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
    }

    [Fact]
    public async Task One_browser_can_say_only_so_much_and_the_rest_is_refused_in_words()
    {
        var (source, name) = await ScriptAsync();
        var browser = await VisitorAsync();
        var answers = new List<HttpStatusCode>();
        for (var i = 0; i < 30; i++)
        {
            using var answer = await TellAsync(browser, Track(name));
            answers.Add(answer.StatusCode);
            if (answer.StatusCode == HttpStatusCode.TooManyRequests)
                Assert.Contains(
                    "more",
                    (await answer.JsonAsync()).Text("title") + (await answer.JsonAsync()).Text("detail"),
                    StringComparison.OrdinalIgnoreCase
                );
        }
        // A minute can turn over meanwhile.
        Assert.InRange(answers.Count(a => a == HttpStatusCode.Accepted), 1, 20);
        Assert.Contains(HttpStatusCode.TooManyRequests, answers);
        await using var db = desk.Database.Open();
        Assert.Equal(
            answers.Count(a => a == HttpStatusCode.Accepted),
            await db.Events.CountAsync(e => e.SourceId == source)
        );
    }

    [Fact]
    public async Task Many_more_at_once_than_a_site_ever_has_wait_for_a_look_and_are_shown_to_nobody()
    {
        var (source, name) = await ScriptAsync();
        for (var i = 0; i < 30; i++)
        {
            using var answer = await TellAsync(await VisitorAsync(), Track(name));
            Assert.Equal(HttpStatusCode.Accepted, answer.StatusCode);
        }
        await using var db = desk.Database.Open();
        var rows = await db.Events.Where(e => e.SourceId == source).ToListAsync();
        Assert.Equal(30, rows.Count);
        Assert.InRange(rows.Count(r => r.State == EventState.Usable), 1, 40);
        var held = rows.Where(r => r.State == EventState.Held).ToList();
        Assert.NotEmpty(held);
        Assert.All(held, h => Assert.Equal("many more at once than usual", h.HeldBecause));
    }

    [Fact]
    public async Task A_robot_is_told_thank_you_and_nothing_of_it_is_kept()
    {
        var (source, name) = await ScriptAsync();
        var robot = await VisitorAsync();
        robot.UserAgent = "Wget/1.21.3";
        using var answer = await TellAsync(
            robot,
            new
            {
                track = new[] { new { id = Guid.NewGuid(), name } },
                identify = new { data = new { plan = "robot" } },
                found = new[] { new { key = $"robot-{source}", fields = Array.Empty<object>() } },
                form = new
                {
                    id = Guid.NewGuid(),
                    source = desk.World.Newsletter.Id,
                    fields = new { email = "robot@post.example" },
                },
                signals = new[] { View() },
            }
        );
        Assert.Equal(HttpStatusCode.Accepted, answer.StatusCode);
        await using var db = desk.Database.Open();
        Assert.False(await db.Events.AnyAsync(e => e.SourceId == source || e.VisitorId == robot.Visitor));
        Assert.False(await db.FoundForms.AnyAsync(f => f.Key == $"robot-{source}"));
        Assert.False(await db.Visitors.AnyAsync(v => v.VisitorId == robot.Visitor));
    }

    [Fact]
    public async Task What_happens_on_a_page_happens_on_a_page_view_that_was_planned()
    {
        var (source, name) = await ScriptAsync();
        var browser = await VisitorAsync("/quote");
        using var elsewhere = await TellAsync(browser, Track(name), "/shop/moon-jar");
        Assert.Equal(HttpStatusCode.Forbidden, elsewhere.StatusCode);
        Assert.Equal("urn:outcry:problem:page-view", (await elsewhere.JsonAsync()).Text("type"));
        using var made = await TellAsync(new Browser(desk) { Passport = "made.up" }, Track(name));
        Assert.Equal(HttpStatusCode.BadRequest, made.StatusCode);
        using var here = await TellAsync(browser, Track(name));
        Assert.Equal(HttpStatusCode.Accepted, here.StatusCode);
        await using var db = desk.Database.Open();
        Assert.Equal(1, await db.Events.CountAsync(e => e.SourceId == source));
    }

    [Fact]
    public async Task Of_an_address_nothing_is_kept_that_nobody_asked_for()
    {
        const string secret = "s3cr3t-0f-a-reset";
        var owner = await desk.OwnerAsync();
        var page = $"/reset/ring?token={secret}&email=noor%40{secret}.example#access_token={secret}";
        var browser = new Browser(desk);
        await browser.PlanAsync(page);
        using var told = await browser.TellAsync([View()], path: page);
        Assert.Equal(HttpStatusCode.Accepted, told.StatusCode);
        var (source, name) = await ScriptAsync();
        using var tracked = await TellAsync(browser, Track(name), page);
        Assert.Equal(HttpStatusCode.Accepted, tracked.StatusCode);
        var order = Sender.Purchase($"secret-{source}");
        order["data"]!["page"] = TestDesk.SiteOrigin + page;
        await new Sender(desk).SendAsync(order);

        var (_, link) = await owner.PostAsync($"{Api}/install/install-link");
        var seen = new List<string>
        {
            await desk.Anonymous().GetStringAsync($"/api/install-links/{new Uri(link.Text("url")).Fragment[1..]}"),
            (await owner.GetAsync($"{Api}/install")).ToString(),
            (await owner.GetAsync($"{Api}/visitors/{browser.Visitor}")).ToString(),
            (await owner.GetAsync($"{Api}/events?hours=24")).ToString(),
            (await owner.GetAsync($"{Api}/traffic")).ToString(),
        };
        Assert.All(seen, s => Assert.DoesNotContain(secret, s, StringComparison.Ordinal));
        await using var db = desk.Database.Open();
        Assert.False(await db.Events.AnyAsync(e => e.Page != null && e.Page.Contains(secret)));
        var stored = await db
            .Database.SqlQuery<string>(
                $"select path || coalesce(query, '') as \"Value\" from signals where visitor_id = {browser.Visitor}"
            )
            .ToListAsync();
        Assert.NotEmpty(stored);
        Assert.All(stored, s => Assert.DoesNotContain(secret, s, StringComparison.Ordinal));
    }

    [Fact]
    public async Task What_looks_private_is_masked_whatever_it_is_called_and_what_nobody_mapped_is_not_kept()
    {
        var owner = await desk.OwnerAsync();
        // Somebody asks for these three by a rule; nobody for the fourth.
        var (made, segment) = await owner.PostAsync(
            $"{Api}/segments",
            new
            {
                name = $"Told {Guid.NewGuid():N}",
                rule = JsonSerializer.SerializeToElement<VisitorRule>(
                    new AnyOf([
                        .. new[] { "Kontakt", "contact_name", "plan" }.Select(
                            VisitorRule (a) => new FactTest(VisitorFact.Attribute, FactComparison.Is, "x", a)
                        ),
                    ]),
                    JsonColumn.Options
                ),
            }
        );
        Assert.True(made == HttpStatusCode.Created, $"{segment}");
        var browser = await VisitorAsync();
        using var answer = await TellAsync(
            browser,
            new
            {
                identify = new
                {
                    data = new Dictionary<string, string>
                    {
                        ["EMail"] = "Noor.Haddad@post.example",
                        ["Kontakt"] = "noor.haddad@post.example",
                        ["contact_name"] = "Noor Haddad",
                        ["plan"] = "studio",
                        ["street"] = "12 Kiln Lane",
                        ["note"] = "call +44 7700 900123",
                    },
                },
            }
        );
        Assert.Equal(HttpStatusCode.Accepted, answer.StatusCode);
        await using var db = desk.Database.Open();
        var kept = (await db.Visitors.SingleAsync(v => v.VisitorId == browser.Visitor)).Attributes;
        var all = JsonSerializer.Serialize(kept);
        foreach (var clear in new[] { "Haddad", "haddad", "Kiln Lane", "900123", "street", "note" })
            Assert.DoesNotContain(clear, all, StringComparison.Ordinal);
        Assert.Equal("studio", kept["plan"]);
        await owner.SendAsync(HttpMethod.Delete, $"{Api}/segments/{segment.Text("id")}");
    }

    [Fact]
    public async Task Hosts_that_are_made_up_under_a_wildcard_fill_no_store()
    {
        var owner = await desk.OwnerAsync();
        await InstallTests.AllowAsync(owner, desk, "*.pots.test");
        for (var i = 0; i < 260; i++)
        {
            var origin = $"http://x{i}.pots.test";
            using var answer = await new Browser(desk).SendAsync(
                "/v/plan",
                new
                {
                    site = desk.World.Site.Key,
                    page = $"{origin}/",
                    width = 1280,
                },
                origin
            );
            Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        }
        Assert.InRange(Live.Hearing.Hosts.Count, 1, SiteHearing.MostHosts);
        await Task.Delay(4_000);
        await using var db = desk.Database.Open();
        Assert.InRange(await db.HeardHosts.CountAsync(h => h.SiteId == desk.World.Site.Id), 1, SiteHearing.MostHosts);
    }

    [Fact]
    public async Task Forms_that_are_made_up_keep_out_no_true_one()
    {
        var forms = desk.Services.GetRequiredService<FoundForms>();
        var now = NodaTime.SystemClock.Instance.GetCurrentInstant();
        for (var i = 0; i < 510; i++)
            await forms.KeepAsync(
                Live,
                $"junk-{i}",
                "/junk",
                [],
                now - NodaTime.Duration.FromMinutes(600 - i),
                default
            );
        var browser = await VisitorAsync();
        var key = $"true-{Guid.NewGuid():N}";
        using var answer = await TellAsync(
            browser,
            new
            {
                found = new[]
                {
                    new
                    {
                        key,
                        fields = new[]
                        {
                            new
                            {
                                name = "email",
                                type = "email",
                                label = "",
                            },
                        },
                    },
                },
            }
        );
        Assert.Equal(HttpStatusCode.Accepted, answer.StatusCode);
        await using var db = desk.Database.Open();
        var kept = await db.FoundForms.Where(f => f.SiteId == desk.World.Site.Id).Select(f => f.Key).ToListAsync();
        Assert.Contains(key, kept);
        Assert.DoesNotContain("junk-0", kept);
        Assert.InRange(kept.Count, 500, 505);
        await db.FoundForms.Where(f => f.Path == "/junk").ExecuteDeleteAsync();
    }

    [Fact]
    public async Task The_snippets_files_answer_to_HEAD_and_to_what_may_not_be_packed()
    {
        using var http = desk.Anonymous();
        using var head = await http.SendAsync(new HttpRequestMessage(HttpMethod.Head, $"/o/{desk.World.Site.Key}.js"));
        Assert.Equal(HttpStatusCode.OK, head.StatusCode);
        Assert.Empty(await head.Content.ReadAsByteArrayAsync());
        using var message = new HttpRequestMessage(HttpMethod.Get, $"/o/{desk.World.Site.Key}.js");
        message.Headers.TryAddWithoutValidation("Accept-Encoding", "br;q=0, gzip;q=0");
        using var plain = await http.SendAsync(message);
        Assert.Empty(plain.Content.Headers.ContentEncoding);
        Assert.StartsWith("(function", await plain.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Every_answer_says_what_it_is_and_that_it_is_kept_nowhere()
    {
        var owner = await desk.OwnerAsync();
        using var planned = await new Browser(desk).AskAsync();
        using var refused = await new Browser(desk).AskAsync(site: "nosuchkey");
        using var hook = await desk.Anonymous().PostAsync($"/in/{Guid.NewGuid()}", new StringContent("{}"));
        using var sites = await owner.Http.GetAsync("/api/sites");
        using var nobody = await desk.Anonymous().GetAsync("/api/sites");
        using var health = await desk.Anonymous().GetAsync("/health/ready");
        foreach (var answer in new[] { planned, refused, hook, sites, nobody, health })
        {
            Assert.Equal("nosniff", answer.Headers.GetValues("X-Content-Type-Options").Single());
            Assert.True(answer.Headers.CacheControl!.NoStore, $"{answer.RequestMessage!.RequestUri}");
        }
    }

    [Fact]
    public async Task Behind_TLS_every_cookie_is_for_TLS_only_and_the_browser_is_told_to_stay_there()
    {
        using var http = desk.Server.CreateClient();
        http.BaseAddress = new Uri("https://desk.test");
        using var answer = await http.GetAsync("/api/session");
        Assert.All(answer.Headers.GetValues("Set-Cookie"), c => Assert.Matches("(?i); secure", c));
        Assert.Contains(
            "max-age",
            answer.Headers.GetValues("Strict-Transport-Security").Single(),
            StringComparison.Ordinal
        );
    }

    [Theory]
    [InlineData("::7f00:1")]
    [InlineData("::a00:1")]
    [InlineData("::ffff:0:a00:1")]
    [InlineData("3fff::1")]
    [InlineData("5f00::1")]
    [InlineData("192.88.99.1")]
    [InlineData("198.18.0.1")]
    [InlineData("240.0.0.1")]
    [InlineData("255.255.255.255")]
    [InlineData("2001:db8::1")]
    [InlineData("ff02::1")]
    [InlineData("64:ff9b:1::1")]
    [InlineData("100::1")]
    public void Addresses_that_are_nobodys_public_ones_are_not_fetched(string address) =>
        Assert.True(SafeFetch.IsPrivate(IPAddress.Parse(address)));

    private sealed record Row(string Cell);

    [Theory]
    [InlineData("＝HYPERLINK(1)")]
    [InlineData("＋1")]
    [InlineData("－1")]
    [InlineData("＠x")]
    [InlineData("=1")]
    [InlineData("\t=1")]
    public void A_cell_that_a_spreadsheet_would_work_out_is_text(string cell)
    {
        using var text = new StringWriter();
        using (var csv = new CsvHelper.CsvWriter(text, CsvSafe.Settings))
            csv.WriteRecords([new Row(cell)]);
        Assert.StartsWith("'", text.ToString().Split("\r\n", 2)[1].TrimStart('"'), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("2001:db8:1:2::1", "2001:db8:1:2:ffff::9", true)]
    [InlineData("2001:db8:1:2::1", "2001:db8:1:3::1", false)]
    [InlineData("192.0.2.1", "192.0.2.2", false)]
    [InlineData("::ffff:192.0.2.1", "192.0.2.1", true)]
    public void A_sender_is_its_network_block(string one, string other, bool same) =>
        Assert.Equal(same, AddressBlock.Of(IPAddress.Parse(one)) == AddressBlock.Of(IPAddress.Parse(other)));

    [Fact]
    public async Task A_passport_of_a_trial_visit_counts_for_nothing_without_its_token()
    {
        var owner = await desk.OwnerAsync();
        var callout = await Moments.StartAsync(owner, desk, b => b);
        await Moments.PublishAsync(owner, desk, callout);
        var (status, trial) = await owner.PostAsync($"{Api}/trials", new { path = "/shop", visitor = new { } });
        Assert.True(status == HttpStatusCode.OK, $"{trial}");
        var visitor = new Browser(desk) { Token = trial.Text("address").Split("#outcry=")[1] };
        var plan = await visitor.PlanAsync();
        Assert.False(plan.GetProperty("counted").GetBoolean());
        var thief = new Browser(desk) { Passport = visitor.Passport };
        using var told = await thief.TellAsync([View()]);
        Assert.Equal(HttpStatusCode.Accepted, told.StatusCode);
        await using var db = desk.Database.Open();
        var counted = await db
            .Database.SqlQuery<long>(
                $"select count(*) as \"Value\" from signals where visitor_id = {visitor.Visitor} and not is_test"
            )
            .SingleAsync();
        Assert.Equal(0, counted);
    }

    [Fact]
    public async Task An_order_that_a_form_and_a_webhook_tell_in_the_same_instant_counts_once()
    {
        for (var round = 0; round < 8; round++)
        {
            var email = $"same-{Guid.NewGuid():N}@post.example";
            var browser = await VisitorAsync();
            var form = TellAsync(
                browser,
                new
                {
                    form = new
                    {
                        id = Guid.NewGuid(),
                        source = desk.World.Newsletter.Id,
                        fields = new { first_name = "Elin", email },
                    },
                }
            );
            var twin = TellAsync(
                browser,
                new
                {
                    form = new
                    {
                        id = Guid.NewGuid(),
                        source = desk.World.Newsletter.Id,
                        fields = new { first_name = "Elin", email },
                    },
                }
            );
            await Task.WhenAll(form, twin);
            await using var db = desk.Database.Open();
            var states = await db.Events.Where(e => e.VisitorId == browser.Visitor).Select(e => e.State).ToListAsync();
            Assert.Equal(2, states.Count);
            Assert.Single(states, s => s != EventState.Duplicate);
        }
    }

    [Fact]
    public void Visitors_links_and_persons_have_keys_of_their_own()
    {
        var row = desk.World.Site;
        Assert.False(row.PassportKey.AsSpan().SequenceEqual(row.LinkKey));
        Assert.False(row.PassportKey.AsSpan().SequenceEqual(row.PersonKey));
        Assert.False(row.LinkKey.AsSpan().SequenceEqual(row.PersonKey));
    }
}
