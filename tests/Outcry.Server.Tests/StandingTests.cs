using System.Net.Http.Json;
using System.Net.WebSockets;
using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Outcry.Core.Access;
using Outcry.Server.Sites;
using Outcry.Store.Rows;
using Outcry.Tests.World;

namespace Outcry.Server.Tests;

/// <summary>What a session opens ends with the membership and the session behind it, at once and on the server.</summary>
public sealed class StandingTests(TestDesk desk)
{
    private string Api => $"/api/sites/{desk.World.Site.Id}";

    /// <summary>A signed-in member, and the cookie that a thief of it would have.</summary>
    private async Task<(Member Member, DeskClient Client, string Cookie)> SignedInAsync(Role role = Role.Owner)
    {
        var member = await desk.AddMemberAsync(role);
        var http = desk.Anonymous();
        var client = await DeskClient.SignInAsync(http, member.Email!);
        // The same once more by hand: the client keeps its cookies to itself.
        using var bare = desk.Server.CreateClient();
        using var first = await bare.GetAsync("/api/session");
        var token = (await first.JsonAsync()).Text("antiforgeryToken");
        var antiforgery = CookieOf(first);
        using var message = new HttpRequestMessage(HttpMethod.Post, "/api/session")
        {
            Content = JsonContent.Create(new { email = member.Email, password = TestWorld.Password }),
        };
        message.Headers.Add("X-Outcry-Antiforgery", token);
        message.Headers.Add("Cookie", antiforgery);
        using var answer = await bare.SendAsync(message);
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        return (member, client, $"{antiforgery}; {CookieOf(answer)}");
    }

    private static string CookieOf(HttpResponseMessage answer) =>
        string.Join("; ", answer.Headers.GetValues("Set-Cookie").Select(c => c.Split(';')[0]));

    private async Task<HttpStatusCode> WithCookieAsync(string cookie, string path)
    {
        using var http = desk.Server.CreateClient();
        http.DefaultRequestHeaders.Add("Cookie", cookie);
        using var answer = await http.GetAsync(path);
        return answer.StatusCode;
    }

    private async Task EndMembershipAsync(Member member)
    {
        await using var db = desk.Database.Open();
        await db.Memberships.Where(m => m.MemberId == member.Id).ExecuteDeleteAsync();
    }

    private async Task<WebSocket> LineAsync(string cookie, string origin = "http://localhost")
    {
        var client = desk.Server.CreateWebSocketClient();
        client.ConfigureRequest = r => (r.Headers.Cookie, r.Headers.Origin) = (cookie, origin);
        var socket = await client.ConnectAsync(new Uri("ws://localhost/live"), CancellationToken.None);
        await SendAsync(socket, """{"protocol":"json","version":1}""");
        Assert.Equal("{}", await HearAsync(socket));
        return socket;
    }

    private static Task SendAsync(WebSocket socket, string message) =>
        socket.SendAsync(
            Encoding.UTF8.GetBytes(message + '\u001e'),
            WebSocketMessageType.Text,
            true,
            CancellationToken.None
        );

    /// <summary>The next message; null when the line was cut.</summary>
    private static async Task<string?> HearAsync(WebSocket socket)
    {
        var buffer = new byte[16 * 1024];
        using var late = new CancellationTokenSource(TimeSpan.FromSeconds(15));
        try
        {
            var read = await socket.ReceiveAsync(buffer, late.Token);
            return read.MessageType == WebSocketMessageType.Close
                ? null
                : Encoding.UTF8.GetString(buffer, 0, read.Count).TrimEnd('\u001e');
        }
        catch (Exception cut) when (cut is WebSocketException or IOException)
        {
            return null;
        }
    }

    private static async Task<bool> IsCutAsync(WebSocket socket)
    {
        for (var i = 0; i < 50; i++)
            if (await HearAsync(socket) is not { } heard || heard.Contains("\"type\":7", StringComparison.Ordinal))
                return true;
        return false;
    }

    [Fact]
    public async Task Whoever_goes_as_soon_as_they_come_is_not_there_for_ever()
    {
        var (member, _, cookie) = await SignedInAsync();
        for (var i = 0; i < 60; i++)
        {
            var line = await LineAsync(cookie);
            await SendAsync(
                line,
                $$"""{"type":1,"invocationId":"1","target":"Follow","arguments":["{{desk.World.Site.Id}}"]}"""
            );
            // Somewhere between the word's coming in and its being done.
            await Task.Delay(i % 6);
            line.Abort();
        }
        var team = desk.Services.GetRequiredService<TeamPresence>();
        await Eventually.GetAsync(
            () => Task.FromResult(team.Here.Count(l => l.Value.Who.MemberId == member.Id)),
            there => there == 0
        );
    }

    [Fact]
    public async Task A_membership_that_is_taken_away_opens_nothing_from_that_moment()
    {
        var (member, client, cookie) = await SignedInAsync();
        var callout = await Moments.StartAsync(client, desk, b => b);
        var line = await LineAsync(cookie);
        await SendAsync(
            line,
            $$"""{"type":1,"target":"Follow","arguments":["{{desk.World.Site.Id}}"],"invocationId":"1"}"""
        );
        Assert.Contains("people", await HearAsync(line), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.OK, await WithCookieAsync(cookie, $"{Api}/strip"));

        await EndMembershipAsync(member);

        var known = new Dictionary<string, string>
        {
            ["siteId"] = $"{desk.World.Site.Id}",
            ["calloutId"] = $"{callout}",
            ["sourceId"] = $"{desk.World.Checkout.Id}",
            ["format"] = "csv",
            ["language"] = "en",
        };
        var tried = 0;
        foreach (
            var endpoint in (await Endpoints.OfAsync(desk, known)).Where(e =>
                e.Path.StartsWith("/api/", StringComparison.Ordinal)
                // The door itself, and links for whoever holds them, without any account.
                && !e.Path.StartsWith("/api/session", StringComparison.Ordinal)
                && !e.Path.StartsWith("/api/invitations", StringComparison.Ordinal)
                && !e.Path.StartsWith("/api/install-links", StringComparison.Ordinal)
            )
        )
        {
            var (status, body) = await client.SendAsync(
                endpoint.Method,
                endpoint.Address,
                endpoint.Method == HttpMethod.Get ? null : AccessTests.BodyFor(endpoint.Path)
            );
            Assert.True(
                status is HttpStatusCode.Forbidden or HttpStatusCode.NotFound or HttpStatusCode.Unauthorized,
                $"{endpoint.Method} {endpoint.Address} answered {status}: {body}"
            );
            tried++;
        }
        Assert.InRange(tried, 75, 300);
        Assert.True(await IsCutAsync(line), "The line stayed open.");
        // And no new one follows the site.
        await Assert.ThrowsAnyAsync<Exception>(async () =>
        {
            var again = await LineAsync(cookie);
            await SendAsync(
                again,
                $$"""{"type":1,"target":"Follow","arguments":["{{desk.World.Site.Id}}"],"invocationId":"1"}"""
            );
            Assert.Contains("people", await HearAsync(again), StringComparison.Ordinal);
        });
    }

    [Fact]
    public async Task Whose_role_is_changed_is_there_as_what_they_are_now()
    {
        var (member, _, cookie) = await SignedInAsync();
        var team = desk.Services.GetRequiredService<TeamPresence>();
        var workspace = desk.World.Site.WorkspaceId;
        var follow = $$"""{"type":1,"target":"Follow","arguments":["{{desk.World.Site.Id}}"],"invocationId":"1"}""";
        var path = $"/api/workspaces/{workspace}/team/members/{member.Id}";
        var owner = await desk.OwnerAsync();
        Assert.Equal(
            HttpStatusCode.NoContent,
            (await owner.SendAsync(HttpMethod.Put, path, new { role = "responder" })).Status
        );
        var line = await LineAsync(cookie);
        await SendAsync(line, follow);
        Assert.Contains("people", await HearAsync(line), StringComparison.Ordinal);
        Assert.Contains(member.Id, team.IdsOf(workspace));

        await owner.SendAsync(HttpMethod.Put, path, new { role = "editor" });

        Assert.True(await IsCutAsync(line), "The line stayed open.");
        var again = await LineAsync(cookie);
        await SendAsync(again, follow);
        Assert.Contains("people", await HearAsync(again), StringComparison.Ordinal);
        Assert.Contains(member.Id, team.AtDesk(workspace));
        Assert.DoesNotContain(member.Id, team.IdsOf(workspace));
    }

    [Fact]
    public async Task Signing_out_ends_the_session_for_whoever_has_a_copy_of_its_cookie()
    {
        var member = await desk.AddMemberAsync(Role.Editor);
        using var bare = desk.Server.CreateClient();
        using var first = await bare.GetAsync("/api/session");
        bare.DefaultRequestHeaders.Add("Cookie", CookieOf(first));
        bare.DefaultRequestHeaders.Add("X-Outcry-Antiforgery", (await first.JsonAsync()).Text("antiforgeryToken"));
        using var signed = await bare.PostAsJsonAsync(
            "/api/session",
            new { email = member.Email, password = TestWorld.Password }
        );
        var cookie = $"{CookieOf(first)}; {CookieOf(signed)}";
        bare.DefaultRequestHeaders.Remove("Cookie");
        bare.DefaultRequestHeaders.Add("Cookie", cookie);
        using var session = await bare.GetAsync("/api/session");
        bare.DefaultRequestHeaders.Remove("X-Outcry-Antiforgery");
        bare.DefaultRequestHeaders.Add("X-Outcry-Antiforgery", (await session.JsonAsync()).Text("antiforgeryToken"));
        var line = await LineAsync(cookie);
        Assert.Equal(HttpStatusCode.OK, await WithCookieAsync(cookie, $"{Api}/strip"));

        using var answer = await bare.DeleteAsync("/api/session");

        Assert.Equal(HttpStatusCode.NoContent, answer.StatusCode);
        Assert.Equal(HttpStatusCode.Unauthorized, await WithCookieAsync(cookie, $"{Api}/strip"));
        Assert.True(await IsCutAsync(line), "The line stayed open.");
    }

    [Fact]
    public async Task A_new_password_ends_the_sessions_that_were_opened_with_the_old_one()
    {
        var (member, _, cookie) = await SignedInAsync();
        Assert.Equal(HttpStatusCode.OK, await WithCookieAsync(cookie, $"{Api}/strip"));
        await using var scope = desk.Services.CreateAsyncScope();
        var members = scope.ServiceProvider.GetRequiredService<UserManager<Member>>();
        await members.UpdateSecurityStampAsync((await members.FindByIdAsync($"{member.Id}"))!);
        Assert.Equal(HttpStatusCode.Unauthorized, await WithCookieAsync(cookie, $"{Api}/strip"));
    }

    [Fact]
    public async Task Only_the_desks_own_pages_open_its_line()
    {
        var (_, _, cookie) = await SignedInAsync();
        using var line = await LineAsync(cookie);
        await Assert.ThrowsAnyAsync<Exception>(() => LineAsync(cookie, "https://evil.test"));
        await Assert.ThrowsAnyAsync<Exception>(() => LineAsync(cookie, "null"));
        await Assert.ThrowsAnyAsync<Exception>(() => LineAsync("", "http://localhost"));
    }

    private static async Task<(HttpStatusCode Status, string Words)> TryAsync(HttpClient http, string email)
    {
        var session = await http.GetFromJsonAsync<JsonElement>("/api/session");
        using var message = new HttpRequestMessage(HttpMethod.Post, "/api/session")
        {
            Content = JsonContent.Create(new { email, password = "not-the-password-at-all" }),
        };
        message.Headers.Add("X-Outcry-Antiforgery", session.Text("antiforgeryToken"));
        using var answer = await http.SendAsync(message);
        return (answer.StatusCode, await answer.Content.ReadAsStringAsync());
    }

    [Fact]
    public async Task An_address_that_has_an_account_is_answered_like_one_that_has_none_and_neither_is_ever_locked()
    {
        var member = await desk.AddMemberAsync(Role.Editor);
        using var http = desk.Anonymous();
        // How many tries fit between two waits is a matter of the machine; what can be answered, and in which words, is not.
        var known = await AnswersAsync(member.Email!);
        Assert.Equal(await AnswersAsync($"nobody-{member.Id}@emberwick.example"), known);
        Assert.Equal(
            [HttpStatusCode.Unauthorized, HttpStatusCode.TooManyRequests],
            known.Select(k => k.Status).Order()
        );
        await using var db = desk.Database.Open();
        var row = await db.Users.SingleAsync(u => u.Id == member.Id);
        Assert.Equal((0, null), (row.AccessFailedCount, row.LockoutEnd));
        // Its owner is told, once.
        var box = $"{desk.Outside}/mailbox";
        using var reader = new HttpClient();
        await Eventually.GetAsync(
            () => reader.GetStringAsync(box),
            mail => mail.Contains("tried to sign in as you", StringComparison.Ordinal)
        );

        async Task<HashSet<(HttpStatusCode Status, string Words)>> AnswersAsync(string email)
        {
            var answers = new HashSet<(HttpStatusCode, string)>();
            var tries = 0;
            for (var status = HttpStatusCode.Unauthorized; status != HttpStatusCode.TooManyRequests; tries++)
            {
                Assert.InRange(tries, 0, 30);
                var answer = Plain(await TryAsync(http, email));
                answers.Add(answer);
                status = answer.Item1;
            }
            Assert.InRange(tries, 6, 30);
            return answers;
        }

        // Seconds to wait differ by the moment they were asked for.
        static (HttpStatusCode, string) Plain((HttpStatusCode Status, string Words) answer) =>
            (
                answer.Status,
                System.Text.RegularExpressions.Regex.Replace(answer.Words, @"\d+|""traceId"":""[^""]*""", "#")
            );
    }
}
