using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;
using NodaTime;
using Npgsql;
using Outcry.Core.Access;
using Outcry.Core.Publishing;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Server.Tests;
using Outcry.Standins;
using Outcry.Standins.Outside;
using Outcry.Store.Rows;
using Outcry.Tests.World;

[assembly: AssemblyFixture(typeof(TestDesk))]

namespace Outcry.Server.Tests;

/// <summary>The real host against a real database of its own, with the tests' own workspace and a second one beside it.</summary>
public class TestDesk : IAsyncLifetime
{
    /// <summary>Where the test host answers.</summary>
    public const string Origin = "http://localhost";

    public const string SiteOrigin = "http://pots.test:5081";
    internal const string BounceKey = "what comes back says so";
    internal const string StrangerEmail = "sol@elsewhere.example";

    private readonly string _server =
        Environment.GetEnvironmentVariable("OUTCRY_TEST_PG")
        ?? throw new InvalidOperationException("Run the tests with ./outcry test: it starts the database they need.");

    private readonly string _database = $"outcry_test_{Guid.NewGuid():N}";
    private readonly string _places = Path.GetTempFileName();
    private readonly int _smtp = FreePort();
    private WebApplicationFactory<Program> _factory = null!;
    private Microsoft.AspNetCore.Builder.WebApplication _outside = null!;

    internal TestWorld World { get; private set; } = null!;

    /// <summary>What else is out there: the demo site with its lists, feeds and forms, on this machine.</summary>
    public string Outside { get; } = $"http://localhost:{FreePort()}";

    internal SiteRow OtherSite { get; private set; } = null!;

    internal IServiceProvider Services => _factory.Services;

    internal SystemDb Database => Services.GetRequiredService<SystemDb>();

    public async ValueTask InitializeAsync()
    {
        await RunAsync($"create database {_database}");
        await File.WriteAllBytesAsync(_places, PlacesTable.Write(PlacesTable.Documentation));
        _outside = Outcry.Standins.DemoSite.Build(["--urls", Outside, "--smtp", $"{_smtp}"]);
        await _outside.StartAsync();
        _factory = new WebApplicationFactory<Program>().WithWebHostBuilder(b =>
        {
            b.UseContentRoot(Path.Combine(Root, "src", "Outcry.Server"));
            b.UseEnvironment("Production");
            b.UseSetting("ConnectionStrings:Outcry", $"{_server};Database={_database};Maximum Pool Size=20");
            b.UseSetting("Limits:SignInsPerMinute", "1000");
            b.UseSetting("Limits:VisitorPerSecond", "10000");
            // All tests of a desk listen on one site.
            b.UseSetting("Limits:SourcesPerSite", "1000");
            // All tests come from one address.
            b.UseSetting("Limits:EventsPerAddressAndMinute", "100000");
            b.UseSetting("Limits:EventsPerAddressAndHour", "100000");
            b.UseSetting("Fetch:AllowedPrivateHosts", new Uri(Outside).Authority);
            b.UseSetting("Places:File", _places);
            b.UseSetting("Mail:Host", "localhost");
            b.UseSetting("Mail:Port", $"{_smtp}");
            b.UseSetting("Mail:Tls", "false");
            b.UseSetting("Mail:Bounces", "bounces@pots.test");
            b.UseSetting("Mail:BounceKey", BounceKey);
            b.UseSetting("Texts:Gateway", $"{Outside}/outside/texts");
            Vary(b);
            b.ConfigureLogging(l => l.ClearProviders());
        });
        var start = SystemClock.Instance.GetCurrentInstant() - Duration.FromDays(2);
        if (IsEmpty)
            return;
        World = new TestWorld(SiteOrigin, start);
        await using var scope = Services.CreateAsyncScope();
        await using var db = Database.Open();
        var members = scope.ServiceProvider.GetRequiredService<UserManager<Member>>();
        await World.WriteAsync(db, members);
        await AddStrangerAsync(db, members);
        var sites = Services.GetRequiredService<LiveSites>();
        await sites.LoadAllAsync(CancellationToken.None);
    }

    /// <summary>Whether nobody has an account there yet.</summary>
    protected virtual bool IsEmpty => false;

    /// <summary>What a desk of some tests' own has otherwise.</summary>
    protected virtual void Vary(IWebHostBuilder builder) { }

    public async ValueTask DisposeAsync()
    {
        GC.SuppressFinalize(this);
        if (_factory is not null)
            await _factory.DisposeAsync();
        if (_outside is not null)
            await _outside.DisposeAsync();
        File.Delete(_places);
        await RunAsync($"drop database if exists {_database} with (force)");
    }

    public static string Root =>
        Environment.GetEnvironmentVariable("OUTCRY_ROOT")
        ?? throw new InvalidOperationException("OUTCRY_ROOT is not set.");

    /// <summary>A client that nobody has signed in.</summary>
    public HttpClient Anonymous() =>
        _factory.CreateClient(new WebApplicationFactoryClientOptions { AllowAutoRedirect = false });

    /// <summary>Answers over HTTP and sockets as the network would.</summary>
    internal Microsoft.AspNetCore.TestHost.TestServer Server => _factory.Server;

    /// <summary>Runs SQL beside the desk, as an earlier version, another node or a careless hand might.</summary>
    internal async Task SqlAsync(string sql)
    {
        await using var connection = new NpgsqlConnection($"{_server};Database={_database};Pooling=false");
        await connection.OpenAsync();
        await using var command = new NpgsqlCommand(sql, connection);
        await command.ExecuteNonQueryAsync();
    }

    /// <summary>A member of the tests' workspace who can be taken away without harm to other tests.</summary>
    internal Task<Member> AddMemberAsync(Role role) => AddMemberAsync(role, World.Site.WorkspaceId);

    /// <summary>A member of any workspace.</summary>
    internal async Task<Member> AddMemberAsync(Role role, Guid workspaceId)
    {
        await using var scope = Services.CreateAsyncScope();
        var members = scope.ServiceProvider.GetRequiredService<UserManager<Member>>();
        var id = Guid.CreateVersion7();
        var email = $"m{id:N}@emberwick.example";
        var member = new Member
        {
            Id = id,
            UserName = email,
            Email = email,
            DisplayName = "Piet Passing",
        };
        Assert.True((await members.CreateAsync(member, TestWorld.Password)).Succeeded);
        await using var db = Database.Open();
        db.Memberships.Add(
            new MembershipRow
            {
                WorkspaceId = workspaceId,
                MemberId = id,
                Role = role,
            }
        );
        await db.SaveChangesAsync();
        return member;
    }

    internal Task<DeskClient> OwnerAsync() => DeskClient.SignInAsync(Anonymous(), TestWorld.OwnerEmail);

    internal Task<DeskClient> EditorAsync() => DeskClient.SignInAsync(Anonymous(), TestWorld.EditorEmail);

    internal Task<DeskClient> StrangerAsync() => DeskClient.SignInAsync(Anonymous(), StrangerEmail);

    private async Task AddStrangerAsync(Outcry.Store.OutcryDb db, UserManager<Member> members)
    {
        var workspace = new WorkspaceRow { Name = "Elsewhere" };
        var member = new Member
        {
            Id = Guid.CreateVersion7(),
            UserName = StrangerEmail,
            Email = StrangerEmail,
            DisplayName = "Sol Elsewhere",
        };
        Assert.True((await members.CreateAsync(member, TestWorld.Password)).Succeeded);
        OtherSite = new SiteRow
        {
            WorkspaceId = workspace.Id,
            Name = "Elsewhere",
            Key = "elsewhere",
            HomeAddress = "http://elsewhere.test/",
            AllowedHosts = ["elsewhere.test"],
            TimeZone = "Europe/Dublin",
            Rules = Outcry.Core.Publishing.HouseRules.Start,
        };
        db.Workspaces.Add(workspace);
        db.Sites.Add(OtherSite);
        db.Memberships.Add(
            new MembershipRow
            {
                WorkspaceId = workspace.Id,
                MemberId = member.Id,
                Role = Role.Owner,
            }
        );
        await db.SaveChangesAsync();
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
}
