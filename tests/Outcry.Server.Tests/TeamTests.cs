using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Access;

namespace Outcry.Server.Tests;

/// <summary>A workspace's people: invited, joined, given roles, taken out; and what stays written of it.</summary>
public sealed class TeamTests(TestDesk desk)
{
    private const string Password = "four quiet herons at dusk";

    private async Task<(DeskClient Owner, string Team, Guid Workspace)> OpenAsync()
    {
        var owner = await desk.OwnerAsync();
        var (status, site) = await owner.PostAsync(
            "/api/workspaces",
            new
            {
                workspace = "Teamed",
                homeAddress = "https://teamed.example/",
                timeZone = "Europe/Dublin",
                language = "en",
            }
        );
        Assert.Equal(HttpStatusCode.OK, status);
        var workspace = site.GetProperty("workspaceId").GetGuid();
        return (owner, $"/api/workspaces/{workspace}/team", workspace);
    }

    private async Task<DeskClient> AtDoorAsync()
    {
        var client = new DeskClient(desk.Anonymous());
        await client.TakeTokenAsync();
        return client;
    }

    private static string NewAddress() => $"i{Guid.NewGuid():N}@emberwick.example";

    [Fact]
    public async Task Who_is_invited_joins_once_with_the_mailed_link_in_the_role_that_was_chosen()
    {
        var (owner, team, _) = await OpenAsync();
        var email = NewAddress();
        var (status, invited) = await owner.PostAsync($"{team}/invitations", new { email, role = "responder" });
        Assert.True(status == HttpStatusCode.OK && invited.GetProperty("mailed").GetBoolean(), invited.ToString());
        var secret = Mails.SecretIn(await Mails.ToAsync(desk, email, "asks you to join Teamed"));
        Assert.EndsWith($"#{secret}", invited.Text("link"), StringComparison.Ordinal);

        var door = await AtDoorAsync();
        foreach (var forged in new[] { $"{secret[..^1]}x", "nonsense", "" })
            Assert.Equal(
                HttpStatusCode.NotFound,
                (await door.PostAsync("/api/invitations/look", new { secret = forged })).Status
            );
        var (_, look) = await door.PostAsync("/api/invitations/look", new { secret });
        Assert.Equal(
            ("Teamed", "responder", false),
            (look.Text("workspace"), look.Text("role"), look.GetProperty("hasAccount").GetBoolean())
        );
        var weak = await door.PostAsync(
            "/api/invitations/accept",
            new
            {
                secret,
                name = "Jonas Hale",
                password = "jonas",
            }
        );
        Assert.Equal((HttpStatusCode.BadRequest, "password"), (weak.Status, weak.Body.Text("field")));
        // A refusal uses nothing up.
        var (joined, problem) = await door.PostAsync(
            "/api/invitations/accept",
            new
            {
                secret,
                name = "Jonas Hale",
                password = Password,
            }
        );
        Assert.True(joined == HttpStatusCode.NoContent, problem.ToString());
        var twice = await (await AtDoorAsync()).PostAsync(
            "/api/invitations/accept",
            new
            {
                secret,
                name = "Somebody",
                password = Password,
            }
        );
        Assert.Equal(HttpStatusCode.NotFound, twice.Status);
        var member = (await owner.GetAsync(team))
            .GetProperty("members")
            .EnumerateArray()
            .Single(m => m.Text("email") == email);
        Assert.Equal(("Jonas Hale", "responder"), (member.Text("name"), member.Text("role")));
        Assert.Empty((await owner.GetAsync(team)).GetProperty("invitations").EnumerateArray());
    }

    [Fact]
    public async Task An_invitation_ends_after_seven_days_when_withdrawn_and_when_it_is_sent_again()
    {
        var (owner, team, _) = await OpenAsync();
        var email = NewAddress();
        var door = await AtDoorAsync();
        async Task<HttpStatusCode> LookAsync(string secret) =>
            (await door.PostAsync("/api/invitations/look", new { secret })).Status;
        static string SecretOf(System.Text.Json.JsonElement invited) => invited.Text("link").Split('#')[1];

        var (_, first) = await owner.PostAsync($"{team}/invitations", new { email, role = "viewer" });
        var id = first.GetProperty("invitation").Text("id");
        Assert.Equal(HttpStatusCode.OK, await LookAsync(SecretOf(first)));
        var (_, again) = await owner.PostAsync($"{team}/invitations/{id}/again");
        Assert.Equal(HttpStatusCode.NotFound, await LookAsync(SecretOf(first)));
        Assert.Equal(HttpStatusCode.OK, await LookAsync(SecretOf(again)));
        await using var db = desk.Database.Open();
        await db
            .Invitations.Where(i => i.Email == email)
            .ExecuteUpdateAsync(i => i.SetProperty(x => x.EndsAt, SystemClock.Instance.GetCurrentInstant()));
        Assert.Equal(HttpStatusCode.NotFound, await LookAsync(SecretOf(again)));
        var (_, third) = await owner.PostAsync($"{team}/invitations", new { email, role = "viewer" });
        Assert.Equal(HttpStatusCode.OK, await LookAsync(SecretOf(third)));
        await owner.SendAsync(HttpMethod.Delete, $"{team}/invitations/{third.GetProperty("invitation").Text("id")}");
        Assert.Equal(HttpStatusCode.NotFound, await LookAsync(SecretOf(third)));
    }

    [Fact]
    public async Task An_invitation_to_an_address_with_an_account_is_joined_by_that_account_alone()
    {
        var (owner, team, workspace) = await OpenAsync();
        var invited = await desk.AddMemberAsync(Role.Editor);
        var (_, made) = await owner.PostAsync($"{team}/invitations", new { email = invited.Email, role = "publisher" });
        var secret = made.Text("link").Split('#')[1];
        object accept = new
        {
            secret,
            name = "",
            password = "",
        };
        // Whoever found the link, with no account or another one, is told whose it is.
        Assert.Equal(
            HttpStatusCode.Conflict,
            (await (await AtDoorAsync()).PostAsync("/api/invitations/accept", accept)).Status
        );
        Assert.Equal(
            HttpStatusCode.Conflict,
            (await (await desk.StrangerAsync()).PostAsync("/api/invitations/accept", accept)).Status
        );
        var client = await DeskClient.SignInAsync(desk.Anonymous(), invited.Email!);
        Assert.Equal(HttpStatusCode.NoContent, (await client.PostAsync("/api/invitations/accept", accept)).Status);
        var theirs = (await client.GetAsync("/api/session")).GetProperty("member").GetProperty("workspaces");
        Assert.Equal(2, theirs.GetArrayLength());
        Assert.Contains(
            theirs.EnumerateArray(),
            w => w.GetProperty("id").GetGuid() == workspace && w.Text("role") == "publisher"
        );
    }

    [Fact]
    public async Task The_last_owner_stays_and_two_who_let_go_at_once_leave_one()
    {
        var (owner, team, workspace) = await OpenAsync();
        var marta = (await owner.GetAsync(team)).GetProperty("members")[0].Text("id");
        var path = $"{team}/members/{marta}";
        Assert.Equal(HttpStatusCode.Conflict, (await owner.SendAsync(HttpMethod.Delete, path)).Status);
        Assert.Equal(HttpStatusCode.Conflict, (await owner.PostAsync($"{team}/leave")).Status);
        Assert.Equal(
            HttpStatusCode.Conflict,
            (await owner.SendAsync(HttpMethod.Put, path, new { role = "editor" })).Status
        );
        var second = await desk.AddMemberAsync(Role.Owner, workspace);
        var other = await DeskClient.SignInAsync(desk.Anonymous(), second.Email!);
        var both = await Task.WhenAll(owner.PostAsync($"{team}/leave"), other.PostAsync($"{team}/leave"));
        Assert.Equal([HttpStatusCode.NoContent, HttpStatusCode.Conflict], both.Select(b => b.Status).Order());
    }

    [Fact]
    public async Task What_was_done_is_told_to_its_team_and_can_be_changed_by_nobody()
    {
        var (owner, team, workspace) = await OpenAsync();
        var site = (await owner.GetAsync("/api/sites"))
            .EnumerateArray()
            .Single(s => s.GetProperty("workspaceId").GetGuid() == workspace);
        var api = $"/api/sites/{site.Text("id")}";
        await owner.SendAsync(HttpMethod.Put, $"{api}/off-air", new { offAir = true });
        var rules = System.Text.Json.Nodes.JsonNode.Parse(site.GetProperty("rules").GetRawText())!;
        rules["mostPerVisit"] = 2;
        var (changed, answer) = await owner.SendAsync(
            HttpMethod.Put,
            $"{api}/house-rules",
            new { rules, seen = site.GetProperty("rules") }
        );
        Assert.True(changed == HttpStatusCode.OK, answer.ToString());
        var member = await desk.AddMemberAsync(Role.Viewer, workspace);
        await owner.SendAsync(HttpMethod.Put, $"{team}/members/{member.Id}", new { role = "editor" });

        var page = await owner.GetAsync($"{team}/traces");
        var acts = page.GetProperty("traces").EnumerateArray().ToList();
        Assert.Equal(
            ["changed the role of", "changed the house rules of", "took off air", "opened"],
            acts.Select(t => t.Text("act"))
        );
        var role = Assert.Single(acts[0].GetProperty("changes").EnumerateArray());
        Assert.Equal(("Viewer", "Editor"), (role.Text("before"), role.Text("after")));
        var rule = Assert.Single(acts[1].GetProperty("changes").EnumerateArray());
        Assert.Equal("2", rule.Text("after"));
        Assert.All(acts, a => Assert.Equal("Marta Quill", a.Text("by")));
        var sought = await owner.GetAsync($"{team}/traces?query=off%20air");
        Assert.Single(sought.GetProperty("traces").EnumerateArray());
        using var table = await owner.Http.GetAsync($"{team}/traces/export.csv");
        Assert.Contains("took off air", await table.Content.ReadAsStringAsync(), StringComparison.Ordinal);

        foreach (
            var forbidden in new[]
            {
                $"update traces set by = 'Nobody' where workspace_id = '{workspace}'",
                $"delete from traces where workspace_id = '{workspace}'",
                "truncate traces",
            }
        )
            await Assert.ThrowsAsync<Npgsql.PostgresException>(() => desk.SqlAsync(forbidden));
    }

    [Fact]
    public async Task A_house_that_asks_for_a_second_factor_shuts_out_who_has_none_and_never_who_asked_for_it()
    {
        var (owner, team, workspace) = await OpenAsync();
        var habits = new
        {
            review = "promises",
            factor = "everybody",
            awayHours = 12,
            answers = new
            {
                idleMinutes = 10,
                groupMinutes = 2,
                everybodyMinutes = 5,
            },
        };
        var (refused, why) = await owner.SendAsync(HttpMethod.Put, $"{team}/habits", habits);
        Assert.Equal((HttpStatusCode.BadRequest, "factor"), (refused, why.Text("field")));
        await using (var db = desk.Database.Open())
        {
            var row = await db.Workspaces.FirstAsync(w => w.Id == workspace);
            row.Habits = row.Habits with { Factor = FactorHabit.Everybody };
            await db.SaveChangesAsync();
        }
        var (status, problem) = await owner.SendAsync(HttpMethod.Get, team);
        Assert.Equal((HttpStatusCode.Forbidden, "urn:outcry:problem:factor-needed"), (status, problem.Text("type")));
        // The way to set one up stays open, and so does every other workspace.
        Assert.Equal(HttpStatusCode.OK, (await owner.SendAsync(HttpMethod.Get, "/api/account")).Status);
        Assert.Equal(
            HttpStatusCode.OK,
            (await owner.SendAsync(HttpMethod.Get, $"/api/sites/{desk.World.Site.Id}/strip")).Status
        );
    }

    [Fact]
    public async Task Twenty_members_write_at_once_and_nothing_of_anybody_is_lost_or_overwritten_unseen()
    {
        var (owner, _, workspace) = await OpenAsync();
        var site = (await owner.GetAsync("/api/sites"))
            .EnumerateArray()
            .Single(s => s.GetProperty("workspaceId").GetGuid() == workspace)
            .Text("id");
        var (_, shared) = await owner.PostAsync($"/api/sites/{site}/callouts", new { kind = "notice" });
        var path = $"/api/sites/{site}/callouts/{shared.Text("id")}";
        var first = shared.GetProperty("draftVersion").GetInt32();
        var members = new List<DeskClient>();
        for (var i = 0; i < 20; i++)
        {
            var member = await desk.AddMemberAsync(Role.Editor, workspace);
            members.Add(await DeskClient.SignInAsync(desk.Anonymous(), member.Email!));
        }
        var saved = await Task.WhenAll(members.Select((m, i) => WriteAsync(m, i)));
        // Each save made a version of its own; whoever came second was told, took the newer one in and saved again.
        Assert.Equal(20, saved.Distinct().Count());
        Assert.Equal(Enumerable.Range(first + 1, 20), saved.Order());
        Assert.Equal(20, (await owner.GetAsync($"/api/sites/{site}/callouts")).EnumerateArray().Count() - 1);

        async Task<int> WriteAsync(DeskClient member, int number)
        {
            var (begun, _) = await member.PostAsync($"/api/sites/{site}/callouts", new { kind = "notice" });
            Assert.Equal(HttpStatusCode.Created, begun);
            for (var tries = 0; tries < 200; tries++)
            {
                var version = (await member.GetAsync(path)).GetProperty("draftVersion").GetInt32();
                var (status, body) = await member.SendAsync(
                    HttpMethod.Put,
                    $"{path}/draft",
                    new
                    {
                        name = $"Written by {number}",
                        content = Moments.Notice($"Words of {number}"),
                        version,
                    }
                );
                if (status == HttpStatusCode.OK)
                    return body.GetProperty("draftVersion").GetInt32();
                Assert.Equal(HttpStatusCode.Conflict, status);
            }
            throw new InvalidOperationException("It never came to save.");
        }
    }
}
