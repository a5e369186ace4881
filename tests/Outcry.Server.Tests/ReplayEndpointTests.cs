using System.Text.Json;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Targeting;
using Outcry.Core.Visitors;

namespace Outcry.Server.Tests;

public sealed class ReplayEndpointTests(TestDesk desk)
{
    private string Of(Guid callout) => $"/api/sites/{desk.World.Site.Id}/callouts/{callout}/replay";

    [Fact]
    public async Task A_draft_is_played_against_what_browsers_reported()
    {
        var owner = await desk.OwnerAsync();
        var draft = await NoticeAsync(owner, "/replayed");
        await VisitAsync("/replayed", staysMs: 20_000);
        await VisitAsync("/replayed", staysMs: 2_000);
        await VisitAsync("/replayed", staysMs: null);

        var figures = await ReplayAsync(owner, draft);
        Assert.Equal(3, figures.GetProperty("onItsPages").GetInt32());
        Assert.Equal(1, figures.GetProperty("starts").GetInt32());
        Assert.Equal(1, figures.GetProperty("visitorsReached").GetInt32());
        Assert.Equal(1, figures.GetProperty("firstPer5s")[1].GetInt32());
        Assert.True(figures.GetProperty("withoutEnd").GetInt32() >= 1);
        var missed = Assert.Single(figures.GetProperty("notShown").EnumerateArray());
        Assert.Equal(("leftBefore", 2), (missed.Text("kind"), missed.GetProperty("pageViews").GetInt32()));
        var days = figures.GetProperty("days").EnumerateArray().ToList();
        Assert.InRange(days.Count, 8, 9);
        Assert.Equal(1, days.Sum(d => d.GetProperty("all").GetProperty("starts").GetInt32()));
        Assert.NotEmpty(figures.GetProperty("groups").EnumerateArray());
    }

    [Fact]
    public async Task Whom_a_draft_asks_for_is_told_by_what_was_kept_of_the_visit()
    {
        var owner = await desk.OwnerAsync();
        var german = await NoticeAsync(
            owner,
            "/kept",
            new AllOf([
                new FactTest(VisitorFact.Language, FactComparison.Is, "de"),
                new FactTest(VisitorFact.Campaign, FactComparison.Is, "kiln") { Key = "campaign" },
            ])
        );
        await VisitAsync("/kept?utm_campaign=kiln", 20_000, languages: "en;q=0.4, de-AT;q=0.9");
        await VisitAsync("/kept?utm_campaign=kiln", 20_000, languages: "nl");
        await VisitAsync("/kept", 20_000, languages: "de");
        var figures = await ReplayAsync(owner, german);
        Assert.Equal((3, 1), (figures.GetProperty("onItsPages").GetInt32(), figures.GetProperty("starts").GetInt32()));
    }

    [Theory]
    [InlineData(false, 1)]
    [InlineData(true, 0)]
    public async Task Of_whoever_asks_not_to_be_tracked_nothing_is_kept_but_the_page_view(bool gpc, int kept)
    {
        var browser = new Browser(desk) { Languages = "de" };
        await browser.PlanAsync($"/untracked-{gpc}");
        using var seen = await browser.SendAsync(
            "/v/signals",
            new
            {
                site = desk.World.Site.Key,
                page = $"{TestDesk.SiteOrigin}/untracked-{gpc}",
                width = 1280,
                passport = browser.Passport,
                gpc,
                signals = new[] { new { id = Guid.NewGuid(), kind = "view" } },
            },
            TestDesk.SiteOrigin
        );
        Assert.Equal(HttpStatusCode.Accepted, seen.StatusCode);
        Assert.Equal((1, kept), await KeptOfAsync(browser.Visitor));
    }

    [Fact]
    public async Task What_tells_a_visit_apart_goes_with_the_person()
    {
        var browser = new Browser(desk) { Languages = "de" };
        await browser.PlanAsync("/erased");
        using var seen = await browser.TellAsync([new { id = Guid.NewGuid(), kind = "view" }], path: "/erased");
        Assert.Equal((1, 1), await KeptOfAsync(browser.Visitor));
        var order = Sender.Purchase("erased-with-traits", visitor: browser.Visitor, email: "quill.traits@post.example");
        var (_, sent, _) = await new Sender(desk).SendAsync(order);
        var owner = await desk.OwnerAsync();
        var (status, _) = await owner.PostAsync(
            $"/api/sites/{desk.World.Site.Id}/people/erase",
            new
            {
                events = new[] { sent.Text("id") },
                visitors = Array.Empty<string>(),
                deliveries = Array.Empty<string>(),
                foundBy = "e-mail",
            }
        );
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.Equal((1, 0), await KeptOfAsync(browser.Visitor));
        // Nor does the count of visitors that is kept in memory know of it any longer.
        var history = await owner.GetAsync($"/api/sites/{desk.World.Site.Id}/visitors/{browser.Visitor}");
        Assert.Equal("", history.GetProperty("visitor").Text("language"));
        Assert.Equal("/erased", history.GetProperty("visits")[0].GetProperty("pages")[0].Text("path"));
    }

    private async Task<(int Views, int Traits)> KeptOfAsync(string visitor)
    {
        await using var command = desk
            .Services.GetRequiredService<NpgsqlDataSource>()
            .CreateCommand("select count(*), count(traits) from signals where visitor_id = $1");
        command.Parameters.AddWithValue(visitor);
        await using var reader = await command.ExecuteReaderAsync();
        await reader.ReadAsync();
        return (reader.GetInt32(0), reader.GetInt32(1));
    }

    [Fact]
    public async Task What_cannot_be_played_is_refused_with_a_reason()
    {
        var owner = await desk.OwnerAsync();
        var draft = await NoticeAsync(owner, "/refused");
        using var tooLong = await owner.Http.GetAsync($"{Of(draft)}?days=91");
        Assert.Equal("days", (await tooLong.JsonAsync()).Text("field"));
        Assert.Equal(HttpStatusCode.BadRequest, tooLong.StatusCode);

        var unsaid = await NoticeAsync(owner, "/refused");
        await Moments.SaveAsync(
            owner,
            desk,
            unsaid,
            Notice("/refused") with
            {
                Say = Notice("/refused").Say with { Message = "{{ broken" },
            },
            2
        );
        using var notReady = await owner.Http.GetAsync(Of(unsaid));
        Assert.Equal(HttpStatusCode.Conflict, notReady.StatusCode);
        Assert.Equal("urn:outcry:problem:not-ready", (await notReady.JsonAsync()).Text("type"));
    }

    [Fact]
    public async Task Hanging_up_gives_the_place_back()
    {
        var owner = await desk.OwnerAsync();
        var draft = await NoticeAsync(owner, "/hung-up");
        for (var i = 0; i < 6; i++)
        {
            using var answer = await Eventually.GetAsync(
                () => owner.Http.GetAsync(Of(draft), HttpCompletionOption.ResponseHeadersRead),
                a => a.StatusCode != HttpStatusCode.ServiceUnavailable
            );
            Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        }
    }

    private static Brief Notice(string path, VisitorRule? who = null)
    {
        var notice = StarterBrief.For(CalloutKind.Notice, EventKind.Purchase, []);
        return notice with
        {
            Say = notice.Say with { Message = "The kiln opens at nine" },
            Where = new WhereFacet([path], [], [], Replaces: false),
            Who = who is null ? notice.Who : notice.Who with { Rule = who },
        };
    }

    private Task<Guid> NoticeAsync(DeskClient owner, string path, VisitorRule? who = null) =>
        Moments.StartAsync(owner, desk, _ => Notice(path, who));

    private async Task VisitAsync(string path, int? staysMs, string languages = "")
    {
        var browser = new Browser(desk) { Languages = languages };
        await browser.PlanAsync(path);
        object Signal(string kind, int value) =>
            new
            {
                id = Guid.NewGuid(),
                kind,
                value,
            };
        using var seen = await browser.TellAsync([Signal("view", 0)], path: path);
        Assert.Equal(HttpStatusCode.Accepted, seen.StatusCode);
        if (staysMs is not { } stay)
            return;
        await Task.Delay(2);
        using var left = await browser.TellAsync([Signal("left", stay), Signal("depth", 50)], path: path);
        Assert.Equal(HttpStatusCode.Accepted, left.StatusCode);
    }

    private async Task<JsonElement> ReplayAsync(DeskClient owner, Guid draft)
    {
        var lines = (await owner.Http.GetStringAsync($"{Of(draft)}?days=7")).Split(
            '\n',
            StringSplitOptions.RemoveEmptyEntries
        );
        var last = JsonSerializer.Deserialize<JsonElement>(lines[^1]);
        Assert.True(last.GetProperty("done").GetBoolean());
        Assert.Equal(last.GetProperty("of").GetInt32(), last.GetProperty("read").GetInt32());
        Assert.All(
            lines[..^1],
            l => Assert.False(JsonSerializer.Deserialize<JsonElement>(l).GetProperty("done").GetBoolean())
        );
        return last.GetProperty("figures");
    }
}
