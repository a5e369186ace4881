using System.IO.Compression;
using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Http;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Sources;
using Outcry.Server.Intake.Imports;
using Outcry.Server.Intake.Polls;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Tests;

/// <summary>A desk that may fetch from a server which does its worst.</summary>
public sealed class FetchingDesk : TestDesk
{
    private readonly WebApplication _trap = Trap();

    /// <summary>What the well-behaved list says right now.</summary>
    internal static string Reviews { get; set; } = "[]";

    internal string Trapped => _trap.Urls.First();

    protected override void Vary(IWebHostBuilder builder)
    {
        _trap.StartAsync().GetAwaiter().GetResult();
        builder.UseSetting("Fetch:AllowedPrivateHosts", $"{new Uri(Trapped).Authority},{new Uri(Outside).Authority}");
    }

    private static WebApplication Trap()
    {
        var app = WebApplication.CreateSlimBuilder().Build();
        app.Urls.Add("http://127.0.0.1:0");
        app.MapGet("/drip", DripAsync);
        app.MapGet("/reviews", () => Results.Text(Reviews, "application/json"));
        app.MapGet("/badgzip", (HttpContext http) => Packed(http, [1, 2, 3, 4, 5, 6, 7, 8, 9]));
        app.MapGet("/cutgzip", (HttpContext http) => Packed(http, Gzip(new string('x', 10_000))[..40]));
        return app;
    }

    // A byte every two seconds, for as long as anybody listens.
    private static async Task DripAsync(HttpContext http)
    {
        while (!http.RequestAborted.IsCancellationRequested)
        {
            await http.Response.Body.WriteAsync("["u8.ToArray(), http.RequestAborted);
            await http.Response.Body.FlushAsync(http.RequestAborted);
            await Task.Delay(2_000, http.RequestAborted);
        }
    }

    private static IResult Packed(HttpContext http, byte[] body)
    {
        http.Response.Headers.ContentEncoding = "gzip";
        return Results.Bytes(body, "application/json");
    }

    private static byte[] Gzip(string text)
    {
        using var packed = new MemoryStream();
        using (var gzip = new GZipStream(packed, CompressionLevel.Fastest))
            gzip.Write(Encoding.UTF8.GetBytes(text));
        return packed.ToArray();
    }
}

/// <summary>What foreign servers answer, and what must not come of it; what was erased does not come back by them either.</summary>
public sealed class FetchTests(FetchingDesk desk) : IClassFixture<FetchingDesk>
{
    private string Api => $"/api/sites/{desk.World.Site.Id}";

    private SafeFetch Fetch => desk.Services.GetRequiredService<SafeFetch>();

    private PollRunner Runner => desk.Services.GetRequiredService<PollRunner>();

    private static object Review(string id, string author = "Noor Haddad", string item = "Moon jar") =>
        new
        {
            id,
            created = DateTimeOffset.UtcNow.AddHours(-3).ToString("O"),
            author,
            rating = 5,
            text = "Glad to have it.",
            item,
        };

    private async Task<Guid> SourceAsync(DeskClient owner, string path)
    {
        var source = await new Listening(desk, owner).AddAsync(
            "reviewList",
            "review",
            new
            {
                poll = new
                {
                    address = desk.Trapped + path,
                    format = "json",
                    listPointer = "",
                    everyMinutes = 60,
                    most = 100,
                    of = "",
                },
                map = new
                {
                    kind = "review",
                    places = new
                    {
                        id = "/id",
                        time = "/created",
                        firstName = "/author",
                        stars = "/rating",
                        words = "/text",
                        product = "/item",
                    },
                    fields = new { },
                },
            }
        );
        return source.GetProperty("id").GetGuid();
    }

    private async Task<JsonElement> FetchAsync(DeskClient owner, Guid source) =>
        (await owner.PostAsync($"{Api}/sources/{source}/fetch")).Body;

    [Theory]
    [InlineData("/badgzip")]
    [InlineData("/cutgzip")]
    public async Task A_body_that_is_not_packed_as_it_says_is_an_answer(string path)
    {
        var fetched = await Fetch.GetAsync(desk.Trapped + path, CancellationToken.None);
        // What was cut short reads as what there is; no body at all says why.
        Assert.True(fetched.Fault is not null || fetched.Body.Length < 10_000);
        var owner = await desk.OwnerAsync();
        var source = await SourceAsync(owner, path);
        var (status, outcome) = await owner.PostAsync($"{Api}/sources/{source}/fetch");
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.NotEqual("", outcome.Text("fault"));
    }

    [Fact]
    public async Task A_body_that_drips_ends_and_keeps_no_other_workspace_waiting()
    {
        var owner = await desk.OwnerAsync();
        var dripping = await SourceAsync(owner, "/drip");
        FetchingDesk.Reviews = JsonSerializer.Serialize(new[] { Review("lane") });
        var other = Guid.NewGuid();
        await using (var db = desk.Database.Open())
        {
            db.Sources.Add(
                new SourceRow
                {
                    Id = other,
                    WorkspaceId = desk.OtherSite.WorkspaceId,
                    SiteId = desk.OtherSite.Id,
                    Name = "Elsewhere's reviews",
                    Kind = SourceKind.ReviewList,
                    EventKind = EventKind.Review,
                    Poll = new Polling($"{desk.Trapped}/reviews", PollFormat.Json, "", 60, 10),
                    Map = new EventMap(
                        EventKind.Review,
                        new Dictionary<FieldMeaning, string>
                        {
                            [FieldMeaning.Id] = "/id",
                            [FieldMeaning.FirstName] = "/author",
                            [FieldMeaning.Stars] = "/rating",
                            [FieldMeaning.Words] = "/text",
                            [FieldMeaning.Product] = "/item",
                        },
                        new Dictionary<string, string>()
                    ),
                    Display = Core.Saying.DisplayPolicy.Start,
                }
            );
            await db.SaveChangesAsync();
        }
        await desk.Services.GetRequiredService<LiveSites>().LoadAllAsync(CancellationToken.None);
        var begun = SystemClock.Instance.GetCurrentInstant();

        await Runner.BeginDueAsync(CancellationToken.None);

        await using var reading = desk.Database.Open();
        await Eventually.GetAsync(() => reading.Events.AnyAsync(e => e.SourceId == other), there => there);
        // The dripping one is still at it, and gives up by itself.
        var row = await Eventually.GetAsync(
            async () => await reading.Sources.AsNoTracking().SingleAsync(s => s.Id == dripping),
            s => s.PolledAt is not null
        );
        Assert.True(row.PolledAt >= begun);
        var list = Array.Empty<JsonElement>();
        for (var i = 0; i < 30 && !Told(list); i++)
        {
            await Task.Delay(1_000);
            list = [.. (await owner.GetAsync($"{Api}/sources")).EnumerateArray()];
        }
        Assert.True(Told(list), "The dripping fetch never ended.");
        await owner.SendAsync(HttpMethod.Delete, $"{Api}/sources/{dripping}");

        bool Told(JsonElement[] sources) =>
            Array.Exists(
                sources,
                s =>
                    s.GetProperty("id").GetGuid() == dripping
                    && s.GetProperty("refusedBecause").ValueKind == JsonValueKind.String
            );
    }

    [Fact]
    public async Task One_bad_item_or_list_is_told_at_its_own_source_and_stops_nothing()
    {
        var owner = await desk.OwnerAsync();
        FetchingDesk.Reviews =
            "[null, 5, {\"id\":\"a\\u0000b\",\"author\":\"Ravi\\ud800\",\"rating\":5,\"text\":\"\\ufffe\",\"item\":\"Bowl\"}, "
            + JsonSerializer.Serialize(Review("fine"))
            + "]";
        var bad = await SourceAsync(owner, "/reviews");
        await desk.SqlAsync(
            $"update sources set poll = jsonb_set(poll, '{{address}}', '\"not an address\"') where id = '{bad}'"
        );
        var good = await SourceAsync(owner, "/reviews");
        await desk.Services.GetRequiredService<LiveSites>().LoadAllAsync(CancellationToken.None);
        await Runner.RunDueAsync(CancellationToken.None);
        await using var db = desk.Database.Open();
        Assert.InRange(await db.Events.CountAsync(e => e.SourceId == good), 1, 2);
        Assert.NotNull((await db.Sources.SingleAsync(s => s.Id == bad)).PolledAt);
    }

    [Fact]
    public async Task What_was_erased_or_deleted_for_good_does_not_come_back_with_the_next_fetch_or_import()
    {
        var owner = await desk.OwnerAsync();
        FetchingDesk.Reviews = JsonSerializer.Serialize(
            new[] { Review("keep", "Kept Person"), Review("gone", "Perdita Featherstone") }
        );
        var source = await SourceAsync(owner, "/reviews");
        Assert.Equal(2, (await FetchAsync(owner, source)).GetProperty("added").GetInt32());
        var (_, found) = await owner.PostAsync($"{Api}/people/find", new { name = "Perdita Featherstone" });
        var events = found.GetProperty("events").EnumerateArray().Select(e => e.GetProperty("id").GetGuid()).ToList();
        Assert.Single(events);
        var (erased, proof) = await owner.PostAsync(
            $"{Api}/people/erase",
            new
            {
                events,
                visitors = Array.Empty<string>(),
                deliveries = Array.Empty<Guid>(),
                foundBy = "name",
            }
        );
        Assert.True((int)erased < 300, $"{proof}");
        var again = await FetchAsync(owner, source);
        Assert.Equal((0, 1), (again.GetProperty("added").GetInt32(), again.GetProperty("leftOut").GetInt32()));
        await using var db = desk.Database.Open();
        Assert.Equal(1, await db.Events.CountAsync(e => e.SourceId == source));
        // What stays to know it by is a keyed hash.
        var stone = Assert.Single(await db.Tombstones.Where(t => t.SiteId == desk.World.Site.Id).ToListAsync());
        Assert.Matches("^[0-9a-f]{32}$", stone.Key);
    }

    [Theory]
    [InlineData("Anne-Marie von der Heide", "Anne-Marie von der Heide")]
    [InlineData("anne-marie VON DER HEIDE", "Anne-Marie von der Heide")]
    public async Task A_person_is_found_by_the_name_however_it_was_split(string asked, string sent)
    {
        var owner = await desk.OwnerAsync();
        var order = Sender.Purchase($"named-{Guid.NewGuid():N}");
        order["data"]!["customer"]!["firstName"] = sent;
        order["data"]!["customer"]!["lastName"] = null;
        var (_, body, _) = await new Sender(desk).SendAsync(order);
        var (_, found) = await owner.PostAsync($"{Api}/people/find", new { name = asked });
        Assert.Contains(body.Text("id"), found.GetProperty("events").EnumerateArray().Select(e => e.Text("id")));
    }

    [Fact]
    public async Task A_number_is_found_however_it_was_dialled_and_by_it_every_record()
    {
        var owner = await desk.OwnerAsync();
        var id = $"dialled-{Guid.NewGuid():N}";
        var order = Sender.Purchase(id);
        order["data"]!["customer"]!["phone"] = "+44 20 7946 0958";
        var (_, body, _) = await new Sender(desk).SendAsync(order);
        foreach (var dialled in new[] { "020 7946 0958", "+44 (0)20 79460958", "0044 20 7946 0958" })
        {
            var (_, found) = await owner.PostAsync($"{Api}/people/find", new { phone = dialled });
            Assert.Contains(body.Text("id"), found.GetProperty("events").EnumerateArray().Select(e => e.Text("id")));
        }
    }

    [Fact]
    public async Task An_upload_that_is_broken_off_or_left_behind_leaves_no_file()
    {
        var store = desk.Services.GetRequiredService<UploadStore>();
        var own = Directory
            .EnumerateDirectories(Path.GetTempPath(), $"outcry-uploads-{Environment.ProcessId}-*")
            .ToList();
        int Files() => own.Sum(d => Directory.EnumerateFiles(d).Count());
        var before = Files();
        await Assert.ThrowsAsync<IOException>(() =>
            store.KeepAsync(desk.World.Site.Id, "people.csv", new BrokenOff(), CancellationToken.None)
        );
        Assert.Equal(before, Files());
        // A folder of a process that is no more.
        var left = Path.Combine(Path.GetTempPath(), $"outcry-uploads-{int.MaxValue}-{Guid.NewGuid():N}");
        Directory.CreateDirectory(left);
        await File.WriteAllTextAsync(Path.Combine(left, "people.csv"), "Noor");
        using (ActivatorUtilities.CreateInstance<UploadStore>(desk.Services))
            Assert.False(Directory.Exists(left));
        Assert.All(own, d => Assert.True(Directory.Exists(d)));
        // And the eleventh of a site makes the first one go.
        var first = await store.KeepAsync(desk.World.Site.Id, "a.csv", Content("a,b\n1,2\n"), CancellationToken.None);
        for (var i = 0; i < 10; i++)
            await store.KeepAsync(desk.World.Site.Id, "a.csv", Content("a,b\n1,2\n"), CancellationToken.None);
        Assert.Null(store.Find(desk.World.Site.Id, first!.Id));
        Assert.False(File.Exists(first.Path));
    }

    [Fact]
    public async Task A_cell_of_many_megabytes_is_refused_in_words_and_never_held_whole()
    {
        var owner = await desk.OwnerAsync();
        using var file = new StringContent("Order,Product\n1,\"" + new string('x', 40 * 1024 * 1024) + "\"\n2,Bowl\n");
        var before = GC.GetTotalAllocatedBytes();
        using var answer = await owner.Http.PostAsync($"{Api}/uploads?name=orders.csv", file);
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.InRange((await answer.JsonAsync()).Text("detail").Length, 10, 500);
        // The request itself is 40 MB in this very process, thrice at most on its way; what is read of it is little.
        Assert.InRange(GC.GetTotalAllocatedBytes() - before, 0, 400L * 1024 * 1024);
    }

    private static MemoryStream Content(string text) => new(Encoding.UTF8.GetBytes(text));

    private sealed class BrokenOff : MemoryStream
    {
        private int _read;

        public override ValueTask<int> ReadAsync(Memory<byte> buffer, CancellationToken cancellationToken = default)
        {
            if (_read++ > 0)
                throw new IOException("The browser was closed.");
            "Order,Name\n1,Noor\n"u8.CopyTo(buffer.Span);
            return ValueTask.FromResult(18);
        }
    }
}
