using System.Runtime.CompilerServices;
using NodaTime;
using Npgsql;

namespace Outcry.Store.Signals;

/// <summary>How often a callout was met.</summary>
/// <param name="LastShownAt">When it was last seen; null for never.</param>
public readonly record struct CalloutCounts(Guid CalloutId, int Shown, int Clicked, int Closed, Instant? LastShownAt);

/// <summary>A page as it was recorded.</summary>
/// <param name="Host">Its host where that is not the site's own.</param>
/// <param name="Query">Its query parameters that were kept; null for none.</param>
public readonly record struct SignalPage(string? Host, string Path, string? Query);

/// <summary>What one visitor looked at, page by page.</summary>
/// <param name="First">When for the first time.</param>
public readonly record struct PageLooks(SignalPage Page, string VisitorId, int Views, Instant First);

/// <summary>Reports of one sort on one page.</summary>
/// <param name="Step">For ended page views: visible time in steps; else 0.</param>
/// <param name="First">When the first of them came.</param>
public readonly record struct PageReportCount(SignalPage Page, SignalKind Kind, int Step, int Count, Instant First);

/// <summary>Page views of one visitor on one page, in the last hour, day, week and 30 days.</summary>
public readonly record struct PageWindows(
    SignalPage Page,
    string VisitorId,
    bool IsTest,
    int Hour,
    int Day,
    int Week,
    int Month,
    Instant First
);

/// <summary>How one visitor met one callout.</summary>
public readonly record struct CalloutMet(
    string VisitorId,
    Guid CalloutId,
    int Visits,
    Instant LastAt,
    int LastVisit,
    Instant? ClosedAt,
    Instant? ClickedAt
);

/// <summary>Counts what snippets reported.</summary>
public sealed class SignalFigures(NpgsqlDataSource source)
{
    /// <summary>Pages told apart, the most viewed ones; addresses that somebody made up by the thousand are not among them.</summary>
    public const int MostPages = 5_000;

    private static readonly int View = (int)SignalKind.View;

    /// <summary>How each of the callouts has fared, over all time; those never met are not among them.</summary>
    public async Task<List<CalloutCounts>> OfCalloutsAsync(IReadOnlyCollection<Guid> callouts, CancellationToken stop)
    {
        await using var command = Command(
            $"""
            select callout_id,
                   count(*) filter (where kind = {(short)SignalKind.Shown})::int,
                   count(*) filter (where kind = {(short)SignalKind.Clicked})::int,
                   count(*) filter (where kind = {(short)SignalKind.Closed})::int,
                   max(at) filter (where kind = {(short)SignalKind.Shown})
            from signals where callout_id = any($1) and not is_test group by callout_id
            """,
            callouts.ToArray()
        );
        return await ListAsync(
            command,
            r => new CalloutCounts(r.GetGuid(0), r.GetInt32(1), r.GetInt32(2), r.GetInt32(3), InstantOrNull(r, 4)),
            stop
        );
    }

    /// <summary>How many different visitors have seen a callout since a moment.</summary>
    public async Task<int> VisitorsOfAsync(Guid callout, Instant since, CancellationToken stop)
    {
        await using var command = Command(
            $"""
            select count(distinct visitor_id)::int from signals
            where callout_id = $1 and kind = {(short)
                SignalKind.Shown} and at >= $2 and day >= ($2 at time zone 'utc')::date and not is_test
            """,
            callout,
            since
        );
        return (await ListAsync(command, r => r.GetInt32(0), stop))[0];
    }

    /// <summary>When a page was last viewed, and how often since a day; null for never.</summary>
    public async Task<(Instant At, int Views)?> OfPageAsync(
        Guid siteId,
        string path,
        LocalDate since,
        CancellationToken stop
    )
    {
        await using var command = Command(
            $"""
            select max(at), count(*)::int from signals
            where site_id = $1 and day >= $2 and path = $3 and kind = {View}
            having count(*) > 0
            """,
            siteId,
            since,
            path
        );
        var found = await ListAsync(command, r => (r.GetFieldValue<Instant>(0), r.GetInt32(1)), stop);
        return found is [var only] ? only : null;
    }

    /// <summary>What visitors looked at after an instant.</summary>
    public async Task<List<PageLooks>> LooksAsync(Guid siteId, Instant after, CancellationToken stop)
    {
        await using var command = Command(
            $"""
            select host, path, query, visitor_id, count(*)::int, min(at) from signals
            where site_id = $1 and day >= $2 and at > $3 and kind = {View} and not is_test
            group by path, visitor_id, host, query
            """,
            siteId,
            after.InUtc().Date,
            after
        );
        return await ListAsync(
            command,
            r => new PageLooks(PageOf(r), r.GetString(3), r.GetInt32(4), r.GetFieldValue<Instant>(5)),
            stop
        );
    }

    /// <summary>Views and ends on the most viewed pages since a day.</summary>
    /// <param name="stepMs">Length of a step of visible time, in milliseconds.</param>
    /// <param name="steps">How many steps; the last holds all that is longer.</param>
    public async Task<List<PageReportCount>> ReportsAsync(
        Guid siteId,
        LocalDate since,
        int stepMs,
        int steps,
        CancellationToken stop
    )
    {
        var left = (short)SignalKind.Left;
        await using var command = Command(
            $"""
            with known as (
              select path from signals
              where site_id = $1 and day >= $2 and not is_test and kind = {View}
              group by path order by count(*) desc, path limit {MostPages})
            select host, path, query, kind,
                   case when kind = {left} then greatest(0, least(value / $3, $4 - 1)) else 0 end as step,
                   count(*)::int, min(at)
            from signals join known using (path)
            where site_id = $1 and day >= $2 and not is_test and kind in ({View}, {left})
            group by 1, 2, 3, 4, 5
            """,
            siteId,
            since,
            stepMs,
            steps
        );
        return await ListAsync(
            command,
            r => new PageReportCount(
                PageOf(r),
                (SignalKind)r.GetInt16(3),
                r.GetInt32(4),
                r.GetInt32(5),
                r.GetFieldValue<Instant>(6)
            ),
            stop
        );
    }

    /// <summary>Page views by visitor and page in four windows that end now, test hosts apart.</summary>
    public async IAsyncEnumerable<PageWindows> WindowsAsync(
        Guid siteId,
        Instant now,
        [EnumeratorCancellation] CancellationToken stop
    )
    {
        await using var command = Command(
            $"""
            select host, path, query, visitor_id, is_test,
                   count(*) filter (where at > $3 - interval '1 hour')::int, count(*) filter (where at > $3 - interval '1 day')::int,
                   count(*) filter (where at > $3 - interval '7 days')::int, count(*)::int, min(at)
            from signals where site_id = $1 and day >= $2 and at > $3 - interval '30 days' and kind = {View}
            group by 1, 2, 3, 4, 5
            """,
            siteId,
            (now - Duration.FromDays(30)).InUtc().Date,
            now
        );
        await using var reader = await command.ExecuteReaderAsync(stop);
        while (await reader.ReadAsync(stop))
            yield return new PageWindows(
                PageOf(reader),
                reader.GetString(3),
                reader.GetBoolean(4),
                reader.GetInt32(5),
                reader.GetInt32(6),
                reader.GetInt32(7),
                reader.GetInt32(8),
                reader.GetFieldValue<Instant>(9)
            );
    }

    /// <summary>The most viewed pages between two instants.</summary>
    public async Task<List<SignalPage>> PagesAsync(Guid siteId, Instant from, Instant until, CancellationToken stop)
    {
        await using var command = Command(
            $"""
            select host, path, query {Hits} group by 1, 2, 3 order by count(*) desc, 2 limit {MostPages}
            """,
            siteId,
            from.InUtc().Date,
            from,
            until
        );
        return await ListAsync(command, PageOf, stop);
    }

    /// <summary>Distinct visitors of some pages between two instants, and at the busiest minute of each day back from the later one.</summary>
    /// <returns>Days without a view have no busiest minute.</returns>
    public async Task<(int Visitors, int[] BusiestMinutes)> VisitorsAsync(
        Guid siteId,
        IReadOnlyList<SignalPage> pages,
        Instant from,
        Instant until,
        CancellationToken stop
    )
    {
        await using var command = Command(
            $"""
            with hits as materialized (
              select visitor_id, at from (select visitor_id, at, coalesce(host, '') as host, path, coalesce(query, '') as query {Hits}) seen
              join unnest($5, $6, $7) as page (host, path, query) using (host, path, query)),
            minutes as (
              select floor(extract(epoch from $4 - at) / 86400) as back, count(distinct visitor_id)::int as visitors
              from hits group by back, date_trunc('minute', at))
            select (select count(distinct visitor_id)::int from hits), array(select max(visitors) from minutes group by back)
            """,
            siteId,
            from.InUtc().Date,
            from,
            until,
            pages.Select(p => p.Host ?? "").ToArray(),
            pages.Select(p => p.Path).ToArray(),
            pages.Select(p => p.Query ?? "").ToArray()
        );
        return (await ListAsync(command, r => (r.GetInt32(0), r.GetFieldValue<int[]>(1)), stop))[0];
    }

    /// <summary>Different visitors of some sites since a moment; those of test hosts do not count.</summary>
    public async Task<int> VisitorsSinceAsync(IReadOnlyCollection<Guid> sites, Instant from, CancellationToken stop)
    {
        await using var command = source.CreateCommand(
            $"""
            select count(distinct visitor_id)::int from signals
            where site_id = any($1) and day >= $2 and at >= $3 and kind = {View} and not is_test
            """
        );
        command.Parameters.AddWithValue(sites.ToArray());
        command.Parameters.AddWithValue(from.InUtc().Date);
        command.Parameters.AddWithValue(from);
        return (int)(await command.ExecuteScalarAsync(stop))!;
    }

    /// <summary>How visitors met callouts since a day.</summary>
    public async Task<List<CalloutMet>> MetAsync(Guid siteId, LocalDate since, CancellationToken stop)
    {
        await using var command = Command(
            $"""
            select visitor_id, callout_id, count(distinct visit)::int, max(at), max(visit),
                   max(at) filter (where kind = {(short)SignalKind.Closed}),
                   max(at) filter (where kind = {(short)SignalKind.Clicked})
            from signals
            where site_id = $1 and day >= $2 and callout_id is not null and not is_test
            group by 1, 2
            """,
            siteId,
            since
        );
        return await ListAsync(
            command,
            r => new CalloutMet(
                r.GetString(0),
                r.GetGuid(1),
                r.GetInt32(2),
                r.GetFieldValue<Instant>(3),
                r.GetInt32(4),
                InstantOrNull(r, 5),
                InstantOrNull(r, 6)
            ),
            stop
        );
    }

    private static readonly string Hits =
        $"from signals where site_id = $1 and day >= $2 and at >= $3 and at <= $4 and kind = {View} and not is_test";

    // Every page is read as host, path and query, in this order and first.
    private static SignalPage PageOf(NpgsqlDataReader reader) =>
        new(TextOrNull(reader, 0), reader.GetString(1), TextOrNull(reader, 2));

    private static string? TextOrNull(NpgsqlDataReader reader, int column) =>
        reader.IsDBNull(column) ? null : reader.GetString(column);

    private static Instant? InstantOrNull(NpgsqlDataReader reader, int column) =>
        reader.IsDBNull(column) ? null : reader.GetFieldValue<Instant>(column);

    private NpgsqlCommand Command(string sql, params object[] values)
    {
        var command = source.CreateCommand(sql);
        foreach (var value in values)
            command.Parameters.AddWithValue(value);
        return command;
    }

    private static async Task<List<T>> ListAsync<T>(
        NpgsqlCommand command,
        Func<NpgsqlDataReader, T> read,
        CancellationToken stop
    )
    {
        var list = new List<T>();
        await using var reader = await command.ExecuteReaderAsync(stop);
        while (await reader.ReadAsync(stop))
            list.Add(read(reader));
        return list;
    }
}
