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
    IEnumerable<INewsTaker> takers,
    NpgsqlDataSource source,
    LoopWatch watch,
    IClock clock,
    ILogger<SiteKeeper> log
) : BackgroundService, IBeforeReady
{
    private static readonly TimeSpan Tick = TimeSpan.FromMilliseconds(150);

    /// <summary>Relative times are said to the minute, so windows and wording are renewed well within one.</summary>
    private const int TicksPerRenewal = 100;

    /// <summary>Windows of page views are counted in the database, about once a minute.</summary>
    private const int TicksPerCount = 400;

    /// <summary>Signs of life are saved every three seconds.</summary>
    private const int TicksPerSave = 20;

    private const string Refreshing = "refresh of live sites";
    private const string Listening = "news of other nodes";

    public Task PrepareAsync(CancellationToken stop) => sites.LoadAllAsync(stop);

    protected override Task ExecuteAsync(CancellationToken stoppingToken) =>
        Task.WhenAll(
            watch.KeepAsync(Refreshing, RefreshAsync, stoppingToken),
            watch.KeepAsync(Listening, ListenAsync, stoppingToken)
        );

    private async Task RefreshAsync(CancellationToken stop)
    {
        using var timer = new PeriodicTimer(Tick);
        var saved = new Dictionary<Guid, Instant?>();
        for (var tick = 1; await timer.WaitForNextTickAsync(stop); tick++)
        {
            var renew = tick % TicksPerRenewal == 0;
            if (tick % TicksPerCount == 0)
            {
                await EachAsync("traffic of site", CountTrafficAsync, stop);
                await TryAsync("sites that could not be loaded", () => sites.LoadMissingAsync(stop), stop);
            }
            foreach (var site in sites.All)
                Refresh(site, renew);
            if (tick % TicksPerSave == 0)
                await EachAsync("signs of life of site", (site, end) => SaveHeardAsync(site, saved, end), stop);
            watch.WentRound(Refreshing);
        }
    }

    private void Refresh(LiveSite site, bool renew)
    {
        try
        {
            site.TakeTeam(team.ThereOf(site.WorkspaceId));
            var began = System.Diagnostics.Stopwatch.GetTimestamp();
            site.Refresh(clock.GetCurrentInstant(), renew);
            Telemetry.Refreshed(System.Diagnostics.Stopwatch.GetElapsedTime(began));
            // Counting forgets those who have gone; otherwise memory would keep every visitor there ever was.
            if (renew)
                site.Presence.Count(clock.GetCurrentInstant());
        }
        catch (Exception failure)
        {
            // Its last good state goes on serving, and the other sites are refreshed as ever.
            watch.PassedOver($"site {site.Id} cannot be refreshed", failure);
        }
    }

    // One site's trouble is its own: the others have their turn, and the loop goes on.
    private async Task EachAsync(string what, Func<LiveSite, CancellationToken, Task> doAsync, CancellationToken stop)
    {
        foreach (var site in sites.All)
            await TryAsync($"{what} {site.Id}", () => doAsync(site, stop), stop);
    }

    private async Task TryAsync(string what, Func<Task> doAsync, CancellationToken stop)
    {
        try
        {
            await doAsync();
        }
        catch (Exception away) when (!stop.IsCancellationRequested && Problems.IsDatabaseAway(away))
        {
            DatabaseAway(away);
        }
        catch (Exception failure) when (!stop.IsCancellationRequested)
        {
            watch.PassedOver(what, failure);
        }
    }

    private async Task CountTrafficAsync(LiveSite site, CancellationToken stop)
    {
        if (site.Callouts.Any(LookedCounter.Draws))
            site.TakeLookedAt(
                await traffic.CountAsync(site.Id, site.HomeHost, site.Callouts, clock.GetCurrentInstant(), stop)
            );
    }

    // The last sign of life is kept for a restart; every few seconds is often enough.
    private async Task SaveHeardAsync(LiveSite site, Dictionary<Guid, Instant?> saved, CancellationToken stop)
    {
        if (site.Hearing.HeardAt == saved.GetValueOrDefault(site.Id))
            return;
        var heardAt = site.Hearing.HeardAt;
        await using var db = database.Open();
        await db
            .Sites.Where(s => s.Id == site.Id)
            .ExecuteUpdateAsync(
                u =>
                    u.SetProperty(s => s.HeardAt, heardAt)
                        .SetProperty(s => s.HeardPage, site.Hearing.HeardPage)
                        .SetProperty(s => s.FetchedAt, site.Hearing.FetchedAt)
                        .SetProperty(s => s.FetchedFrom, site.Hearing.FetchedFrom)
                        .SetProperty(s => s.RefusedAt, site.Hearing.RefusedAt)
                        .SetProperty(s => s.RefusedHost, site.Hearing.RefusedHost),
                stop
            );
        await SaveHostsAsync(db, site, stop);
        saved[site.Id] = heardAt;
    }

    private static async Task SaveHostsAsync(Store.OutcryDb db, LiveSite site, CancellationToken stop)
    {
        var kept = await db.HeardHosts.Where(h => h.SiteId == site.Id).ToDictionaryAsync(h => h.Host, stop);
        foreach (var (host, heard) in site.Hearing.Hosts)
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
        // As many as memory keeps: the table is not where made-up hosts pile up either.
        db.HeardHosts.RemoveRange(
            kept.Values.Concat(db.HeardHosts.Local)
                .Distinct()
                .OrderByDescending(h => h.HeardAt)
                .Skip(SiteHearing.MostHosts)
        );
        await db.SaveChangesAsync(stop);
    }

    private async Task ListenAsync(CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        var payloads = System.Threading.Channels.Channel.CreateUnbounded<(string Channel, string Payload)>();
        connection.Notification += (_, e) => payloads.Writer.TryWrite((e.Channel, e.Payload));
        var channels = takers.Select(t => t.Channel).Append(SiteNews.Channel);
        await using (var listen = new NpgsqlCommand(string.Join(';', channels.Select(c => $"listen {c}")), connection))
            await listen.ExecuteNonQueryAsync(stop);
        // Whatever was told while nobody listened here is made up for by reading everything anew.
        if (_hasListened)
        {
            await sites.LoadAllAsync(stop);
            foreach (var taker in takers)
                taker.MayHaveMissed();
        }
        _hasListened = true;
        while (!stop.IsCancellationRequested)
        {
            watch.WentRound(Listening);
            // Silence is no sign of life: the connection is asked now and then whether it is still there.
            if (!await connection.WaitAsync(Silence, stop))
            {
                await using var ask = new NpgsqlCommand("select 1", connection);
                await ask.ExecuteScalarAsync(stop);
            }
            while (payloads.Reader.TryRead(out var payload))
                await TryAsync(
                    "news of another node",
                    () =>
                        takers.FirstOrDefault(t => t.Channel == payload.Channel) is { } taker
                            ? taker.TakeUpAsync(payload.Payload, stop)
                            : news.TakeUpAsync(payload.Payload, stop),
                    stop
                );
        }
    }

    private static readonly TimeSpan Silence = TimeSpan.FromSeconds(30);
    private bool _hasListened;

    [LoggerMessage(1101, LogLevel.Warning, "The database is away; sites are served from memory")]
    private partial void DatabaseAway(Exception away);
}
