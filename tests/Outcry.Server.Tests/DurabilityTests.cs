using System.Collections.Concurrent;
using System.Diagnostics;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Npgsql;
using Outcry.Store.Rows;

namespace Outcry.Server.Tests;

/// <summary>What was acknowledged is there once, whatever is killed meanwhile. Loopback only, bounded in count and time.</summary>
[Collection("processes one after another")]
public sealed class DurabilityTests
{
    private static readonly string Server = Environment.GetEnvironmentVariable("OUTCRY_TEST_PG")!;

    /// <summary>Four senders post orders with ids until told to stop; what is acknowledged is noted.</summary>
    private sealed class Load(ServerProcess desk) : IDisposable
    {
        private const int MostOrders = 20_000;
        private readonly HttpClient _http = new()
        {
            BaseAddress = new Uri(desk.Address),
            Timeout = TimeSpan.FromSeconds(5),
        };
        private readonly CancellationTokenSource _stop = new(TimeSpan.FromSeconds(60));
        private int _next;

        public ConcurrentDictionary<string, bool> Acknowledged { get; } = [];
        public ConcurrentDictionary<string, bool> Sent { get; } = [];
        public ConcurrentBag<HttpStatusCode> Refusals { get; } = [];

        public Task Begin() => Task.WhenAll(Enumerable.Range(0, 4).Select(_ => Task.Run(SendAsync)));

        /// <summary>Until enough was acknowledged that much is in flight, however slow the machine is today.</summary>
        public async Task UnderWayAsync()
        {
            while (Acknowledged.Count < 300)
                await Task.Delay(20, _stop.Token);
        }

        public void End() => _stop.Cancel();

        public async Task<bool> OrderAsync(string id)
        {
            Sent[id] = true;
            try
            {
                var (status, _) = await Listening.PostAsync(
                    _http,
                    desk.Source.Id.ToString(),
                    desk.Source.Secret!,
                    Sender.Purchase(id).ToJsonString(),
                    $"msg_{id}"
                );
                if (status == HttpStatusCode.Accepted)
                    return Acknowledged[id] = true;
                Refusals.Add(status);
            }
            catch (Exception away)
                when (away is HttpRequestException or TaskCanceledException or IOException or JsonException)
            {
                // Not acknowledged: whether it is there is open, as for any sender.
            }
            return false;
        }

        private async Task SendAsync()
        {
            while (!_stop.IsCancellationRequested && Interlocked.Increment(ref _next) is var number and < MostOrders)
                if (!await OrderAsync($"order-{number}"))
                    await Task.Delay(50);
        }

        public void Dispose()
        {
            _http.Dispose();
            _stop.Dispose();
        }
    }

    private static async Task<Dictionary<string, int>> StoredAsync(ServerProcess desk)
    {
        for (var attempt = 0; ; attempt++)
            try
            {
                await using var db = desk.Database.Open();
                return await db
                    .Events.Where(e => e.SourceId == desk.Source.Id)
                    .GroupBy(e => e.ExternalId)
                    .ToDictionaryAsync(g => g.Key, g => g.Count());
            }
            catch (InvalidOperationException broken) when (broken.InnerException is NpgsqlException && attempt < 20)
            {
                // A pooled connection of the test's own that went with the old server.
            }
    }

    private static async Task AssertAllOnceAsync(ServerProcess desk, Load load)
    {
        var stored = await StoredAsync(desk);
        Assert.True(load.Acknowledged.Count > 100, $"only {load.Acknowledged.Count} were acknowledged");
        Assert.DoesNotContain(load.Acknowledged.Keys, id => !stored.ContainsKey(id));
        Assert.All(stored, s => Assert.Equal(1, s.Value));
        // A sender repeats what it got no answer to; then everything is there, still once.
        foreach (var id in load.Sent.Keys.Where(id => !load.Acknowledged.ContainsKey(id)).ToList())
            await AgainAsync(id);
        foreach (var id in load.Acknowledged.Keys.Take(50).ToList())
            await AgainAsync(id);
        stored = await StoredAsync(desk);
        Assert.Equal(load.Sent.Count, stored.Count);
        Assert.All(stored, s => Assert.Equal(1, s.Value));

        // As the specification has it: a few times, until it is answered.
        async Task AgainAsync(string id)
        {
            for (var attempt = 0; !await load.OrderAsync(id); attempt++)
                Assert.True(attempt < 5, $"{id} was never acknowledged.");
        }
    }

    [Fact]
    public async Task Every_acknowledged_event_survives_the_desk_being_killed_under_load()
    {
        var database = $"outcry_kill_{Guid.NewGuid():N}";
        await RunAsync($"{Server};Database=postgres", $"create database {database}");
        try
        {
            await using var desk = new ServerProcess($"{Server};Database={database}");
            await desk.StartWithSiteAsync();
            using var load = new Load(desk);
            var sending = load.Begin();
            var import = await desk.AddRunningImportAsync();
            await load.UnderWayAsync();
            await desk.KillAsync();
            await Task.Delay(300);
            load.End();
            await sending;
            await desk.StartAsync();
            await AssertAllOnceAsync(desk, load);
            // A file that was being read is not said to be read for ever.
            await using var db = desk.Database.Open();
            var left = await db.Imports.SingleAsync(i => i.Id == import);
            Assert.Equal(ImportState.Failed, left.State);
            Assert.Contains("import the file again", left.Because, StringComparison.Ordinal);
            Assert.NotNull(left.EndedAt);
        }
        finally
        {
            await RunAsync($"{Server};Database=postgres", $"drop database if exists {database} with (force)");
        }
    }

    [Fact]
    public async Task Every_acknowledged_event_survives_the_database_going_away_and_the_desk_says_so_meanwhile()
    {
        var folder = Directory.CreateTempSubdirectory("outcry-spare-").FullName;
        try
        {
            var connection = await ClusterAsync("start", folder);
            await RunAsync($"{connection};Database=postgres", "create database spare");
            await using var desk = new ServerProcess($"{connection};Database=spare");
            await desk.StartWithSiteAsync();
            using var load = new Load(desk);
            var sending = load.Begin();
            await load.UnderWayAsync();
            await ClusterAsync("stop", folder);
            await Task.Delay(2_000);
            using (var http = new HttpClient())
            {
                var health = await http.GetAsync($"{desk.Address}/health/ready");
                Assert.Equal(HttpStatusCode.ServiceUnavailable, health.StatusCode);
                // The desk's own endpoints say what is wrong, and visitors are served on from memory.
                var body = new
                {
                    site = desk.Site.Key,
                    page = "http://durable.test/",
                    width = 1280,
                };
                using var plan = await http.PostAsync(
                    $"{desk.Address}/v/plan",
                    new StringContent(JsonSerializer.Serialize(body))
                );
                Assert.Equal(HttpStatusCode.OK, plan.StatusCode);
            }
            Assert.Contains(HttpStatusCode.ServiceUnavailable, load.Refusals);
            await ClusterAsync("start", folder);
            await Task.Delay(2_000);
            load.End();
            await sending;
            await AssertAllOnceAsync(desk, load);
        }
        finally
        {
            await ClusterAsync("remove", folder);
        }
    }

    [Fact]
    public async Task Clients_that_others_wrote_send_events_that_are_understood()
    {
        var database = $"outcry_clients_{Guid.NewGuid():N}";
        await RunAsync($"{Server};Database=postgres", $"create database {database}");
        try
        {
            await using var desk = new ServerProcess($"{Server};Database={database}");
            await desk.StartWithSiteAsync();
            var tag = Guid.NewGuid().ToString("N");
            var said = await ShellAsync(
                "node",
                Path.Combine(TestDesk.Root, "tests/clients/send.mjs"),
                $"{desk.Address}/in/{desk.Source.Id}",
                desk.Source.Secret!,
                tag
            );
            var answers = JsonSerializer.Deserialize<JsonElement>(said).EnumerateArray().ToList();
            Assert.Equal([202, 202, 401], answers.Select(a => a.GetProperty("status").GetInt32()));
            Assert.Equal(["accepted", "repeated"], answers.Take(2).Select(a => a.GetProperty("body").Text("verdict")));
            Assert.Equal("application/problem+json", answers[2].Text("type"));
            await using var db = desk.Database.Open();
            var row = await db.Events.SingleAsync(e => e.SourceId == desk.Source.Id);
            Assert.Equal(
                ("Élodie", "B", "Client jar", 12.5m),
                (row.FirstName, row.LastInitial, row.ProductName, row.Amount!.Value)
            );
        }
        finally
        {
            await RunAsync($"{Server};Database=postgres", $"drop database if exists {database} with (force)");
        }
    }

    private static Task<string> ClusterAsync(string act, string folder) =>
        ShellAsync("bash", Path.Combine(TestDesk.Root, "scripts/spare-cluster.sh"), act, folder);

    private static async Task<string> ShellAsync(string program, params string[] arguments)
    {
        var start = new ProcessStartInfo(program) { RedirectStandardOutput = true, RedirectStandardError = true };
        foreach (var argument in arguments)
            start.ArgumentList.Add(argument);
        using var process = Process.Start(start)!;
        // A database started by the script keeps the pipe of errors open, so that one is not waited for.
        process.ErrorDataReceived += (_, _) => { };
        process.BeginErrorReadLine();
        var said = await process.StandardOutput.ReadToEndAsync();
        using var limit = new CancellationTokenSource(TimeSpan.FromSeconds(60));
        await process.WaitForExitAsync(limit.Token).ContinueWith(_ => { }, TaskScheduler.Default);
        Assert.True(
            process.ExitCode == 0,
            $"{program} {string.Join(' ', arguments)} ended with {process.ExitCode}: {said}"
        );
        return said;
    }

    private static async Task RunAsync(string connection, string sql)
    {
        await using var open = new NpgsqlConnection($"{connection};Pooling=false");
        await open.OpenAsync();
        await using var command = new NpgsqlCommand(sql, open);
        await command.ExecuteNonQueryAsync();
    }
}
