using System.Diagnostics;
using System.Security.Cryptography;
using Npgsql;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Targeting;
using Outcry.Server.Intake;
using Outcry.Server.Platform;
using Outcry.Store.Rows;

namespace Outcry.Server.Tests;

/// <summary>The desk as a process of its own, on loopback, which can be killed and started again.</summary>
internal sealed class ServerProcess(string connection) : IAsyncDisposable
{
    private readonly int _port = FreePort();

    /// <summary>A desk as published, which is up much sooner; where there is none, the one that was built.</summary>
    private static readonly string? Published = Environment.GetEnvironmentVariable("OUTCRY_DESK");

    private Process? _process;

    public string Address => $"http://127.0.0.1:{_port}";

    public SourceRow Source { get; private set; } = null!;

    public SiteRow Site { get; private set; } = null!;

    public SystemDb Database { get; } = SystemDb.To(connection);

    /// <summary>Starts it and waits until it answers; the first start brings the database into shape.</summary>
    public async Task StartAsync()
    {
        var start = new ProcessStartInfo(Published ?? "dotnet")
        {
            ArgumentList = { "--urls", Address, "--contentRoot", Path.Combine(TestDesk.Root, "src/Outcry.Server") },
            Environment =
            {
                ["ConnectionStrings__Outcry"] = $"{connection};Maximum Pool Size=30;Timeout=15;Command Timeout=30",
                ["Logging__LogLevel__Default"] = "None",
                ["Limits__IntakePerSecond"] = "100000",
                ["Limits__VisitorPerSecond"] = "100000",
            },
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        if (Published is null)
            start.ArgumentList.Insert(
                0,
                Path.Combine(TestDesk.Root, "src/Outcry.Server/bin/Release/net10.0/Outcry.Server.dll")
            );
        _process = Process.Start(start)!;
        _process.OutputDataReceived += (_, _) => { };
        _process.ErrorDataReceived += (_, _) => { };
        _process.BeginOutputReadLine();
        _process.BeginErrorReadLine();
        using var http = new HttpClient();
        for (var attempt = 0; ; attempt++)
        {
            try
            {
                if ((await http.GetAsync($"{Address}/health/ready")).IsSuccessStatusCode)
                    return;
            }
            catch (HttpRequestException)
            {
                // Not there yet.
            }
            Assert.False(_process.HasExited, "The desk ended as it came up.");
            Assert.True(attempt < 450, "The desk did not come up.");
            await Task.Delay(200);
        }
    }

    /// <summary>Another host of the same database knows the same site.</summary>
    public void IsOf(ServerProcess other) => (Site, Source) = (other.Site, other.Source);

    /// <summary>Starts it over an empty database, gives it a site with one webhook, and starts it again so that it knows them.</summary>
    public async Task StartWithSiteAsync()
    {
        await StartAsync();
        await AddSiteAsync();
        await KillAsync();
        await StartAsync();
    }

    private async Task AddSiteAsync()
    {
        await using var db = Database.Open();
        var workspace = new WorkspaceRow { Name = "Durable" };
        Site = new SiteRow
        {
            WorkspaceId = workspace.Id,
            Name = "Durable",
            Key = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(8)),
            HomeAddress = "http://durable.test/",
            AllowedHosts = ["durable.test"],
            TimeZone = "UTC",
            Rules = HouseRules.Start,
        };
        Source = new SourceRow
        {
            WorkspaceId = workspace.Id,
            SiteId = Site.Id,
            Name = "Shop",
            Kind = SourceKind.SignedWebhook,
            Secret = StandardWebhooks.NewSecret(),
            Display = DisplayPolicy.Start,
        };
        db.Workspaces.Add(workspace);
        db.Sites.Add(Site);
        db.Sources.Add(Source);
        await db.SaveChangesAsync();
    }

    /// <summary>An import as it stands in the list while its file is being read.</summary>
    public async Task<Guid> AddRunningImportAsync()
    {
        await using var db = Database.Open();
        var import = new ImportRow
        {
            WorkspaceId = Site.WorkspaceId,
            SiteId = Site.Id,
            SourceId = Source.Id,
            FileName = "orders.csv",
            StartedBy = "Noor Haddad",
            State = ImportState.Running,
        };
        db.Imports.Add(import);
        await db.SaveChangesAsync();
        return import.Id;
    }

    /// <summary>Ends it without any warning, as a power cut would.</summary>
    public async Task KillAsync()
    {
        _process!.Kill();
        await _process.WaitForExitAsync();
    }

    public async ValueTask DisposeAsync()
    {
        if (_process is { HasExited: false })
            await KillAsync();
        NpgsqlConnection.ClearAllPools();
    }

    private static int FreePort()
    {
        using var listener = new System.Net.Sockets.TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }
}
