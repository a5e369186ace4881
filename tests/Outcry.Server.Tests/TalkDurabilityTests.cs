using System.Collections.Concurrent;
using System.Text.Json;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Npgsql;
using Outcry.Core.Access;
using Outcry.Core.Greetings;
using Outcry.Core.Talks;
using Outcry.Store;
using Outcry.Store.Rows;
using Outcry.Tests.World;

namespace Outcry.Server.Tests;

/// <summary>A talk goes on whatever is killed: nothing lost, doubled or out of order at either end. Loopback only, bounded in count and time.</summary>
[Collection("processes one after another")]
public sealed class TalkDurabilityTests
{
    private const string Email = "noor@durable.example";
    private static readonly string Server = Environment.GetEnvironmentVariable("OUTCRY_TEST_PG")!;

    // Here shorter; OUTCRY_KILLS asks for more.
    private static readonly int Kills = int.TryParse(Environment.GetEnvironmentVariable("OUTCRY_KILLS"), out var asked)
        ? asked
        : 2;

    /// <summary>A visitor's browser as far as a talk goes: sends in order until it is taken, hears in order of numbers.</summary>
    private sealed class Visitor(ServerProcess at) : IDisposable
    {
        private readonly HttpClient _http = new()
        {
            BaseAddress = new Uri(at.Address),
            Timeout = TimeSpan.FromSeconds(30),
        };

        public ConcurrentQueue<(int Number, string By, string Text)> Heard { get; } = [];
        private string _talk = "";
        private string _key = "";

        public Guid Talk => Guid.Parse(_talk);

        public async Task BeginAsync(Guid launcher, Guid channel)
        {
            var plan = await PostAsync("/v/plan", new { width = 1280 });
            var begun = await PostAsync(
                "/v/talks",
                new
                {
                    passport = plan!.Value.Text("passport"),
                    id = Guid.CreateVersion7(),
                    launcher,
                    channel,
                    text = "v0",
                    language = "en",
                }
            );
            (_talk, _key) = (begun!.Value.Text("talk"), begun.Value.Text("key"));
        }

        public async Task SayAsync(string text, CancellationToken stop)
        {
            var id = Guid.CreateVersion7();
            // The same message as often as it takes.
            while (
                await PostAsync(
                    "/v/talks/words",
                    new
                    {
                        talk = _talk,
                        key = _key,
                        id,
                        text,
                    },
                    stop
                )
                    is null
            )
                await Task.Delay(100, stop);
        }

        public async Task FollowAsync(CancellationToken stop)
        {
            var after = 0;
            while (!stop.IsCancellationRequested)
            {
                var read = new
                {
                    talk = _talk,
                    key = _key,
                    after,
                    wait = true,
                };
                if (await PostAsync("/v/talks/read", read, stop) is not { } news)
                {
                    await Task.Delay(100, CancellationToken.None);
                    continue;
                }
                foreach (var word in news.GetProperty("words").EnumerateArray())
                {
                    after = word.GetProperty("n").GetInt32();
                    Heard.Enqueue((after, word.Text("by"), word.Text("text")));
                }
            }
        }

        private async Task<JsonElement?> PostAsync(string path, object body, CancellationToken stop = default)
        {
            var whole = JsonSerializer.SerializeToNode(body)!.AsObject();
            whole["site"] = at.Site.Key;
            whole["page"] = "http://durable.test/";
            try
            {
                using var message = new HttpRequestMessage(HttpMethod.Post, path)
                {
                    Content = new StringContent(whole.ToJsonString()),
                };
                message.Headers.Add("Origin", "http://durable.test");
                message.Headers.UserAgent.ParseAdd("Mozilla/5.0 (X11; Linux x86_64) Chrome/156.0.0.0 Safari/537.36");
                using var answer = await _http.SendAsync(message, stop);
                return answer.IsSuccessStatusCode ? await answer.JsonAsync() : null;
            }
            catch (Exception away)
                when (away is HttpRequestException or TaskCanceledException or IOException or JsonException)
            {
                return null;
            }
        }

        public void Dispose() => _http.Dispose();
    }

    private static async Task<DeskClient> SignInAsync(ServerProcess at) =>
        await DeskClient.SignInAsync(new HttpClient { BaseAddress = new Uri(at.Address) }, Email);

    private static async Task AddMemberAsync(ServerProcess desk)
    {
        await using var db = desk.Database.Open();
        var member = new Member
        {
            Id = Guid.CreateVersion7(),
            UserName = Email,
            NormalizedUserName = Email.ToUpperInvariant(),
            Email = Email,
            NormalizedEmail = Email.ToUpperInvariant(),
            DisplayName = "Noor Haddad",
            SecurityStamp = Guid.NewGuid().ToString(),
        };
        member.PasswordHash = new PasswordHasher<Member>().HashPassword(member, TestWorld.Password);
        db.Users.Add(member);
        db.Memberships.Add(
            new MembershipRow
            {
                WorkspaceId = desk.Site.WorkspaceId,
                MemberId = member.Id,
                Role = Role.Owner,
            }
        );
        await db.SaveChangesAsync();
    }

    private static async Task<(Guid Launcher, Guid Channel)> OpenDoorAsync(ServerProcess desk, DeskClient owner)
    {
        var begin = LauncherStarter.Launcher("UTC", "#9C3517", "#FFFFFF");
        var brief = begin with { Hours = begin.Hours with { Week = [] } };
        var api = $"/api/sites/{desk.Site.Id}/launchers";
        var (_, made) = await owner.PostAsync(api);
        var id = made.GetProperty("id").GetGuid();
        var content = JsonSerializer.SerializeToElement(brief, JsonColumn.Options);
        await owner.SendAsync(
            HttpMethod.Put,
            $"{api}/{id}/draft",
            new
            {
                name = "Ask",
                content,
                version = 1,
            }
        );
        var (status, body) = await owner.PostAsync($"{api}/{id}/publish", new { version = 2 });
        Assert.True(status == HttpStatusCode.OK, $"{body}");
        return (id, brief.Channels[0].Id);
    }

    /// <summary>Slower than a flood.</summary>
    private static readonly TimeSpan Pace = TimeSpan.FromMilliseconds(60_000.0 / TalkText.MostAMinute * 1.1);

    // Words one after another for as long as hosts are killed, and some more; answers how many they were.
    private static async Task<int> UntilAsync(Task killing, Func<int, Task> say, CancellationToken stop)
    {
        for (var said = 0; ; said++)
        {
            if (said >= 6 && killing.IsCompleted)
                return said;
            await say(said);
            await Task.Delay(Pace, stop);
        }
    }

    // The member's side, at another host: each answer as often as it takes, under one id.
    private static Task<int> AnswerAsync(ServerProcess at, Guid talk, Task killing, CancellationToken stop)
    {
        DeskClient? member = null;
        return UntilAsync(killing, AnswerOnceAsync, stop);

        async Task AnswerOnceAsync(int i)
        {
            var id = Guid.CreateVersion7();
            while (true)
                try
                {
                    member ??= await SignInAsync(at);
                    var (status, _) = await member.PostAsync(
                        $"/api/sites/{at.Site.Id}/talks/{talk}/words",
                        new { id, text = $"m{i}" }
                    );
                    if (status == HttpStatusCode.OK)
                        break;
                }
                catch (Exception away)
                    when (away is HttpRequestException or TaskCanceledException or IOException or JsonException)
                {
                    await Task.Delay(100, stop);
                }
        }
    }

    private static async Task KillInTurnAsync(ServerProcess one, ServerProcess two, CancellationToken stop)
    {
        for (var kill = 0; kill < Kills; kill++)
        {
            await Task.Delay(1_000, stop);
            var victim = kill % 2 == 0 ? one : two;
            await victim.KillAsync();
            await victim.StartAsync();
        }
    }

    [Fact]
    public async Task Two_hosts_hold_one_talk_and_neither_being_killed_loses_doubles_or_turns_a_word()
    {
        var database = $"outcry_talk_{Guid.NewGuid():N}";
        await RunAsync("postgres", $"create database {database}");
        try
        {
            await using var one = new ServerProcess($"{Server};Database={database}");
            await one.StartWithSiteAsync();
            await using var two = new ServerProcess($"{Server};Database={database}");
            two.IsOf(one);
            await two.StartAsync();
            await AddMemberAsync(one);
            var (launcher, channel) = await OpenDoorAsync(one, await SignInAsync(one));
            using var limit = new CancellationTokenSource(TimeSpan.FromSeconds(120 + (60 * Kills)));
            using var visitor = new Visitor(one);
            await Eventually.GetAsync(
                async () =>
                {
                    try
                    {
                        await visitor.BeginAsync(launcher, channel);
                        return true;
                    }
                    catch (InvalidOperationException)
                    {
                        return false;
                    }
                },
                begun => begun
            );
            using var over = CancellationTokenSource.CreateLinkedTokenSource(limit.Token);
            var following = visitor.FollowAsync(over.Token);
            var killing = KillInTurnAsync(one, two, limit.Token);
            var answering = AnswerAsync(two, visitor.Talk, killing, limit.Token);
            var saying = UntilAsync(killing, i => visitor.SayAsync($"v{i + 1}", limit.Token), limit.Token);
            await Task.WhenAll(killing, saying, answering);
            await using var db = one.Database.Open();
            var words = await db
                .TalkWords.Where(w => w.TalkId == visitor.Talk)
                .OrderBy(w => w.Number)
                .ToListAsync(limit.Token);
            var said = words.Where(w => w.For == ReadBy.Both).ToList();
            await Eventually.GetAsync(() => Task.FromResult(visitor.Heard.Count), heard => heard >= said.Count);
            await over.CancelAsync();
            await following;

            Assert.Equal(Enumerable.Range(1, words.Count), words.Select(w => w.Number));
            Assert.Equal(
                Enumerable.Range(0, await saying + 1).Select(i => $"v{i}"),
                said.Where(w => w.By == SaidBy.Visitor).Select(w => w.Text)
            );
            Assert.Equal(
                Enumerable.Range(0, await answering).Select(i => $"m{i}"),
                said.Where(w => w.By == SaidBy.Member).Select(w => w.Text)
            );
            Assert.Equal(said.Select(w => (w.Number, w.Text)), visitor.Heard.Select(h => (h.Number, h.Text)));
        }
        finally
        {
            await RunAsync("postgres", $"drop database if exists {database} with (force)");
        }
    }

    private static async Task RunAsync(string database, string sql)
    {
        await using var connection = new NpgsqlConnection($"{Server};Database={database};Pooling=false");
        await connection.OpenAsync();
        await using var command = new NpgsqlCommand(sql, connection);
        await command.ExecuteNonQueryAsync();
    }
}
