using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Npgsql;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;
using Outcry.Server.Sites;

namespace Outcry.Server.Tests;

public sealed class VisitorTests(TestDesk desk)
{
    private readonly Sender _shop = new(desk);

    private string Api => $"/api/sites/{desk.World.Site.Id}";

    /// <summary>A live moment of its own, with enough purchases behind it.</summary>
    private async Task<(DeskClient Owner, Guid Callout)> LiveMomentAsync(string page)
    {
        var owner = await desk.OwnerAsync();
        var callout = await Moments.StartAsync(
            owner,
            desk,
            b =>
                b with
                {
                    Where = new WhereFacet([page], [], [], Replaces: false),
                    From = b.From with { Conditions = [new FieldCondition("product", Comparison.Is, "Ash-glaze mug")] },
                }
        );
        var published = await Moments.PublishAsync(owner, desk, callout);
        Assert.Equal(HttpStatusCode.OK, published.Status);
        for (var i = 0; i < 3; i++)
            await _shop.SendAsync(Sender.Purchase($"{callout}-{i}"));
        return (owner, callout);
    }

    private async Task<JsonElement> PlanWithAsync(Browser browser, string path, Guid callout) =>
        await Eventually.GetAsync(() => browser.PlanAsync(path), p => Browser.Cues(p).Contains(callout));

    [Fact]
    public async Task A_published_moment_is_planned_with_its_words()
    {
        var (_, callout) = await LiveMomentAsync("/a");
        var plan = await PlanWithAsync(new Browser(desk), "/a", callout);
        var cue = plan.GetProperty("cues")[0];
        Assert.Equal("Noor H. bought Ash-glaze mug", Browser.Said(cue));
        var trigger = Assert.Single(cue.GetProperty("triggers").EnumerateArray());
        Assert.Equal(("Seconds", 6), (trigger.GetProperty("k").GetString(), trigger.GetProperty("n").GetInt32()));
        Assert.Equal(7000, cue.GetProperty("turns")[0].GetProperty("stayMs").GetInt32());
        Assert.Empty(Browser.Cues(await new Browser(desk).PlanAsync("/elsewhere")));
    }

    [Fact]
    public async Task A_hostile_name_stays_text()
    {
        const string hostile = "<img src=x onerror=alert(1)>";
        var owner = await desk.OwnerAsync();
        var callout = await Moments.StartAsync(
            owner,
            desk,
            b =>
                b with
                {
                    Where = new WhereFacet(["/hostile"], [], [], Replaces: false),
                    From = b.From with
                    {
                        LeastNumber = 1,
                        Conditions = [new FieldCondition("product", Comparison.Is, "Hostile pot")],
                    },
                }
        );
        await Moments.PublishAsync(owner, desk, callout);
        // Under a product of its own, so that no other test is told of it.
        var order = Sender.Purchase("hostile", firstName: hostile);
        order["data"]!["product"]!["name"] = "Hostile pot";
        await _shop.SendAsync(order);
        var plan = await PlanWithAsync(new Browser(desk), "/hostile", callout);
        Assert.Equal($"{hostile} H. bought Hostile pot", Browser.Said(plan.GetProperty("cues")[0]));
    }

    [Fact]
    public async Task Nobody_is_shown_their_own_purchase()
    {
        var owner = await desk.OwnerAsync();
        var brief = (Brief b) =>
            b with
            {
                Where = new WhereFacet(["/own"], [], [], Replaces: false),
                From = b.From with
                {
                    LeastNumber = 1,
                    Conditions = [new FieldCondition("product", Comparison.Is, "Own pot")],
                },
            };
        var callout = await Moments.StartAsync(owner, desk, brief);
        await Moments.PublishAsync(owner, desk, callout);
        var buyer = new Browser(desk);
        await buyer.PlanAsync("/own");
        var order = Sender.Purchase("own-order", visitor: buyer.Visitor, email: "me@post.example");
        order["data"]!["product"]!["name"] = "Own pot";
        await _shop.SendAsync(order);
        await PlanWithAsync(new Browser(desk), "/own", callout);
        Assert.Empty(Browser.Cues(await buyer.PlanAsync("/own")));
    }

    [Fact]
    public async Task A_close_is_remembered_by_the_passport_and_hushes()
    {
        var (_, callout) = await LiveMomentAsync("/close");
        var browser = new Browser(desk);
        await PlanWithAsync(browser, "/close", callout);
        var after = await browser.PlanAsync(
            "/close",
            [
                new
                {
                    callout,
                    what = "start",
                    agoMs = 4000,
                },
                new
                {
                    callout,
                    what = "end",
                    agoMs = 1000,
                },
                new
                {
                    callout,
                    what = "close",
                    agoMs = 1000,
                },
            ]
        );
        Assert.Empty(Browser.Cues(after));
        Assert.InRange(after.GetProperty("visit").GetProperty("hushLeftMs").GetInt64(), 86_300_000, 86_400_000);
        Assert.Equal(1, after.GetProperty("visit").GetProperty("starts").GetInt32());
        Assert.Empty(Browser.Cues(await browser.PlanAsync("/close")));
    }

    [Fact]
    public async Task A_note_that_another_tab_sends_again_counts_once()
    {
        var (_, callout) = await LiveMomentAsync("/tabs");
        var browser = new Browser(desk);
        await PlanWithAsync(browser, "/tabs", callout);
        object[] log =
        [
            new
            {
                callout,
                what = "start",
                agoMs = 4000,
                key = "k1s0001",
            },
            new
            {
                callout,
                what = "end",
                agoMs = 1000,
                key = "k2e0001",
            },
        ];
        var first = await browser.PlanAsync("/tabs", log);
        var second = await browser.PlanAsync("/tabs", log);
        Assert.Equal(1, first.GetProperty("visit").GetProperty("starts").GetInt32());
        Assert.Equal(1, second.GetProperty("visit").GetProperty("starts").GetInt32());
    }

    [Fact]
    public async Task A_sign_of_life_is_answered_with_what_is_no_longer_live()
    {
        var (owner, callout) = await LiveMomentAsync("/alive");
        var browser = new Browser(desk);
        await PlanWithAsync(browser, "/alive", callout);
        Assert.Empty(await browser.AliveAsync("/alive", callout));
        var other = Guid.NewGuid();
        Assert.Equal([other], await browser.AliveAsync("/alive", callout, other));
        await owner.PostAsync($"{Api}/callouts/{callout}/pause");
        Assert.Equal([callout], await browser.AliveAsync("/alive", callout));
    }

    [Fact]
    public async Task What_ends_within_a_day_is_told_with_the_plan()
    {
        var zone = desk.Services.GetRequiredService<Sites.LiveSites>().GetById(desk.World.Site.Id).Zone;
        var until = SystemClock.Instance.GetCurrentInstant().InZone(zone).LocalDateTime.PlusMinutes(30);
        var owner = await desk.OwnerAsync();
        var callout = await Moments.StartAsync(
            owner,
            desk,
            b =>
                b with
                {
                    Where = new WhereFacet(["/ends"], [], [], Replaces: false),
                    When = b.When with { Schedule = b.When.Schedule with { Until = until } },
                    From = b.From with { LeastNumber = 1 },
                }
        );
        await Moments.PublishAsync(owner, desk, callout);
        await _shop.SendAsync(Sender.Purchase($"{callout}-ends"));
        var plan = await PlanWithAsync(new Browser(desk), "/ends", callout);
        Assert.InRange(plan.GetProperty("ends").GetProperty(callout.ToString()).GetInt64(), 25 * 60_000, 30 * 60_000);
    }

    [Fact]
    public async Task Pages_say_which_of_the_places_asked_about_they_have_and_nothing_else_is_kept()
    {
        var anchor = $"#place-{Guid.NewGuid():N}";
        var owner = await desk.OwnerAsync();
        var callout = await Moments.StartAsync(
            owner,
            desk,
            b =>
                b with
                {
                    Where = new WhereFacet(["/places"], [], [], Replaces: false),
                    Look = b.Look with { Shape = Shape.Inset, Anchor = anchor },
                    From = b.From with { LeastNumber = 1 },
                }
        );
        var sites = desk.Services.GetRequiredService<Sites.LiveSites>();
        await Eventually.GetAsync(
            () => Task.FromResult(sites.GetById(desk.World.Site.Id).AskedPlaces.Contains(anchor)),
            asked => asked
        );
        var browser = new Browser(desk);
        var plan = await browser.PlanAsync("/places");
        Assert.Contains(anchor, plan.GetProperty("look").EnumerateArray().Select(l => l.GetString()));
        async Task<JsonElement> RehearseAsync() =>
            await owner.GetAsync($"{Api}/callouts/{callout}/rehearsal?path=/places");
        await browser.SayPlacesAsync("/places", [], []);
        var missing = (await RehearseAsync())
            .GetProperty("notShown")
            .EnumerateArray()
            .Single(n => n.GetProperty("calloutId").GetGuid() == callout);
        Assert.Contains(anchor, missing.Text("sentence"), StringComparison.Ordinal);
        await browser.SayPlacesAsync("/places", [anchor, "#never-asked"], [anchor]);
        Assert.Contains(
            (await RehearseAsync()).GetProperty("showings").EnumerateArray(),
            s => s.GetProperty("calloutId").GetGuid() == callout && !s.GetProperty("placeUnknown").GetBoolean()
        );
        Assert.Null(sites.GetById(desk.World.Site.Id).Places.Find("/places", "#never-asked"));
    }

    [Fact]
    public async Task A_forged_passport_is_as_good_as_none()
    {
        var browser = new Browser(desk);
        await browser.PlanAsync();
        var visitor = browser.Visitor;
        var letters = browser.Passport!.ToCharArray();
        letters[5] = letters[5] == 'A' ? 'B' : 'A';
        browser.Passport = new string(letters);
        await browser.PlanAsync();
        Assert.NotEqual(visitor, browser.Visitor);
    }

    [Fact]
    public async Task Answers_can_be_read_on_the_sites_own_hosts_and_nowhere_else()
    {
        using var own = await new Browser(desk).AskAsync();
        Assert.Equal(TestDesk.SiteOrigin, own.Headers.GetValues("Access-Control-Allow-Origin").Single());
        using var foreign = await new Browser(desk).AskAsync(origin: "http://evil.test");
        Assert.Equal(HttpStatusCode.Forbidden, foreign.StatusCode);
        Assert.False(foreign.Headers.Contains("Access-Control-Allow-Origin"));
        using var unknown = await new Browser(desk).AskAsync(site: "nosuchkey");
        Assert.Equal(HttpStatusCode.NotFound, unknown.StatusCode);
    }

    [Theory]
    [InlineData("https://evil.test", 403)]
    [InlineData("http://pots.test:5081", 204)]
    [InlineData("", 403)]
    public async Task A_preflight_is_answered_for_hosts_that_are_served(string origin, int status)
    {
        using var message = new HttpRequestMessage(HttpMethod.Options, "/v/plan");
        if (origin.Length > 0)
            message.Headers.Add("Origin", origin);
        using var answer = await desk.Anonymous().SendAsync(message);
        Assert.Equal(status, (int)answer.StatusCode);
    }

    [Fact]
    public async Task Unreadable_requests_are_refused_with_a_reason()
    {
        using var http = desk.Anonymous();
        using var garbage = await http.PostAsync("/v/plan", new StringContent("{nope"));
        Assert.Equal(HttpStatusCode.BadRequest, garbage.StatusCode);
        Assert.StartsWith(
            "application/problem+json",
            garbage.Content.Headers.ContentType!.ToString(),
            StringComparison.Ordinal
        );
        using var incomplete = await http.PostAsync(
            "/v/plan",
            new StringContent("""{"page":"http://pots.test:5081/"}""")
        );
        Assert.Equal(HttpStatusCode.BadRequest, incomplete.StatusCode);
        using var huge = await http.PostAsync("/v/plan", new StringContent(new string(' ', 10 * 1024 * 1024)));
        Assert.Equal(HttpStatusCode.RequestEntityTooLarge, huge.StatusCode);
        using var nowhere = await new Browser(desk).SendAsync(
            "/v/plan",
            new
            {
                site = desk.World.Site.Key,
                page = "nowhere",
                width = 1,
            },
            TestDesk.SiteOrigin
        );
        Assert.Equal(HttpStatusCode.BadRequest, nowhere.StatusCode);
    }

    [Fact]
    public async Task Signals_are_stored_once_however_often_they_are_sent()
    {
        var (owner, callout) = await LiveMomentAsync("/signals");
        var browser = new Browser(desk);
        await browser.PlanAsync("/signals");
        object[] signals =
        [
            new
            {
                id = Guid.NewGuid(),
                kind = "shown",
                callout,
                value = 0,
            },
            new
            {
                id = Guid.NewGuid(),
                kind = "clicked",
                callout,
                value = 0,
            },
            new
            {
                id = Guid.NewGuid(),
                kind = "view",
                value = 0,
            },
            new
            {
                id = Guid.NewGuid(),
                kind = "alive",
                value = 0,
            },
        ];
        for (var i = 0; i < 3; i++)
        {
            using var answer = await browser.TellAsync(signals);
            Assert.Equal(HttpStatusCode.Accepted, answer.StatusCode);
        }
        var list = await owner.GetAsync($"{Api}/callouts");
        var figures = list.EnumerateArray()
            .Single(c => c.GetProperty("id").GetGuid() == callout)
            .GetProperty("figures");
        Assert.Equal(
            (1, 1, 0),
            (
                figures.GetProperty("shown").GetInt32(),
                figures.GetProperty("clicked").GetInt32(),
                figures.GetProperty("closed").GetInt32()
            )
        );
    }

    [Fact]
    public async Task Signals_without_a_passport_of_ours_are_refused()
    {
        using var answer = await new Browser(desk) { Passport = "made.up" }.TellAsync([]);
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Equal("passport", (await answer.JsonAsync()).Text("field"));
    }

    [Fact]
    public async Task A_form_is_taken_with_its_mapped_fields_and_no_others()
    {
        var browser = new Browser(desk);
        var plan = await browser.PlanAsync("/quote");
        Assert.Contains(plan.GetProperty("forms").EnumerateArray(), f => f.Text("form") == "quote");
        Assert.DoesNotContain(
            (await browser.PlanAsync("/shop")).GetProperty("forms").EnumerateArray(),
            f => f.Text("form") == "quote"
        );
        await browser.PlanAsync("/quote");
        var id = Guid.NewGuid();
        var fields = new
        {
            name = "Saoirse Murphy",
            email = "s@post.example",
            pieces = "12",
            details = "secret",
        };
        using var answer = await browser.TellAsync(
            [],
            new
            {
                id,
                source = desk.World.Quote.Id,
                fields,
            },
            "/quote"
        );
        Assert.Equal(HttpStatusCode.Accepted, answer.StatusCode);
        await using var db = desk.Database.Open();
        var row = await db.Events.SingleAsync(e => e.ExternalId == id.ToString());
        Assert.Equal(("Saoirse", "M", EventState.Usable), (row.FirstName, row.LastInitial, row.State));
        Assert.Equal(["pieces"], row.Fields.Keys);
    }

    [Fact]
    public async Task A_member_who_came_by_the_signed_link_is_marked_and_never_counted()
    {
        var owner = await desk.OwnerAsync();
        var (_, link) = await owner.PostAsync($"{Api}/install/visit-link");
        var member = new Browser(desk) { Token = link.Text("url").Split("#outcry=")[1] };
        var plan = await member.PlanAsync();
        Assert.False(plan.GetProperty("counted").GetBoolean());
        Assert.Contains("not counted", plan.GetProperty("mark").Text("title"), StringComparison.Ordinal);
        var id = Guid.NewGuid();
        using var answer = await member.TellAsync(
            [
                new
                {
                    id = Guid.NewGuid(),
                    kind = "view",
                    value = 0,
                },
            ],
            new
            {
                id,
                source = desk.World.Newsletter.Id,
                fields = new { email = "m@post.example" },
            }
        );
        Assert.Equal(0, (await answer.JsonAsync()).GetProperty("accepted").GetInt32());
        await using var db = desk.Database.Open();
        Assert.Equal(EventState.OwnTest, (await db.Events.SingleAsync(e => e.ExternalId == id.ToString())).State);
        Assert.False((await new Browser(desk).PlanAsync()).TryGetProperty("mark", out _));
    }

    [Fact]
    public async Task The_stage_shows_a_draft_that_visitors_do_not_see()
    {
        var owner = await desk.OwnerAsync();
        var callout = await Moments.StartAsync(
            owner,
            desk,
            b => b with { Say = b.Say with { Message = "Only a draft" }, From = b.From with { LeastNumber = 9_000 } }
        );
        await _shop.SendAsync(Sender.Purchase("for-the-stage"));
        var (_, stage) = await owner.PostAsync($"{Api}/callouts/{callout}/stage");
        var token = stage.Text("fragment").Split('=')[1];
        var plan = await Eventually.GetAsync(
            () => new Browser(desk) { Token = token }.PlanAsync("/anywhere"),
            p => Browser.Cues(p).Count == 1
        );
        var cue = plan.GetProperty("cues")[0];
        Assert.Equal(("Only a draft", 0), (Browser.Said(cue), cue.TryGetProperty("triggers", out _) ? 1 : 0));
        Assert.DoesNotContain(callout, Browser.Cues(await new Browser(desk).PlanAsync("/anywhere")));
    }

    [Fact]
    public async Task The_stage_says_what_it_set_aside_and_what_of_the_page_it_needs()
    {
        var owner = await desk.OwnerAsync();
        var callout = await Moments.StartAsync(
            owner,
            desk,
            b =>
                b with
                {
                    Say = b.Say with { Message = "For those who come back" },
                    Who = new WhoFacet(
                        new FactTest(VisitorFact.VisitNumber, FactComparison.AtLeast, "3"),
                        [Device.Phone]
                    ),
                    Look = b.Look with { Shape = Shape.Inset, Anchor = "#price" },
                }
        );
        await _shop.SendAsync(Sender.Purchase("for-the-set-aside"));
        var (_, stage) = await owner.PostAsync($"{Api}/callouts/{callout}/stage");
        var browser = new Browser(desk) { Token = stage.Text("fragment").Split('=')[1] };
        var plan = await Eventually.GetAsync(() => browser.PlanAsync("/back"), p => Browser.Cues(p).Count == 1);
        var told = plan.GetProperty("stage");
        Assert.Equal(
            ["Only for visitors where number of the visit is at least 3. For this one it is 1."],
            told.GetProperty("lifted").EnumerateArray().Select(l => l.GetString())
        );
        Assert.Equal("#price", told.GetProperty("needs")[0].Text("selector"));
        Assert.Contains("/o/more/member-", plan.GetProperty("mark").Text("script"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_sketch_of_a_page_shows_the_draft_to_its_stage_alone()
    {
        var owner = await desk.OwnerAsync();
        var callout = await Moments.StartAsync(
            owner,
            desk,
            b =>
                b with
                {
                    Say = b.Say with { Message = "On a sketch" },
                    Where = new WhereFacet(["/sketched"], [], [], Replaces: false),
                }
        );
        await _shop.SendAsync(Sender.Purchase("for-the-sketch"));
        var (_, stage) = await owner.PostAsync($"{Api}/callouts/{callout}/stage");
        var sketch = stage.Text("sketch");
        using var page = await owner.Http.GetAsync(
            $"{sketch}/sketched?outcry-place=%23a%20%3E%20p.b",
            TestContext.Current.CancellationToken
        );
        var html = await page.Content.ReadAsStringAsync(TestContext.Current.CancellationToken);
        Assert.Contains("<p class=\"b place\"></p>", html, StringComparison.Ordinal);
        Assert.Equal("SAMEORIGIN", page.Headers.GetValues("X-Frame-Options").Single());
        Assert.Contains(
            "frame-ancestors 'self'",
            page.Headers.GetValues("Content-Security-Policy").Single(),
            StringComparison.Ordinal
        );
        using var stranger = await desk.Anonymous()
            .GetAsync($"{sketch}/sketched", TestContext.Current.CancellationToken);
        Assert.Equal(HttpStatusCode.Unauthorized, stranger.StatusCode);

        var token = stage.Text("fragment").Split('=')[1];
        var address = $"{TestDesk.Origin}{sketch}/sketched?outcry-place=%23a";
        var plan = await Eventually.GetAsync(
            async () =>
            {
                using var answer = await new Browser(desk) { Token = token }.AskAtAsync(address);
                Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
                return await answer.JsonAsync();
            },
            p => Browser.Cues(p).Count == 1
        );
        Assert.Equal("On a sketch", Browser.Said(plan.GetProperty("cues")[0]));
        using var other = await new Browser(desk) { Token = token }.AskAtAsync($"{TestDesk.Origin}{sketch}/elsewhere");
        Assert.Contains(
            "does not match",
            (await other.JsonAsync()).GetProperty("stage").Text("note"),
            StringComparison.Ordinal
        );
        using var nobody = await new Browser(desk).AskAtAsync(address);
        Assert.Equal(HttpStatusCode.Forbidden, nobody.StatusCode);
    }

    [Theory]
    [InlineData("#price", "<div class=\"place\" id=\"price\"></div>")]
    [InlineData("main .a.b > p", "<main class=\"place\"><div class=\"a b place\"><p class=\"place\"></p></div></main>")]
    [InlineData("[data-price=\"1\"], p", "<div class=\"place\" data-price=\"1\"></div>")]
    [InlineData("script#x", "<div class=\"place\" id=\"x\"></div>")]
    [InlineData("p:nth-child(2)", "")]
    [InlineData("[onclick=x]", "")]
    [InlineData("<b>", "")]
    [InlineData("", "")]
    public void A_sketch_has_the_element_by_which_an_inset_stands_where_a_plain_selector_names_it(
        string selector,
        string html
    ) => Assert.Equal(html, StageSketch.Place(selector));

    [Fact]
    public async Task A_hidden_event_is_told_no_more()
    {
        var owner = await desk.OwnerAsync();
        var callout = await Moments.StartAsync(
            owner,
            desk,
            b =>
                b with
                {
                    Where = new WhereFacet(["/hide"], [], [], Replaces: false),
                    From = b.From with
                    {
                        LeastNumber = 1,
                        Conditions = [new FieldCondition("product", Comparison.Is, "Hidden pot")],
                    },
                }
        );
        await Moments.PublishAsync(owner, desk, callout);
        var order = Sender.Purchase("to-hide");
        order["data"]!["product"]!["name"] = "Hidden pot";
        var (_, sent, _) = await _shop.SendAsync(order);
        await PlanWithAsync(new Browser(desk), "/hide", callout);
        await owner.PostAsync($"{Api}/events/{sent.Text("id")}/hide");
        Assert.Empty(Browser.Cues(await new Browser(desk).PlanAsync("/hide")));
        await owner.PostAsync($"{Api}/events/{sent.Text("id")}/release");
        Assert.NotEmpty(Browser.Cues(await new Browser(desk).PlanAsync("/hide")));
    }

    [Fact]
    public async Task Another_nodes_news_reaches_this_one()
    {
        var sites = desk.Services.GetRequiredService<Sites.LiveSites>();
        await using var db = desk.Database.Open();
        await db
            .Sites.Where(s => s.Id == desk.OtherSite.Id)
            .ExecuteUpdateAsync(u => u.SetProperty(s => s.OffAir, true));
        await using var notify = desk
            .Services.GetRequiredService<NpgsqlDataSource>()
            .CreateCommand($"select pg_notify('outcry_site', 'other-node|{desk.OtherSite.Id}|Definition|')");
        await notify.ExecuteNonQueryAsync();
        await Eventually.GetAsync(() => Task.FromResult(sites.GetById(desk.OtherSite.Id).OffAir), offAir => offAir);
    }
}
