using NodaTime;
using NodaTime.Text;
using Npgsql;
using NpgsqlTypes;

namespace Outcry.Store.Signals;

/// <summary>Writes signals in bulk: one binary COPY and one commit for many, each id once.</summary>
public sealed class SignalCopy(NpgsqlDataSource source)
{
    private const string Columns =
        "id, day, site_id, at, kind, visitor_id, visit, path, callout_id, value, device, is_test, traits, host, query";

    // A number of our own among the database's advisory locks.
    private const long OneDayAtATime = 0x4F75_7463_7279_0001;

    private readonly HashSet<LocalDate> _days = [];

    /// <summary>Writes all, or nothing when it throws.</summary>
    /// <exception cref="NpgsqlException">The database is away.</exception>
    public async Task WriteAsync(IReadOnlyCollection<Signal> signals, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        foreach (var day in signals.Select(s => s.At.InUtc().Date).Distinct())
            await EnsureDayAsync(connection, day, stop);
        try
        {
            await CopyAsync(connection, "signals", signals, stop);
        }
        catch (PostgresException clash) when (clash.SqlState == PostgresErrorCodes.UniqueViolation)
        {
            await CopyNewOnesAsync(connection, signals, stop);
        }
    }

    // The slower way, taken only when something was sent twice: through a table of this transaction's own.
    private static async Task CopyNewOnesAsync(
        NpgsqlConnection connection,
        IReadOnlyCollection<Signal> signals,
        CancellationToken stop
    )
    {
        await using var transaction = await connection.BeginTransactionAsync(stop);
        await RunAsync(connection, "create temp table incoming (like signals) on commit drop", stop);
        await CopyAsync(connection, "incoming", signals, stop);
        await RunAsync(
            connection,
            $"insert into signals ({Columns}) select {Columns} from incoming on conflict do nothing",
            stop
        );
        await transaction.CommitAsync(stop);
    }

    private static async Task CopyAsync(
        NpgsqlConnection connection,
        string table,
        IEnumerable<Signal> signals,
        CancellationToken stop
    )
    {
        await using var writer = await connection.BeginBinaryImportAsync(
            $"copy {table} ({Columns}) from stdin (format binary)",
            stop
        );
        foreach (var signal in signals)
        {
            await writer.StartRowAsync(stop);
            await writer.WriteAsync(signal.Id, NpgsqlDbType.Uuid, stop);
            await writer.WriteAsync(signal.At.InUtc().Date, NpgsqlDbType.Date, stop);
            await writer.WriteAsync(signal.SiteId, NpgsqlDbType.Uuid, stop);
            await writer.WriteAsync(signal.At, NpgsqlDbType.TimestampTz, stop);
            await writer.WriteAsync((short)signal.Kind, NpgsqlDbType.Smallint, stop);
            await writer.WriteAsync(signal.VisitorId, NpgsqlDbType.Text, stop);
            await writer.WriteAsync(signal.Visit, NpgsqlDbType.Integer, stop);
            await writer.WriteAsync(signal.Path, NpgsqlDbType.Text, stop);
            if (signal.CalloutId is { } callout)
                await writer.WriteAsync(callout, NpgsqlDbType.Uuid, stop);
            else
                await writer.WriteNullAsync(stop);
            await writer.WriteAsync(signal.Value, NpgsqlDbType.Integer, stop);
            await writer.WriteAsync(signal.Device, NpgsqlDbType.Smallint, stop);
            await writer.WriteAsync(signal.IsTest, NpgsqlDbType.Boolean, stop);
            await WriteOrNullAsync(writer, signal.Traits?.Write(), NpgsqlDbType.Jsonb, stop);
            await WriteOrNullAsync(writer, signal.Host, NpgsqlDbType.Text, stop);
            await WriteOrNullAsync(writer, signal.Query, NpgsqlDbType.Text, stop);
        }
        await writer.CompleteAsync(stop);
    }

    private static Task WriteOrNullAsync(
        NpgsqlBinaryImporter writer,
        string? text,
        NpgsqlDbType type,
        CancellationToken stop
    ) => text is null ? writer.WriteNullAsync(stop) : writer.WriteAsync(text, type, stop);

    private async Task EnsureDayAsync(NpgsqlConnection connection, LocalDate day, CancellationToken stop)
    {
        lock (_days)
            if (_days.Contains(day))
                return;
        var name = SignalDays.NameOf(day);
        var next = day.PlusDays(1);
        try
        {
            // Within its day an id stands once; the day in its key would only make it dearer to tell from others. One makes a
            // day at a time: two would each hold what the other waits for, their own table and the one it is a part of.
            await RunAsync(
                connection,
                $"select pg_advisory_xact_lock({OneDayAtATime}); create table if not exists {name} partition of signals (primary key (id)) for values from ('{LocalDatePattern.Iso.Format(day)}') to ('{LocalDatePattern.Iso.Format(next)}')",
                stop
            );
        }
        // Another node may make the same day at the same instant; then it is made.
        catch (PostgresException race)
            when (race.SqlState is PostgresErrorCodes.DuplicateTable or PostgresErrorCodes.UniqueViolation) { }
        lock (_days)
            _days.Add(day);
    }

    private static async Task RunAsync(NpgsqlConnection connection, string sql, CancellationToken stop)
    {
        await using var command = new NpgsqlCommand(sql, connection);
        await command.ExecuteNonQueryAsync(stop);
    }
}
