using System.Text.Json;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Npgsql;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Publishing;
using Outcry.Core.Targeting;
using Outcry.Core.Visitors;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;
using Outcry.Store.Signals;

namespace Outcry.Server.Tests;

public sealed class AudienceTests(TestDesk desk)
{
    private string Api => $"/api/sites/{desk.World.Site.Id}/segments";

    private static object Request(string name, VisitorRule rule) =>
        new { name, rule = JsonSerializer.SerializeToElement(rule, JsonColumn.Options) };

    private static readonly VisitorRule Phones = new FactTest(VisitorFact.Device, FactComparison.Is, "phone");

    [Fact]
    public async Task A_segment_is_added_named_by_a_callout_and_kept_while_it_is_named()
    {
        var owner = await desk.OwnerAsync();
        var (made, segment) = await owner.PostAsync(Api, Request(" On phones ", Phones));
        Assert.Equal((HttpStatusCode.Created, "On phones"), (made, segment.Text("name")));
        var id = segment.GetProperty("id").GetGuid();
        var callout = await Moments.StartAsync(
            owner,
            desk,
            b => b with { Who = b.Who with { Rule = new InSegment(id) } }
        );
        var listed = (await owner.GetAsync(Api)).EnumerateArray().Single(s => s.GetProperty("id").GetGuid() == id);
        Assert.Equal(callout, Assert.Single(listed.GetProperty("usedBy").EnumerateArray()).GetProperty("id").GetGuid());

        var (kept, problem) = await owner.SendAsync(HttpMethod.Delete, $"{Api}/{id}");
        Assert.Equal((HttpStatusCode.Conflict, "urn:outcry:problem:in-use"), (kept, problem.Text("type")));
        await Moments.SaveAsync(
            owner,
            desk,
            callout,
            StarterBrief.Moment(EventKind.Purchase, [desk.World.Checkout.Id]),
            2
        );
        var (gone, _) = await owner.SendAsync(HttpMethod.Delete, $"{Api}/{id}");
        Assert.Equal(HttpStatusCode.NoContent, gone);
    }

    [Fact]
    public async Task Names_are_taken_once_and_rules_must_make_sense()
    {
        var owner = await desk.OwnerAsync();
        var (_, first) = await owner.PostAsync(Api, Request("Twice", Phones));
        var (again, taken) = await owner.PostAsync(Api, Request("Twice", Phones));
        Assert.Equal((HttpStatusCode.Conflict, "urn:outcry:problem:name-taken"), (again, taken.Text("type")));
        var wrong = new FactTest(VisitorFact.PagesEver, FactComparison.AtLeast, "many");
        var (refused, problem) = await owner.PostAsync(Api, Request("Wrong", wrong));
        Assert.Equal((HttpStatusCode.BadRequest, "rule"), (refused, problem.Text("field")));
        var self = new InSegment(first.GetProperty("id").GetGuid());
        var (round, circle) = await owner.SendAsync(
            HttpMethod.Put,
            $"{Api}/{first.GetProperty("id").GetGuid()}",
            Request("Twice", self)
        );
        Assert.Equal((HttpStatusCode.BadRequest, "rule"), (round, circle.Text("field")));
    }

    [Fact]
    public async Task What_pages_said_of_their_visitors_is_suggested_and_nothing_that_says_who_they_are()
    {
        await using (var db = desk.Database.Open())
        {
            foreach (var plan in new[] { "gold", "gold", "clay" })
                db.Visitors.Add(
                    new VisitorRow
                    {
                        WorkspaceId = desk.World.Workspace.Id,
                        SiteId = desk.World.Site.Id,
                        VisitorId = $"seen-{Guid.NewGuid():N}",
                        Attributes = new()
                        {
                            ["glaze_plan"] = plan,
                            ["email"] = "k•••@pots.example",
                            ["tags"] = "regular, kiln club",
                        },
                    }
                );
            await db.SaveChangesAsync();
        }
        var owner = await desk.OwnerAsync();
        var seen = (await owner.GetAsync($"/api/sites/{desk.World.Site.Id}/visitors/seen")).EnumerateArray().ToList();
        string[] Of(string fact, string key) =>
            [
                .. seen.Where(s => s.Text("fact") == fact && s.Text("key") == key)
                    .SelectMany(s => s.GetProperty("values").EnumerateArray())
                    .Select(v => v.GetString()!),
            ];
        Assert.Equal(["gold", "clay"], Of("attribute", "glaze_plan"));
        Assert.Contains("kiln club", Of("tag", ""));
        Assert.DoesNotContain(seen, s => s.Text("key").Contains("mail", StringComparison.Ordinal));
    }

    [Fact]
    public async Task Facts_that_the_browser_tells_decide_who_meets_a_callout()
    {
        var owner = await desk.OwnerAsync();
        var callout = await Moments.StartAsync(
            owner,
            desk,
            _ =>
                Notice("/facts") with
                {
                    Who = Notice("/facts").Who with
                    {
                        Rule = new AllOf([
                            new FactTest(VisitorFact.Attribute, FactComparison.Is, "gold") { Key = "plan" },
                            new FactTest(VisitorFact.Identity, FactComparison.Is, "known"),
                            new FactTest(VisitorFact.Referrer, FactComparison.Is, "crafts.example"),
                        ]),
                    },
                }
        );
        await Moments.PublishAsync(owner, desk, callout);
        async Task<bool> Meets(string plan, bool known, string referrer)
        {
            using var answer = await new Browser(desk).SendAsync(
                "/v/plan",
                new
                {
                    site = desk.World.Site.Key,
                    page = TestDesk.SiteOrigin + "/facts",
                    width = 1280,
                    attributes = new Dictionary<string, string> { ["plan"] = plan },
                    known,
                    referrer,
                },
                TestDesk.SiteOrigin
            );
            return Browser.Cues(await answer.JsonAsync()).Contains(callout);
        }
        Assert.True(await Eventually.GetAsync(() => Meets("gold", true, "https://crafts.example/list"), met => met));
        Assert.False(await Meets("silver", true, "https://crafts.example/list"));
        Assert.False(await Meets("gold", false, "https://crafts.example/list"));
        Assert.False(await Meets("gold", true, $"{TestDesk.SiteOrigin}/shop"));
    }

    [Fact]
    public async Task Whether_somebody_of_the_team_is_there_is_answered_at_that_moment()
    {
        var presence = desk.Services.GetRequiredService<TeamPresence>();
        async Task<bool> Ask()
        {
            using var answer = await new Browser(desk).SendAsync(
                "/v/there",
                new { site = desk.OtherSite.Key, page = "http://elsewhere.test/" },
                "http://elsewhere.test"
            );
            Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
            return (await answer.JsonAsync()).GetProperty("there").GetBoolean();
        }
        Assert.False(await Ask());
        presence.Came("a connection", desk.OtherSite.WorkspaceId, Guid.Empty, Guid.Empty, "Somebody");
        Assert.True(await Ask());
        presence.Went("a connection");
        Assert.False(await Ask());
        using var elsewhere = await new Browser(desk).SendAsync(
            "/v/there",
            new { site = desk.OtherSite.Key, page = "http://not-allowed.test/" },
            "http://not-allowed.test"
        );
        Assert.Equal(HttpStatusCode.Forbidden, elsewhere.StatusCode);
    }

    [Fact]
    public async Task Parts_of_the_snippet_are_kept_for_good_under_their_version_and_only_then()
    {
        var http = desk.Anonymous();
        using var nothing = await http.GetAsync("/o/more/nothing-0000.js");
        Assert.Equal(HttpStatusCode.NotFound, nothing.StatusCode);
        using var unknown = await http.GetAsync("/o/more/draw-0000.js");
        Assert.Equal(HttpStatusCode.OK, unknown.StatusCode);
        Assert.DoesNotContain("immutable", $"{unknown.Headers.CacheControl}", StringComparison.Ordinal);
        var version = unknown.Headers.ETag!.Tag.Trim('"');
        using var known = await http.GetAsync($"/o/more/draw-{version}.js");
        Assert.Contains("immutable", $"{known.Headers.CacheControl}", StringComparison.Ordinal);
        Assert.Equal("*", known.Headers.GetValues("Access-Control-Allow-Origin").Single());
    }

    [Fact]
    public async Task Kinds_are_advised_with_a_reason_each_best_first()
    {
        var owner = await desk.OwnerAsync();
        var advice = (await owner.GetAsync($"/api/sites/{desk.World.Site.Id}/callouts/advice"))
            .EnumerateArray()
            .ToList();
        Assert.Equal(Enum.GetValues<CalloutKind>().Length, advice.Count);
        Assert.All(advice, a => Assert.EndsWith(".", a.Text("because"), StringComparison.Ordinal));
        var scores = advice.ConvertAll(a => a.GetProperty("score").GetInt32());
        Assert.Equal(scores.OrderDescending(), scores);
        var (status, _) = await owner.SendAsync(
            HttpMethod.Get,
            $"/api/sites/{desk.World.Site.Id}/callouts/advice?group={Guid.NewGuid()}"
        );
        Assert.Equal(HttpStatusCode.BadRequest, status);
    }

    [Fact]
    public async Task Advice_goes_by_counted_visitors_of_the_group_s_own_pages()
    {
        var owner = await desk.OwnerAsync();
        var (_, site) = await owner.PostAsync(
            $"/api/workspaces/{desk.World.Site.WorkspaceId}/sites",
            new
            {
                name = "Advised",
                homeAddress = "https://advised.example/",
                timeZone = "Europe/Dublin",
                language = "en",
            }
        );
        var id = site.GetProperty("id").GetGuid();
        var (_, made) = await owner.PostAsync(
            $"/api/sites/{id}/page-groups",
            new
            {
                name = "Advised",
                includes = new[] { "/advised/*" },
                excludes = Array.Empty<string>(),
            }
        );
        var now = SystemClock.Instance.GetCurrentInstant();
        Signal View(string visitor, string path, int daysAgo, bool isTest = false) =>
            new(
                Guid.CreateVersion7(),
                id,
                now - Duration.FromDays(daysAgo) - Duration.FromHours(1),
                SignalKind.View,
                visitor,
                1,
                path,
                null,
                0,
                (short)Device.Desktop,
                isTest
            );
        var signals = new List<Signal>();
        // On five days of seven the same nine visitors within one minute, each of them twice; one crowded day more.
        for (var day = 0; day < 5; day++)
        for (var i = 0; i < 18; i++)
            signals.Add(View($"regular-{i % 9}", $"/advised/{i % 3}", day));
        for (var i = 0; i < 40; i++)
            signals.Add(View($"crowd-{i}", "/advised/crowd", 5));
        signals.Add(View("elsewhere", "/advised", 1));
        signals.Add(View("tester", "/advised/1", 1, isTest: true));
        signals.Add(View("long-ago", "/advised/1", 8));
        await new SignalCopy(desk.Services.GetRequiredService<NpgsqlDataSource>()).WriteAsync(
            signals,
            TestContext.Current.CancellationToken
        );
        var advice = (await owner.GetAsync($"/api/sites/{id}/callouts/advice?group={made.Text("id")}"))
            .EnumerateArray()
            .Select(a => a.Text("because"))
            .ToList();
        Assert.Contains("On a usual day 9 visitors open these pages within one minute.", advice);
        Assert.Contains(advice, a => a.StartsWith("49 visitors looked at these pages", StringComparison.Ordinal));
    }

    [Fact]
    public async Task Page_views_are_counted_over_the_window_each_visitor_once()
    {
        var source = desk.Services.GetRequiredService<NpgsqlDataSource>();
        var site = Guid.NewGuid();
        var now = SystemClock.Instance.GetCurrentInstant();
        Signal View(string visitor, string path, int minutesAgo, bool isTest = false) =>
            new(
                Guid.CreateVersion7(),
                site,
                now - Duration.FromMinutes(minutesAgo),
                SignalKind.View,
                visitor,
                1,
                path,
                null,
                0,
                0,
                isTest
            );
        await new SignalCopy(source).WriteAsync(
            [
                View("a", "/shop", 5),
                View("a", "/shop/mug", 30),
                View("b", "/shop", 50),
                View("b", "/shop", 70),
                View("c", "/journal", 10),
                View("d", "/shop", 10, isTest: true),
            ],
            CancellationToken.None
        );
        var tally = StarterBrief.For(CalloutKind.Tally, EventKind.Purchase, []);
        var callout = new Callout(
            new Definition(Guid.NewGuid(), "seen", DefinitionState.Live, now, 1),
            tally with
            {
                From = tally.From with { Measure = Measure.Visitors, WindowMinutes = 60, OfThisPage = true },
                Where = tally.Where with { Includes = ["/shop/**"] },
            }
        );
        var counted = await new LookedCounter(new SignalFigures(source)).CountAsync(
            site,
            "pots.test",
            [callout],
            now,
            CancellationToken.None
        );
        var looked = counted[callout.Id];
        Assert.Equal((3, 2), (looked.Views, looked.Visitors));
        Assert.Equal(50, looked.Span.TotalMinutes, 1.0);
        Assert.Equal((2, 2), (looked.ByPath["/shop"].Views, looked.ByPath["/shop"].Visitors));
        Assert.Equal(1, looked.ByPath["/shop/mug"].Views);
    }

    private static Brief Notice(string path)
    {
        var notice = StarterBrief.For(CalloutKind.Notice, EventKind.Purchase, []);
        return notice with
        {
            Say = notice.Say with { Message = "The kiln opens at nine" },
            Where = new WhereFacet([path], [], [], Replaces: false),
        };
    }
}
