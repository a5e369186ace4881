using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Outcry.Core.Scripts;
using Outcry.Server.Live;
using Outcry.Server.Sites;
using Outcry.Server.Talks;
using Outcry.Store;
using SkiaSharp;

namespace Outcry.Server.Tests;

/// <summary>What is taken care of in talks beside the words: files, who is present, who waits, who left, talks of one person.</summary>
public sealed class TalkCareTests(TalkDesk desk) : TalkSteps(desk), IClassFixture<TalkDesk>
{
    private static byte[] Picture()
    {
        using var bitmap = new SKBitmap(40, 30);
        bitmap.Erase(SKColors.Teal);
        using var data = bitmap.Encode(SKEncodedImageFormat.Png, 90);
        return data.ToArray();
    }

    private async Task<(HttpStatusCode Status, JsonElement Body)> SendFileAsync(
        Talking talk,
        byte[] bytes,
        string name,
        Guid? id = null,
        string? key = null
    )
    {
        using var form = new MultipartFormDataContent();
        var request = JsonSerializer.Serialize(
            new
            {
                site = Desk.World.Site.Key,
                page = TestDesk.SiteOrigin + talk.Path,
                talk = talk.Id,
                key = key ?? talk.Key,
                id = id ?? Guid.CreateVersion7(),
                name,
            }
        );
        form.Add(new StringContent(request), "request");
        form.Add(new ByteArrayContent(bytes), "file", "upload");
        using var client = Desk.Anonymous();
        using var message = new HttpRequestMessage(HttpMethod.Post, "/v/talks/files") { Content = form };
        message.Headers.Add("Origin", TestDesk.SiteOrigin);
        using var answer = await client.SendAsync(message, Stop);
        return (answer.StatusCode, await answer.JsonAsync());
    }

    [Fact]
    public async Task A_picture_is_drawn_anew_kept_once_and_fetched_by_its_link_as_an_attachment()
    {
        var talk = await BeginAsync();
        var id = Guid.CreateVersion7();
        // Something hidden behind the picture is not part of it any more.
        byte[] bytes = [.. Picture(), .. "<script>alert(1)</script>"u8];
        var (status, body) = await SendFileAsync(talk, bytes, "../../kiln \"door\".exe", id);
        Assert.True(status == HttpStatusCode.OK, $"{body}");
        Assert.Equal(HttpStatusCode.OK, (await SendFileAsync(talk, bytes, "again", id)).Status);
        var words = await WordsAsync(talk);
        Assert.Equal(2, words.Count);
        var file = words[1].GetProperty("file");
        Assert.Equal(("kiln -door-.webp", 40), (file.Text("name"), file.GetProperty("width").GetInt32()));
        using var client = Desk.Anonymous();
        using var served = await client.GetAsync(file.Text("path"), Stop);
        Assert.Equal(HttpStatusCode.OK, served.StatusCode);
        Assert.Equal("attachment", served.Content.Headers.ContentDisposition?.DispositionType);
        Assert.Equal("image/webp", served.Content.Headers.ContentType?.MediaType);
        var kept = await served.Content.ReadAsByteArrayAsync(Stop);
        Assert.DoesNotContain("script", Encoding.Latin1.GetString(kept), StringComparison.Ordinal);
        using var forged = await client.GetAsync(file.Text("path")[..^3] + "abc", Stop);
        Assert.Equal(HttpStatusCode.NotFound, forged.StatusCode);
    }

    [Fact]
    public async Task What_is_no_file_we_take_is_refused_in_words_and_nothing_is_kept()
    {
        var talk = await BeginAsync();
        byte[] zip = [0x50, 0x4b, 3, 4, 0, 0, 0, 0];
        foreach (
            var (bytes, name) in new[]
            {
                (zip, "a.zip"),
                (zip, "a.png"),
                ([], "empty.txt"),
                (new byte[] { (byte)'a', 0, (byte)'b' }, "nul.txt"),
            }
        )
        {
            var (refused, problem) = await SendFileAsync(talk, bytes, name);
            Assert.Equal((HttpStatusCode.BadRequest, "file"), (refused, problem.Text("field")));
        }
        var (large, _) = await SendFileAsync(talk, new byte[TalkFiles.MostBytes + 1], "large.txt");
        Assert.Contains(large, new[] { HttpStatusCode.BadRequest, HttpStatusCode.RequestEntityTooLarge });
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await SendFileAsync(talk, "x"u8.ToArray(), "x.txt", key: "none")).Status
        );
        using var client = Desk.Anonymous();
        using var odd = new HttpRequestMessage(HttpMethod.Post, "/v/talks/files")
        {
            Content = new StringContent("{", new MediaTypeHeaderValue("text/plain")),
        };
        odd.Headers.Add("Origin", TestDesk.SiteOrigin);
        using var answer = await client.SendAsync(odd, Stop);
        Assert.Equal(HttpStatusCode.UnsupportedMediaType, answer.StatusCode);
        Assert.Single(await WordsAsync(talk));
        // Plain text is taken as it is, whatever it is called.
        Assert.Equal(HttpStatusCode.OK, (await SendFileAsync(talk, "Kiln notes"u8.ToArray(), "notes.html")).Status);
        Assert.Equal("notes.txt", (await WordsAsync(talk))[1].GetProperty("file").Text("name"));
    }

    [Fact]
    public async Task A_member_sends_a_file_and_has_the_talk_by_it()
    {
        var talk = await BeginAsync();
        var member = await MemberAsync();
        async Task<HttpStatusCode> SendAsync(DeskClient who, byte[] bytes)
        {
            using var content = new ByteArrayContent(bytes);
            content.Headers.ContentType = new MediaTypeHeaderValue("application/octet-stream");
            var (status, _) = await who.SendContentAsync(
                $"{Inbox}/{talk.Id}/files?id={Guid.CreateVersion7()}&name=glaze.pdf",
                content
            );
            return status;
        }
        Assert.Equal(HttpStatusCode.OK, await SendAsync(member, "%PDF-1.7 glaze"u8.ToArray()));
        Assert.Equal("glaze.pdf", (await WordsAsync(talk))[^1].GetProperty("file").Text("name"));
        Assert.Equal("claimed", (await member.GetAsync($"{Inbox}/{talk.Id}")).GetProperty("talk").Text("state"));
        Assert.Equal(HttpStatusCode.Conflict, await SendAsync(await MemberAsync(), "%PDF-1.7 late"u8.ToArray()));
        await using var db = Desk.Database.Open();
        Assert.Equal(1, await db.TalkFiles.CountAsync(f => f.TalkId == talk.Id, Stop));
    }

    [Fact]
    public async Task Whoever_waits_in_vain_is_told_once_and_offered_to_leave_an_address()
    {
        var talk = await BeginAsync();
        await using (var db = Desk.Database.Open())
        {
            var before = SystemClock.Instance.GetCurrentInstant() - Duration.FromMinutes(4);
            await db
                .Talks.Where(t => t.Id == talk.Id)
                .ExecuteUpdateAsync(u => u.SetProperty(t => t.WaitingSince, before), Stop);
        }
        var round = Desk.Services.GetRequiredService<TalkRound>();
        await round.RunAsync(Stop);
        await round.RunAsync(Stop);
        var (_, body) = await AskAsync(talk, "/read", new { after = 0 });
        var words = body.GetProperty("words").EnumerateArray().ToList();
        Assert.Equal(2, words.Count);
        Assert.Equal("h", words[1].Text("by"));
        Assert.True(body.GetProperty("state").GetProperty("late").GetBoolean());
        var member = await MemberAsync();
        var detail = await member.GetAsync($"{Inbox}/{talk.Id}");
        Assert.Equal("unclaimed", detail.GetProperty("talk").Text("state"));
        await AnswerAsync(member, talk, "Here I am");
        (_, body) = await AskAsync(talk, "/read", new { after = 0 });
        Assert.False(body.GetProperty("state").GetProperty("late").GetBoolean());
    }

    [Fact]
    public async Task Whoever_leaves_a_script_is_told_of_and_begins_at_the_top_when_they_come_back()
    {
        var script = await PublishScriptAsync(GroupVisit());
        var (launcher, channel, path) = await OpenDoorAsync(script);
        var browser = new Browser(Desk);
        await browser.PlanAsync(path);
        var talk = await BeginAsync(browser, path, launcher, channel, "Hello");
        await AskAsync(talk, "/words", new { id = Guid.CreateVersion7(), text = "twelve" });
        await using (var db = Desk.Database.Open())
        {
            var past = SystemClock.Instance.GetCurrentInstant() - Duration.FromSeconds(1);
            await db
                .Talks.Where(t => t.Id == talk.Id)
                .ExecuteUpdateAsync(u => u.SetProperty(t => t.ScriptEndsAt, past), Stop);
        }
        await Desk.Services.GetRequiredService<TalkRound>().RunAsync(Stop);
        var owner = await Desk.OwnerAsync();
        var detail = await owner.GetAsync($"{Inbox}/{talk.Id}");
        Assert.Equal("Left at step 2.", detail.GetProperty("words").EnumerateArray().Last().Text("text"));
        Assert.Equal("12", detail.GetProperty("kept").GetProperty("party").Text("value"));
        await AskAsync(talk, "/words", new { id = Guid.CreateVersion7(), text = "back again" });
        Assert.Equal("How many are you?", (await WordsAsync(talk))[^1].Text("text"));
        // A line comes after the script's own pace, as if somebody typed it.
        Assert.Equal(1_340, (await WordsAsync(talk))[^1].GetProperty("pause").GetInt32());
        var reach = await owner.GetAsync($"/api/sites/{Desk.World.Site.Id}/scripts/{script}/reach");
        Assert.Equal(1, reach.GetProperty("talks").GetInt32());
        Assert.Equal(2, reach.GetProperty("steps").EnumerateObject().Count());
    }

    [Fact]
    public async Task Talks_of_one_browser_are_put_together_and_of_strangers_never()
    {
        var (launcher, channel, path) = await OpenDoorAsync();
        var browser = new Browser(Desk);
        await browser.PlanAsync(path);
        var first = await BeginAsync(browser, path, launcher, channel, "About the jug");
        var second = await BeginAsync(browser, path, launcher, channel, "And about the bowl");
        var stranger = await BeginAsync("Somebody else");
        var member = await MemberAsync();
        var (refused, problem) = await member.PostAsync($"{Inbox}/{second.Id}/merge", new { intoId = stranger.Id });
        Assert.Equal((HttpStatusCode.BadRequest, "intoId"), (refused, problem.Text("field")));
        var (status, merged) = await member.PostAsync($"{Inbox}/{second.Id}/merge", new { intoId = first.Id });
        Assert.True(status == HttpStatusCode.OK, $"{merged}");
        Assert.Contains("And about the bowl", $"{merged}", StringComparison.Ordinal);
        Assert.Equal("closed", (await member.GetAsync($"{Inbox}/{second.Id}")).GetProperty("talk").Text("state"));
        var (_, said) = await AskAsync(second, "/words", new { id = Guid.CreateVersion7(), text = "And the lid?" });
        Assert.Equal(first.Id, said.GetProperty("talk").GetGuid());
        var moved = first with { Key = said.Text("key") };
        Assert.Equal(["About the jug", "And the lid?"], (await WordsAsync(moved)).Select(w => w.Text("text")));
    }

    [Fact]
    public async Task Present_is_whoever_answers_moves_and_did_not_say_that_they_are_away_at_whatever_node()
    {
        var team = Desk.Services.GetRequiredService<TeamPresence>();
        var news = Desk.Services.GetRequiredService<TeamNews>();
        var (workspace, site, who) = (Desk.OtherSite.WorkspaceId, Desk.OtherSite.Id, Guid.NewGuid());
        Assert.False(team.IsThere(workspace));
        team.Came("editor", workspace, site, Guid.NewGuid(), "Teo", answers: false);
        Assert.False(team.IsThere(workspace));
        Assert.Single(team.AtDesk(workspace));
        var line = new DeskLine(workspace, site, new Colleague(who, "Ines", ""), Answers: true, IsIdle: false);
        await Heard(line);
        Assert.True(team.IsThere(workspace));
        Assert.Equal(["Ines"], team.NamesOf(workspace));
        await Heard(line with { IsIdle = true });
        Assert.False(team.IsThere(workspace));
        Assert.True(team.At(site).Single(c => c.MemberId == who).IsAway);
        // Of two windows the one that moves counts.
        team.Came("here", workspace, site, who, "Ines");
        Assert.True(team.IsThere(workspace));
        Assert.False(team.At(site).First(c => c.MemberId == who).IsAway);
        await news.SaidAwayAsync(workspace, who, isAway: true);
        Assert.False(team.IsThere(workspace));
        await news.SaidAwayAsync(workspace, who, isAway: false);
        team.Went("here");
        await Heard(line);
        Assert.True(team.IsThere(workspace));
        await Heard(null);
        Assert.False(team.IsThere(workspace));
        // What is no word of another node changes nothing.
        foreach (var odd in new[] { "", "|", "node|{}", $"{SiteNews.From}{{}}" })
            await news.TakeUpAsync(odd, Stop);
        team.Went("editor");

        Task Heard(DeskLine? desk) =>
            news.TakeUpAsync($"other|{JsonSerializer.Serialize(new PresenceWord("other/1", desk, null))}", Stop);
    }

    [Fact]
    public async Task Away_is_kept_until_said_otherwise_and_only_whoever_answers_says_it()
    {
        var (member, editor) = (await MemberAsync(), await MemberAsync(Core.Access.Role.Editor));
        var path = $"/api/workspaces/{Desk.World.Workspace.Id}/team/away";
        Assert.Equal(
            HttpStatusCode.NoContent,
            (await member.SendAsync(HttpMethod.Put, path, new { isAway = true })).Status
        );
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await editor.SendAsync(HttpMethod.Put, path, new { isAway = true })).Status
        );
        await using var db = Desk.Database.Open();
        Assert.Equal(1, await db.Memberships.CountAsync(m => m.IsAway, Stop));
    }

    [Fact]
    public async Task A_kept_try_that_goes_otherwise_keeps_its_script_off_the_air_until_it_is_meant()
    {
        var owner = await Desk.OwnerAsync();
        var api = $"/api/sites/{Desk.World.Site.Id}/scripts";
        var script = GroupVisit();
        var at = new TryAs(
            "en",
            "/",
            true,
            false,
            [],
            false,
            new LocalDate(2015, 6, 1),
            "GB",
            new Dictionary<string, string>()
        );
        var kept = ScriptTries.Keep("Twelve, no mail", script, ["12", "2", "a@b.example"], at, "en");
        var id = (await owner.PostAsync(api, new { purpose = "own" })).Body.GetProperty("id").GetGuid();
        async Task<JsonElement> SaveAsync(Script content, int version) =>
            (
                await owner.SendAsync(
                    HttpMethod.Put,
                    $"{api}/{id}/draft",
                    new
                    {
                        name = "Tried",
                        content = JsonSerializer.SerializeToElement(content, JsonColumn.Options),
                        version,
                    }
                )
            ).Body;
        var saved = await SaveAsync(script with { Tries = [kept] }, 1);
        Assert.DoesNotContain(saved.GetProperty("problems").EnumerateArray(), p => p.Text("field") == "tries[0]");
        var shorter = script with { Steps = [.. script.Steps.Where((_, i) => i != 1)], Tries = [kept] };
        saved = await SaveAsync(shorter, 2);
        var problem = saved.GetProperty("problems").EnumerateArray().Single(p => p.Text("field") == "tries[0]");
        Assert.Contains("1 of 5 steps", problem.Text("message"), StringComparison.Ordinal);
        var (refused, _) = await owner.PostAsync($"{api}/{id}/publish", new { version = 3 });
        Assert.NotEqual(HttpStatusCode.OK, refused);
        var meant = ScriptTries.Keep(kept.Name, shorter, kept.Said, at, "en");
        await SaveAsync(shorter with { Tries = [meant] }, 3);
        Assert.Equal(HttpStatusCode.OK, (await owner.PostAsync($"{api}/{id}/publish", new { version = 4 })).Status);
    }

    [Fact]
    public async Task How_soon_people_answer_is_counted_from_enough_talks_and_said_to_visitors()
    {
        var (launcher, channel, path) = await OpenDoorAsync();
        var round = Desk.Services.GetRequiredService<TalkRound>();
        await using (var db = Desk.Database.Open())
        {
            var now = SystemClock.Instance.GetCurrentInstant();
            for (var i = 0; i < 12; i++)
                db.Talks.Add(
                    new Store.Rows.TalkRow
                    {
                        WorkspaceId = Desk.World.Workspace.Id,
                        SiteId = Desk.World.Site.Id,
                        VisitorId = $"usual{i}",
                        LauncherId = launcher,
                        ChannelId = channel,
                        BegunAt = now - Duration.FromHours(5),
                        LastAt = now,
                        AnsweredAt = now - Duration.FromHours(5) + Duration.FromMinutes(4),
                        State = Core.Talks.TalkState.Closed,
                        Language = "en",
                        Page = TestDesk.SiteOrigin + path,
                    }
                );
            await db.SaveChangesAsync(Stop);
        }
        await round.CountUsualAsync(SystemClock.Instance.GetCurrentInstant(), Stop);
        var answer = await new Browser(Desk).PlanAsync(path);
        Assert.Equal(5, answer.GetProperty("launcher").GetProperty("talk").GetProperty("usual").GetInt32());
    }
}
