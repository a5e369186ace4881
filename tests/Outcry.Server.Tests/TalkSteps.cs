using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Core.Greetings;
using Outcry.Core.Scripts;
using Outcry.Core.Talks;
using Outcry.Core.Targeting;
using Outcry.Server.Sites;
using Outcry.Server.Talks;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Tests;

/// <summary>A desk of its own: so many talks at once are more than is usual, and launchers of others would begin with the looks of these.</summary>
public sealed class TalkDesk : TestDesk;

/// <summary>What tests of talks do at both sides.</summary>
public abstract class TalkSteps(TalkDesk desk)
{
    private protected TalkDesk Desk => desk;

    private protected static CancellationToken Stop => TestContext.Current.CancellationToken;

    private protected string Inbox => $"/api/sites/{desk.World.Site.Id}/talks";

    private protected static string Page(string path) => TestDesk.SiteOrigin + path;

    // Each test talks on a page of its own, where its own launcher stands.
    private protected async Task<(Guid Launcher, Guid Channel, string Path)> OpenDoorAsync(
        Guid? script = null,
        params Channel[] more
    )
    {
        var owner = await desk.OwnerAsync();
        var path = $"/talk/{Guid.NewGuid():N}";
        var begin = LauncherStarter.Launcher("Europe/London", "#9C3517", "#FFFFFF");
        var brief = begin with
        {
            Where = new WhereFacet([path], [], [], Replaces: false),
            Hours = begin.Hours with { Week = [] },
            ScriptId = script,
            Channels = [.. begin.Channels, .. more],
        };
        var api = $"/api/sites/{desk.World.Site.Id}/launchers";
        var (_, made) = await owner.PostAsync(api);
        var id = made.GetProperty("id").GetGuid();
        await owner.SendAsync(
            HttpMethod.Put,
            $"{api}/{id}/draft",
            new
            {
                name = "Talk here",
                content = JsonSerializer.SerializeToElement(brief, JsonColumn.Options),
                version = 1,
            }
        );
        var (status, body) = await owner.PostAsync($"{api}/{id}/publish", new { version = 2 });
        Assert.True(status == HttpStatusCode.OK, $"{body}");
        var sites = desk.Services.GetRequiredService<LiveSites>();
        await Eventually.GetAsync(
            () => Task.FromResult(sites.GetById(desk.World.Site.Id).Compiled.ContainsKey(id)),
            there => there
        );
        return (id, brief.Channels[0].Id, path);
    }

    private protected sealed record Talking(Browser Browser, string Path, Guid Id, string Key)
    {
        public object At(object more) => Merge(new { talk = Id, key = Key }, more);

        private static Dictionary<string, object?> Merge(params object[] parts) =>
            parts
                .SelectMany(p => p.GetType().GetProperties().Select(x => (x.Name, Value: x.GetValue(p))))
                .ToDictionary(x => x.Name, x => x.Value);
    }

    private protected Task<HttpResponseMessage> SendAsync(Browser browser, string path, string to, object body)
    {
        var whole = JsonSerializer.SerializeToNode(body)!.AsObject();
        whole["site"] ??= desk.World.Site.Key;
        whole["page"] ??= Page(path);
        return browser.SendAsync($"/v/talks{to}", whole, TestDesk.SiteOrigin);
    }

    private protected async Task<Talking> BeginAsync(string text = "Can the jug go in a dishwasher?", Guid? id = null)
    {
        var (launcher, channel, path) = await OpenDoorAsync();
        var browser = new Browser(desk);
        await browser.PlanAsync(path);
        return await BeginAsync(browser, path, launcher, channel, text, id);
    }

    private protected async Task<Talking> BeginAsync(
        Browser browser,
        string path,
        Guid launcher,
        Guid channel,
        string text,
        Guid? id = null,
        string language = "en"
    )
    {
        using var answer = await SendAsync(
            browser,
            path,
            "",
            new
            {
                passport = browser.Passport,
                id = id ?? Guid.CreateVersion7(),
                launcher,
                channel,
                text,
                language,
            }
        );
        var begun = await answer.JsonAsync();
        Assert.True(answer.StatusCode == HttpStatusCode.Created, $"{begun}");
        return new Talking(browser, path, begun.GetProperty("talk").GetGuid(), begun.Text("key"));
    }

    private protected async Task<(HttpStatusCode Status, JsonElement Body)> AskAsync(
        Talking talk,
        string to,
        object more
    )
    {
        using var answer = await SendAsync(talk.Browser, talk.Path, to, talk.At(more));
        return (answer.StatusCode, answer.StatusCode == HttpStatusCode.NoContent ? default : await answer.JsonAsync());
    }

    private protected async Task<List<JsonElement>> WordsAsync(Talking talk, int after = 0)
    {
        var (status, body) = await AskAsync(talk, "/read", new { after });
        Assert.Equal(HttpStatusCode.OK, status);
        return [.. body.GetProperty("words").EnumerateArray()];
    }

    private protected async Task<DeskClient> MemberAsync(Role role = Role.Responder)
    {
        var member = await desk.AddMemberAsync(role);
        return await DeskClient.SignInAsync(desk.Anonymous(), member.Email!);
    }

    private protected Task<(HttpStatusCode Status, JsonElement Body)> AnswerAsync(
        DeskClient member,
        Talking talk,
        string text,
        bool isNote = false,
        bool takeOver = false,
        Guid? id = null
    ) =>
        member.PostAsync(
            $"{Inbox}/{talk.Id}/words",
            new
            {
                id = id ?? Guid.CreateVersion7(),
                text,
                isNote,
                takeOver,
            }
        );

    private protected async Task<Guid> PublishScriptAsync(Script script)
    {
        var owner = await desk.OwnerAsync();
        var api = $"/api/sites/{desk.World.Site.Id}/scripts";
        var (_, made) = await owner.PostAsync(api, new { purpose = "own" });
        var id = made.GetProperty("id").GetGuid();
        var content = JsonSerializer.SerializeToElement(script, JsonColumn.Options);
        var (saved, draft) = await owner.SendAsync(
            HttpMethod.Put,
            $"{api}/{id}/draft",
            new
            {
                name = $"Group visit {id:N}",
                content,
                version = 1,
            }
        );
        Assert.True(saved == HttpStatusCode.OK, $"{draft}");
        var (status, body) = await owner.PostAsync($"{api}/{id}/publish", new { version = 2 });
        Assert.True(status == HttpStatusCode.OK, $"{body}");
        return id;
    }

    private protected static Script GroupVisit()
    {
        StepWords Words(string own, string dutch, params string[] replies) => new("", own, replies, "");
        IReadOnlyList<StepWords> Both(string own, string dutch) => [new("", own, [], ""), new("nl", dutch, [], "")];
        var party = new Step(
            Guid.CreateVersion7(),
            0,
            StepKind.Ask,
            Both("How many are you?", "Met hoeveel zijn jullie?"),
            new Question(AskKind.Number, "party", false, [], 1, 40)
        );
        var consent = new Step(
            Guid.CreateVersion7(),
            0,
            StepKind.Ask,
            [Words("May we write to you?", "", "Yes", "No")],
            new Question(AskKind.Consent, "consent", false, [], null, null)
        );
        var email = new Step(
            Guid.CreateVersion7(),
            0,
            StepKind.Ask,
            Both("Where to?", "Waarheen?"),
            new Question(AskKind.Email, "mail", false, [], null, null)
        );
        return new Script(
            [
                party,
                consent,
                email,
                new Step(Guid.CreateVersion7(), 0, StepKind.HandOver, []),
                new Step(Guid.CreateVersion7(), 1, StepKind.Say, Both("We write to you.", "We schrijven je.")),
            ],
            1,
            30,
            [new StepWords("", "Something went wrong.", [], "")]
        );
    }
}
