using NodaTime;
using Npgsql;
using Outcry.Core.Pages;
using Outcry.Server.Sites;
using Outcry.Store.Signals;

namespace Outcry.Server.Callouts;

/// <summary>Visitors counted on some pages.</summary>
/// <param name="Week">Distinct visitors in the last seven days.</param>
/// <param name="BusyMinute">Distinct visitors at each day's busiest minute: the middle one of the seven days' numbers.</param>
internal readonly record struct VisitorCounts(int Week, int BusyMinute);

/// <summary>Counts the visitors of a page group from what their browsers reported; nothing is estimated.</summary>
internal sealed class GroupVisitors(NpgsqlDataSource source)
{
    private const int Days = 7;

    /// <summary>Pages told apart, the most viewed ones; addresses that somebody made up by the thousand are not among them.</summary>
    private const int MostPages = 5_000;

    private const string Hits =
        "from signals where site_id = $1 and day >= $2 and at >= $3 and at <= $4 and kind = $5 and not is_test";

    public async Task<VisitorCounts> CountAsync(LiveSite site, PageRule rule, Instant now, CancellationToken stop)
    {
        var pages = await PagesOfAsync(site, rule, now, stop);
        if (pages.Count == 0)
            return default;
        await using var command = Command(
            $"""
            with hits as materialized (
              select visitor_id, at from (select visitor_id, at, coalesce(host, '') as host, path, coalesce(query, '') as query {Hits}) seen
              join unnest($6, $7, $8) as page (host, path, query) using (host, path, query)),
            minutes as (
              select floor(extract(epoch from $4 - at) / 86400) as back, count(distinct visitor_id)::int as visitors
              from hits group by back, date_trunc('minute', at))
            select (select count(distinct visitor_id)::int from hits), array(select max(visitors) from minutes group by back)
            """,
            site.Id,
            now
        );
        command.Parameters.AddWithValue(pages.Select(p => p.Host).ToArray());
        command.Parameters.AddWithValue(pages.Select(p => p.Path).ToArray());
        command.Parameters.AddWithValue(pages.Select(p => p.Query).ToArray());
        await using var reader = await command.ExecuteReaderAsync(stop);
        await reader.ReadAsync(stop);
        // A day without a view had nobody at its busiest minute.
        var busiest = reader.GetFieldValue<int[]>(1).Concat(Enumerable.Repeat(0, Days)).Take(Days).Order().ToArray();
        return new VisitorCounts(reader.GetInt32(0), busiest[Days / 2]);
    }

    private async Task<List<(string Host, string Path, string Query)>> PagesOfAsync(
        LiveSite site,
        PageRule rule,
        Instant now,
        CancellationToken stop
    )
    {
        await using var command = Command(
            $"""
            select coalesce(host, ''), path, coalesce(query, '') {Hits}
            group by 1, 2, 3 order by count(*) desc, 2 limit {MostPages}
            """,
            site.Id,
            now
        );
        await using var reader = await command.ExecuteReaderAsync(stop);
        var pages = new List<(string Host, string Path, string Query)>();
        while (await reader.ReadAsync(stop))
        {
            var (host, path, query) = (reader.GetString(0), reader.GetString(1), reader.GetString(2));
            var page = PageAddress.Recorded(host.Length == 0 ? site.HomeHost : host, path, query);
            if (rule.Decide(page).Shown)
                pages.Add((host, path, query));
        }
        return pages;
    }

    private NpgsqlCommand Command(string sql, Guid siteId, Instant now)
    {
        var from = now - Duration.FromDays(Days);
        var command = source.CreateCommand(sql);
        command.Parameters.AddWithValue(siteId);
        command.Parameters.AddWithValue(from.InUtc().Date);
        command.Parameters.AddWithValue(from);
        command.Parameters.AddWithValue(now);
        command.Parameters.AddWithValue((short)SignalKind.View);
        return command;
    }
}
