using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;
using NodaTime;
using Npgsql;
using Outcry.Browser.Tests;
using Outcry.Core.Briefs;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Greetings;
using Outcry.Core.Publishing;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Standins;
using Outcry.Standins.Site;
using Outcry.Store;
using Outcry.Store.Rows;
using Outcry.Tests.World;

[assembly: AssemblyFixture(typeof(Stage))]

namespace Outcry.Browser.Tests;

/// <summary>Desk and demo site as they run, on two origins, over a database of their own.</summary>
public sealed class Stage : IAsyncLifetime
{
    private readonly string _server =
        Environment.GetEnvironmentVariable("OUTCRY_TEST_PG")
        ?? throw new InvalidOperationException("Run the tests with ./outcry test: it starts the database they need.");

    private readonly string _database = $"outcry_browser_{Guid.NewGuid():N}";
    private Factory _factory = null!;
    private WebApplication _site = null!;

    public string Desk { get; private set; } = "";

    public string Site { get; private set; } = "";

    internal TestWorld World { get; private set; } = null!;

    internal SystemDb Database => _factory.Services.GetRequiredService<SystemDb>();

    public static string Root =>
        Environment.GetEnvironmentVariable("OUTCRY_ROOT")
        ?? throw new InvalidOperationException("OUTCRY_ROOT is not set.");

    public async ValueTask InitializeAsync()
    {
        await RunAsync($"create database {_database}");
        var (sitePort, smtp) = (FreePort(), FreePort());
        _factory = new Factory($"{_server};Database={_database};Maximum Pool Size=20", sitePort, smtp);
        _factory.StartServer();
        Desk = $"http://localhost:{_factory.ClientOptions.BaseAddress.Port}";
        Site = $"http://localhost:{sitePort}";
        World = new TestWorld(Site, SystemClock.Instance.GetCurrentInstant() - Duration.FromDays(2));
        await using (var scope = _factory.Services.CreateAsyncScope())
        await using (var db = Database.Open())
        {
            await World.WriteAsync(db, scope.ServiceProvider.GetRequiredService<UserManager<Member>>());
        }
        await KeepRulesAsync(Rules);
        await Sites.LoadAllAsync(CancellationToken.None);
        _site = DemoSite.Build([
            $"--urls=http://localhost:{sitePort}",
            $"--desk={Desk}",
            $"--siteKey={World.Site.Key}",
            $"--webhook={Desk}/in/{World.Checkout.Id}",
            $"--secret={World.Checkout.Secret}",
            $"--stockWebhook={Desk}/in/{World.Stock.Id}",
            $"--stockSecret={World.Stock.Secret}",
            $"--smtp={smtp}",
        ]);
        await _site.StartAsync();
    }

    public async ValueTask DisposeAsync()
    {
        if (_site is not null)
            await _site.DisposeAsync();
        if (_factory is not null)
            await _factory.DisposeAsync();
        await RunAsync($"drop database if exists {_database} with (force)");
    }

    /// <summary>The house rules of this stage, unless a test says otherwise.</summary>
    internal static HouseRules Rules { get; } =
        HouseRules.Start with
        {
            QuietPages = ["/cart", "/checkout/**"],
            GapSeconds = 1,
        };

    /// <summary>Sets the house rules of every site; they hold from the next time a site is read.</summary>
    internal async Task KeepRulesAsync(HouseRules rules)
    {
        await using var db = Database.Open();
        foreach (var site in db.Sites)
            site.Rules = rules;
        await db.SaveChangesAsync();
    }

    internal NpgsqlDataSource Data => _factory.Services.GetRequiredService<NpgsqlDataSource>();

    /// <summary>The time on the site's own wall.</summary>
    internal LocalDateTime Now() =>
        SystemClock.Instance.GetCurrentInstant().InZone(Sites.GetById(World.Site.Id).Zone).LocalDateTime;

    /// <summary>Lets pages of one more host have the snippet.</summary>
    internal async Task AllowAsync(string host)
    {
        await using var db = Database.Open();
        var site = db.Sites.Single(s => s.Id == World.Site.Id);
        site.AllowedHosts = [.. site.AllowedHosts, host];
        await db.SaveChangesAsync();
        await Sites.ReloadAsync(World.Site.Id, CancellationToken.None);
    }

    /// <summary>A purchase that the live moments can tell.</summary>
    internal Task GiveEventAsync() =>
        GivePurchasesAsync(
            $"stage:{Guid.NewGuid()}",
            [SystemClock.Instance.GetCurrentInstant() - Duration.FromMinutes(3)]
        );

    /// <summary>Purchases of different people, kept as those that arrive are: the site is read again whenever its definitions change.</summary>
    internal async Task GivePurchasesAsync(string person, IReadOnlyList<Instant> moments)
    {
        await using var db = Database.Open();
        for (var i = 0; i < moments.Count; i++)
            db.Events.Add(
                new EventRow
                {
                    WorkspaceId = World.Workspace.Id,
                    SiteId = World.Site.Id,
                    SourceId = World.Checkout.Id,
                    Kind = EventKind.Purchase,
                    ExternalId = $"{person}:{i}",
                    At = moments[i],
                    ReceivedAt = moments[i],
                    FirstName = "Noor",
                    LastInitial = "H",
                    MaskedName = "N. H.",
                    PersonKey = $"{person}:{i}",
                    ProductName = "Ash-glaze mug",
                }
            );
        await db.SaveChangesAsync();
        await Sites.ReloadAsync(World.Site.Id, CancellationToken.None);
    }

    /// <summary>Changes the dates and hours of a live callout, as publishing it anew would.</summary>
    internal async Task ChangeAsync(Guid id, Func<Schedule, Schedule> schedule)
    {
        await using var db = Database.Open();
        var row = db.Definitions.Single(c => c.Id == id);
        var brief = row.Draft.Read<Brief>();
        var when = brief.When;
        row.Draft = KeptContent.Of(brief with { When = when with { Schedule = schedule(when.Schedule) } });
        db.Revisions.Add(row.Freeze(SystemClock.Instance.GetCurrentInstant(), "Marta Quill"));
        await db.SaveChangesAsync();
        await Sites.ReloadAsync(World.Site.Id, CancellationToken.None);
        await GiveEventAsync();
    }

    /// <summary>Pauses a callout.</summary>
    internal async Task PauseAsync(Guid id)
    {
        await using var db = Database.Open();
        db.Definitions.Single(c => c.Id == id).State = DefinitionState.Paused;
        await db.SaveChangesAsync();
        await Sites.ReloadAsync(World.Site.Id, CancellationToken.None);
    }

    internal TeamPresence Team => _factory.Services.GetRequiredService<TeamPresence>();

    internal LiveSites Sites => _factory.Services.GetRequiredService<LiveSites>();

    /// <summary>Puts a moment live by itself: the demo's other callouts are taken off, so that a test sees what it made.</summary>
    internal Task<Guid> PutLiveAsync(string name, Func<Brief, Brief> vary, SourceRow? source = null) =>
        PutLiveAsync(name, vary, source, alone: true);

    /// <summary>Puts one more moment live beside those that are.</summary>
    internal Task<Guid> PutLiveBesideAsync(string name, Func<Brief, Brief> vary) =>
        PutLiveAsync(name, vary, null, alone: false);

    private async Task<Guid> PutLiveAsync(string name, Func<Brief, Brief> vary, SourceRow? source, bool alone)
    {
        source ??= World.Checkout;
        await using var db = Database.Open();
        if (alone)
            foreach (var other in db.Definitions)
                other.State = DefinitionState.Archived;
        var brief = vary(StarterBrief.Moment(source.EventKind, [source.Id]));
        brief = brief with
        {
            From = brief.From with { LeastNumber = 1 },
            When = brief.When with { Triggers = [Trigger.After(1)] },
        };
        return await PublishAsync(db, name, BriefKind.Callout, KeptContent.Of(brief));
    }

    /// <summary>Takes everything off, for a test that is about something else.</summary>
    internal async Task TakeAllOffAsync()
    {
        await using var db = Database.Open();
        foreach (var one in db.Definitions)
            one.State = DefinitionState.Archived;
        await db.SaveChangesAsync();
        await Sites.ReloadAsync(World.Site.Id, CancellationToken.None);
    }

    /// <summary>Puts a launcher live, and takes everything else off.</summary>
    internal async Task<Guid> PutLauncherLiveAsync(string name, LauncherBrief brief)
    {
        await using var db = Database.Open();
        foreach (var other in db.Definitions)
            other.State = DefinitionState.Archived;
        return await PublishAsync(db, name, LauncherKind.Launcher, KeptContent.Of(brief));
    }

    /// <summary>Puts a definition of any kind live beside those that are.</summary>
    internal async Task<Guid> PutBesideAsync(string name, string kind, KeptContent content)
    {
        await using var db = Database.Open();
        return await PublishAsync(db, name, kind, content);
    }

    private async Task<Guid> PublishAsync(OutcryDb db, string name, string kind, KeptContent draft)
    {
        var now = SystemClock.Instance.GetCurrentInstant();
        var row = new DefinitionRow
        {
            WorkspaceId = World.Workspace.Id,
            SiteId = World.Site.Id,
            Name = name,
            State = DefinitionState.Live,
            Kind = kind,
            Draft = draft,
            DraftVersion = 1,
            CreatedAt = now,
            ChangedAt = now,
            ChangedBy = "Marta Quill",
        };
        db.Definitions.Add(row);
        db.Revisions.Add(row.Freeze(now, "Marta Quill"));
        await db.SaveChangesAsync();
        await Sites.ReloadAsync(World.Site.Id, CancellationToken.None);
        return row.Id;
    }

    private static int FreePort()
    {
        using var listener = new System.Net.Sockets.TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }

    private async Task RunAsync(string sql)
    {
        await using var connection = new NpgsqlConnection($"{_server};Database=postgres;Pooling=false");
        await connection.OpenAsync();
        await using var command = new NpgsqlCommand(sql, connection);
        await command.ExecuteNonQueryAsync();
    }

    private sealed class Factory : WebApplicationFactory<Program>
    {
        private readonly string _connection;
        private readonly int _sitePort;
        private readonly int _smtp;

        public Factory(string connection, int sitePort, int smtp)
        {
            (_connection, _sitePort, _smtp) = (connection, sitePort, smtp);
            UseKestrel(0);
        }

        protected override void ConfigureWebHost(IWebHostBuilder builder)
        {
            builder.UseContentRoot(Path.Combine(Root, "src", "Outcry.Server"));
            builder.UseEnvironment("Production");
            builder.UseSetting("ConnectionStrings:Outcry", _connection);
            builder.UseSetting("Limits:SignInsPerMinute", "1000");
            builder.UseSetting("Limits:VisitorPerSecond", "10000");
            builder.UseSetting("Fetch:AllowedPrivateHosts", $"localhost:{_sitePort}");
            builder.UseSetting("Mail:Host", "localhost");
            builder.UseSetting("Mail:Port", $"{_smtp}");
            builder.UseSetting("Mail:Tls", "false");
            builder.UseSetting("Texts:Gateway", $"http://localhost:{_sitePort}/outside/texts");
            builder.ConfigureLogging(l => l.ClearProviders());
        }
    }
}
