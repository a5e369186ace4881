using Outcry.Core.Briefs;
using Outcry.Core.Targeting;

namespace Outcry.Server.Tests;

public sealed class CalloutTests(TestDesk desk)
{
    private string Api => $"/api/sites/{desk.World.Site.Id}/callouts";

    public static TheoryData<string, Func<Brief, Brief>> Unfit =>
        new()
        {
            { "from.sources", b => b with { From = b.From with { Sources = [] } } },
            { "from.windowMinutes", b => b with { From = b.From with { WindowMinutes = 0 } } },
            { "say.message", b => b with { Say = b.Say with { Message = "{{ shoe_size }}" } } },
            { "where.includes", b => b with { Where = new WhereFacet(["no slash"], [], [], Replaces: false) } },
        };

    [Theory]
    [MemberData(nameof(Unfit))]
    public async Task An_unfit_draft_is_kept_but_not_published(string field, Func<Brief, Brief> spoil)
    {
        var owner = await desk.OwnerAsync();
        var callout = await Moments.StartAsync(owner, desk, spoil);
        var kept = await owner.GetAsync($"{Api}/{callout}");
        Assert.Contains(
            kept.GetProperty("problems").EnumerateArray(),
            p => p.Text("field") == field && p.GetProperty("blocks").GetBoolean()
        );
        var (status, problem) = await Moments.PublishAsync(owner, desk, callout);
        Assert.Equal((HttpStatusCode.BadRequest, field), (status, problem.Text("field")));
        Assert.Equal("draft", (await owner.GetAsync($"{Api}/{callout}")).Text("state"));
    }

    [Fact]
    public async Task Editors_draft_but_do_not_put_live_or_take_off()
    {
        var editor = await desk.EditorAsync();
        var callout = await Moments.StartAsync(
            editor,
            desk,
            b => b with { Where = new WhereFacet(["/nowhere"], [], [], Replaces: false) }
        );
        var refused = await Moments.PublishAsync(editor, desk, callout);
        Assert.Equal(HttpStatusCode.Forbidden, refused.Status);
        Assert.Contains("publishers", refused.Body.Text("detail"), StringComparison.Ordinal);
        var owner = await desk.OwnerAsync();
        Assert.Equal(HttpStatusCode.OK, (await Moments.PublishAsync(owner, desk, callout)).Status);
        Assert.Equal(HttpStatusCode.Forbidden, (await editor.PostAsync($"{Api}/{callout}/pause")).Status);
        Assert.Equal("live", (await owner.GetAsync($"{Api}/{callout}")).Text("state"));
    }

    [Fact]
    public async Task Two_editors_cannot_overwrite_each_other_unseen()
    {
        var owner = await desk.OwnerAsync();
        var callout = await Moments.StartAsync(owner, desk, b => b);
        var brief = StarterBrief.Moment(Core.Evidence.EventKind.Purchase, [desk.World.Checkout.Id]);
        var stale = await Moments.SaveAsync(await desk.EditorAsync(), desk, callout, brief, version: 1);
        Assert.Equal(HttpStatusCode.Conflict, stale.Status);
        Assert.Equal(HttpStatusCode.Conflict, (await Moments.PublishAsync(owner, desk, callout, version: 1)).Status);
    }

    [Fact]
    public async Task A_callout_is_paused_resumed_put_away_and_fetched_back()
    {
        var owner = await desk.OwnerAsync();
        var callout = await Moments.StartAsync(
            owner,
            desk,
            b => b with { Where = new WhereFacet(["/nowhere"], [], [], Replaces: false) }
        );
        await Moments.PublishAsync(owner, desk, callout);
        Assert.Equal("paused", (await owner.PostAsync($"{Api}/{callout}/pause")).Body.Text("state"));
        Assert.Equal("live", (await owner.PostAsync($"{Api}/{callout}/resume")).Body.Text("state"));
        // Off air and away in one act, and only by those who may take things off air.
        var editor = await desk.EditorAsync();
        Assert.Equal(HttpStatusCode.Forbidden, (await editor.PostAsync($"{Api}/{callout}/archive")).Status);
        Assert.Equal("archived", (await owner.PostAsync($"{Api}/{callout}/archive")).Body.Text("state"));
        Assert.Equal(HttpStatusCode.Conflict, (await Moments.PublishAsync(owner, desk, callout)).Status);
        Assert.Equal("paused", (await owner.PostAsync($"{Api}/{callout}/restore")).Body.Text("state"));
    }

    [Fact]
    public async Task A_deleted_callout_is_gone_from_every_list_and_comes_back_as_it_was()
    {
        var owner = await desk.OwnerAsync();
        var callout = await Moments.StartAsync(
            owner,
            desk,
            b => b with { Where = new WhereFacet(["/deleted"], [], [], Replaces: false) }
        );
        await Moments.PublishAsync(owner, desk, callout);
        var live = await owner.SendAsync(HttpMethod.Delete, $"{Api}/{callout}");
        Assert.Equal((HttpStatusCode.Conflict, "It is live"), (live.Status, live.Body.Text("title")));
        await owner.PostAsync($"{Api}/{callout}/archive");
        Assert.Equal(HttpStatusCode.NoContent, (await owner.SendAsync(HttpMethod.Delete, $"{Api}/{callout}")).Status);
        Assert.Equal(HttpStatusCode.NotFound, (await owner.SendAsync(HttpMethod.Get, $"{Api}/{callout}")).Status);
        Assert.Equal(HttpStatusCode.NotFound, (await owner.PostAsync($"{Api}/{callout}/restore")).Status);
        Assert.DoesNotContain(callout, await ListedAsync(""));
        Assert.DoesNotContain(callout, await ListedAsync("?archived=true"));
        Assert.Contains(callout, await ListedAsync("?deleted=true"));
        Assert.Equal("archived", (await owner.PostAsync($"{Api}/{callout}/take-back")).Body.Text("state"));
        Assert.Contains(callout, await ListedAsync("?archived=true"));
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await owner.SendAsync(HttpMethod.Delete, $"{Api}/{Guid.NewGuid()}")).Status
        );

        async Task<IEnumerable<Guid>> ListedAsync(string shelf) =>
            (await owner.GetAsync($"{Api}{shelf}")).EnumerateArray().Select(c => c.GetProperty("id").GetGuid());
    }

    [Fact]
    public async Task A_brief_that_is_not_json_of_a_brief_changes_nothing()
    {
        var owner = await desk.OwnerAsync();
        var callout = await Moments.StartAsync(owner, desk, b => b);
        var (status, _) = await owner.SendAsync(
            HttpMethod.Put,
            $"{Api}/{callout}/draft",
            new
            {
                name = "x",
                content = new { say = "no" },
                version = 2,
            }
        );
        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.Equal(2, (await owner.GetAsync($"{Api}/{callout}")).GetProperty("draftVersion").GetInt32());
    }

    [Fact]
    public async Task Evidence_opens_the_claim_and_says_what_is_missing()
    {
        var owner = await desk.OwnerAsync();
        var callout = await Moments.StartAsync(owner, desk, b => b with { From = b.From with { LeastNumber = 9_000 } });
        await new Sender(desk).SendAsync(Sender.Purchase("evidence"));
        var evidence = await Eventually.GetAsync(
            () => owner.GetAsync($"{Api}/{callout}/evidence"),
            e => e.GetProperty("counted").GetInt32() > 0
        );
        Assert.Contains("needs 9000 events", evidence.Text("missing"), StringComparison.Ordinal);
        Assert.NotEmpty(evidence.GetProperty("rows").EnumerateArray());
    }

    [Fact]
    public async Task Evidence_says_how_many_events_are_left_out_and_why()
    {
        var owner = await desk.OwnerAsync();
        var listening = new Listening(desk, owner);
        var source = (await listening.AddAsync("byHand", "review")).GetProperty("id").GetGuid();
        foreach (var stars in new[] { 5, 4, 2, 1 })
        {
            var (entered, said) = await owner.PostAsync(
                $"{listening.Api}/sources/{source}/entries",
                new
                {
                    words = $"Pots of {stars}.",
                    who = "Birgit Solheim",
                    stars = $"{stars}",
                }
            );
            Assert.True((int)entered < 300, $"{entered}: {said}");
        }
        var (_, made) = await owner.PostAsync(Api, new { kind = "quote", source });
        var draft = StarterBrief.For(CalloutKind.Quote, Core.Evidence.EventKind.Review, [source], "en");
        await Moments.SaveAsync(
            owner,
            desk,
            made.GetProperty("id").GetGuid(),
            draft with
            {
                From = draft.From with { LeastStars = 4, LeastNumber = 1 },
            },
            1
        );
        var evidence = await Eventually.GetAsync(
            () => owner.GetAsync($"{Api}/{made.Text("id")}/evidence"),
            e => e.GetProperty("counted").GetInt32() == 2
        );
        var left = Assert.Single(evidence.GetProperty("leftOut").EnumerateArray());
        Assert.Equal((2, "under 4 stars"), (left.GetProperty("number").GetInt32(), left.Text("why")));
        // A site has so many sources and no more, and other tests want some.
        var id = made.GetProperty("id").GetGuid();
        await Moments.SaveAsync(owner, desk, id, draft with { From = draft.From with { Sources = [] } }, 2);
        var (gone, _) = await owner.SendAsync(HttpMethod.Delete, $"{listening.Api}/sources/{source}");
        Assert.Equal(HttpStatusCode.NoContent, gone);
    }

    [Fact]
    public async Task The_rehearsal_and_the_run_sheet_show_what_would_appear_or_why_not()
    {
        var owner = await desk.OwnerAsync();
        for (var i = 0; i < 3; i++)
            await new Sender(desk).SendAsync(Sender.Purchase($"sheet-{i}"));
        var callout = await Moments.StartAsync(
            owner,
            desk,
            b => b with { Where = new WhereFacet(["/journal/**"], [], [], Replaces: false), Priority = 1 }
        );
        await Moments.PublishAsync(owner, desk, callout);
        await Task.Delay(400);
        var there = await owner.GetAsync($"{Api}/{callout}/rehearsal?path=/journal");
        Assert.Contains(
            there.GetProperty("showings").EnumerateArray(),
            s => s.GetProperty("calloutId").GetGuid() == callout && s.GetProperty("startMs").GetInt32() == 6000
        );
        var elsewhere = await owner.GetAsync($"{Api}/{callout}/rehearsal?path=/shop");
        Assert.Contains(
            elsewhere.GetProperty("notShown").EnumerateArray(),
            n => n.GetProperty("reason").Text("kind") == "pageNotIncluded"
        );
        var sheet = await owner.GetAsync($"/api/sites/{desk.World.Site.Id}/run-sheet?persona=closedOne");
        var journal = sheet.GetProperty("lanes").EnumerateArray().Single(l => l.Text("name") == "Journal");
        var lane = await owner.GetAsync(
            $"/api/sites/{desk.World.Site.Id}/run-sheet/lanes/{journal.Text("groupId")}?persona=closedOne"
        );
        Assert.Contains(
            lane.GetProperty("notShown").EnumerateArray(),
            n => n.GetProperty("reason").Text("kind") == "hushed" && n.Text("control") == "howOften"
        );
        var (status, problem) = await owner.SendAsync(
            HttpMethod.Get,
            $"/api/sites/{desk.World.Site.Id}/run-sheet?persona=emperor"
        );
        Assert.Equal((HttpStatusCode.BadRequest, "persona"), (status, problem.Text("field")));
        await owner.PostAsync($"{Api}/{callout}/pause");
    }
}
