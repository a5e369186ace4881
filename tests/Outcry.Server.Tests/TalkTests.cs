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

/// <summary>Talks at both sides: begun, said, heard, claimed, kept from whom they do not concern.</summary>
public sealed class TalkTests(TalkDesk desk) : TalkSteps(desk), IClassFixture<TalkDesk>
{
    [Fact]
    public async Task A_first_word_begins_a_talk_once_however_often_it_is_sent_and_is_an_enquiry_in_the_ledger()
    {
        var (launcher, channel, path) = await OpenDoorAsync();
        var browser = new Browser(Desk);
        await browser.PlanAsync(path);
        var id = Guid.CreateVersion7();
        var all = await Task.WhenAll(
            Enumerable.Range(0, 6).Select(_ => BeginAsync(browser, path, launcher, channel, "Is the kiln warm?", id))
        );
        Assert.All(all, t => Assert.Equal(id, t.Id));
        // Each answer may have been the one that was lost: every key opens it.
        foreach (var one in all)
            Assert.Equal("Is the kiln warm?", Assert.Single(await WordsAsync(one)).Text("text"));
        await using var db = Desk.Database.Open();
        var told = await db.Events.SingleAsync(e => e.ExternalId == id.ToString(), Stop);
        Assert.Equal("Is the kiln warm?", told.Fields["words"]);
    }

    [Fact]
    public async Task Nobody_else_takes_a_talk_that_has_the_same_id()
    {
        var talk = await BeginAsync();
        var (launcher, channel, path) = await OpenDoorAsync();
        var stranger = new Browser(Desk);
        await stranger.PlanAsync(path);
        using var answer = await SendAsync(
            stranger,
            path,
            "",
            new
            {
                passport = stranger.Passport,
                id = talk.Id,
                launcher,
                channel,
                text = "Mine now",
                language = "en",
            }
        );
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Single(await WordsAsync(talk));
    }

    [Fact]
    public async Task Words_of_many_at_once_have_numbers_without_gaps_and_sent_twice_are_kept_once()
    {
        var talk = await BeginAsync();
        var member = await MemberAsync();
        await AnswerAsync(member, talk, "Hello");
        var said = Enumerable.Range(0, 12).Select(i => (Id: Guid.CreateVersion7(), Text: $"word {i}")).ToList();
        await Task.WhenAll(
            said.Concat(said)
                .Select(async w =>
                {
                    var (status, body) =
                        w.Text.Length % 2 == 0
                            ? await AskAsync(talk, "/words", new { id = w.Id, text = w.Text })
                            : await AnswerAsync(member, talk, w.Text, id: w.Id);
                    Assert.True(status == HttpStatusCode.OK, $"{body}");
                })
        );
        await using var db = Desk.Database.Open();
        var rows = await db.TalkWords.Where(w => w.TalkId == talk.Id).OrderBy(w => w.Number).ToListAsync(Stop);
        Assert.Equal(Enumerable.Range(1, rows.Count), rows.Select(r => r.Number));
        Assert.Equal(12, rows.Count(r => r.Text.StartsWith("word", StringComparison.Ordinal)));
    }

    [Fact]
    public async Task Of_two_who_answer_at_once_one_has_it_and_the_other_is_told_who()
    {
        var talk = await BeginAsync();
        var members = await Task.WhenAll(Enumerable.Range(0, 4).Select(_ => MemberAsync()));
        var answers = await Task.WhenAll(members.Select((m, i) => AnswerAsync(m, talk, $"answer {i}")));
        var won = Array.FindIndex(answers, a => a.Status == HttpStatusCode.OK);
        Assert.Single(answers, a => a.Status == HttpStatusCode.OK);
        Assert.All(
            answers.Where((_, i) => i != won),
            a => Assert.Equal((HttpStatusCode.Conflict, "urn:outcry:problem:held"), (a.Status, a.Body.Text("type")))
        );
        Assert.Equal([$"answer {won}"], (await WordsAsync(talk, 1)).Select(w => w.Text("text")));
        // A note is anybody's, and whoever takes it over answers.
        var other = members[(won + 1) % 4];
        Assert.Equal(HttpStatusCode.OK, (await AnswerAsync(other, talk, "for us", isNote: true)).Status);
        Assert.Equal(HttpStatusCode.OK, (await AnswerAsync(other, talk, "I go on", takeOver: true)).Status);
        Assert.Equal([$"answer {won}", "I go on"], (await WordsAsync(talk, 1)).Select(w => w.Text("text")));
    }

    [Fact]
    public async Task A_word_sent_again_is_taken_again_however_the_talk_stands_meanwhile()
    {
        var talk = await BeginAsync();
        var (first, other) = (await MemberAsync(), await MemberAsync());
        var id = Guid.CreateVersion7();
        Assert.Equal(HttpStatusCode.OK, (await AnswerAsync(first, talk, "Hello", id: id)).Status);
        Assert.Equal(HttpStatusCode.OK, (await AnswerAsync(other, talk, "Mine now", takeOver: true)).Status);
        Assert.Equal(HttpStatusCode.OK, (await AnswerAsync(first, talk, "Hello", id: id)).Status);
        Assert.Equal(["Hello", "Mine now"], (await WordsAsync(talk, 1)).Select(w => w.Text("text")));
    }

    [Fact]
    public async Task What_a_stranger_makes_up_is_refused_in_words()
    {
        var (talk, others) = (await BeginAsync(), await BeginAsync());
        var member = await MemberAsync();
        // A moment that no calendar of the site has.
        var (far, _) = await member.PostAsync($"{Inbox}/{talk.Id}/snooze", new { until = "9999-12-31T23:59:59Z" });
        Assert.Equal(HttpStatusCode.BadRequest, far);
        // As many addresses as a person mistypes, and no more: mails are not for sending about.
        var statuses = new List<HttpStatusCode>();
        for (var i = 0; i < 7; i++)
            statuses.Add(
                (await AskAsync(talk, "/address", new { email = $"v{i}@reader.net", transcript = true })).Status
            );
        Assert.Equal(5, statuses.Count(s => s == HttpStatusCode.NoContent));
        Assert.Equal(2, statuses.Count(s => s == HttpStatusCode.TooManyRequests));
        // A word that would begin another talk under the id of somebody else's.
        await member.PostAsync($"{Inbox}/{talk.Id}/close", new { reason = "" });
        await using var db = Desk.Database.Open();
        var weekAgo = SystemClock.Instance.GetCurrentInstant() - TalkStanding.Reopens;
        await db
            .Talks.Where(t => t.Id == talk.Id)
            .ExecuteUpdateAsync(u => u.SetProperty(t => t.ClosedAt, weekAgo), Stop);
        var (taken, problem) = await AskAsync(talk, "/words", new { id = others.Id, text = "Mine" });
        Assert.Equal((HttpStatusCode.BadRequest, "id"), (taken, problem.Text("field")));
        Assert.Single(await WordsAsync(others));
    }

    [Fact]
    public async Task A_key_opens_its_own_talk_on_its_own_site_and_not_for_ever()
    {
        var talk = await BeginAsync();
        var other = await BeginAsync();
        foreach (var key in new[] { other.Key, "", "x", new string('k', 43), talk.Key + "A" })
        foreach (var to in new[] { "/read", "/words", "/stream", "/signs", "/address", "/end" })
        {
            var (status, _) = await AskAsync(
                talk with
                {
                    Key = key,
                },
                to,
                new
                {
                    after = 0,
                    id = Guid.CreateVersion7(),
                    text = "x",
                    email = "a@b.example",
                }
            );
            Assert.Equal(HttpStatusCode.NotFound, status);
        }
        // Worth nothing for another site.
        var whole = talk.At(new { after = 0, site = Desk.OtherSite.Key });
        using var elsewhere = await SendAsync(talk.Browser, talk.Path, "/read", whole);
        Assert.NotEqual(HttpStatusCode.OK, elsewhere.StatusCode);
        await using var db = Desk.Database.Open();
        var old = SystemClock.Instance.GetCurrentInstant() - TalkKey.Lives - Duration.FromMinutes(1);
        await db.Talks.Where(t => t.Id == talk.Id).ExecuteUpdateAsync(u => u.SetProperty(t => t.LastAt, old), Stop);
        Assert.Equal(HttpStatusCode.NotFound, (await AskAsync(talk, "/read", new { after = 0 })).Status);
    }

    [Fact]
    public async Task A_stream_brings_what_is_said_and_what_was_missed_and_no_note()
    {
        var talk = await BeginAsync();
        var member = await MemberAsync();
        await AnswerAsync(member, talk, "One moment");
        using var request = new HttpRequestMessage(HttpMethod.Post, "/v/talks/stream")
        {
            Content = new StringContent(
                JsonSerializer.Serialize(
                    talk.At(
                        new
                        {
                            site = Desk.World.Site.Key,
                            page = Page(talk.Path),
                            after = 1,
                        }
                    )
                ),
                System.Text.Encoding.UTF8,
                "text/plain"
            ),
        };
        request.Headers.Add("Origin", TestDesk.SiteOrigin);
        using var answer = await Desk.Anonymous().SendAsync(request, HttpCompletionOption.ResponseHeadersRead, Stop);
        Assert.Equal("text/event-stream", answer.Content.Headers.ContentType!.MediaType);
        using var lines = new StreamReader(await answer.Content.ReadAsStreamAsync(Stop));
        Assert.Equal(["One moment"], await NextAsync(lines));
        await AnswerAsync(member, talk, "not for visitors", isNote: true);
        await AnswerAsync(member, talk, "Yes, it can");
        Assert.Equal(["Yes, it can"], await NextAsync(lines));
    }

    // The words of the next event that has some.
    private static async Task<List<string>> NextAsync(StreamReader lines)
    {
        using var limit = CancellationTokenSource.CreateLinkedTokenSource(Stop);
        limit.CancelAfter(TimeSpan.FromSeconds(20));
        while (true)
        {
            var line = await lines.ReadLineAsync(limit.Token);
            Assert.NotNull(line);
            if (!line.StartsWith("data: {\"words\"", StringComparison.Ordinal))
                continue;
            var words = JsonSerializer.Deserialize<JsonElement>(line["data: ".Length..]).GetProperty("words");
            if (words.GetArrayLength() > 0)
                return [.. words.EnumerateArray().Select(w => w.Text("text"))];
        }
    }

    [Fact]
    public async Task Whoever_waits_by_asking_hears_at_once()
    {
        var talk = await BeginAsync();
        var member = await MemberAsync();
        var waiting = AskAsync(talk, "/read", new { after = 1, wait = true });
        await Task.Delay(300, Stop);
        Assert.False(waiting.IsCompleted);
        await AnswerAsync(member, talk, "Here I am");
        var (_, body) = await waiting.WaitAsync(TimeSpan.FromSeconds(10), Stop);
        Assert.Equal("Here I am", Assert.Single(body.GetProperty("words").EnumerateArray()).Text("text"));
        // Of a member the visitor reads the first name.
        Assert.Equal("Piet", body.GetProperty("words")[0].Text("name"));
    }

    [Fact]
    public async Task Seen_is_told_to_both_sides_and_never_beyond_what_was_said()
    {
        var talk = await BeginAsync();
        var member = await MemberAsync();
        await member.PostAsync($"{Inbox}/{talk.Id}/seen", new { number = 1 });
        await member.PostAsync($"{Inbox}/{talk.Id}/seen", new { number = 99 });
        var (_, body) = await AskAsync(talk, "/read", new { after = 0 });
        Assert.Equal(1, body.GetProperty("state").GetProperty("seen").GetInt32());
        await AskAsync(talk, "/signs", new { seen = 99 });
        Assert.Equal(1, (await member.GetAsync($"{Inbox}/{talk.Id}")).GetProperty("seenByVisitor").GetInt32());
    }

    [Fact]
    public async Task Too_much_too_long_and_too_odd_is_refused_with_a_reason_and_nothing_is_lost()
    {
        var talk = await BeginAsync();
        foreach (var text in new[] { "", "  ", "\u200B", new string('x', TalkText.Longest + 1) })
            Assert.Equal(
                HttpStatusCode.BadRequest,
                (await AskAsync(talk, "/words", new { id = Guid.CreateVersion7(), text })).Status
            );
        var odd = "<img src=x onerror=alert(1)> \uD83D 𝕳 ‮evil\u0000";
        await AskAsync(talk, "/words", new { id = Guid.CreateVersion7(), text = odd });
        var statuses = new List<HttpStatusCode>();
        for (var i = 0; i < TalkText.MostAMinute + 5; i++)
            statuses.Add(
                (await AskAsync(talk, "/words", new { id = Guid.CreateVersion7(), text = $"flood {i}" })).Status
            );
        Assert.Contains(HttpStatusCode.TooManyRequests, statuses);
        Assert.DoesNotContain(statuses, s => s >= HttpStatusCode.InternalServerError);
        var words = await WordsAsync(talk);
        Assert.Equal(TalkText.MostAMinute, words.Count);
        Assert.StartsWith("<img src=x onerror=alert(1)>", words[1].Text("text"), StringComparison.Ordinal);
        Assert.DoesNotContain('\u202E', words[1].Text("text"));
    }

    [Fact]
    public async Task The_inbox_finds_words_in_all_their_forms_each_in_its_own_language()
    {
        var (launcher, channel, path) = await OpenDoorAsync();
        var mark = $"zz{Guid.NewGuid():N}"[..10];
        var texts = new[] { ("en", $"{mark} firing schedules"), ("de", $"{mark} Die Häuser brennen") };
        var talks = new List<Talking>();
        foreach (var (language, text) in texts)
        {
            var browser = new Browser(Desk);
            await browser.PlanAsync(path);
            talks.Add(await BeginAsync(browser, path, launcher, channel, text, language: language));
        }
        var member = await MemberAsync();
        async Task<List<Guid>> FindAsync(string words) =>
            [
                .. (await member.GetAsync($"{Inbox}?queue=all&words={Uri.EscapeDataString(words)}"))
                    .GetProperty("talks")
                    .EnumerateArray()
                    .Select(t => t.GetProperty("id").GetGuid()),
            ];
        Assert.Equal([talks[0].Id], await FindAsync($"{mark} schedule"));
        Assert.Equal([talks[1].Id], await FindAsync($"{mark} Haus"));
        Assert.Equal(2, (await FindAsync(mark)).Count);
        Assert.Empty(await FindAsync($"{mark} teapot"));
        // What means something to the search is only text to whoever types it.
        Assert.Empty(await FindAsync("') or 1=1 --"));
    }

    [Fact]
    public async Task Queues_hold_what_they_say_and_go_on_page_by_page()
    {
        var talk = await BeginAsync();
        var (mine, other) = (await MemberAsync(), await MemberAsync());
        async Task<bool> HasAsync(DeskClient who, string queue)
        {
            for (var after = ""; ; )
            {
                var page = await who.GetAsync($"{Inbox}?queue={queue}{after}");
                if (page.GetProperty("talks").EnumerateArray().Any(t => t.GetProperty("id").GetGuid() == talk.Id))
                    return true;
                if (page.GetProperty("next").ValueKind == JsonValueKind.Null)
                    return false;
                after = $"&after={Uri.EscapeDataString(page.Text("next"))}";
            }
        }
        Assert.True(await HasAsync(mine, "unclaimed"));
        await AnswerAsync(mine, talk, "Mine");
        Assert.True(await HasAsync(mine, "mine"));
        Assert.True(await HasAsync(other, "others"));
        Assert.False(await HasAsync(other, "mine"));
        var until = SystemClock.Instance.GetCurrentInstant() + Duration.FromHours(2);
        await mine.PostAsync($"{Inbox}/{talk.Id}/snooze", new { until = until.ToString() });
        Assert.True(await HasAsync(mine, "snoozed"));
        await mine.PostAsync($"{Inbox}/{talk.Id}/close", new { reason = "answered" });
        Assert.True(await HasAsync(other, "closed"));
        Assert.False(await HasAsync(other, "open"));
        foreach (var bad in new[] { "queue=nowhere", "queue=3", "after=yesterday" })
        {
            using var refused = await mine.Http.GetAsync(new Uri($"{Inbox}?{bad}", UriKind.Relative), Stop);
            Assert.Equal(HttpStatusCode.BadRequest, refused.StatusCode);
        }
    }

    [Fact]
    public async Task A_word_reopens_a_closed_talk_and_after_a_week_begins_another_that_links_back()
    {
        var talk = await BeginAsync();
        var member = await MemberAsync();
        await AnswerAsync(member, talk, "Done");
        await member.PostAsync($"{Inbox}/{talk.Id}/close", new { reason = "" });
        await AskAsync(talk, "/words", new { id = Guid.CreateVersion7(), text = "One more thing" });
        Assert.Equal("unclaimed", (await member.GetAsync($"{Inbox}/{talk.Id}")).GetProperty("talk").Text("state"));
        await member.PostAsync($"{Inbox}/{talk.Id}/close", new { reason = "" });
        await using var db = Desk.Database.Open();
        var weekAgo = SystemClock.Instance.GetCurrentInstant() - TalkStanding.Reopens;
        await db
            .Talks.Where(t => t.Id == talk.Id)
            .ExecuteUpdateAsync(u => u.SetProperty(t => t.ClosedAt, weekAgo), Stop);
        var (_, body) = await AskAsync(talk, "/words", new { id = Guid.CreateVersion7(), text = "Hello again" });
        var next = talk with { Id = body.GetProperty("talk").GetGuid(), Key = body.Text("key") };
        Assert.Equal("Hello again", Assert.Single(await WordsAsync(next)).Text("text"));
        Assert.Equal(talk.Id, (await member.GetAsync($"{Inbox}/{next.Id}")).GetProperty("beforeId").GetGuid());
    }

    [Fact]
    public async Task A_blocked_visitor_is_not_told_and_heard_by_nobody_until_they_are_again()
    {
        var talk = await BeginAsync();
        var member = await MemberAsync();
        await member.SendAsync(HttpMethod.Put, $"{Inbox}/{talk.Id}/blocked", new { blocked = true });
        var (status, _) = await AskAsync(talk, "/words", new { id = Guid.CreateVersion7(), text = "Anybody?" });
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.Equal(2, (await WordsAsync(talk)).Count);
        async Task<bool> IsThereAsync() =>
            (await member.GetAsync($"{Inbox}?queue=unclaimed"))
                .GetProperty("talks")
                .EnumerateArray()
                .Any(t => t.GetProperty("id").GetGuid() == talk.Id);
        Assert.False(await IsThereAsync());
        await member.SendAsync(HttpMethod.Put, $"{Inbox}/{talk.Id}/blocked", new { blocked = false });
        Assert.True(await IsThereAsync());
    }

    [Fact]
    public async Task An_answer_nobody_saw_goes_after_its_visitor_and_the_link_leads_back()
    {
        var talk = await BeginAsync();
        var member = await MemberAsync();
        var address = $"v{Guid.NewGuid():N}"[..12] + "@reader.net";
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await AskAsync(talk, "/address", new { email = "no address" })).Status
        );
        Assert.Equal(HttpStatusCode.NoContent, (await AskAsync(talk, "/address", new { email = address })).Status);
        await AnswerAsync(member, talk, "It can, at forty degrees.");
        await AnswerAsync(member, talk, "And by hand.");
        await AnswerAsync(member, talk, "we said so twice", isNote: true);
        await using (var db = Desk.Database.Open())
        {
            var before = SystemClock.Instance.GetCurrentInstant() - Duration.FromMinutes(6);
            await db
                .TalkWords.Where(w => w.TalkId == talk.Id)
                .ExecuteUpdateAsync(u => u.SetProperty(w => w.At, before), Stop);
        }
        await Desk.Services.GetRequiredService<TalkRound>().RunAsync(Stop);
        var mail = await Mails.ToAsync(Desk, address, "Piet answered you");
        Assert.Contains("It can, at forty degrees.", mail, StringComparison.Ordinal);
        Assert.Contains("And by hand.", mail, StringComparison.Ordinal);
        Assert.DoesNotContain("we said so twice", mail, StringComparison.Ordinal);
        var token = Mails.SecretIn(mail).Split('=', 2)[1];
        var elsewhere = new Browser(Desk);
        using var answer = await SendAsync(elsewhere, talk.Path, "/resume", new { token });
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        var back = talk with { Browser = elsewhere, Key = (await answer.JsonAsync()).Text("key") };
        Assert.Equal(3, (await WordsAsync(back)).Count);
        using var forged = await SendAsync(elsewhere, talk.Path, "/resume", new { token = token[..^2] + "xx" });
        Assert.Equal(HttpStatusCode.NotFound, forged.StatusCode);
    }

    [Fact]
    public async Task Put_off_it_wakes_when_its_moment_has_come()
    {
        var talk = await BeginAsync();
        var member = await MemberAsync();
        await AnswerAsync(member, talk, "I ask the kiln");
        var until = SystemClock.Instance.GetCurrentInstant() + Duration.FromHours(2);
        await member.PostAsync($"{Inbox}/{talk.Id}/snooze", new { until = until.ToString() });
        await using (var db = Desk.Database.Open())
        {
            var due = SystemClock.Instance.GetCurrentInstant() - Duration.FromSeconds(1);
            await db
                .Talks.Where(t => t.Id == talk.Id)
                .ExecuteUpdateAsync(u => u.SetProperty(t => t.SnoozedUntil, due), Stop);
        }
        await Desk.Services.GetRequiredService<TalkRound>().RunAsync(Stop);
        Assert.Equal("claimed", (await member.GetAsync($"{Inbox}/{talk.Id}")).GetProperty("talk").Text("state"));
    }

    [Fact]
    public async Task Only_whoever_may_answer_sees_talks_and_whoever_leaves_has_none()
    {
        var talk = await BeginAsync();
        foreach (var role in new[] { Role.Editor, Role.Viewer })
        {
            var (status, _) = await (await MemberAsync(role)).PostAsync($"{Inbox}/{talk.Id}/types");
            Assert.Equal(HttpStatusCode.Forbidden, status);
        }
        var owner = await Desk.OwnerAsync();
        await WithdrawsAsync(HttpMethod.Delete, new { });
        await WithdrawsAsync(HttpMethod.Put, new { role = "editor" });

        async Task WithdrawsAsync(HttpMethod method, object body)
        {
            var leaver = await Desk.AddMemberAsync(Role.Responder);
            var client = await DeskClient.SignInAsync(Desk.Anonymous(), leaver.Email!);
            await AnswerAsync(client, talk, "Mine, and off");
            var (status, _) = await owner.SendAsync(
                method,
                $"/api/workspaces/{Desk.World.Site.WorkspaceId}/team/members/{leaver.Id}",
                body
            );
            Assert.Equal(HttpStatusCode.NoContent, status);
            Assert.Equal("unclaimed", (await owner.GetAsync($"{Inbox}/{talk.Id}")).GetProperty("talk").Text("state"));
        }
    }

    [Fact]
    public async Task Whoever_is_erased_is_erased_from_talks_as_well()
    {
        var talk = await BeginAsync("My order is broken");
        var address = $"e{Guid.NewGuid():N}"[..12] + "@reader.net";
        await AskAsync(talk, "/address", new { email = address });
        var owner = await Desk.OwnerAsync();
        var people = $"/api/sites/{Desk.World.Site.Id}/people";
        var (_, held) = await owner.PostAsync($"{people}/find", new { email = address.ToUpperInvariant() });
        var found = Assert.Single(held.GetProperty("visitors").EnumerateArray());
        Assert.Equal(talk.Browser.Visitor, found.Text("id"));
        var (status, proof) = await owner.PostAsync(
            $"{people}/erase",
            new
            {
                events = Array.Empty<Guid>(),
                visitors = new[] { found.Text("id") },
                deliveries = Array.Empty<Guid>(),
                foundBy = "e-mail",
            }
        );
        Assert.True(status == HttpStatusCode.OK, $"{proof}");
        Assert.Equal(HttpStatusCode.NotFound, (await AskAsync(talk, "/read", new { after = 0 })).Status);
        await using var db = Desk.Database.Open();
        Assert.False(await db.TalkWords.AnyAsync(w => w.TalkId == talk.Id, Stop));
    }

    [Fact]
    public async Task A_script_asks_first_keeps_the_answers_and_leaves_the_talk_to_the_team()
    {
        var script = await PublishScriptAsync(GroupVisit());
        var (launcher, channel, path) = await OpenDoorAsync(script);
        var browser = new Browser(Desk);
        await browser.PlanAsync(path);
        var talk = await BeginAsync(browser, path, launcher, channel, "Hallo", language: "nl");
        Assert.Equal(["Hallo", "Met hoeveel zijn jullie?"], (await WordsAsync(talk)).Select(w => w.Text("text")));
        var owner = await Desk.OwnerAsync();
        // While it asks, the visitor waits for nobody.
        Assert.Equal(
            JsonValueKind.Null,
            (await owner.GetAsync($"{Inbox}/{talk.Id}")).GetProperty("talk").GetProperty("waitingSince").ValueKind
        );
        // Sent twice an answer is given once.
        var id = Guid.CreateVersion7();
        await AskAsync(talk, "/words", new { id, text = "zeven, twee zijn twaalf" });
        await AskAsync(talk, "/words", new { id, text = "zeven, twee zijn twaalf" });
        var asked = (await WordsAsync(talk))[^1];
        Assert.Equal(["Yes", "No"], asked.GetProperty("replies").EnumerateArray().Select(r => r.GetString()));
        await AskAsync(talk, "/words", new { id = Guid.CreateVersion7(), text = "yes" });
        // A newer revision is for talks that begin with it.
        await AskAsync(talk, "/words", new { id = Guid.CreateVersion7(), text = "noor@reader.net" });
        var detail = await owner.GetAsync($"{Inbox}/{talk.Id}");
        Assert.Equal("7", detail.GetProperty("kept").GetProperty("party").Text("value"));
        Assert.Equal("noor@reader.net", detail.Text("email"));
        var texts = (await WordsAsync(talk)).Select(w => w.Text("text")).ToList();
        Assert.Single(texts, t => t.StartsWith("zeven", StringComparison.Ordinal));
        Assert.True(texts[^1] == "We schrijven je." || detail.GetProperty("talk").Text("state") == "unclaimed");
        // Whoever agreed there to be written to is a lead, with the question they agreed to as its promise.
        var found = await owner.GetAsync($"/api/sites/{Desk.World.Site.Id}/leads?words=noor@reader.net");
        var lead = Assert.Single(found.GetProperty("leads").EnumerateArray());
        var yes = (await owner.GetAsync($"/api/sites/{Desk.World.Site.Id}/leads/{lead.Text("id")}")).GetProperty(
            "yeses"
        )[0];
        Assert.Equal("May we write to you?", yes.Text("promise"));
        Assert.Equal("7", yes.GetProperty("answers").Text("party"));
    }

    [Fact]
    public async Task An_offered_channel_leads_where_it_leads_in_the_panel_and_is_not_offered_once_it_is_gone()
    {
        var help = LauncherStarter.Launcher("Europe/London", "#9C3517", "#FFFFFF").Channels[0] with
        {
            Id = Guid.CreateVersion7(),
            Kind = ChannelKind.Link,
            Target = "/help/glazes",
            Label = "Glazes",
            Fields = [],
        };
        Step Offer(Guid channel) =>
            new(Guid.CreateVersion7(), 0, StepKind.Offer, [new("", "About our glazes", [], "")])
            {
                Offers = OfferOf.Channel,
                Offered = channel,
            };
        var script = await PublishScriptAsync(
            GroupVisit() with
            {
                Steps = [Offer(help.Id), Offer(Guid.CreateVersion7()), .. GroupVisit().Steps],
            }
        );
        var (launcher, channel, path) = await OpenDoorAsync(script, help);
        var browser = new Browser(Desk);
        await browser.PlanAsync(path);
        var talk = await BeginAsync(browser, path, launcher, channel, "Which glazes are safe?");
        var words = await WordsAsync(talk);
        Assert.Equal(
            ["Which glazes are safe?", "About our glazes", "How many are you?"],
            words.Select(w => w.Text("text"))
        );
        Assert.Equal("/help/glazes", words[1].Text("link"));
        // The team reads why the second was left out.
        var owner = await Desk.OwnerAsync();
        var said = (await owner.GetAsync($"{Inbox}/{talk.Id}")).GetProperty("words").EnumerateArray();
        Assert.Contains(said, w => w.Text("text").StartsWith("Step 2 offered nothing", StringComparison.Ordinal));
    }

    [Fact]
    public async Task Nobody_is_trapped_in_a_script()
    {
        var script = await PublishScriptAsync(GroupVisit());
        var (launcher, channel, path) = await OpenDoorAsync(script);
        var browser = new Browser(Desk);
        await browser.PlanAsync(path);
        var talk = await BeginAsync(browser, path, launcher, channel, "Hello");
        await AskAsync(talk, "/signs", new { person = true });
        var owner = await Desk.OwnerAsync();
        Assert.NotEqual(
            JsonValueKind.Null,
            (await owner.GetAsync($"{Inbox}/{talk.Id}")).GetProperty("talk").GetProperty("waitingSince").ValueKind
        );
        await AskAsync(talk, "/words", new { id = Guid.CreateVersion7(), text = "Are you there?" });
        Assert.Equal("Are you there?", (await WordsAsync(talk))[^1].Text("text"));
        // And once a person answers, it is silent for good.
        var other = await BeginAsync(browser, path, launcher, channel, "Hello again");
        await AnswerAsync(owner, other, "I am here");
        await AskAsync(other, "/words", new { id = Guid.CreateVersion7(), text = "seven" });
        Assert.Equal("seven", (await WordsAsync(other))[^1].Text("text"));
    }

    [Fact]
    public async Task A_script_is_tried_as_it_stands_on_the_screen_and_its_faults_keep_it_off_the_air()
    {
        var owner = await Desk.OwnerAsync();
        var api = $"/api/sites/{Desk.World.Site.Id}/scripts";
        var (status, tried) = await owner.PostAsync(
            $"{api}/try",
            new
            {
                script = JsonSerializer.SerializeToElement(GroupVisit(), JsonColumn.Options),
                said = new[] { "12", "2", "a@b.example" },
                language = "nl",
                path = "/",
                isOpen = true,
                somebodyHere = false,
                segments = Array.Empty<Guid>(),
                isKnown = false,
            }
        );
        Assert.True(status == HttpStatusCode.OK, $"{tried}");
        Assert.Equal("12", tried.GetProperty("kept").GetProperty("party").Text("value"));
        Assert.Equal("no", tried.GetProperty("kept").GetProperty("consent").Text("value"));
        Assert.True(tried.GetProperty("isOver").GetBoolean());
        foreach (var purpose in new[] { "own", "qualify", "book", "complaint", "awayHours" })
        {
            var (made, view) = await owner.PostAsync(api, new { purpose });
            Assert.True(made == HttpStatusCode.Created, $"{view}");
            Assert.DoesNotContain(
                view.GetProperty("problems").EnumerateArray(),
                p => p.GetProperty("blocks").GetBoolean()
            );
        }
        var (_, bad) = await owner.PostAsync(api, new { purpose = "own" });
        var id = bad.GetProperty("id").GetGuid();
        var broken = GroupVisit() with { Steps = [GroupVisit().Steps[4]] };
        await owner.SendAsync(
            HttpMethod.Put,
            $"{api}/{id}/draft",
            new
            {
                name = "Broken",
                content = JsonSerializer.SerializeToElement(broken, JsonColumn.Options),
                version = 1,
            }
        );
        var (refused, problem) = await owner.PostAsync($"{api}/{id}/publish", new { version = 2 });
        Assert.NotEqual(HttpStatusCode.OK, refused);
        Assert.Contains("steps[0]", $"{problem}", StringComparison.Ordinal);
    }

    [Fact]
    public async Task Saved_replies_are_shared_named_once_and_name_only_what_is_known()
    {
        var member = await MemberAsync();
        var api = $"/api/sites/{Desk.World.Site.Id}/saved-replies";
        var shortcut = $"r{Guid.NewGuid():N}"[..12];
        var (made, reply) = await member.PostAsync(
            api,
            new { shortcut, text = "Hello {{ name | default: \"there\" }}." }
        );
        Assert.True(made == HttpStatusCode.Created, $"{reply}");
        foreach (
            var (bad, field) in new[]
            {
                (new { shortcut = shortcut.ToUpperInvariant(), text = "Twice" }, "shortcut"),
                (new { shortcut = "two words", text = "No" }, "shortcut"),
                (new { shortcut = "x1", text = "" }, "text"),
                (new { shortcut = "x2", text = "{{ secret }}" }, "text"),
                (new { shortcut = "x3", text = "{{ name" }, "text"),
            }
        )
        {
            var (status, problem) = await member.PostAsync(api, bad);
            Assert.Equal((HttpStatusCode.BadRequest, field), (status, problem.Text("field")));
        }
        Assert.Contains(
            (await (await MemberAsync()).GetAsync(api)).EnumerateArray(),
            r => r.Text("shortcut") == shortcut
        );
    }
}
