using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Greetings;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;
using Outcry.Tests.World;

namespace Outcry.Server.Tests;

/// <summary>Launchers through the desk's endpoints and the snippet's doors.</summary>
public sealed class LauncherTests(TestDesk desk)
{
    private string Api => $"/api/sites/{desk.World.Site.Id}/launchers";

    private LiveSite Site => desk.Services.GetRequiredService<LiveSites>().GetById(desk.World.Site.Id);

    private static LauncherBrief Brief(string page, Func<LauncherBrief, LauncherBrief>? vary = null)
    {
        var begin = LauncherStarter.Launcher("Europe/London", "#9C3517", "#FFFFFF");
        // Open at all hours, so that no test hangs on when it runs.
        var brief = begin with
        {
            Where = new WhereFacet([page], [], [], Replaces: false),
            Hours = begin.Hours with { Week = [] },
        };
        return vary is null ? brief : vary(brief);
    }

    private static object Body(LauncherBrief brief, int version) =>
        new
        {
            name = "Ask the tests",
            content = JsonSerializer.SerializeToElement(brief, JsonColumn.Options),
            version,
        };

    private async Task<(DeskClient Owner, Guid Id)> StartAsync(LauncherBrief brief)
    {
        var owner = await desk.OwnerAsync();
        var (status, made) = await owner.PostAsync(Api);
        Assert.Equal(HttpStatusCode.Created, status);
        var id = made.GetProperty("id").GetGuid();
        var (saved, _) = await owner.SendAsync(HttpMethod.Put, $"{Api}/{id}/draft", Body(brief, 1));
        Assert.Equal(HttpStatusCode.OK, saved);
        return (owner, id);
    }

    private async Task<(DeskClient Owner, Guid Id)> LiveAsync(LauncherBrief brief)
    {
        var (owner, id) = await StartAsync(brief);
        var (status, body) = await owner.PostAsync($"{Api}/{id}/publish", new { version = 2 });
        Assert.True(status == HttpStatusCode.OK, $"{body}");
        await Eventually.GetAsync(() => Task.FromResult(Site.Compiled.ContainsKey(id)), there => there);
        return (owner, id);
    }

    private static Channel Reach(ChannelKind kind, string target) =>
        new(Guid.CreateVersion7(), kind, target, "", "", "", "", [], ChannelHours.Always, [], [], [], NewWindow: false);

    [Fact]
    public async Task A_new_one_begins_with_words_a_way_to_write_and_hours_and_may_go_live_as_it_is()
    {
        var owner = await desk.OwnerAsync();
        var (_, made) = await owner.PostAsync(Api);
        Assert.DoesNotContain(made.GetProperty("problems").EnumerateArray(), p => p.GetProperty("blocks").GetBoolean());
        Assert.Equal("chat", made.GetProperty("draft").GetProperty("channels")[0].Text("kind"));
        Assert.Equal("Europe/London", made.GetProperty("draft").GetProperty("hours").Text("zone"));
        Assert.Contains(
            (await owner.GetAsync(Api)).EnumerateArray(),
            l => l.GetProperty("id").GetGuid() == made.GetProperty("id").GetGuid()
        );
    }

    [Fact]
    public async Task A_greeting_begins_for_each_purpose_as_the_desk_spells_it()
    {
        var owner = await desk.OwnerAsync();
        foreach (var purpose in Enum.GetValues<GreetingPurpose>())
        {
            var spelt = JsonNamingPolicy.CamelCase.ConvertName($"{purpose}");
            var (status, made) = await owner.PostAsync($"{Api}/greetings", new { purpose = spelt });
            Assert.Equal(HttpStatusCode.OK, status);
            Assert.NotEmpty(made.GetProperty("words")[0].Text("words"));
        }
        foreach (var none in new object[] { new { purpose = "nothing" }, new { purpose = 77 } })
        {
            var (status, _) = await owner.PostAsync($"{Api}/greetings", none);
            Assert.Equal(HttpStatusCode.BadRequest, status);
        }
    }

    [Fact]
    public async Task One_more_begins_with_the_look_of_the_one_that_went_live_last()
    {
        var (owner, _) = await LiveAsync(
            Brief("/launch/look", b => b with { Look = b.Look with { Band = "#123456", Side = Side.Left } })
        );
        var (_, made) = await owner.PostAsync(Api);
        var look = made.GetProperty("draft").GetProperty("look");
        Assert.Equal(("#123456", "left"), (look.Text("band"), look.Text("side")));
    }

    [Fact]
    public async Task It_stands_in_the_plan_in_the_readers_language_with_what_is_offered_now()
    {
        var channel = Reach(ChannelKind.Phone, "0191 496 0182") with { Hours = ChannelHours.Own, Week = Never() };
        await LiveAsync(
            Brief(
                "/launch/plan",
                b =>
                    b with
                    {
                        Words =
                        [
                            b.Words[0],
                            new LauncherWords("de", "Frag uns", "", "", "Was möchten Sie wissen?", "", ""),
                        ],
                        Channels = [b.Channels[0], Reach(ChannelKind.Email, "ask@emberwick.example"), channel],
                    }
            )
        );
        var plan = await new Browser(desk).PlanAsync("/launch/plan");
        var launcher = plan.GetProperty("launcher");
        Assert.Equal(("Ask us", true), (launcher.Text("button"), launcher.GetProperty("open").GetBoolean()));
        Assert.Equal(["Chat", "Email"], launcher.GetProperty("channels").EnumerateArray().Select(c => c.Text("kind")));
        Assert.Equal("mailto:ask@emberwick.example", launcher.GetProperty("channels")[1].Text("href"));
        Assert.StartsWith("/o/more/launch-", launcher.Text("script"), StringComparison.Ordinal);
        Assert.False((await new Browser(desk).PlanAsync("/launch/elsewhere")).TryGetProperty("launcher", out _));
    }

    // A stretch that is over: an hour of a day that is not today.
    private static List<HoursSpan> Never()
    {
        var today = SystemClock.Instance.GetCurrentInstant().InUtc().DayOfWeek;
        var other = (IsoDayOfWeek)((((int)today + 2) % 7) + 1);
        return [new HoursSpan(other, new LocalTime(9, 0), new LocalTime(10, 0))];
    }

    [Fact]
    public async Task Closed_it_says_so_and_when_it_opens_and_takes_a_note()
    {
        await LiveAsync(Brief("/launch/closed", b => b with { Hours = b.Hours with { Week = Never() } }));
        var launcher = (await new Browser(desk).PlanAsync("/launch/closed")).GetProperty("launcher");
        Assert.False(launcher.GetProperty("open").GetBoolean());
        Assert.Equal(("Leave a message", "Closed just now"), (launcher.Text("button"), launcher.Text("says")));
        var opens = Instant.FromUnixTimeMilliseconds(launcher.GetProperty("opensAt").GetInt64());
        Assert.InRange((opens - SystemClock.Instance.GetCurrentInstant()).TotalDays, 0, 7);
        Assert.Single(launcher.GetProperty("channels").EnumerateArray());
    }

    [Fact]
    public async Task A_greeting_is_a_cue_like_any_other_with_its_replies()
    {
        var rung = LauncherStarter.Rung(GreetingPurpose.Groups);
        var (_, id) = await LiveAsync(Brief("/launch/greets", b => b with { Rungs = [rung] }));
        var plan = await new Browser(desk).PlanAsync("/launch/greets");
        var cue = Assert.Single(plan.GetProperty("cues").EnumerateArray());
        Assert.Equal((rung.Id, "Bubble"), (cue.GetProperty("id").GetGuid(), cue.Text("shape")));
        Assert.True(cue.GetProperty("opens").GetBoolean());
        Assert.Equal(
            ["Up to eight", "More than eight"],
            cue.GetProperty("replies").EnumerateArray().Select(r => r.GetString())
        );
        // Seen once it comes no more in this visit: its exposure is kept as any callout's.
        var browser = new Browser(desk);
        await browser.PlanAsync("/launch/greets");
        var again = await browser.PlanAsync(
            "/launch/greets",
            [
                new
                {
                    callout = rung.Id,
                    what = "start",
                    agoMs = 1000,
                    key = $"k{id:N}"[..20],
                },
            ]
        );
        Assert.Empty(again.GetProperty("cues").EnumerateArray());
    }

    private Task<HttpResponseMessage> WriteAsync(
        Browser browser,
        string path,
        Guid launcher,
        Guid channel,
        object fields,
        Guid? id = null,
        Guid? greeting = null
    ) =>
        browser.SendAsync(
            "/v/messages",
            new
            {
                site = desk.World.Site.Key,
                page = TestDesk.SiteOrigin + path,
                passport = browser.Passport,
                id = id ?? Guid.CreateVersion7(),
                launcher,
                channel,
                fields,
                greeting,
            },
            TestDesk.SiteOrigin
        );

    private async Task<List<string>> MailsAsync(string about)
    {
        using var outside = new HttpClient();
        var mails = JsonSerializer.Deserialize<JsonElement>(
            await outside.GetStringAsync($"{desk.Outside}/mailbox.json")
        );
        return [.. mails.EnumerateArray().Select(m => $"{m}").Where(m => m.Contains(about, StringComparison.Ordinal))];
    }

    [Fact]
    public async Task A_message_is_an_enquiry_in_the_ledger_and_a_mail_to_the_team_each_once()
    {
        var brief = Brief("/launch/write");
        var (_, launcher) = await LiveAsync(brief);
        var browser = new Browser(desk);
        await browser.PlanAsync("/launch/write");
        var (id, words) = (Guid.CreateVersion7(), $"Do you fire for others? {Guid.NewGuid():N}");
        var fields = new { message = words, email = "noor@reader.net" };
        for (var i = 0; i < 3; i++)
        {
            using var answer = await WriteAsync(browser, "/launch/write", launcher, brief.Channels[0].Id, fields, id);
            Assert.Equal(HttpStatusCode.Accepted, answer.StatusCode);
        }
        await using var db = desk.Database.Open();
        var events = await db
            .Events.Where(e => e.ExternalId == id.ToString())
            .ToListAsync(TestContext.Current.CancellationToken);
        var told = Assert.Single(events);
        Assert.Equal((EventKind.Enquiry, EventState.Usable), (told.Kind, told.State));
        Assert.Equal(words, told.Fields["words"]);
        // The address is in the mail and nowhere else.
        Assert.DoesNotContain("noor@reader.net", told.MaskedEmail, StringComparison.Ordinal);
        var mails = await Eventually.GetAsync(() => MailsAsync(words), m => m.Count > 0);
        await Task.Delay(3_000, TestContext.Current.CancellationToken);
        // Whoever may see addresses is written to, once.
        var written = (await MailsAsync(words)).Select(m => JsonDocument.Parse(m).RootElement.Text("to")).ToList();
        Assert.Contains(TestWorld.OwnerEmail, written);
        Assert.Distinct(written);
        Assert.Contains("noor@reader.net", mails[0], StringComparison.Ordinal);
        Assert.Empty(
            await db.Letters.Where(l => l.About == id.ToString()).ToListAsync(TestContext.Current.CancellationToken)
        );
        // One source for all messages of the site.
        Assert.Single(Site.Sources.Values, s => s.Kind == SourceKind.Launcher);
    }

    [Theory]
    [InlineData("""{"message":"","email":"a@b.net"}""", "fields.message")]
    [InlineData("""{"message":"x"}""", "fields.email")]
    [InlineData("""{"message":"x","email":"nobody"}""", "fields.email")]
    [InlineData("""{"message":null,"email":"a@b.net"}""", "fields")]
    public async Task What_is_missing_or_wrong_is_named_and_nothing_is_kept(string fields, string field)
    {
        var path = $"/launch/wrong{Math.Abs(fields.GetHashCode(StringComparison.Ordinal))}";
        var brief = Brief(path);
        var (_, launcher) = await LiveAsync(brief);
        var browser = new Browser(desk);
        await browser.PlanAsync(path);
        var id = Guid.CreateVersion7();
        using var answer = await WriteAsync(
            browser,
            path,
            launcher,
            brief.Channels[0].Id,
            JsonSerializer.Deserialize<JsonElement>(fields),
            id
        );
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Equal(field, (await answer.JsonAsync()).Text("field"));
        await using var db = desk.Database.Open();
        Assert.False(await db.Letters.AnyAsync(l => l.About == id.ToString(), TestContext.Current.CancellationToken));
    }

    [Fact]
    public async Task A_message_that_belongs_to_no_page_view_or_no_launcher_is_refused()
    {
        var brief = Brief("/launch/stranger");
        var (_, launcher) = await LiveAsync(brief);
        var fields = new { message = "x", email = "a@b.net" };
        using var unplanned = await WriteAsync(
            new Browser(desk),
            "/launch/stranger",
            launcher,
            brief.Channels[0].Id,
            fields
        );
        Assert.Equal(HttpStatusCode.BadRequest, unplanned.StatusCode);
        var browser = new Browser(desk);
        await browser.PlanAsync("/launch/elsewhere");
        using var otherPage = await WriteAsync(browser, "/launch/stranger", launcher, brief.Channels[0].Id, fields);
        Assert.Equal(HttpStatusCode.Forbidden, otherPage.StatusCode);
        await browser.PlanAsync("/launch/stranger");
        using var noLauncher = await WriteAsync(
            browser,
            "/launch/stranger",
            Guid.NewGuid(),
            brief.Channels[0].Id,
            fields
        );
        Assert.Equal(HttpStatusCode.NotFound, noLauncher.StatusCode);
        using var noChannel = await WriteAsync(browser, "/launch/stranger", launcher, Guid.NewGuid(), fields);
        Assert.Equal(HttpStatusCode.BadRequest, noChannel.StatusCode);
    }

    [Theory]
    [InlineData(ChannelKind.Phone, "+44 20 7946 0123", "sample")]
    [InlineData(ChannelKind.Phone, "+1 212 555 0123", "sample")]
    [InlineData(ChannelKind.Phone, "1234567", "sample")]
    [InlineData(ChannelKind.Phone, "call us", "no number")]
    [InlineData(ChannelKind.Text, "", "Write the number")]
    [InlineData(ChannelKind.Email, "info@example.com", "kept for examples")]
    [InlineData(ChannelKind.Email, "studio@pots.test", "kept for examples")]
    [InlineData(ChannelKind.Email, "studio", "no e-mail address")]
    [InlineData(ChannelKind.Link, "javascript:alert(1)", "no address of a page")]
    [InlineData(ChannelKind.Link, "https://example.org/help", "kept for examples")]
    public async Task Samples_and_what_leads_nowhere_are_refused_with_the_reason(
        ChannelKind kind,
        string target,
        string says
    )
    {
        var (owner, id) = await StartAsync(Brief("/launch/samples", b => b with { Channels = [Reach(kind, target)] }));
        var (status, body) = await owner.PostAsync($"{Api}/{id}/publish", new { version = 2 });
        Assert.Equal((HttpStatusCode.BadRequest, "channels[0].target"), (status, body.Text("field")));
        Assert.Contains(says, body.Text("detail"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_is_accepted_says_where_it_leads()
    {
        var app = Reach(ChannelKind.Messenger, "@emberwick") with
        {
            AppLink = "wren://chat?to={handle}&text={text}",
            WebLink = "https://wren.chat/{handle}?text={text}",
            Prefill = "About {{ page }}",
        };
        var (owner, id) = await StartAsync(
            Brief(
                "/launch/reach",
                b =>
                    b with
                    {
                        Channels = [Reach(ChannelKind.Phone, "0191 496 0182"), app, Reach(ChannelKind.Link, "/help")],
                    }
            )
        );
        var opens = (await owner.GetAsync($"{Api}/{id}")).GetProperty("opens").EnumerateArray().ToList();
        Assert.Equal(("+441914960182", "tel:+441914960182"), (opens[0].Text("number"), opens[0].Text("address")));
        Assert.StartsWith(
            "https://wren.chat/emberwick?text=About%20http",
            opens[1].Text("address"),
            StringComparison.Ordinal
        );
        Assert.StartsWith("wren://chat?to=emberwick&text=About", opens[1].Text("app"), StringComparison.Ordinal);
        Assert.Equal("/help", opens[2].Text("address"));
        Assert.All(opens, o => Assert.Equal(JsonValueKind.Null, o.GetProperty("problem").ValueKind));
    }

    [Theory]
    [InlineData("javascript:alert(1)//{handle}")]
    [InlineData("data:text/html,{text}")]
    [InlineData("FILE:///{handle}")]
    [InlineData("wren chat")]
    public async Task An_app_link_that_a_browser_would_run_itself_is_refused(string link)
    {
        var app = Reach(ChannelKind.Messenger, "@emberwick") with
        {
            AppLink = link,
            WebLink = "https://wren.chat/{handle}",
        };
        var (owner, id) = await StartAsync(Brief("/launch/unsafe", b => b with { Channels = [app] }));
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await owner.PostAsync($"{Api}/{id}/publish", new { version = 2 })).Status
        );
    }

    [Fact]
    public async Task A_ladder_is_climbed_for_a_visitor_with_the_reason_of_each_rung()
    {
        var buyers = LauncherStarter.Rung(GreetingPurpose.Orders);
        var group = LauncherStarter.Rung(GreetingPurpose.Groups);
        var all = LauncherStarter.Rung(GreetingPurpose.Own);
        var (owner, id) = await StartAsync(Brief("/launch/**", b => b with { Rungs = [buyers, group, all] }));
        var (_, climbed) = await owner.PostAsync($"{Api}/{id}/climb", new { visitor = new { }, path = "/launch/x" });
        Assert.True(climbed.GetProperty("stands").GetBoolean());
        var rungs = climbed.GetProperty("rungs").EnumerateArray().ToList();
        Assert.Equal(["passedOver", "wins", "notReached"], rungs.Select(r => r.Text("verdict")));
        Assert.Equal(("who", 40_000), (rungs[0].Text("control"), rungs[1].GetProperty("dueMs").GetInt32()));
        var (_, away) = await owner.PostAsync($"{Api}/{id}/climb", new { visitor = new { }, path = "/elsewhere" });
        Assert.False(away.GetProperty("stands").GetBoolean());
        Assert.Equal("The page does not match its pattern.", away.Text("away"));
        var buyer = new
        {
            pastEvents = new[]
            {
                new
                {
                    kind = "purchase",
                    source = (Guid?)null,
                    product = "",
                    category = "",
                    daysAgo = 5,
                },
            },
        };
        var (_, bought) = await owner.PostAsync($"{Api}/{id}/climb", new { visitor = buyer, path = "/launch/x" });
        Assert.Equal("wins", bought.GetProperty("rungs")[0].Text("verdict"));
        var figures = await owner.GetAsync($"{Api}/{id}/figures");
        Assert.Equal(3, figures.GetProperty("rungs").GetArrayLength());
    }

    [Fact]
    public async Task The_stage_shows_the_draft_to_its_desk_and_to_nobody_else()
    {
        var (owner, id) = await StartAsync(
            Brief("/launch/stage", b => b with { Rungs = [LauncherStarter.Rung(GreetingPurpose.NewHere)] })
        );
        Assert.False((await new Browser(desk).PlanAsync("/launch/stage")).TryGetProperty("launcher", out _));
        var (_, stage) = await owner.PostAsync($"{Api}/{id}/stage", new { visitor = new { } });
        var staged = new Browser(desk) { Token = stage.Text("fragment").Split('=')[1] };
        var plan = await staged.PlanAsync("/launch/stage");
        Assert.Equal("Ask us", plan.GetProperty("launcher").Text("button"));
        var cue = Assert.Single(plan.GetProperty("cues").EnumerateArray());
        Assert.False(cue.TryGetProperty("triggers", out _));
        Assert.Contains("0:20", $"{plan.GetProperty("stage").GetProperty("lifted")}", StringComparison.Ordinal);
        Assert.False(plan.GetProperty("counted").GetBoolean());
    }

    [Fact]
    public async Task A_calendar_file_is_read_before_anything_is_taken()
    {
        var owner = await desk.OwnerAsync();
        var year = SystemClock.Instance.GetCurrentInstant().InUtc().Year + 1;
        var text =
            $"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//t//EN\r\nBEGIN:VEVENT\r\nUID:a\r\nDTSTAMP:19970901T000000Z\r\nDTSTART;VALUE=DATE:{year}1225\r\nSUMMARY:Christmas Day\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n";
        var (status, read) = await owner.PostAsync(
            $"{Api}/calendar",
            new
            {
                text,
                zone = "Europe/London",
                closed = Array.Empty<object>(),
            }
        );
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.Equal("Christmas Day", read.GetProperty("new")[0].Text("name"));
        var (bad, problem) = await owner.PostAsync(
            $"{Api}/calendar",
            new
            {
                text = "hello",
                zone = "Europe/London",
                closed = Array.Empty<object>(),
            }
        );
        Assert.Equal((HttpStatusCode.BadRequest, "text"), (bad, problem.Text("field")));
    }

    [Fact]
    public async Task An_editor_drafts_and_does_not_publish_and_a_stranger_finds_nothing()
    {
        var (_, id) = await StartAsync(Brief("/launch/roles"));
        var editor = await desk.EditorAsync();
        Assert.Equal(HttpStatusCode.OK, (await editor.SendAsync(HttpMethod.Get, $"{Api}/{id}")).Status);
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await editor.PostAsync($"{Api}/{id}/publish", new { version = 2 })).Status
        );
        var stranger = await desk.StrangerAsync();
        Assert.Equal(HttpStatusCode.NotFound, (await stranger.SendAsync(HttpMethod.Get, $"{Api}/{id}")).Status);
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await stranger.PostAsync($"{Api}/{id}/climb", new { visitor = new { }, path = "/" })).Status
        );
    }

    [Fact]
    public async Task One_that_cannot_be_shown_any_more_silences_no_other()
    {
        var (_, good) = await LiveAsync(Brief("/launch/good"));
        var (_, bad) = await LiveAsync(Brief("/launch/bad"));
        await desk.SqlAsync(
            $"update revisions set content = jsonb_set(content, '{{hours,zone}}', '\"Nowhere/At_all\"') where definition_id = '{bad}'"
        );
        var sites = desk.Services.GetRequiredService<LiveSites>();
        await sites.ReloadAsync(desk.World.Site.Id, TestContext.Current.CancellationToken);
        Assert.True(Site.Broken.ContainsKey(bad));
        Assert.Contains(Site.Launchers, l => l.Id == good);
    }
}
