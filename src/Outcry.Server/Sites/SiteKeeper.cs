using Microsoft.EntityFrameworkCore;
using NodaTime;
using Npgsql;
using Outcry.Server.Platform;

namespace Outcry.Server.Sites;

/// <summary>Keeps the sites in memory true: loads them at start, lets events in, moves the windows on, listens to other nodes.</summary>
internal sealed partial class SiteKeeper(
    LiveSites sites,
    SiteNews news,
    SystemDb database,
    LookedCounter traffic,
    TeamPresence team,
    NpgsqlDataSource source,
    IClock clock,
    ILogger<SiteKeeper> log
) : BackgroundService
{
    private static readonly TimeSpan Tick = TimeSpan.FromMilliseconds(150);

    /// <summary>Relative times are said to the minute, so windows and wording are renewed well within one.</summary>
    private const int TicksPerRenewal = 100;

    /// <summary>Windows of page views are counted in the database, about once a minute.</summary>
    private const int TicksPerCount = 400;

    public override async Task StartAsync(CancellationToken cancellationToken)
    {
        await sites.LoadAllAsync(cancellationToken);
        await base.StartAsync(cancellationToken);
    }

    protected override Task ExecuteAsync(CancellationToken stoppingToken) =>
        Task.WhenAll(RefreshAsync(stoppingToken), ListenAsync(stoppingToken));

    private async Task RefreshAsync(CancellationToken stop)
    {
        using var timer = new PeriodicTimer(Tick);
        var saved = new Dictionary<Guid, Instant?>();
        for (var tick = 1; await WaitAsync(timer, stop); tick++)
        {
            var renew = tick % TicksPerRenewal == 0;
            if (tick % TicksPerCount == 0)
                await CountTrafficAsync(stop);
            foreach (var site in sites.All)
            {
                site.TakeTeam(team.IsThere(site.WorkspaceId));
                site.Refresh(clock.GetCurrentInstant(), renew);
                // Counting forgets those who have gone; otherwise memory would keep every visitor there ever was.
                if (renew)
                    site.VisitorsNow(clock.GetCurrentInstant());
            }
            if (tick % 20 == 0)
                await SaveHeardAsync(saved, stop);
        }
    }

    private async Task CountTrafficAsync(CancellationToken stop)
    {
        foreach (var site in sites.All.Where(s => s.Callouts.Any(LookedCounter.Draws)))
            try
            {
                site.TakeLookedAt(await traffic.CountAsync(site.Id, site.Callouts, clock.GetCurrentInstant(), stop));
            }
            catch (NpgsqlException away)
            {
                DatabaseAway(away);
            }
            catch (OperationCanceledException) when (stop.IsCancellationRequested)
            {
                return;
            }
    }

    // The last sign of life is kept for a restart; every few seconds is often enough.
    private async Task SaveHeardAsync(Dictionary<Guid, Instant?> saved, CancellationToken stop)
    {
        foreach (var site in sites.All.Where(s => s.HeardAt != saved.GetValueOrDefault(s.Id)))
        {
            saved[site.Id] = site.HeardAt;
            try
            {
                await using var db = database.Open();
                await db
                    .Sites.Where(s => s.Id == site.Id)
                    .ExecuteUpdateAsync(
                        u =>
                            u.SetProperty(s => s.HeardAt, site.HeardAt)
                                .SetProperty(s => s.HeardPage, site.HeardPage)
                                .SetProperty(s => s.FetchedAt, site.FetchedAt)
                                .SetProperty(s => s.FetchedFrom, site.FetchedFrom)
                                .SetProperty(s => s.RefusedAt, site.RefusedAt)
                                .SetProperty(s => s.RefusedHost, site.RefusedHost),
                        stop
                    );
                await SaveHostsAsync(db, site, stop);
            }
            catch (NpgsqlException away)
            {
                DatabaseAway(away);
            }
        }
    }

    private static async Task SaveHostsAsync(Store.OutcryDb db, LiveSite site, CancellationToken stop)
    {
        var kept = await db.HeardHosts.Where(h => h.SiteId == site.Id).ToDictionaryAsync(h => h.Host, stop);
        foreach (var (host, heard) in site.HostsHeard)
            if (!kept.TryGetValue(host, out var row))
                db.HeardHosts.Add(
                    new Store.Rows.HeardHostRow
                    {
                        WorkspaceId = site.WorkspaceId,
                        SiteId = site.Id,
                        Host = host,
                        HeardAt = heard.At,
                        Page = heard.Page,
                    }
                );
            else if (row.HeardAt < heard.At)
                (row.HeardAt, row.Page) = (heard.At, heard.Page);
        await db.SaveChangesAsync(stop);
    }

    private async Task ListenAsync(CancellationToken stop)
    {
        while (!stop.IsCancellationRequested)
            try
            {
                await using var connection = await source.OpenConnectionAsync(stop);
                var payloads = System.Threading.Channels.Channel.CreateUnbounded<string>();
                connection.Notification += (_, e) => payloads.Writer.TryWrite(e.Payload);
                await using (var listen = new NpgsqlCommand($"listen {SiteNews.Channel}", connection))
                    await listen.ExecuteNonQueryAsync(stop);
                while (!stop.IsCancellationRequested)
                {
                    await connection.WaitAsync(stop);
                    while (payloads.Reader.TryRead(out var payload))
                        await news.TakeUpAsync(payload, stop);
                }
            }
            catch (OperationCanceledException) when (stop.IsCancellationRequested)
            {
                return;
            }
            catch (NpgsqlException away)
            {
                DatabaseAway(away);
                await Task.Delay(TimeSpan.FromSeconds(1), stop).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
            }
    }

    private static async ValueTask<bool> WaitAsync(PeriodicTimer timer, CancellationToken stop)
    {
        try
        {
            return await timer.WaitForNextTickAsync(stop);
        }
        catch (OperationCanceledException)
        {
            return false;
        }
    }

    [LoggerMessage(1101, LogLevel.Warning, "The database is away; sites are served from memory")]
    private partial void DatabaseAway(Exception away);
}
