using System.Text.Json;

namespace Outcry.Server.Tests;

/// <summary>A site's brand kit: begun in, told of, taken over, and never live by itself.</summary>
public sealed class BrandKitTests(TestDesk desk)
{
    private async Task<(DeskClient Owner, string Api)> OpenAsync()
    {
        var owner = await desk.OwnerAsync();
        var (_, site) = await owner.PostAsync(
            "/api/workspaces",
            new
            {
                workspace = "Kitted",
                homeAddress = "https://kitted.example/",
                timeZone = "Europe/Dublin",
                language = "en",
            }
        );
        return (owner, $"/api/sites/{site.Text("id")}");
    }

    private static object Kit(string band = "#0B4F9C", string ground = "#FFFFFF") =>
        new
        {
            band,
            ground,
            onRight = true,
            staySeconds = 9,
        };

    private static Task<(HttpStatusCode Status, JsonElement Body)> SetAsync(DeskClient owner, string api, object kit) =>
        owner.SendAsync(HttpMethod.Put, $"{api}/kit", kit);

    [Fact]
    public async Task What_begins_after_it_looks_like_it_and_what_was_before_takes_it_over_as_a_draft()
    {
        var (owner, api) = await OpenAsync();
        var (_, before) = await owner.PostAsync($"{api}/callouts", new { kind = "notice" });
        Assert.False((await owner.GetAsync($"{api}/kit")).GetProperty("isSet").GetBoolean());
        var (status, kit) = await SetAsync(owner, api, Kit());
        Assert.True(status == HttpStatusCode.OK, kit.ToString());
        Assert.Equal(before.Text("id"), Assert.Single(kit.GetProperty("others").EnumerateArray()).Text("id"));
        Assert.All(
            kit.GetProperty("pairs").EnumerateArray(),
            p => Assert.True(p.GetProperty("ratio").GetDouble() >= p.GetProperty("least").GetDouble())
        );

        var (_, after) = await owner.PostAsync($"{api}/callouts", new { kind = "notice" });
        var (_, launcher) = await owner.PostAsync($"{api}/launchers", new { });
        foreach (var look in new[] { after, launcher }.Select(m => m.GetProperty("draft").GetProperty("look")))
            Assert.Equal(("#0B4F9C", "right"), (look.Text("band"), look.Text("side")));

        var (_, taken) = await owner.PostAsync($"{api}/kit/take-over", new { ids = new[] { before.Text("id") } });
        Assert.Empty(taken.GetProperty("others").EnumerateArray());
        var dressed = await owner.GetAsync($"{api}/callouts/{before.Text("id")}");
        Assert.Equal("#0B4F9C", dressed.GetProperty("draft").GetProperty("look").Text("band"));
        Assert.Equal("draft", dressed.Text("state"));
        // Their old version is not overwritten unseen by who has it open.
        Assert.Equal(before.GetProperty("draftVersion").GetInt32() + 1, dressed.GetProperty("draftVersion").GetInt32());
    }

    [Fact]
    public async Task Colours_that_cannot_be_are_refused_and_those_that_can_hardly_be_seen_are_told_of()
    {
        var (owner, api) = await OpenAsync();
        var (bad, problem) = await SetAsync(owner, api, Kit(band: "blue"));
        Assert.Equal((HttpStatusCode.BadRequest, "band"), (bad, problem.Text("field")));
        var (pale, kit) = await SetAsync(owner, api, Kit(band: "#EEEEEE"));
        Assert.Equal(HttpStatusCode.OK, pale);
        Assert.Contains(
            kit.GetProperty("hints").EnumerateArray(),
            h => h.GetString()!.Contains("The band beside the ground", StringComparison.Ordinal)
        );
    }
}
