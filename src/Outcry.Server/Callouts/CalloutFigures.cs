using NodaTime;
using Npgsql;
using Outcry.Store.Signals;

namespace Outcry.Server.Callouts;

/// <summary>How a callout has fared, over all time.</summary>
internal sealed record FiguresView(int Shown, int Clicked, int Closed, Instant? LastShownAt)
{
    public static FiguresView None { get; } = new(0, 0, 0, null);
}

/// <summary>Counts what the snippet reported of callouts.</summary>
internal sealed class CalloutFigures(NpgsqlDataSource source)
{
    public async Task<Dictionary<Guid, FiguresView>> ReadAsync(
        IReadOnlyCollection<Guid> callouts,
        CancellationToken stop
    )
    {
        await using var command = source.CreateCommand(
            $"""
            select callout_id,
                   count(*) filter (where kind = {(short)SignalKind.Shown})::int,
                   count(*) filter (where kind = {(short)SignalKind.Clicked})::int,
                   count(*) filter (where kind = {(short)SignalKind.Closed})::int,
                   max(at) filter (where kind = {(short)SignalKind.Shown})
            from signals where callout_id = any($1) and not is_test group by callout_id
            """
        );
        command.Parameters.AddWithValue(callouts.ToArray());
        var figures = new Dictionary<Guid, FiguresView>();
        await using var reader = await command.ExecuteReaderAsync(stop);
        while (await reader.ReadAsync(stop))
            figures[reader.GetGuid(0)] = new FiguresView(
                reader.GetInt32(1),
                reader.GetInt32(2),
                reader.GetInt32(3),
                await reader.IsDBNullAsync(4, stop) ? null : await reader.GetFieldValueAsync<Instant>(4, stop)
            );
        return figures;
    }
}
