using System.Collections.Concurrent;
using NodaTime;
using Npgsql;
using Outcry.Core.Pages;
using Outcry.Store.Signals;

namespace Outcry.Server.Sites;

/// <summary>One page's traffic over the last 30 days.</summary>
/// <param name="Path">The page.</param>
/// <param name="Views">Page views.</param>
/// <param name="StayedPer5s">Ended page views by visible time in steps of 5 s; the last step holds all from 2 minutes.</param>
internal sealed record PageTraffic(string Path, int Views, int[] StayedPer5s);

/// <summary>A site's traffic over the last 30 days.</summary>
/// <param name="Pages">Pages by views, most first.</param>
/// <param name="Days">Days covered, 1 to 30.</param>
internal sealed record SiteTraffic(IReadOnlyList<PageTraffic> Pages, double Days)
{
    public double ViewsADay(Func<PageAddress, bool> means, string host) =>
        Pages.Where(p => means(PageAddress.At(host, p.Path))).Sum(p => p.Views) / Days;
}

/// <summary>Reads traffic from the signals, at most once a minute a site.</summary>
internal sealed class TrafficReader(NpgsqlDataSource source, IClock clock)
{
    public const int Steps = 25;
    private const int StepMs = 5_000;

    private readonly ConcurrentDictionary<Guid, (Instant At, SiteTraffic Traffic)> _known = new();

    public async Task<SiteTraffic> ReadAsync(Guid siteId, CancellationToken stop)
    {
        var now = clock.GetCurrentInstant();
        if (_known.TryGetValue(siteId, out var known) && now - known.At < Duration.FromMinutes(1))
            return known.Traffic;
        var traffic = await QueryAsync(siteId, now, stop);
        _known[siteId] = (now, traffic);
        return traffic;
    }

    private async Task<SiteTraffic> QueryAsync(Guid siteId, Instant now, CancellationToken stop)
    {
        await using var command = source.CreateCommand(
            $"""
            select path, kind, case when kind = {(short)SignalKind.Left} then least(value / {StepMs}, {Steps
                - 1}) else 0 end as step,
                   count(*)::int, min(at)
            from signals
            where site_id = $1 and day >= $2 and not is_test and kind in ({(short)SignalKind.View}, {(short)SignalKind.Left})
            group by 1, 2, 3
            """
        );
        command.Parameters.AddWithValue(siteId);
        command.Parameters.AddWithValue((now - Duration.FromDays(30)).InUtc().Date);
        var pages = new Dictionary<string, (int Views, int[] Steps)>();
        var first = now;
        await using var reader = await command.ExecuteReaderAsync(stop);
        while (await reader.ReadAsync(stop))
        {
            var path = reader.GetString(0);
            var (views, steps) = pages.GetValueOrDefault(path, (0, new int[Steps]));
            if (reader.GetInt16(1) == (short)SignalKind.View)
                views += reader.GetInt32(3);
            else
                steps[reader.GetInt32(2)] += reader.GetInt32(3);
            pages[path] = (views, steps);
            first = Instant.Min(first, await reader.GetFieldValueAsync<Instant>(4, stop));
        }
        return new SiteTraffic(
            [
                .. pages
                    .Select(p => new PageTraffic(p.Key, p.Value.Views, p.Value.Steps))
                    .OrderByDescending(p => p.Views)
                    .ThenBy(p => p.Path),
            ],
            Math.Clamp((now - first).TotalDays, 1, 30)
        );
    }
}
