using System.Diagnostics;
using System.Globalization;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using System.Threading.Channels;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Http;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Logging;
using NodaTime;
using Outcry.Core.Talks;
using Outcry.Server.Platform;
using Outcry.Server.Talks;
using Outcry.Store.Rows;

namespace Outcry.Bench;

/// <summary>
/// How long a word takes from one side of a talk to the other and an answer back, while 500 talks are open; and what 2,000 silent lines weigh. The baseline
/// does the same over server-sent events with nothing between: no key, no database, no other node.
/// </summary>
internal static class TalkBench
{
    private const int OpenTalks = 500;
    private const int IdleLines = 2_000;
    private const int Rounds = 5;
    private const int TripsARound = 60;

    /// <summary>The baseline: what is posted to a room goes to whoever follows it.</summary>
    public static async Task EchoAsync(string url)
    {
        var builder = WebApplication.CreateSlimBuilder();
        builder.Logging.ClearProviders();
        var app = builder.Build();
        var gate = new Lock();
        var rooms = new Dictionary<string, List<ChannelWriter<string>>>();
        app.MapPost(
            "/v/talks/words",
            async (HttpContext http) =>
            {
                using var body = await JsonDocument.ParseAsync(http.Request.Body);
                var (room, text) = (
                    body.RootElement.GetProperty("talk").GetString()!,
                    body.RootElement.GetProperty("text").GetString()!
                );
                lock (gate)
                    foreach (var follower in rooms.GetValueOrDefault(room, []))
                        follower.TryWrite(text);
            }
        );
        app.MapPost(
            "/v/talks/stream",
            async (HttpContext http) =>
            {
                using var body = await JsonDocument.ParseAsync(http.Request.Body);
                var room = body.RootElement.GetProperty("talk").GetString()!;
                var line = Channel.CreateUnbounded<string>();
                lock (gate)
                {
                    if (!rooms.TryGetValue(room, out var there))
                        rooms[room] = there = [];
                    there.Add(line.Writer);
                }
                http.Response.ContentType = "text/event-stream";
                await http.Response.WriteAsync("event: talk\ndata: open\n\n");
                await http.Response.Body.FlushAsync();
                try
                {
                    await foreach (var text in line.Reader.ReadAllAsync(http.RequestAborted))
                    {
                        await http.Response.WriteAsync($"event: talk\ndata: {text}\n\n");
                        await http.Response.Body.FlushAsync();
                    }
                }
                catch (OperationCanceledException)
                {
                    // The follower has gone.
                }
            }
        );
        app.Urls.Add(url);
        await app.RunAsync();
    }

    public static async Task RunAsync(
        string connection,
        string desk,
        string deskPid,
        string echo,
        string echoPid,
        string lines
    )
    {
        var (talks, key) = await MakeAsync(connection);
        using var client = new HttpClient(new SocketsHttpHandler { MaxConnectionsPerServer = 10_000 });
        client.DefaultRequestHeaders.Add("Origin", "http://pots.test");
        client.Timeout = Timeout.InfiniteTimeSpan;
        using var ending = new CancellationTokenSource();
        async Task<List<Line>> OpenAsync(string host, IEnumerable<Guid> of) =>
            [.. await Task.WhenAll(of.Select(t => Line.OpenAsync(client, host, t, key, ending.Token)))];
        var (ours, theirs) = (await OpenAsync(desk, talks), await OpenAsync(echo, talks));
        // The other side of each talk that is measured.
        var (oursBack, theirsBack) = (await OpenAsync(desk, talks.Take(100)), await OpenAsync(echo, talks.Take(100)));
        var (tripsHere, tripsThere, ratios) = (new List<double>(), new List<double>(), new List<double>());
        for (var round = 0; round <= Rounds; round++)
        {
            var here = await TripsAsync(client, desk, key, ours, oursBack);
            var there = await TripsAsync(client, echo, key, theirs, theirsBack);
            // The first warms both up.
            if (round == 0)
                continue;
            tripsHere.AddRange(here);
            tripsThere.AddRange(there);
            ratios.Add(Figure.Median(here) / Figure.Median(there));
        }
        new Figure(
            "talk-round-trip",
            Math.Round(Figure.Median(tripsHere), 2),
            "ms",
            Math.Round(Figure.Median(tripsThere), 2),
            Math.Round(Figure.Median(ratios), 2),
            string.Create(
                CultureInfo.InvariantCulture,
                $"99 of 100 within {At(tripsHere, 0.99):0.0} ms, of the baseline within {At(tripsThere, 0.99):0.0}; {OpenTalks} talks open"
            )
        ).Append(lines);
        var (beforeHere, beforeThere) = (Resident(deskPid), Resident(echoPid));
        var idle = Enumerable.Range(0, IdleLines).Select(i => talks[i % talks.Count]).ToList();
        await OpenAsync(desk, idle);
        await OpenAsync(echo, idle);
        await Task.Delay(3_000);
        var (perHere, perThere) = (
            (Resident(deskPid) - beforeHere) / (double)IdleLines,
            (Resident(echoPid) - beforeThere) / (double)IdleLines
        );
        new Figure(
            "talk-idle-line",
            Math.Round(perHere),
            "bytes resident a line",
            Math.Round(perThere),
            Math.Round(perHere / perThere, 2),
            $"{IdleLines} more lines, once"
        ).Append(lines);
        await ending.CancelAsync();
    }

    private static async Task<List<double>> TripsAsync(
        HttpClient client,
        string host,
        string key,
        List<Line> one,
        List<Line> other
    )
    {
        var trips = new List<double>();
        for (var i = 0; i < TripsARound; i++)
        {
            var (mine, back) = (one[i % other.Count], other[i % other.Count]);
            var (asks, answers) = ($"asks {Guid.NewGuid():N}", $"answers {Guid.NewGuid():N}");
            var began = Stopwatch.GetTimestamp();
            var sent = mine.SayAsync(client, host, key, asks);
            await back.HearAsync(asks);
            var answered = back.SayAsync(client, host, key, answers);
            await mine.HearAsync(answers);
            trips.Add(Stopwatch.GetElapsedTime(began).TotalMilliseconds);
            await sent;
            await answered;
        }
        return trips;
    }

    private static double At(IEnumerable<double> values, double share)
    {
        var sorted = values.Order().ToList();
        return sorted[(int)(share * (sorted.Count - 1))];
    }

    private static long Resident(string pid) =>
        File.ReadLines($"/proc/{pid}/status")
            .Where(l => l.StartsWith("VmRSS:", StringComparison.Ordinal))
            .Select(l =>
                long.Parse(l.Split(' ', StringSplitOptions.RemoveEmptyEntries)[1], CultureInfo.InvariantCulture)
            )
            .Single() * 1024;

    private static async Task<(List<Guid> Talks, string Key)> MakeAsync(string connection)
    {
        await using var db = SystemDb.To(connection).Open();
        var site = await db.Sites.FirstAsync();
        var now = SystemClock.Instance.GetCurrentInstant();
        var key = TalkKey.Make();
        var talks = new List<Guid>();
        for (var i = 0; i < OpenTalks; i++)
        {
            var talk = new TalkRow
            {
                WorkspaceId = site.WorkspaceId,
                SiteId = site.Id,
                VisitorId = $"bench{i}",
                BegunAt = now,
                LastAt = now,
                Language = "en",
                Page = "http://pots.test/",
                State = TalkState.Unclaimed,
            };
            TalkKey.Give(talk, key);
            db.Talks.Add(talk);
            talks.Add(talk.Id);
        }
        await db.SaveChangesAsync();
        return (talks, key);
    }

    /// <summary>One side of one talk that is followed.</summary>
    private sealed class Line(Guid talk, Channel<string> heard)
    {
        public static async Task<Line> OpenAsync(
            HttpClient client,
            string host,
            Guid talk,
            string key,
            CancellationToken stop
        )
        {
            using var request = new HttpRequestMessage(HttpMethod.Post, $"{host}/v/talks/stream")
            {
                Content = JsonContent.Create(
                    new
                    {
                        site = "bench",
                        page = "http://pots.test/",
                        talk,
                        key,
                        after = 0,
                    }
                ),
            };
            var answer = await client.SendAsync(request, HttpCompletionOption.ResponseHeadersRead, stop);
            answer.EnsureSuccessStatusCode();
            var heard = Channel.CreateUnbounded<string>();
            var reader = new StreamReader(await answer.Content.ReadAsStreamAsync(stop), Encoding.UTF8);
            // The first event says how the talk stands.
            while (await reader.ReadLineAsync(stop) is { } first && first.Length > 0) { }
            _ = Task.Run(
                async () =>
                {
                    try
                    {
                        while (await reader.ReadLineAsync(stop) is { } line)
                            if (line.StartsWith("data:", StringComparison.Ordinal))
                                heard.Writer.TryWrite(line);
                    }
                    catch (OperationCanceledException)
                    {
                        // The measuring is over.
                    }
                },
                stop
            );
            return new Line(talk, heard);
        }

        public async Task SayAsync(HttpClient client, string host, string key, string text)
        {
            using var answer = await client.PostAsJsonAsync(
                $"{host}/v/talks/words",
                new
                {
                    site = "bench",
                    page = "http://pots.test/",
                    talk,
                    key,
                    id = Guid.CreateVersion7(),
                    text,
                }
            );
            answer.EnsureSuccessStatusCode();
        }

        public async Task HearAsync(string text)
        {
            using var late = new CancellationTokenSource(TimeSpan.FromSeconds(30));
            while (!(await heard.Reader.ReadAsync(late.Token)).Contains(text, StringComparison.Ordinal)) { }
        }
    }
}
