using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Core.Greetings;
using Outcry.Core.Publishing;
using Outcry.Core.Scripts;
using Outcry.Server.Sites;
using Outcry.Server.Talks;
using Outcry.Tests.World;

namespace Outcry.Server.Tests;

/// <summary>Groups that talks are handed to, people who come back in another browser, and times that are booked.</summary>
public sealed class TalkTeamTests(TalkDesk desk) : TalkSteps(desk), IClassFixture<TalkDesk>
{
    private string Groups => $"/api/workspaces/{Desk.World.Site.WorkspaceId}/team/groups";

    private static string NewName() => $"Group {Guid.NewGuid():N}"[..20];

    private async Task<Guid> AddGroupAsync(params Guid[] members)
    {
        var (status, body) = await (await Desk.OwnerAsync()).PostAsync(
            Groups,
            new { name = NewName(), memberIds = members }
        );
        Assert.True(status == HttpStatusCode.Created, $"{body}");
        return body.GetProperty("id").GetGuid();
    }

    private static Script HandingTo(Guid group) =>
        new(
            [
                new Step(Guid.CreateVersion7(), 0, StepKind.HandOver, []) with
                {
                    To = HandTo.Group,
                    GroupId = group,
                },
                new Step(
                    Guid.CreateVersion7(),
                    1,
                    StepKind.Say,
                    [new StepWords("", "Nobody of them is here.", [], "")]
                ),
            ],
            0,
            30,
            []
        );

    [Fact]
    public async Task A_group_has_a_name_of_its_own_and_members_who_may_answer()
    {
        var owner = await Desk.OwnerAsync();
        var (answers, reads) = (await Desk.AddMemberAsync(Role.Responder), await Desk.AddMemberAsync(Role.Viewer));
        var name = NewName();
        var (status, made) = await owner.PostAsync(Groups, new { name, memberIds = new[] { answers.Id } });
        Assert.Equal(HttpStatusCode.Created, status);
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await owner.PostAsync(Groups, new { name, memberIds = Array.Empty<Guid>() })).Status
        );
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await owner.PostAsync(Groups, new { name = NewName(), memberIds = new[] { reads.Id } })).Status
        );
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await owner.PostAsync(Groups, new { name = " ", memberIds = Array.Empty<Guid>() })).Status
        );
        var responder = await DeskClient.SignInAsync(Desk.Anonymous(), answers.Email!);
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await responder.PostAsync(Groups, new { name = NewName(), memberIds = Array.Empty<Guid>() })).Status
        );
        // Whoever may answer no more is in no group either.
        await owner.SendAsync(
            HttpMethod.Put,
            $"/api/workspaces/{Desk.World.Site.WorkspaceId}/team/members/{answers.Id}",
            new { role = "viewer" }
        );
        var listed = (await owner.GetAsync(Groups)).EnumerateArray().Single(g => g.Text("name") == name);
        Assert.Equal(0, listed.GetProperty("memberIds").GetArrayLength());
        var (gone, _) = await owner.SendAsync(HttpMethod.Delete, $"{Groups}/{made.Text("id")}");
        Assert.Equal(HttpStatusCode.NoContent, gone);
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await owner.SendAsync(HttpMethod.Delete, $"{Groups}/{made.Text("id")}")).Status
        );
    }

    [Fact]
    public async Task A_script_hands_to_a_group_while_one_of_them_is_there_and_else_goes_on_below()
    {
        var member = await Desk.AddMemberAsync(Role.Responder);
        var group = await AddGroupAsync(member.Id);
        var (launcher, channel, path) = await OpenDoorAsync(await PublishScriptAsync(HandingTo(group)));
        var browser = new Browser(Desk);
        await browser.PlanAsync(path);
        var owner = await Desk.OwnerAsync();
        var team = Desk.Services.GetRequiredService<TeamPresence>();
        // Somebody is at a desk, but not of the group.
        team.Came("other", Desk.World.Site.WorkspaceId, Desk.World.Site.Id, Guid.NewGuid(), "Teo");
        try
        {
            var alone = await BeginAsync(browser, path, launcher, channel, "Anybody?");
            Assert.Equal("Nobody of them is here.", (await WordsAsync(alone))[^1].Text("text"));
            team.Came("theirs", Desk.World.Site.WorkspaceId, Desk.World.Site.Id, member.Id, "Piet");
            var talk = await BeginAsync(browser, path, launcher, channel, "Anybody now?");
            Assert.Single(await WordsAsync(talk));
            var handed = (await owner.GetAsync($"{Inbox}/{talk.Id}")).GetProperty("talk");
            Assert.Equal(("unclaimed", group.ToString()), (handed.Text("state"), handed.Text("groupId")));
            // One's group's queue has it, and what is for everybody; another group's has only the latter.
            var other = await AddGroupAsync();
            Assert.Contains(await ListAsync(owner, group), t => t == talk.Id);
            Assert.DoesNotContain(await ListAsync(owner, other), t => t == talk.Id);
            Assert.Contains(await ListAsync(owner, other), t => t == alone.Id);
        }
        finally
        {
            team.Went("other");
            team.Went("theirs");
        }
    }

    private async Task<List<Guid>> ListAsync(DeskClient member, Guid group) =>
        [
            .. (await member.GetAsync($"{Inbox}?queue=unclaimed&group={group}"))
                .GetProperty("talks")
                .EnumerateArray()
                .Select(t => t.GetProperty("id").GetGuid()),
        ];

    [Fact]
    public async Task A_talk_is_handed_to_a_group_and_in_turn_to_one_of_it()
    {
        var member = await Desk.AddMemberAsync(Role.Responder);
        var group = await AddGroupAsync(member.Id);
        var talk = await BeginAsync();
        var owner = await Desk.OwnerAsync();
        var (status, body) = await owner.PostAsync(
            $"{Inbox}/{talk.Id}/assign",
            new { groupId = group, note = "Yours?" }
        );
        Assert.True(status == HttpStatusCode.OK, $"{body}");
        Assert.Equal(group.ToString(), body.GetProperty("talk").Text("groupId"));
        Assert.Contains(
            body.GetProperty("words").EnumerateArray(),
            w => w.Text("text").Contains("handed it to Group", StringComparison.Ordinal)
        );
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await owner.PostAsync($"{Inbox}/{talk.Id}/assign", new { groupId = Guid.NewGuid() })).Status
        );
        // In turn among those of the group only: others who are there are not asked.
        var team = Desk.Services.GetRequiredService<TeamPresence>();
        var stranger = await Desk.AddMemberAsync(Role.Responder);
        team.Came("stranger", Desk.World.Site.WorkspaceId, Desk.World.Site.Id, stranger.Id, "Noor");
        try
        {
            Assert.Equal(
                HttpStatusCode.Conflict,
                (await owner.PostAsync($"{Inbox}/{talk.Id}/assign", new { inTurn = true })).Status
            );
            team.Came("member", Desk.World.Site.WorkspaceId, Desk.World.Site.Id, member.Id, "Piet");
            (status, body) = await owner.PostAsync($"{Inbox}/{talk.Id}/assign", new { inTurn = true });
            Assert.True(status == HttpStatusCode.OK, $"{body}");
            Assert.Equal(member.Id.ToString(), body.GetProperty("talk").Text("memberId"));
        }
        finally
        {
            team.Went("stranger");
            team.Went("member");
        }
    }

    private string Sign(string id) =>
        Convert.ToHexStringLower(HMACSHA256.HashData(Desk.World.Site.IdentitySecret, Encoding.UTF8.GetBytes(id)));

    private static async Task IdentifyAsync(Browser browser, string path, string id, string signature)
    {
        using var told = await browser.ReportAsync(path, new { identify = new { data = new { id }, signature } });
        Assert.True(told.IsSuccessStatusCode, await told.Content.ReadAsStringAsync(Stop));
    }

    private async Task<(HttpStatusCode Status, JsonElement Body)> MineAsync(
        Browser browser,
        string path,
        Talking? kept = null
    )
    {
        using var answer = await SendAsync(
            browser,
            path,
            "/mine",
            kept is null
                ? new { passport = browser.Passport }
                : new
                {
                    passport = browser.Passport,
                    talk = kept.Id,
                    key = kept.Key,
                }
        );
        return (answer.StatusCode, answer.StatusCode == HttpStatusCode.NoContent ? default : await answer.JsonAsync());
    }

    [Fact]
    public async Task Whom_the_site_signed_for_finds_their_talk_in_another_browser_and_nobody_else_does()
    {
        var (launcher, channel, path) = await OpenDoorAsync();
        var who = $"c-{Guid.NewGuid():N}";
        var (here, there, forger, stranger) = (
            new Browser(Desk),
            new Browser(Desk),
            new Browser(Desk),
            new Browser(Desk)
        );
        foreach (var browser in new[] { here, there, forger, stranger })
            await browser.PlanAsync(path);
        await IdentifyAsync(here, path, who, Sign(who));
        await IdentifyAsync(there, path, who, Sign(who));
        await IdentifyAsync(forger, path, who, Sign("somebody else"));
        Assert.Equal(HttpStatusCode.NoContent, (await MineAsync(there, path)).Status);
        var talk = await BeginAsync(here, path, launcher, channel, "Where is my parcel?");
        var (status, found) = await MineAsync(there, path);
        Assert.Equal((HttpStatusCode.OK, talk.Id), (status, found.GetProperty("talk").GetGuid()));
        var other = talk with { Browser = there, Key = found.Text("key") };
        Assert.Equal("Where is my parcel?", Assert.Single(await WordsAsync(other)).Text("text"));
        // Both browsers go on in it.
        Assert.Equal(
            HttpStatusCode.OK,
            (await AskAsync(other, "/words", new { id = Guid.CreateVersion7(), text = "From my phone now." })).Status
        );
        Assert.Equal(2, (await WordsAsync(talk)).Count);
        Assert.Equal(HttpStatusCode.NoContent, (await MineAsync(forger, path)).Status);
        Assert.Equal(HttpStatusCode.NoContent, (await MineAsync(stranger, path)).Status);
    }

    [Fact]
    public async Task Whoever_sits_at_the_browser_next_is_not_whom_the_site_signed_for_before()
    {
        var (launcher, channel, path) = await OpenDoorAsync();
        var who = $"c-{Guid.NewGuid():N}";
        var (phone, shared) = (new Browser(Desk), new Browser(Desk));
        await phone.PlanAsync(path);
        await shared.PlanAsync(path);
        await IdentifyAsync(phone, path, who, Sign(who));
        await IdentifyAsync(shared, path, who, Sign(who));
        await BeginAsync(phone, path, launcher, channel, "Only for me");
        Assert.Equal(HttpStatusCode.OK, (await MineAsync(shared, path)).Status);
        // They sign out and go; later somebody else opens the page there.
        await using (var db = Desk.Database.Open())
            await db
                .Visitors.Where(v => v.VisitorId == shared.Visitor)
                .ExecuteUpdateAsync(u => u.SetProperty(v => v.LastAt, v => v.LastAt - Duration.FromMinutes(3)), Stop);
        Assert.Equal(HttpStatusCode.NoContent, (await MineAsync(shared, path)).Status);
        // What they say there is their own, and goes nowhere else.
        var other = await BeginAsync(shared, path, launcher, channel, "Somebody else here");
        await using (var db = Desk.Database.Open())
            Assert.Null((await db.Talks.SingleAsync(t => t.Id == other.Id, Stop)).Person);
        // And an unsigned name changes nothing of it.
        await IdentifyAsync(shared, path, who, new string('0', 64));
        Assert.Equal(HttpStatusCode.NoContent, (await MineAsync(shared, path)).Status);
    }

    [Fact]
    public async Task What_was_begun_before_they_were_known_goes_with_them_once_they_are()
    {
        var (launcher, channel, path) = await OpenDoorAsync();
        var who = $"c-{Guid.NewGuid():N}";
        var (here, there) = (new Browser(Desk), new Browser(Desk));
        await here.PlanAsync(path);
        await there.PlanAsync(path);
        var talk = await BeginAsync(here, path, launcher, channel, "I will sign in now.");
        await IdentifyAsync(here, path, who, Sign(who));
        await IdentifyAsync(there, path, who, Sign(who));
        Assert.Equal(HttpStatusCode.NoContent, (await MineAsync(there, path)).Status);
        Assert.Equal(talk.Id, (await MineAsync(here, path, talk)).Body.GetProperty("talk").GetGuid());
        Assert.Equal(talk.Id, (await MineAsync(there, path)).Body.GetProperty("talk").GetGuid());
        // A key that opens nothing gives nothing away: they get their own talk, with a key of its own.
        var wrong = talk with
        {
            Key = "not a key",
        };
        var (_, own) = await MineAsync(there, path, wrong);
        Assert.NotEqual(wrong.Key, own.Text("key"));
    }

    private static Script Visit()
    {
        Step Ask(AskKind kind, string field, string words, TimeOffer? times = null, params string[] replies) =>
            new(
                Guid.CreateVersion7(),
                0,
                StepKind.Ask,
                [new StepWords("", words, replies, kind == AskKind.Time ? "That one is gone. Which else?" : "")],
                new Question(kind, field, false, [], null, null, times)
            );
        return new Script(
            [
                Ask(AskKind.Time, "when", "When would suit you?", new TimeOffer("A visit to the kiln", 60, 24, 14)),
                Ask(AskKind.Consent, "consent", "May we write to you about it?", null, "Yes", "No"),
                Ask(AskKind.Email, "mail", "Where to?"),
                new Step(Guid.CreateVersion7(), 0, StepKind.Say, [new StepWords("", "See you {{ when }}.", [], "")]),
            ],
            0,
            30,
            []
        );
    }

    private static List<string> RepliesOf(JsonElement word) =>
        [.. word.GetProperty("replies").EnumerateArray().Select(r => r.GetString()!)];

    [Fact]
    public async Task A_time_is_given_once_invited_to_by_mail_and_free_again_once_called_off()
    {
        var (launcher, channel, path) = await OpenDoorAsync(await PublishScriptAsync(Visit()));
        var (one, two) = (new Browser(Desk), new Browser(Desk));
        await one.PlanAsync(path);
        await two.PlanAsync(path);
        var first = await BeginAsync(one, path, launcher, channel, "I would like to come by");
        var second = await BeginAsync(two, path, launcher, channel, "Me too");
        var offered = RepliesOf((await WordsAsync(first))[^1]);
        Assert.Equal(FreeTimes.Most, offered.Count);
        // The last of them: the first is too soon once the hour has struck.
        var wanted = offered[^1];
        // Both want the same one at the same moment.
        await Task.WhenAll(
            new[] { first, second }.Select(t =>
                AskAsync(t, "/words", new { id = Guid.CreateVersion7(), text = wanted })
            )
        );
        var (wonFirst, wonSecond) = (await HasAsync(first), await HasAsync(second));
        Assert.True(wonFirst ^ wonSecond);
        var (has, wants) = wonFirst ? (first, second) : (second, first);
        var again = (await WordsAsync(wants))[^1];
        Assert.Equal("That one is gone. Which else?", again.Text("text"));
        Assert.DoesNotContain(wanted, RepliesOf(again));
        // No address yet: it is held, and nobody is invited.
        var address = $"v{Guid.NewGuid():N}"[..12] + "@reader.net";
        var owner = await Desk.OwnerAsync();
        var detail = await owner.GetAsync($"{Inbox}/{has.Id}");
        Assert.Equal(JsonValueKind.Null, detail.GetProperty("booking").GetProperty("invitedAt").ValueKind);
        foreach (var text in new[] { "Yes", address })
            await AskAsync(has, "/words", new { id = Guid.CreateVersion7(), text });
        Assert.Equal($"See you {wanted}.", (await WordsAsync(has))[^1].Text("text"));
        var mail = await Mails.ToAsync(Desk, address, $"A visit to the kiln: {wanted}");
        Assert.Contains("The invitation is with this mail.", mail, StringComparison.Ordinal);
        var invitation = await Mails.InvitationToAsync(Desk, address, $"A visit to the kiln: {wanted}");
        Assert.Contains("METHOD:REQUEST", invitation, StringComparison.Ordinal);
        Assert.Contains($"mailto:{address}", invitation, StringComparison.Ordinal);
        detail = await owner.GetAsync($"{Inbox}/{has.Id}");
        Assert.Equal("A visit to the kiln", detail.GetProperty("booking").Text("title"));
        Assert.NotEqual(JsonValueKind.Null, detail.GetProperty("booking").GetProperty("invitedAt").ValueKind);
        // Called off, they are told, and it is offered again.
        var (status, off) = await owner.SendAsync(HttpMethod.Delete, $"{Inbox}/{has.Id}/booking");
        Assert.True(status == HttpStatusCode.OK, $"{off}");
        Assert.Contains(
            "METHOD:CANCEL",
            await Mails.InvitationToAsync(Desk, address, $"Called off: A visit to the kiln: {wanted}"),
            StringComparison.Ordinal
        );
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await owner.SendAsync(HttpMethod.Delete, $"{Inbox}/{has.Id}/booking")).Status
        );
        var third = await BeginAsync(two, path, launcher, channel, "And now?");
        Assert.Contains(wanted, RepliesOf((await WordsAsync(third))[^1]));
    }

    [Fact]
    public async Task The_team_is_mailed_at_the_launcher_s_addresses_else_as_the_talk_s_group_else_its_owners()
    {
        var member = await Desk.AddMemberAsync(Role.Responder);
        var group = await AddGroupAsync(member.Id);
        var talk = await BeginAsync("Who hears of this?");
        var recipients = Desk.Services.GetRequiredService<TalkRecipients>();
        await using var db = Desk.Database.Open();
        var row = await db.Talks.SingleAsync(t => t.Id == talk.Id, Stop);
        var owners = await recipients.HolderOrAsync(db, row, null, Stop);
        Assert.Contains(TestWorld.OwnerEmail, owners);

        row.GroupId = group;
        Assert.Equal([member.Email!], await recipients.OfAsync(db, row, null, Stop));
        // What is booked in a talk that the group took is theirs to know, too.
        Assert.Equal([member.Email!], await recipients.HolderOrAsync(db, row, null, Stop));
        var holder = await Desk.AddMemberAsync(Role.Responder);
        row.MemberId = holder.Id;
        Assert.Equal([holder.Email!], await recipients.HolderOrAsync(db, row, null, Stop));

        var brief = LauncherStarter.Launcher("UTC", "#9C3517", "#FFFFFF") with { MailTo = ["studio@pots.test"] };
        var site = Desk.Services.GetRequiredService<LiveSites>().GetById(Desk.World.Site.Id);
        var launcher = new Launcher(
            new Definition(Guid.NewGuid(), "Ask", DefinitionState.Live, row.LastAt, 1),
            brief,
            site.Context
        );
        Assert.Equal(["studio@pots.test"], await recipients.OfAsync(db, row, launcher, Stop));
    }

    [Fact]
    public async Task A_time_held_by_somebody_who_left_no_address_is_free_after_an_hour()
    {
        var (launcher, channel, path) = await OpenDoorAsync(await PublishScriptAsync(Visit()));
        var (one, two) = (new Browser(Desk), new Browser(Desk));
        await one.PlanAsync(path);
        await two.PlanAsync(path);
        var first = await BeginAsync(one, path, launcher, channel, "I would like to come by");
        var wanted = RepliesOf((await WordsAsync(first))[^1])[0];
        await AskAsync(first, "/words", new { id = Guid.CreateVersion7(), text = wanted });
        var second = await BeginAsync(two, path, launcher, channel, "Me too");
        Assert.DoesNotContain(wanted, RepliesOf((await WordsAsync(second))[^1]));
        await using (var db = Desk.Database.Open())
        {
            var before = SystemClock.Instance.GetCurrentInstant() - Duration.FromMinutes(61);
            await db
                .Bookings.Where(b => b.TalkId == first.Id)
                .ExecuteUpdateAsync(u => u.SetProperty(b => b.ChosenAt, before), Stop);
        }
        var third = await BeginAsync(two, path, launcher, channel, "Once more");
        Assert.Contains(wanted, RepliesOf((await WordsAsync(third))[^1]));
        await AskAsync(third, "/words", new { id = Guid.CreateVersion7(), text = wanted });
        Assert.True(await HasAsync(third));
        Assert.False(await HasAsync(first));
    }

    private async Task<bool> HasAsync(Talking talk)
    {
        await using var db = Desk.Database.Open();
        return await db.Bookings.AnyAsync(b => b.TalkId == talk.Id && b.CancelledAt == null, Stop);
    }
}
