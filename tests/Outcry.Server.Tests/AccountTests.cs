using Microsoft.EntityFrameworkCore;
using Outcry.Core.Access;
using Outcry.Store.Rows;
using Outcry.Tests.Shared;
using Outcry.Tests.World;

namespace Outcry.Server.Tests;

/// <summary>One's own account: second factor, recovery, a forgotten password, sessions.</summary>
public sealed class AccountTests(TestDesk desk)
{
    private const string Better = "seven otters carry a lamp";

    private async Task<(Member Member, DeskClient Client)> SignedInAsync()
    {
        var member = await desk.AddMemberAsync(Role.Editor);
        return (member, await DeskClient.SignInAsync(desk.Anonymous(), member.Email!));
    }

    private static object SignIn(Member member, string password = TestWorld.Password) =>
        new { email = member.Email, password };

    /// <summary>A browser at the door, with its token.</summary>
    private async Task<DeskClient> AtDoorAsync()
    {
        var client = new DeskClient(desk.Anonymous());
        await client.TakeTokenAsync();
        return client;
    }

    private static async Task<(string Key, List<string> Codes)> SetUpFactorAsync(DeskClient client)
    {
        var (status, made) = await client.PostAsync("/api/account/factor/key", new { password = TestWorld.Password });
        Assert.True(status == HttpStatusCode.OK, made.ToString());
        Assert.StartsWith("otpauth://totp/", made.Text("address"), StringComparison.Ordinal);
        var key = made.Text("key");
        await client.TakeTokenAsync();
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await client.PostAsync("/api/account/factor", new { code = "000000" })).Status
        );
        var (on, codes) = await client.PostAsync("/api/account/factor", new { code = Authenticator.Code(key) });
        Assert.True(on == HttpStatusCode.OK, codes.ToString());
        await client.TakeTokenAsync();
        return (key, [.. codes.GetProperty("codes").EnumerateArray().Select(c => c.GetString()!)]);
    }

    [Fact]
    public async Task With_a_second_factor_a_password_alone_opens_nothing_and_a_code_opens_once()
    {
        var (member, client) = await SignedInAsync();
        var (key, codes) = await SetUpFactorAsync(client);
        Assert.Equal(10, codes.Count);

        var door = await AtDoorAsync();
        var (status, first) = await door.PostAsync("/api/session", SignIn(member));
        Assert.Equal(HttpStatusCode.OK, status);
        var ticket = first.Text("ticket");
        Assert.Equal(HttpStatusCode.Unauthorized, (await door.SendAsync(HttpMethod.Get, "/api/sites")).Status);
        Assert.Equal(
            HttpStatusCode.Unauthorized,
            (await door.PostAsync("/api/session/second", new { ticket, code = "123456" })).Status
        );
        Assert.Equal(
            HttpStatusCode.Unauthorized,
            (await door.PostAsync("/api/session/second", new { ticket = $"{ticket}x", code = codes[0] })).Status
        );
        var code = Authenticator.Code(key, 1);
        Assert.Equal(
            HttpStatusCode.NoContent,
            (await door.PostAsync("/api/session/second", new { ticket, code })).Status
        );
        Assert.Equal(HttpStatusCode.OK, (await door.SendAsync(HttpMethod.Get, "/api/sites")).Status);
        // Whoever read it over a shoulder comes too late.
        Assert.Equal(
            HttpStatusCode.Unauthorized,
            (await (await AtDoorAsync()).PostAsync("/api/session/second", new { ticket, code })).Status
        );
    }

    [Fact]
    public async Task A_lost_telephone_is_made_up_for_by_a_recovery_code_once()
    {
        var (member, client) = await SignedInAsync();
        var (_, codes) = await SetUpFactorAsync(client);
        for (var tries = 0; tries < 2; tries++)
        {
            var door = await AtDoorAsync();
            var (_, first) = await door.PostAsync("/api/session", SignIn(member));
            var (status, _) = await door.PostAsync(
                "/api/session/second",
                new { ticket = first.Text("ticket"), code = codes[3] }
            );
            Assert.Equal(tries == 0 ? HttpStatusCode.NoContent : HttpStatusCode.Unauthorized, status);
            if (tries > 0)
                continue;
            await door.TakeTokenAsync();
            Assert.Equal(9, (await door.GetAsync("/api/account")).GetProperty("recoveryLeft").GetInt32());
            // Back in, the lost one is taken away; that takes the password.
            Assert.Equal(
                HttpStatusCode.BadRequest,
                (await door.PostAsync("/api/account/factor/off", new { password = "not mine at all" })).Status
            );
        }
        await Mails.ToAsync(desk, member.Email!, "recovery code");
    }

    [Fact]
    public async Task A_forgotten_password_is_replaced_by_a_mailed_link_once_and_every_session_ends()
    {
        var (member, client) = await SignedInAsync();
        var door = await AtDoorAsync();
        var (known, _) = await door.PostAsync("/api/session/forgotten", new { email = member.Email });
        var (unknown, _) = await door.PostAsync("/api/session/forgotten", new { email = "nobody@nowhere.example" });
        Assert.Equal((HttpStatusCode.Accepted, HttpStatusCode.Accepted), (known, unknown));
        var link = Mails.SecretIn(await Mails.ToAsync(desk, member.Email!, "A new password"));

        Assert.Equal("password", await RefusedFieldAsync(door, link, "password1234"));
        Assert.Equal("password", await RefusedFieldAsync(door, link, "short"));
        foreach (var forged in new[] { $"{link[..^4]}AAAA", $"{Guid.NewGuid()}~{link.Split('~')[1]}", "nonsense", "" })
            Assert.Equal(
                HttpStatusCode.NotFound,
                (await door.PostAsync("/api/session/reset", new { link = forged, password = Better })).Status
            );
        Assert.Equal(
            HttpStatusCode.NoContent,
            (await door.PostAsync("/api/session/reset", new { link, password = Better })).Status
        );
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await door.PostAsync("/api/session/reset", new { link, password = "another eight wandering jars" })).Status
        );
        Assert.Equal(HttpStatusCode.Unauthorized, (await client.SendAsync(HttpMethod.Get, "/api/sites")).Status);
        Assert.Equal(HttpStatusCode.Unauthorized, (await door.PostAsync("/api/session", SignIn(member))).Status);
        Assert.Equal(HttpStatusCode.OK, (await door.PostAsync("/api/session", SignIn(member, Better))).Status);
    }

    private static async Task<string> RefusedFieldAsync(DeskClient door, string link, string password)
    {
        var (status, body) = await door.PostAsync("/api/session/reset", new { link, password });
        Assert.Equal(HttpStatusCode.BadRequest, status);
        return body.Text("field");
    }

    [Fact]
    public async Task A_changed_password_ends_the_other_sessions_and_goes_on_with_this_one()
    {
        var (member, client) = await SignedInAsync();
        var other = await DeskClient.SignInAsync(desk.Anonymous(), member.Email!);
        var wrong = await client.SendAsync(
            HttpMethod.Put,
            "/api/account/password",
            new { current = "not the one", password = Better }
        );
        Assert.Equal((HttpStatusCode.BadRequest, "current"), (wrong.Status, wrong.Body.Text("field")));
        var right = await client.SendAsync(
            HttpMethod.Put,
            "/api/account/password",
            new { current = TestWorld.Password, password = Better }
        );
        Assert.Equal(HttpStatusCode.NoContent, right.Status);
        Assert.Equal(HttpStatusCode.OK, (await client.SendAsync(HttpMethod.Get, "/api/sites")).Status);
        Assert.Equal(HttpStatusCode.Unauthorized, (await other.SendAsync(HttpMethod.Get, "/api/sites")).Status);
    }

    [Fact]
    public async Task Sessions_are_listed_and_ended_and_a_new_browser_is_told_by_mail()
    {
        var (member, client) = await SignedInAsync();
        var http = desk.Anonymous();
        http.DefaultRequestHeaders.UserAgent.ParseAdd("Mozilla/5.0 (X11; Linux x86_64) Gecko/20100101 Firefox/128.0");
        var other = await DeskClient.SignInAsync(http, member.Email!);
        Assert.Contains(
            "Firefox on Linux",
            await Mails.ToAsync(desk, member.Email!, "another device"),
            StringComparison.Ordinal
        );
        var sessions = (await client.GetAsync("/api/account/sessions")).EnumerateArray().ToList();
        Assert.Equal(2, sessions.Count);
        var theirs = sessions.Single(s => !s.GetProperty("isThis").GetBoolean());
        Assert.Equal("Firefox on Linux", theirs.Text("device"));
        // Nobody ends somebody else's.
        var (_, stranger) = await SignedInAsync();
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await stranger.SendAsync(HttpMethod.Delete, $"/api/account/sessions/{theirs.Text("id")}")).Status
        );
        Assert.Equal(
            HttpStatusCode.NoContent,
            (await client.SendAsync(HttpMethod.Delete, $"/api/account/sessions/{theirs.Text("id")}")).Status
        );
        Assert.Equal(HttpStatusCode.Unauthorized, (await other.SendAsync(HttpMethod.Get, "/api/sites")).Status);
    }

    [Fact]
    public async Task A_session_that_nobody_used_for_longer_than_the_house_allows_is_over()
    {
        var (member, client) = await SignedInAsync();
        await using var db = desk.Database.Open();
        async Task AgeAsync(int hours) =>
            await db
                .Sessions.Where(s => s.MemberId == member.Id)
                .ExecuteUpdateAsync(s =>
                    s.SetProperty(x => x.SeenAt, x => x.SeenAt - NodaTime.Duration.FromHours(hours))
                );
        await AgeAsync(HouseHabits.Start.AwayHours - 1);
        Assert.Equal(HttpStatusCode.OK, (await client.SendAsync(HttpMethod.Get, "/api/sites")).Status);
        await AgeAsync(HouseHabits.Start.AwayHours + 1);
        Assert.Equal(HttpStatusCode.Unauthorized, (await client.SendAsync(HttpMethod.Get, "/api/sites")).Status);
    }

    [Fact]
    public async Task A_credential_that_no_browser_made_is_refused_in_words()
    {
        var (_, client) = await SignedInAsync();
        var (asked, options) = await client.PostAsync(
            "/api/account/passkeys/options",
            new { password = TestWorld.Password }
        );
        Assert.True(asked == HttpStatusCode.OK, options.ToString());
        Assert.Equal("required", options.GetProperty("authenticatorSelection").Text("userVerification"));
        foreach (var credential in new object[] { new { }, new { id = "x", response = new { } }, "text" })
            Assert.Equal(
                HttpStatusCode.BadRequest,
                (await client.PostAsync("/api/account/passkeys", new { name = "Mine", credential })).Status
            );
        var door = await AtDoorAsync();
        Assert.Equal(
            HttpStatusCode.Unauthorized,
            (await door.PostAsync("/api/session/passkey", new { credential = new { } })).Status
        );
    }

    [Fact]
    public async Task A_session_counts_as_one_with_a_second_factor_only_as_long_as_there_is_one()
    {
        var (_, client) = await SignedInAsync();
        async Task<bool> CountsAsync() =>
            (await client.GetAsync("/api/session")).GetProperty("member").GetProperty("hasFactor").GetBoolean();
        Assert.False(await CountsAsync());
        await SetUpFactorAsync(client);
        Assert.True(await CountsAsync());
        var (off, problem) = await client.PostAsync("/api/account/factor/off", new { password = TestWorld.Password });
        Assert.True(off == HttpStatusCode.NoContent, problem.ToString());
        Assert.False(await CountsAsync());
    }
}
