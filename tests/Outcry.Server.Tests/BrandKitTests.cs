using System.Net.Http.Headers;
using System.Text.Json;
using SkiaSharp;

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

    private static object Kit(
        string band = "#0B4F9C",
        string ground = "#FFFFFF",
        int cornerPx = 2,
        string logo = "",
        string picture = "",
        object[]? tones = null
    ) =>
        new
        {
            band,
            ground,
            onRight = true,
            staySeconds = 9,
            typeface = "serif",
            cornerPx,
            logo,
            picture,
            tones = tones ?? [],
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
            Assert.Equal(
                ("#0B4F9C", "right", "serif", 2),
                (look.Text("band"), look.Text("side"), look.Text("typeface"), look.GetProperty("cornerPx").GetInt32())
            );

        var (_, taken) = await owner.PostAsync($"{api}/kit/take-over", new { ids = new[] { before.Text("id") } });
        Assert.Empty(taken.GetProperty("others").EnumerateArray());
        var dressed = await owner.GetAsync($"{api}/callouts/{before.Text("id")}");
        Assert.Equal("#0B4F9C", dressed.GetProperty("draft").GetProperty("look").Text("band"));
        Assert.Equal("draft", dressed.Text("state"));
        // Their old version is not overwritten unseen by who has it open.
        Assert.Equal(before.GetProperty("draftVersion").GetInt32() + 1, dressed.GetProperty("draftVersion").GetInt32());
    }

    [Fact]
    public async Task Its_pictures_stand_where_nothing_was_chosen_and_cannot_be_removed_while_they_do()
    {
        var (owner, api) = await OpenAsync();
        using var content = new ByteArrayContent(PictureTests.Picture(64, 64, SKEncodedImageFormat.Png));
        content.Headers.ContentType = new MediaTypeHeaderValue("application/octet-stream");
        using var answer = await owner.Http.PostAsync(
            new Uri($"{api}/pictures?name=shield.png", UriKind.Relative),
            content
        );
        var kept = await answer.JsonAsync();
        var address = kept.Text("address");
        var (_, before) = await owner.PostAsync($"{api}/callouts", new { kind = "notice" });
        var (status, kit) = await SetAsync(owner, api, Kit(logo: address, picture: address));
        Assert.True(status == HttpStatusCode.OK, kit.ToString());
        await owner.PostAsync($"{api}/kit/take-over", new { ids = new[] { before.Text("id") } });
        var say = (await owner.GetAsync($"{api}/callouts/{before.Text("id")}")).GetProperty("draft").GetProperty("say");
        Assert.Equal(("image", address), (say.Text("picture"), say.Text("pictureAddress")));

        var (refused, problem) = await owner.SendAsync(HttpMethod.Delete, $"{api}/pictures/{kept.Text("id")}", new { });
        Assert.Equal(HttpStatusCode.Conflict, refused);
        Assert.Contains("the brand kit", problem.Text("detail"), StringComparison.Ordinal);
        var listed = (await owner.GetAsync($"{api}/pictures"))
            .EnumerateArray()
            .First(p => p.Text("id") == kept.Text("id"));
        Assert.Equal(
            ["brand kit", "callout"],
            listed.GetProperty("usedBy").EnumerateArray().Select(u => u.Text("kind")).Order()
        );
    }

    [Theory]
    [InlineData(25, "", "en", "kindly", "cornerPx")]
    [InlineData(4, "javascript:alert(1)", "en", "kindly", "logo")]
    [InlineData(4, "", "no language", "kindly", "tones")]
    [InlineData(4, "", "en", "", "tones")]
    public async Task What_cannot_be_is_refused_at_its_field(
        int corner,
        string logo,
        string tag,
        string tone,
        string field
    )
    {
        var (owner, api) = await OpenAsync();
        var kit = Kit(cornerPx: corner, logo: logo, tones: [new { language = tag, words = tone }]);
        foreach (var (method, path) in new[] { (HttpMethod.Put, "kit"), (HttpMethod.Post, "kit/try") })
        {
            var (status, problem) = await owner.SendAsync(method, $"{api}/{path}", kit);
            Assert.Equal((HttpStatusCode.BadRequest, field), (status, problem.Text("field")));
        }
        Assert.False((await owner.GetAsync($"{api}/kit")).GetProperty("isSet").GetBoolean());
    }

    [Fact]
    public async Task Trying_tells_how_it_would_be_met_and_keeps_nothing()
    {
        var (owner, api) = await OpenAsync();
        var (status, tried) = await owner.PostAsync($"{api}/kit/try", Kit(band: "#EEEEEE"));
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.Contains(
            tried.GetProperty("pairs").EnumerateArray(),
            p => p.GetProperty("ratio").GetDouble() < p.GetProperty("least").GetDouble()
        );
        Assert.False((await owner.GetAsync($"{api}/kit")).GetProperty("isSet").GetBoolean());
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
