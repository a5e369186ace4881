using System.Collections.Concurrent;
using NodaTime;
using Npgsql;
using Outcry.Core.Pages;
using Outcry.Store.Signals;

namespace Outcry.Server.Sites;

/// <summary>One page's traffic over the last 30 days.</summary>
/// <param name="Page">The page: with the query parameters that a rule asks for, where it has any.</param>
/// <param name="Views">Page views.</param>
/// <param name="StayedPer5s">Ended page views by visible time in steps of 5 s; the last step holds all from 2 minutes.</param>
internal sealed record PageTraffic(PageAddress Page, int Views, int[] StayedPer5s)
{
    public string Path => Page.Path;
}

/// <summary>A site's traffic over the last 30 days.</summary>
/// <param name="Pages">Pages by views, most first.</param>
/// <param name="Days">Days covered, 1 to 30.</param>
internal sealed record SiteTraffic(IReadOnlyList<PageTraffic> Pages, double Days)
{
    public double ViewsADay(Func<PageAddress, bool> means) => Pages.Where(p => means(p.Page)).Sum(p => p.Views) / Days;
}

/// <summary>Reads traffic from the signals, at most once a minute a site.</summary>
internal sealed class TrafficReader(NpgsqlDataSource source, LiveSites sites, IClock clock)
{
    public const int Steps = 25;
    private const int StepMs = 5_000;

    /// <summary>Pages told apart, the most viewed ones; addresses that somebody made up by the thousand are not among them.</summary>
    private const int MostPages = 5_000;

    private readonly ConcurrentDictionary<Guid, (Instant At, SiteTraffic Traffic)> _known = new();

    public async Task<SiteTraffic> ReadAsync(Guid siteId, CancellationToken stop)
    {
        var now = clock.GetCurrentInstant();
        if (_known.TryGetValue(siteId, out var known) && now - known.At < Duration.FromMinutes(1))
            return known.Traffic;
        var traffic = await QueryAsync(siteId, sites.FindById(siteId)?.HomeHost ?? "", now, stop);
        _known[siteId] = (now, traffic);
        return traffic;
    }

    private async Task<SiteTraffic> QueryAsync(Guid siteId, string homeHost, Instant now, CancellationToken stop)
    {
        await using var command = source.CreateCommand(
            $"""
            with known as (
              select path from signals
              where site_id = $1 and day >= $2 and not is_test and kind = {(short)SignalKind.View}
              group by path order by count(*) desc, path limit {MostPages})
            select host, path, query, kind,
                   case when kind = {(short)SignalKind.Left} then greatest(0, least(value / {StepMs}, {Steps
                - 1})) else 0 end as step,
                   count(*)::int, min(at)
            from signals join known using (path)
            where site_id = $1 and day >= $2 and not is_test and kind in ({(short)SignalKind.View}, {(short)
                SignalKind.Left})
            group by 1, 2, 3, 4, 5
            """
        );
        command.Parameters.AddWithValue(siteId);
        command.Parameters.AddWithValue((now - Duration.FromDays(30)).InUtc().Date);
        var pages = new Dictionary<string, (PageAddress Page, int Views, int[] Steps)>();
        var first = now;
        await using var reader = await command.ExecuteReaderAsync(stop);
        while (await reader.ReadAsync(stop))
        {
            var page = PageAddress.Recorded(
                await reader.IsDBNullAsync(0, stop) ? homeHost : reader.GetString(0),
                reader.GetString(1),
                await reader.IsDBNullAsync(2, stop) ? "" : reader.GetString(2)
            );
            var (_, views, steps) = pages.GetValueOrDefault(page.ToNote(), (page, 0, new int[Steps]));
            if (reader.GetInt16(3) == (short)SignalKind.View)
                views += reader.GetInt32(5);
            else
                steps[reader.GetInt32(4)] += reader.GetInt32(5);
            pages[page.ToNote()] = (page, views, steps);
            first = Instant.Min(first, await reader.GetFieldValueAsync<Instant>(6, stop));
        }
        return new SiteTraffic(
            [
                .. pages
                    .Values.Select(p => new PageTraffic(p.Page, p.Views, p.Steps))
                    .OrderByDescending(p => p.Views)
                    .ThenBy(p => p.Path),
            ],
            Math.Clamp((now - first).TotalDays, 1, 30)
        );
    }
}
