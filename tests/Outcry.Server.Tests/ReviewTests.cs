using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Outcry.Core.Access;
using Outcry.Store.Rows;

namespace Outcry.Server.Tests;

/// <summary>A second look before something goes live: asked for, noted, approved, undone by an edit, and never one's own.</summary>
public sealed class ReviewTests(TestDesk desk)
{
    private sealed record Team(
        string Api,
        DeskClient Owner,
        DeskClient Editor,
        DeskClient Publisher,
        Member PublisherIs
    );

    private async Task<Team> OpenAsync(ReviewHabit habit = ReviewHabit.Promises)
    {
        var owner = await desk.OwnerAsync();
        var (status, site) = await owner.PostAsync(
            "/api/workspaces",
            new
            {
                workspace = "Reviewed",
                homeAddress = "https://reviewed.example/",
                timeZone = "Europe/Dublin",
                language = "en",
            }
        );
        Assert.Equal(HttpStatusCode.OK, status);
        var workspace = site.GetProperty("workspaceId").GetGuid();
        await using (var db = desk.Database.Open())
        {
            var row = await db.Workspaces.FirstAsync(w => w.Id == workspace);
            row.Habits = row.Habits with { Review = habit };
            await db.SaveChangesAsync();
        }
        var editor = await desk.AddMemberAsync(Role.Editor, workspace);
        var publisher = await desk.AddMemberAsync(Role.Publisher, workspace);
        return new Team(
            $"/api/sites/{site.Text("id")}",
            owner,
            await DeskClient.SignInAsync(desk.Anonymous(), editor.Email!),
            await DeskClient.SignInAsync(desk.Anonymous(), publisher.Email!),
            publisher
        );
    }

    private static async Task<string> StartAsync(Team team, DeskClient who, string message)
    {
        var (status, made) = await who.PostAsync(
            $"{team.Api}/callouts",
            new { kind = "notice", name = "To be looked at" }
        );
        Assert.True(status == HttpStatusCode.Created, made.ToString());
        var id = made.Text("id");
        await SaveAsync(team, who, id, message);
        return id;
    }

    private static async Task<int> SaveAsync(Team team, DeskClient who, string id, string message)
    {
        var version = (await who.GetAsync($"{team.Api}/callouts/{id}")).GetProperty("draftVersion").GetInt32();
        var (status, saved) = await who.SendAsync(
            HttpMethod.Put,
            $"{team.Api}/callouts/{id}/draft",
            new
            {
                name = "To be looked at",
                content = Moments.Notice(message),
                version,
            }
        );
        Assert.True(status == HttpStatusCode.OK, saved.ToString());
        return saved.GetProperty("draftVersion").GetInt32();
    }

    private static Task<(HttpStatusCode Status, JsonElement Body)> PublishAsync(
        Team team,
        DeskClient who,
        string id,
        int version
    ) => who.PostAsync($"{team.Api}/callouts/{id}/publish", new { version });

    [Fact]
    public async Task An_editors_promise_is_noted_at_sent_back_asked_for_again_approved_and_then_published_by_its_author_never_alone()
    {
        var team = await OpenAsync();
        var id = await StartAsync(team, team.Editor, "A mug for every guest");
        var (asked, review) = await team.Editor.PostAsync(
            $"{team.Api}/reviews/of/{id}",
            new { of = team.PublisherIs.Id, sentence = "Is the promise sound?" }
        );
        Assert.True(asked == HttpStatusCode.OK, review.ToString());
        Assert.Contains(
            "Is the promise sound?",
            await Mails.ToAsync(desk, team.PublisherIs.Email!, "asks you to look at"),
            StringComparison.Ordinal
        );
        var path = $"{team.Api}/reviews/{review.Text("id")}";
        Assert.Equal(
            HttpStatusCode.Conflict,
            (await team.Editor.PostAsync($"{team.Api}/reviews/of/{id}", new { sentence = "" })).Status
        );
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await team.Editor.PostAsync($"{path}/approve", new { version = 2 })).Status
        );
        await team.Publisher.PostAsync($"{path}/notes", new { field = "say", text = "Say who makes it." });
        var (back, _) = await team.Publisher.PostAsync(
            $"{path}/send-back",
            new { field = "", text = "Say who makes it." }
        );
        Assert.Equal(HttpStatusCode.OK, back);
        Assert.Empty((await team.Editor.GetAsync($"{team.Api}/reviews")).EnumerateArray());

        var version = await SaveAsync(team, team.Editor, id, "A mug of our own for every guest");
        (_, review) = await team.Editor.PostAsync($"{team.Api}/reviews/of/{id}", new { sentence = "Better?" });
        path = $"{team.Api}/reviews/{review.Text("id")}";
        Assert.Equal(
            HttpStatusCode.Conflict,
            (await team.Publisher.PostAsync($"{path}/approve", new { version = version - 1 })).Status
        );
        var (approved, decided) = await team.Publisher.PostAsync($"{path}/approve", new { version });
        Assert.True(
            approved == HttpStatusCode.OK && decided.GetProperty("isApproved").GetBoolean(),
            decided.ToString()
        );

        // An edit takes the approval away, and says whose it was.
        version = await SaveAsync(team, team.Editor, id, "Two mugs for every guest");
        var open = Assert.Single((await team.Publisher.GetAsync($"{team.Api}/reviews")).EnumerateArray());
        Assert.False(open.GetProperty("isApproved").GetBoolean());
        Assert.Equal("Piet Passing", open.Text("undoneBy"));
        await team.Publisher.PostAsync($"{path}/approve", new { version });
        var (live, answer) = await PublishAsync(team, team.Publisher, id, version);
        Assert.True(live == HttpStatusCode.OK, answer.ToString());
        Assert.Empty((await team.Publisher.GetAsync($"{team.Api}/reviews")).EnumerateArray());
    }

    [Fact]
    public async Task Nobody_is_the_second_person_for_their_own_promise_whichever_way_they_try()
    {
        var team = await OpenAsync();
        var id = await StartAsync(team, team.Publisher, "A mug for every guest");
        var version = (await team.Publisher.GetAsync($"{team.Api}/callouts/{id}"))
            .GetProperty("draftVersion")
            .GetInt32();
        var (status, problem) = await PublishAsync(team, team.Publisher, id, version);
        Assert.Equal((HttpStatusCode.Conflict, "urn:outcry:problem:second-person"), (status, problem.Text("type")));
        var (_, review) = await team.Publisher.PostAsync($"{team.Api}/reviews/of/{id}", new { sentence = "" });
        var path = $"{team.Api}/reviews/{review.Text("id")}";
        var (own, why) = await team.Publisher.PostAsync($"{path}/approve", new { version });
        Assert.Equal((HttpStatusCode.Conflict, "urn:outcry:problem:own-work"), (own, why.Text("type")));
        await team.Owner.PostAsync($"{path}/approve", new { version });
        Assert.Equal(HttpStatusCode.OK, (await PublishAsync(team, team.Publisher, id, version)).Status);
        // What promises nothing new goes live by one hand.
        var next = await SaveAsync(team, team.Publisher, id, "A mug for every guest");
        Assert.Equal(HttpStatusCode.OK, (await PublishAsync(team, team.Publisher, id, next)).Status);
    }

    [Fact]
    public async Task Who_did_not_write_it_publishes_it_at_once_and_a_team_of_one_is_not_kept_from_working()
    {
        var team = await OpenAsync(ReviewHabit.Everything);
        var id = await StartAsync(team, team.Editor, "A mug for every guest");
        var version = (await team.Owner.GetAsync($"{team.Api}/callouts/{id}")).GetProperty("draftVersion").GetInt32();
        Assert.Equal(HttpStatusCode.OK, (await PublishAsync(team, team.Owner, id, version)).Status);

        await using (var db = desk.Database.Open())
            await db.Memberships.Where(m => m.MemberId == team.PublisherIs.Id).ExecuteDeleteAsync();
        var own = await StartAsync(team, team.Owner, "Ours alone");
        version = (await team.Owner.GetAsync($"{team.Api}/callouts/{own}")).GetProperty("draftVersion").GetInt32();
        Assert.Equal(HttpStatusCode.OK, (await PublishAsync(team, team.Owner, own, version)).Status);
    }
}
