using Microsoft.AspNetCore.Hosting;

namespace Outcry.Server.Tests;

/// <summary>A house in which nobody has an account yet.</summary>
public sealed class EmptyDesk : TestDesk
{
    internal const string Key = "kiln-glaze-wheel-clay";

    protected override bool IsEmpty => true;

    protected override void Vary(IWebHostBuilder builder)
    {
        builder.UseSetting("Opening:Key", Key);
        builder.UseSetting("Registration:Open", "true");
        builder.UseSetting("Desk:Address", "https://desk.emberwick.example/");
    }
}

/// <summary>From an empty database to a workspace of one's own, and a stranger's after it.</summary>
public sealed class OpeningTests(EmptyDesk desk) : IClassFixture<EmptyDesk>
{
    private static object Opening(string key, string email = "marta@emberwick.example") =>
        new
        {
            key,
            workspace = "Emberwick Pottery",
            homeAddress = "https://emberwick.example/",
            timeZone = "Europe/Dublin",
            language = "en",
            name = "Marta Quill",
            email,
            password = "seven otters carry a lamp",
        };

    private async Task<DeskClient> AtDoorAsync()
    {
        var client = new DeskClient(desk.Anonymous());
        await client.TakeTokenAsync();
        return client;
    }

    [Fact]
    public async Task The_key_opens_an_empty_house_once_and_a_confirmed_address_opens_the_next_workspace()
    {
        var door = await AtDoorAsync();
        Assert.True((await door.GetAsync("/api/session")).GetProperty("houseIsEmpty").GetBoolean());
        var wrong = await door.PostAsync("/api/session/opening", Opening("kiln-glaze-wheel-sand"));
        Assert.Equal((HttpStatusCode.BadRequest, "key"), (wrong.Status, wrong.Body.Text("field")));

        // Many hands at once: one of them opens it.
        var hands = new List<DeskClient>();
        for (var i = 0; i < 4; i++)
            hands.Add(await AtDoorAsync());
        var tries = await Task.WhenAll(
            hands.Select(
                (h, i) => h.PostAsync("/api/session/opening", Opening(EmptyDesk.Key, $"m{i}@emberwick.example"))
            )
        );
        var first = hands[Array.FindIndex(tries, t => t.Status == HttpStatusCode.OK)];
        Assert.Single(tries, t => t.Status == HttpStatusCode.OK);

        var session = await first.GetAsync("/api/session");
        Assert.False(session.GetProperty("houseIsEmpty").GetBoolean());
        var workspace = Assert.Single(session.GetProperty("member").GetProperty("workspaces").EnumerateArray());
        Assert.Equal(("Emberwick Pottery", "owner"), (workspace.Text("name"), workspace.Text("role")));
        var site = Assert.Single((await first.GetAsync("/api/sites")).EnumerateArray());
        using (var script = await desk.Anonymous().GetAsync($"/o/{site.Text("key")}.js"))
            Assert.Equal(HttpStatusCode.OK, script.StatusCode);
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await (await AtDoorAsync()).PostAsync("/api/session/opening", Opening(EmptyDesk.Key))).Status
        );

        var stranger = await AtDoorAsync();
        Assert.Equal(
            HttpStatusCode.Accepted,
            (await stranger.PostAsync("/api/session/registration", new { email = "wren@harbour.example" })).Status
        );
        var mail = await Mails.ToAsync(desk, "wren@harbour.example", "Go on with your workspace");
        // Never where the request says that it came from: that is the sender's to choose.
        Assert.Contains("https://desk.emberwick.example/open#", mail, StringComparison.Ordinal);
        var key = Mails.SecretIn(mail);
        Assert.Equal(
            HttpStatusCode.OK,
            (await stranger.PostAsync("/api/session/opening", Opening(key, "somebody@else.example"))).Status
        );
        await stranger.TakeTokenAsync();
        var wren = (await stranger.GetAsync("/api/session")).GetProperty("member");
        Assert.Equal("wren@harbour.example", wren.Text("email"));
        // The link was for one account, which there is now.
        var again = await (await AtDoorAsync()).PostAsync("/api/session/opening", Opening(key));
        Assert.Equal((HttpStatusCode.BadRequest, "email"), (again.Status, again.Body.Text("field")));
        await (await AtDoorAsync()).PostAsync("/api/session/registration", new { email = "wren@harbour.example" });
        await Mails.ToAsync(desk, "wren@harbour.example", "You have an account already");
    }
}
