using System.Text.Json;
using Outcry.Core.Briefs;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;

namespace Outcry.Server.Tests;

/// <summary>Visits that are imagined: rehearsed at the desk, or walked on the live site by a signed link.</summary>
public sealed class TrialVisitTests(TestDesk desk)
{
    private string Site => $"/api/sites/{desk.World.Site.Id}";

    private async Task<Guid> CalloutAsync(DeskClient owner, string path, bool isLive, Func<Brief, Brief>? vary = null)
    {
        for (var i = 0; i < 4; i++)
            await new Sender(desk).SendAsync(Sender.Purchase($"trial-{i}"));
        var id = await Moments.StartAsync(
            owner,
            desk,
            b =>
                (vary ?? (x => x))(
                    b with
                    {
                        Where = new WhereFacet([path], [], [], Replaces: false),
                        When = b.When with { Triggers = [Trigger.After(6)], Turns = 1 },
                    }
                )
        );
        if (isLive)
            await Moments.PublishAsync(owner, desk, id);
        return id;
    }

    private async Task<Browser> WalkAsync(DeskClient owner, object trial)
    {
        var (status, made) = await owner.PostAsync($"{Site}/trials", trial);
        Assert.Equal(HttpStatusCode.OK, status);
        return new Browser(desk) { Token = made.Text("address").Split("#outcry=")[1] };
    }

    private static List<JsonElement> Items(JsonElement plan) =>
        [.. plan.GetProperty("mark").GetProperty("trial").GetProperty("items").EnumerateArray()];

    [Fact]
    public async Task A_trial_visit_meets_what_its_visitor_would_is_told_why_not_the_rest_and_is_not_counted()
    {
        var owner = await desk.OwnerAsync();
        var callout = await CalloutAsync(
            owner,
            "/trial-one",
            isLive: true,
            b => b with { Who = b.Who with { HiddenOn = [Core.Visitors.Device.Phone] } }
        );
        var desktop = await WalkAsync(owner, new { path = "/trial-one", visitor = new { visitNumber = 2 } });
        var plan = await desktop.PlanAsync("/trial-one");
        Assert.Contains(callout, Browser.Cues(plan));
        Assert.False(plan.GetProperty("counted").GetBoolean());
        var item = Items(plan).Single(i => i.GetProperty("id").GetGuid() == callout);
        Assert.Equal((true, 6_000), (item.GetProperty("shows").GetBoolean(), item.GetProperty("dueMs").GetInt32()));

        var phone = await WalkAsync(owner, new { path = "/trial-one", visitor = new { device = "phone" } });
        plan = await phone.PlanAsync("/trial-one");
        Assert.DoesNotContain(callout, Browser.Cues(plan));
        item = Items(plan).Single(i => i.GetProperty("id").GetGuid() == callout);
        Assert.Equal("It is hidden on phones.", item.Text("says"));
        Assert.EndsWith($"/callouts/{callout}?open=who", item.Text("address"), StringComparison.Ordinal);
        await owner.PostAsync($"{Site}/callouts/{callout}/pause");
    }

    [Fact]
    public async Task Limits_hold_from_page_to_page_unless_they_are_lifted()
    {
        var owner = await desk.OwnerAsync();
        var callout = await CalloutAsync(owner, "/trial-two", isLive: true);
        object[] met =
        [
            new
            {
                callout,
                what = "start",
                agoMs = 500,
            },
            new
            {
                callout,
                what = "end",
                agoMs = 100,
            },
        ];

        var strict = await WalkAsync(owner, new { path = "/trial-two", visitor = new { } });
        Assert.Contains(callout, Browser.Cues(await strict.PlanAsync("/trial-two")));
        Assert.DoesNotContain(callout, Browser.Cues(await strict.PlanAsync("/trial-two", met)));

        var lifted = await WalkAsync(
            owner,
            new
            {
                path = "/trial-two",
                visitor = new { },
                liftLimits = true,
            }
        );
        await lifted.PlanAsync("/trial-two");
        Assert.Contains(callout, Browser.Cues(await lifted.PlanAsync("/trial-two", met)));

        object[] closed =
        [
            new
            {
                callout,
                what = "start",
                agoMs = 500,
            },
            new
            {
                callout,
                what = "close",
                agoMs = 100,
            },
        ];
        var plan = await lifted.PlanAsync("/trial-two", closed);
        Assert.Equal(
            (0, 0),
            (
                plan.GetProperty("visit").GetProperty("hushLeftMs").GetInt32(),
                plan.GetProperty("visit").GetProperty("starts").GetInt32()
            )
        );

        // Another walk begins anew, whatever passport its tab still has.
        lifted.Token = strict.Token;
        Assert.Contains(callout, Browser.Cues(await lifted.PlanAsync("/trial-two")));
        await owner.PostAsync($"{Site}/callouts/{callout}/pause");
    }

    [Fact]
    public async Task A_draft_is_on_air_for_its_own_trial_visit_and_for_nobody_else()
    {
        var owner = await desk.OwnerAsync();
        var callout = await CalloutAsync(owner, "/trial-three", isLive: false);
        var walk = await WalkAsync(
            owner,
            new
            {
                path = "/trial-three",
                visitor = new { },
                draft = callout,
            }
        );
        Assert.Contains(callout, Browser.Cues(await walk.PlanAsync("/trial-three")));
        Assert.DoesNotContain(callout, Browser.Cues(await new Browser(desk).PlanAsync("/trial-three")));
    }

    [Fact]
    public async Task A_link_that_was_tampered_with_or_is_of_another_site_opens_nothing()
    {
        var owner = await desk.OwnerAsync();
        var walk = await WalkAsync(owner, new { path = "/shop", visitor = new { } });
        var good = walk.Token!;
        walk.Token = "eyJ0IjoidHJpYWwifQ" + good[good.IndexOf('.', StringComparison.Ordinal)..];
        var plan = await walk.PlanAsync();
        Assert.True(plan.GetProperty("counted").GetBoolean());
        Assert.Equal(
            JsonValueKind.Undefined,
            plan.TryGetProperty("mark", out var mark) ? mark.ValueKind : JsonValueKind.Undefined
        );

        var (elsewhere, problem) = await owner.PostAsync(
            $"{Site}/trials",
            new { path = "//evil.example", visitor = new { } }
        );
        Assert.Equal((HttpStatusCode.BadRequest, "path"), (elsewhere, problem.Text("field")));
        var (odd, wrong) = await owner.PostAsync(
            $"{Site}/trials",
            new { path = "/", visitor = new { visitNumber = 0 } }
        );
        Assert.Equal((HttpStatusCode.BadRequest, "visitor"), (odd, wrong.Text("field")));
    }

    [Fact]
    public async Task What_is_pointed_at_on_a_trial_visit_reaches_the_desk_and_nobody_else_can_point()
    {
        var owner = await desk.OwnerAsync();
        var walk = await WalkAsync(owner, new { path = "/shop", visitor = new { } });
        object Point(string? token, string selector = "#buy") =>
            new
            {
                site = desk.World.Site.Key,
                page = $"{TestDesk.SiteOrigin}/shop",
                token,
                selector,
                label = "Add to basket",
                matches = 1,
            };
        using var told = await walk.SendAsync("/v/points", Point(walk.Token), TestDesk.SiteOrigin);
        Assert.Equal(HttpStatusCode.NoContent, told.StatusCode);
        var points = await owner.GetAsync($"{Site}/points");
        var point = points.EnumerateArray().First();
        Assert.Equal(("#buy", "/shop"), (point.Text("selector"), point.Text("path")));

        using var nobody = await walk.SendAsync("/v/points", Point("nonsense"), TestDesk.SiteOrigin);
        Assert.Equal(HttpStatusCode.Forbidden, nobody.StatusCode);
        using var tooLong = await walk.SendAsync(
            "/v/points",
            Point(walk.Token, new string('x', 301)),
            TestDesk.SiteOrigin
        );
        Assert.Equal(HttpStatusCode.BadRequest, tooLong.StatusCode);
        var (gone, _) = await owner.SendAsync(HttpMethod.Delete, $"{Site}/points/{point.Text("id")}");
        Assert.Equal(HttpStatusCode.NoContent, gone);
    }

    [Fact]
    public async Task A_visit_is_rehearsed_from_page_to_page_and_tells_what_a_changed_fact_changes()
    {
        var owner = await desk.OwnerAsync();
        var callout = await CalloutAsync(
            owner,
            "/trial-four",
            isLive: true,
            b => b with { Who = b.Who with { HiddenOn = [Core.Visitors.Device.Phone] } }
        );
        object[] pages =
        [
            new { path = "/trial-four", staySeconds = 30 },
            new { path = "/trial-four", staySeconds = 30 },
        ];
        var (status, played) = await owner.PostAsync(
            $"{Site}/rehearsals",
            new
            {
                visitor = new { device = "phone" },
                pages,
                before = new { },
            }
        );
        Assert.Equal(HttpStatusCode.OK, status);
        var page = played.GetProperty("pages")[0];
        Assert.Equal(
            "no longer shows \"A moment\"",
            Assert.Single(page.GetProperty("changes").EnumerateArray()).GetString()
        );
        Assert.Equal(30_000, played.GetProperty("pages")[1].GetProperty("startsMs").GetInt32());

        (_, played) = await owner.PostAsync($"{Site}/rehearsals", new { visitor = new { }, pages });
        bool Shows(int i) =>
            played
                .GetProperty("pages")[i]
                .GetProperty("showings")
                .EnumerateArray()
                .Any(s => s.GetProperty("calloutId").GetGuid() == callout);
        Assert.Equal((true, false), (Shows(0), Shows(1)));
        await owner.PostAsync($"{Site}/callouts/{callout}/pause");
    }

    [Fact]
    public async Task A_visit_that_cannot_be_is_refused_by_name()
    {
        var owner = await desk.OwnerAsync();
        async Task<string> FieldAsync(object body)
        {
            var (status, problem) = await owner.PostAsync($"{Site}/rehearsals", body);
            Assert.Equal(HttpStatusCode.BadRequest, status);
            return problem.Text("field");
        }
        object[] none = [];
        object[] one = [new { path = "/shop", staySeconds = 10 }];
        Assert.Equal("pages", await FieldAsync(new { visitor = new { }, pages = none }));
        Assert.Equal(
            "pages",
            await FieldAsync(new { visitor = new { }, pages = new[] { new { path = "shop", staySeconds = 10 } } })
        );
        Assert.Equal(
            "pages",
            await FieldAsync(new { visitor = new { }, pages = new[] { new { path = "/shop", staySeconds = 0 } } })
        );
        Assert.Equal("visitor", await FieldAsync(new { visitor = new { localHour = 30 }, pages = one }));
        Assert.Equal(
            "at",
            await FieldAsync(
                new
                {
                    visitor = new { },
                    pages = one,
                    at = "soon",
                }
            )
        );
    }

    [Fact]
    public async Task Whoever_wonders_why_nothing_shows_is_told_the_likeliest_reason_and_its_control()
    {
        var owner = await desk.OwnerAsync();
        var callout = await CalloutAsync(owner, "/never-heard-of", isLive: true);
        var why = await owner.GetAsync($"{Site}/callouts/{callout}/why");
        Assert.Equal((0, 0), (why.GetProperty("shownShare").GetDouble(), why.GetProperty("pages").GetInt32()));
        Assert.Equal("where", why.GetProperty("reasons")[0].Text("control"));
        await owner.PostAsync($"{Site}/callouts/{callout}/pause");
        why = await owner.GetAsync($"{Site}/callouts/{callout}/why");
        Assert.Equal("state", why.GetProperty("reasons")[0].Text("control"));
        var revisions = await owner.GetAsync($"{Site}/callouts/{callout}/revisions");
        Assert.Equal(1, Assert.Single(revisions.EnumerateArray()).GetProperty("number").GetInt32());
    }

    [Fact]
    public async Task Recorded_visitors_are_listed_counted_for_a_rule_and_their_visits_can_be_rehearsed()
    {
        var owner = await desk.OwnerAsync();
        var visitors = await owner.GetAsync($"{Site}/visitors");
        Assert.Equal(visitors.GetProperty("of").GetInt32(), visitors.GetProperty("total").GetInt32());
        var (status, size) = await owner.PostAsync(
            $"{Site}/segments/size",
            new
            {
                rule = new
                {
                    kind = "test",
                    fact = "device",
                    comparison = "is",
                    value = "phone",
                    key = "",
                },
            }
        );
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.True(size.GetProperty("visitors").GetInt32() <= size.GetProperty("of").GetInt32());
        var (missing, _) = await owner.SendAsync(HttpMethod.Get, $"{Site}/visitors/nobody");
        Assert.Equal(HttpStatusCode.NotFound, missing);
        var (foreign, _) = await (await desk.StrangerAsync()).SendAsync(HttpMethod.Get, $"{Site}/visitors");
        Assert.Equal(HttpStatusCode.NotFound, foreign);
    }

    [Fact]
    public async Task A_ready_brief_begins_on_the_source_that_suits_it()
    {
        var owner = await desk.OwnerAsync();
        var ready = (await owner.GetAsync($"{Site}/callouts/ready")).EnumerateArray().ToList();
        var turns = ready.Single(r => r.Text("key") == "lately-in-turns");
        Assert.Equal(("Checkout", false), (turns.Text("source"), turns.GetProperty("lacks").GetBoolean()));
        var (status, made) = await owner.PostAsync($"{Site}/callouts", new { ready = "lately-in-turns" });
        Assert.Equal(HttpStatusCode.Created, status);
        var draft = made.GetProperty("draft");
        Assert.Equal(3, draft.GetProperty("when").GetProperty("turns").GetInt32());
        Assert.Equal(
            desk.World.Checkout.Id,
            Assert.Single(draft.GetProperty("from").GetProperty("sources").EnumerateArray()).GetGuid()
        );
        var (none, problem) = await owner.PostAsync($"{Site}/callouts", new { ready = "nonsense" });
        Assert.Equal((HttpStatusCode.BadRequest, "ready"), (none, problem.Text("field")));
    }

    [Fact]
    public async Task A_live_callout_that_wants_looking_at_says_so_in_the_list_with_the_reason()
    {
        var owner = await desk.OwnerAsync();
        var silent = await CalloutAsync(
            owner,
            "/noted",
            isLive: true,
            b => b with { From = b.From with { LeastNumber = 9_000 } }
        );
        // Heard after it went live, and looked at, so that the page is known.
        await new Browser(desk).PlanAsync("/noted");
        async Task<List<string>> NotesAsync() =>
            [
                .. (await owner.GetAsync($"{Site}/callouts"))
                    .EnumerateArray()
                    .Single(c => c.GetProperty("id").GetGuid() == silent)
                    .GetProperty("notes")
                    .EnumerateArray()
                    .Select(n => n.Text("note")),
            ];
        var notes = await Eventually.GetAsync(NotesAsync, n => n.Contains("waitingForFirst"));
        Assert.Contains("starterWording", notes);
        await owner.PostAsync($"{Site}/callouts/{silent}/pause");
        Assert.Empty(await NotesAsync());
    }

    [Fact]
    public async Task Callouts_are_put_into_groups_of_the_teams_own()
    {
        var owner = await desk.OwnerAsync();
        var callout = await CalloutAsync(owner, "/grouped", isLive: false);
        var (put, _) = await owner.SendAsync(
            HttpMethod.Put,
            $"{Site}/callouts/{callout}/group",
            new { group = " Winter " }
        );
        Assert.Equal(HttpStatusCode.NoContent, put);
        var listed = (await owner.GetAsync($"{Site}/callouts"))
            .EnumerateArray()
            .Single(c => c.GetProperty("id").GetGuid() == callout);
        Assert.Equal("Winter", listed.Text("group"));
        var (tooLong, problem) = await owner.SendAsync(
            HttpMethod.Put,
            $"{Site}/callouts/{callout}/group",
            new { group = new string('x', 41) }
        );
        Assert.Equal((HttpStatusCode.BadRequest, "group"), (tooLong, problem.Text("field")));
        await owner.PostAsync($"{Site}/callouts/{callout}/archive");
    }

    [Fact]
    public async Task A_visitor_is_cast_for_a_segment_or_nobody_is()
    {
        var owner = await desk.OwnerAsync();
        async Task<string> SegmentAsync(string name, object rule) =>
            (await owner.PostAsync($"{Site}/segments", new { name, rule })).Body.Text("id");
        object Test(string fact, string value) =>
            new
            {
                kind = "test",
                fact,
                comparison = "is",
                value,
                key = "",
            };
        var phones = await SegmentAsync("Cast on phones", Test("device", "phone"));
        var nobody = await SegmentAsync(
            "Cast as nobody",
            new { kind = "all", rules = new[] { Test("device", "phone"), Test("device", "tablet") } }
        );
        var (found, cast) = await owner.PostAsync($"{Site}/cast", new { segment = phones, from = new { } });
        Assert.Equal((HttpStatusCode.OK, "phone"), (found, cast.GetProperty("visitor").Text("device")));
        Assert.Equal("on a phone", Assert.Single(cast.GetProperty("assumed").EnumerateArray()).GetString());
        var (none, problem) = await owner.PostAsync($"{Site}/cast", new { segment = nobody, from = new { } });
        Assert.Equal((HttpStatusCode.UnprocessableEntity, "urn:outcry:problem:nobody"), (none, problem.Text("type")));
        foreach (var id in new[] { phones, nobody })
            await owner.SendAsync(HttpMethod.Delete, $"{Site}/segments/{id}");
    }
}
