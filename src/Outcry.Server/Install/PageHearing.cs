using NodaTime;
using Npgsql;
using Outcry.Store.Signals;

namespace Outcry.Server.Install;

/// <summary>When a page was last heard from, and how often it was viewed in the last 30 days.</summary>
internal sealed record PageHeard(Instant At, int Views);

/// <summary>Asks the page views whether the snippet was ever heard from a page.</summary>
internal sealed class PageHearing(NpgsqlDataSource source)
{
    public async Task<PageHeard?> FindAsync(Guid siteId, string path, Instant now, CancellationToken stop)
    {
        await using var command = source.CreateCommand(
            $"""
            select max(at), count(*)::int from signals
            where site_id = $1 and day >= $3 and path = $2 and kind = {(short)SignalKind.View}
            """
        );
        command.Parameters.AddWithValue(siteId);
        command.Parameters.AddWithValue(path);
        command.Parameters.AddWithValue((now - Duration.FromDays(30)).InUtc().Date);
        await using var reader = await command.ExecuteReaderAsync(stop);
        await reader.ReadAsync(stop);
        return await reader.IsDBNullAsync(0, stop)
            ? null
            : new PageHeard(await reader.GetFieldValueAsync<Instant>(0, stop), reader.GetInt32(1));
    }
}
