using System.Collections.Immutable;
using System.Text.Json;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.TestHost;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Outcry.Core.Explaining;
using Outcry.Core.Pages;
using Outcry.Core.Publishing;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;
using Outcry.Server.Publishing;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.Tests;

/// <summary>Something that only these tests know: a word on a pole.</summary>
public sealed record Pennant(string Word, Targeting Targeting);

internal sealed record HoistedPennant(string Word, CompiledTargeting Targeting);

/// <summary>All that is its own about it: its check, its compilation, what it names.</summary>
internal sealed class PennantKind : DefinitionKind<Pennant, HoistedPennant>
{
    public override string Noun => "pennant";

    public override IReadOnlyList<Problem> Check(Pennant content, CheckSetting setting) =>
        [
            .. content.Word.Length == 0 ? new[] { new Problem("word", "Write the word on it.") } : [],
            .. TargetingCheck.Problems(content.Targeting, setting.Context, setting.Sources, setting.Moment),
        ];

    public override HoistedPennant Compile(Definition definition, Pennant content, SiteContext context) =>
        new(content.Word, new CompiledTargeting(definition, content.Targeting, context));

    public override References ReferencesOf(Pennant content) => content.Targeting.References;
}

/// <summary>A desk that knows pennants.</summary>
public sealed class PennantDesk : TestDesk
{
    protected override void Vary(IWebHostBuilder builder) =>
        builder.ConfigureTestServices(s =>
            s.AddDefinitionKind(
                new PennantKind(),
                p => new
                {
                    p.Row.Id,
                    p.Row.State,
                    p.Row.DraftVersion,
                    p.Draft,
                    p.Problems,
                }
            )
        );
}

/// <summary>A new kind of definition is its check, its compilation and its references; all else is there.</summary>
public sealed class NewKindTests(PennantDesk desk) : IClassFixture<PennantDesk>
{
    private static readonly Targeting Everywhere = new(
        new WhereFacet([], [], [], Replaces: false),
        new WhoFacet(VisitorRule.Everybody, []),
        new DueFacet([], Core.Evidence.Join.All, Schedule.Always, OnlyIfAvailable: false),
        new HowOftenFacet(RepeatUnit.Visit, 1, null, null, UntilClicked: false, 0, Pause.None, [], Pause.None),
        0
    );

    private string Api => $"/api/sites/{desk.World.Site.Id}/pennants";

    private LiveSite Site => desk.Services.GetRequiredService<LiveSites>().GetById(desk.World.Site.Id);

    private static object Body(string word, Targeting targeting, int? version = null) =>
        new
        {
            name = "On the kiln",
            content = JsonSerializer.SerializeToElement(new Pennant(word, targeting), JsonColumn.Options),
            version,
        };

    private async Task<Guid> PublishedAsync(DeskClient owner, Targeting targeting)
    {
        var (status, made) = await owner.PostAsync(Api, Body("FIRED", targeting));
        Assert.Equal(HttpStatusCode.Created, status);
        var id = made.GetProperty("id").GetGuid();
        Assert.Equal(HttpStatusCode.OK, (await owner.PostAsync($"{Api}/{id}/publish", new { version = 1 })).Status);
        return id;
    }

    private Task<HoistedPennant?> LiveAsync(Guid id, Func<HoistedPennant?, bool> awaited) =>
        Eventually.GetAsync(() => Task.FromResult(Site.Compiled.GetValueOrDefault(id) as HoistedPennant), awaited);

    [Fact]
    public async Task It_is_drafted_checked_published_revised_and_put_away()
    {
        var owner = await desk.OwnerAsync();
        var (_, made) = await owner.PostAsync(Api, Body("", Everywhere));
        var id = made.GetProperty("id").GetGuid();
        Assert.Equal("word", made.GetProperty("problems")[0].Text("field"));
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await owner.PostAsync($"{Api}/{id}/publish", new { version = 1 })).Status
        );

        var (_, saved) = await owner.SendAsync(HttpMethod.Put, $"{Api}/{id}/draft", Body("FIRED", Everywhere, 1));
        Assert.Equal(2, saved.GetProperty("draftVersion").GetInt32());
        var stale = await owner.SendAsync(HttpMethod.Put, $"{Api}/{id}/draft", Body("LATE", Everywhere, 1));
        Assert.Equal(HttpStatusCode.Conflict, stale.Status);
        await owner.PostAsync($"{Api}/{id}/publish", new { version = 2 });
        Assert.Equal("FIRED", (await LiveAsync(id, p => p is not null))!.Word);

        await owner.SendAsync(HttpMethod.Put, $"{Api}/{id}/draft", Body("GLAZED", Everywhere, 2));
        await owner.PostAsync($"{Api}/{id}/publish", new { version = 3 });
        Assert.Equal("GLAZED", (await LiveAsync(id, p => p?.Word == "GLAZED"))!.Word);
        var revisions = await owner.GetAsync($"{Api}/{id}/revisions");
        Assert.Equal(
            ["GLAZED", "FIRED"],
            revisions.EnumerateArray().Select(r => r.GetProperty("content").Text("word"))
        );

        Assert.Equal("paused", (await owner.PostAsync($"{Api}/{id}/pause")).Body.Text("state"));
        Assert.Null(await LiveAsync(id, p => p is null));
        Assert.Equal("archived", (await owner.PostAsync($"{Api}/{id}/archive")).Body.Text("state"));
        Assert.DoesNotContain(
            id,
            (await owner.GetAsync(Api)).EnumerateArray().Select(p => p.GetProperty("id").GetGuid())
        );
        Assert.Equal("paused", (await owner.PostAsync($"{Api}/{id}/restore")).Body.Text("state"));
        Assert.Equal("live", (await owner.PostAsync($"{Api}/{id}/resume")).Body.Text("state"));
        var (_, copy) = await owner.PostAsync($"{Api}/{id}/duplicate");
        Assert.Equal("draft", copy.Text("state"));
    }

    [Fact]
    public async Task It_is_targeted_and_every_refusal_is_a_sentence()
    {
        var id = await PublishedAsync(
            await desk.OwnerAsync(),
            Everywhere with
            {
                Where = new WhereFacet(["/kiln/**"], [], [], Replaces: false),
                Who = new WhoFacet(VisitorRule.Everybody, [Device.Phone]),
            }
        );
        var target = (await LiveAsync(id, p => p is not null))!.Targeting;
        var kiln = PageAddress.TryParse($"{TestDesk.SiteOrigin}/kiln/open")!;
        Assert.True(target.Pages.Decide(kiln).Shown);
        Assert.Null(Decide(target, Device.Desktop));
        Assert.Equal("It is hidden on phones.", Say(Decide(target, Device.Phone)!));
        var shop = PageAddress.TryParse($"{TestDesk.SiteOrigin}/shop")!;
        Assert.Equal(
            "The page does not match its pattern.",
            Say(Eligibility.OffPage(target, shop, SystemClock.Instance.GetCurrentInstant(), Site.Zone))
        );
    }

    [Fact]
    public async Task What_it_names_cannot_be_taken_away_even_when_it_is_archived()
    {
        var owner = await desk.OwnerAsync();
        var (_, group) = await owner.PostAsync(
            $"/api/sites/{desk.World.Site.Id}/page-groups",
            new
            {
                name = "Kilns",
                includes = ImmutableArray.Create("/kiln/**"),
                excludes = Array.Empty<string>(),
            }
        );
        var groupId = group.GetProperty("id").GetGuid();
        var id = await PublishedAsync(
            owner,
            Everywhere with
            {
                Where = new WhereFacet([], [], [groupId], Replaces: false),
            }
        );
        await owner.PostAsync($"{Api}/{id}/pause");
        await owner.PostAsync($"{Api}/{id}/archive");
        var (status, answer) = await owner.SendAsync(
            HttpMethod.Delete,
            $"/api/sites/{desk.World.Site.Id}/page-groups/{groupId}"
        );
        Assert.Equal(HttpStatusCode.Conflict, status);
        Assert.Contains("On the kiln", answer.Text("detail"));
    }

    [Fact]
    public async Task Of_two_who_act_at_once_the_later_is_told_so_and_nothing_breaks()
    {
        var owner = await desk.OwnerAsync();
        var id = await PublishedAsync(owner, Everywhere);
        for (var version = 1; version <= 12; version++)
        {
            var save = owner.SendAsync(HttpMethod.Put, $"{Api}/{id}/draft", Body($"W{version}", Everywhere, version));
            var move = owner.PostAsync($"{Api}/{id}/{(version % 2 == 1 ? "pause" : "resume")}");
            foreach (var (status, answer) in await Task.WhenAll(save, move))
                Assert.True(
                    status is HttpStatusCode.OK
                        || answer.Text("title") is "Somebody was quicker" or "The draft has changed meanwhile",
                    $"{status} {answer}"
                );
            await owner.PostAsync($"{Api}/{id}/{(version % 2 == 1 ? "pause" : "resume")}");
            if ((await save).Status != HttpStatusCode.OK)
                await owner.SendAsync(HttpMethod.Put, $"{Api}/{id}/draft", Body("again", Everywhere, version));
        }
    }

    [Fact]
    public async Task Where_a_draft_is_damaged_what_was_published_stands_for_it()
    {
        var owner = await desk.OwnerAsync();
        var id = await PublishedAsync(owner, Everywhere);
        await desk.SqlAsync($"update definitions set draft = '[1]' where id = '{id}'");
        Assert.Equal("FIRED", (await owner.GetAsync($"{Api}/{id}")).GetProperty("draft").Text("word"));
        Assert.Equal(HttpStatusCode.OK, (await owner.PostAsync($"{Api}/{id}/pause")).Status);
        await desk.SqlAsync($"update revisions set content = '[1]' where definition_id = '{id}'");
        var (status, answer) = await owner.SendAsync(HttpMethod.Get, $"{Api}/{id}");
        Assert.Equal((HttpStatusCode.Conflict, "It cannot be read"), (status, answer.Text("title")));
        Assert.Equal(
            HttpStatusCode.Conflict,
            (await owner.PostAsync($"{Api}/{id}/publish", new { version = 1 })).Status
        );
        Assert.Equal(HttpStatusCode.OK, (await owner.Http.GetAsync(Api)).StatusCode);
    }

    [Fact]
    public async Task Roles_and_the_wall_between_workspaces_hold_for_it()
    {
        var id = await PublishedAsync(await desk.OwnerAsync(), Everywhere);
        var editor = await desk.EditorAsync();
        Assert.Equal(HttpStatusCode.Forbidden, (await editor.PostAsync($"{Api}/{id}/pause")).Status);
        var stranger = await desk.StrangerAsync();
        Assert.Equal(HttpStatusCode.NotFound, (await stranger.Http.GetAsync($"{Api}/{id}")).StatusCode);
        var bare = await editor.SendAsync(
            HttpMethod.Put,
            $"{Api}/{id}/draft",
            new
            {
                name = "x",
                content = (object?)null,
                version = 1,
            }
        );
        Assert.Equal(HttpStatusCode.BadRequest, bare.Status);
    }

    private Reason? Decide(CompiledTargeting target, Device device)
    {
        var now = SystemClock.Instance.GetCurrentInstant();
        var reader = new FactReader(
            VisitorRecord.New("v", now).Arrive(now),
            new VisitorFacts { Device = device },
            [],
            now
        );
        var view = new EligibilityView(reader, null, Site.Rules, Site.Zone, IsTeamThere: true);
        return Eligibility.Decide(target, view, explain: true).Refusal;
    }

    private string Say(Reason reason) => ReasonSentence.Say(reason, Site.Zone, _ => null);
}
