using System.Runtime.CompilerServices;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Npgsql;

namespace Outcry.Store.Signals;

/// <summary>One report as it is read back for a visit.</summary>
/// <param name="Value">A figure that belongs to the kind, else 0.</param>
/// <param name="Traits">What was kept with the first page view of a visit, as JSON; null for nothing.</param>
public readonly record struct VisitReport(
    string VisitorId,
    int Visit,
    SignalKind Kind,
    Instant At,
    SignalPage Page,
    int Value,
    short Device,
    string? Traits
);

/// <summary>Reads back, in the order of visitors and time, what visits were made of; and clears what is too old.</summary>
public sealed class SignalRecord(NpgsqlDataSource source)
{
    private const string Where = """
        from signals
        where site_id = $1 and day between $2 and $3 and at >= $4 and at < $5 and kind = any($6) and not is_test
        """;

    private const int Lot = 5_000;

    private static readonly short[] Kinds = [(short)SignalKind.View, (short)SignalKind.Left, (short)SignalKind.Depth];

    /// <summary>How many reports a period holds.</summary>
    /// <param name="until">Not included.</param>
    public async Task<long> CountAsync(Guid siteId, Instant from, Instant until, CancellationToken stop)
    {
        await using var command = Command($"select count(*) {Where}", siteId, from, until);
        return (long)(await command.ExecuteScalarAsync(stop))!;
    }

    /// <summary>The reports of a period, visitor by visitor.</summary>
    /// <param name="until">Not included.</param>
    public async IAsyncEnumerable<VisitReport> ReadAsync(
        Guid siteId,
        Instant from,
        Instant until,
        [EnumeratorCancellation] CancellationToken stop
    )
    {
        await using var command = Command(
            $"select visitor_id, visit, kind, at, host, path, query, value, device, traits::text {Where} order by visitor_id, at, kind desc",
            siteId,
            from,
            until
        );
        await using var reader = await command.ExecuteReaderAsync(stop);
        while (await reader.ReadAsync(stop))
            yield return new VisitReport(
                reader.GetString(0),
                reader.GetInt32(1),
                (SignalKind)reader.GetInt16(2),
                reader.GetFieldValue<Instant>(3),
                new SignalPage(TextOrNull(reader, 4), reader.GetString(5), TextOrNull(reader, 6)),
                reader.GetInt32(7),
                reader.GetInt16(8),
                TextOrNull(reader, 9)
            );
    }

    /// <summary>Deletes a site's reports of the days before one, in lots: each lock is short, so that intake goes on meanwhile.</summary>
    /// <returns>How many went.</returns>
    public async Task<int> ClearAsync(Guid siteId, LocalDate before, CancellationToken stop)
    {
        var all = 0;
        int gone;
        do
        {
            await using var command = source.CreateCommand(
                "delete from signals s using (select id, day from signals where site_id = $1 and day < $2 limit $3) old where s.id = old.id and s.day = old.day"
            );
            command.Parameters.AddWithValue(siteId);
            command.Parameters.AddWithValue(before);
            command.Parameters.AddWithValue(Lot);
            gone = await command.ExecuteNonQueryAsync(stop);
            all += gone;
        } while (gone == Lot);
        return all;
    }

    /// <summary>Drops the days before one, whosever they are.</summary>
    /// <returns>How many went.</returns>
    public async Task<int> DropDaysAsync(LocalDate before, CancellationToken stop)
    {
        var names = new List<string>();
        await using (
            var list = source.CreateCommand(
                "select c.relname from pg_inherits i join pg_class c on c.oid = i.inhrelid where i.inhparent = 'signals'::regclass"
            )
        )
        await using (var reader = await list.ExecuteReaderAsync(stop))
            while (await reader.ReadAsync(stop))
                names.Add(reader.GetString(0));
        var dropped = 0;
        foreach (var name in names)
            if (SignalDays.DayOf(name) is { } day && day < before)
            {
                await using var drop = source.CreateCommand($"drop table if exists {name}");
                await drop.ExecuteNonQueryAsync(stop);
                dropped++;
            }
        return dropped;
    }

    private static string? TextOrNull(NpgsqlDataReader reader, int column) =>
        reader.IsDBNull(column) ? null : reader.GetString(column);

    private NpgsqlCommand Command(string sql, Guid siteId, Instant from, Instant until)
    {
        var command = source.CreateCommand(sql);
        command.Parameters.AddWithValue(siteId);
        command.Parameters.AddWithValue(from.InUtc().Date);
        command.Parameters.AddWithValue(until.InUtc().Date);
        command.Parameters.AddWithValue(from);
        command.Parameters.AddWithValue(until);
        command.Parameters.AddWithValue(Kinds);
        return command;
    }
}

/// <summary>What is done to signals within a transaction of others.</summary>
public static class SignalErasure
{
    /// <summary>Forgets what was kept of visits beside their pages.</summary>
    public static Task ForgetTraitsAsync(
        this OutcryDb db,
        Guid siteId,
        List<string> visitors,
        CancellationToken stop
    ) =>
        db.Database.ExecuteSqlAsync(
            $"update signals set traits = null where site_id = {siteId} and visitor_id = any({visitors}) and traits is not null",
            stop
        );
}

/// <summary>Names of the tables that hold a day of signals each.</summary>
internal static class SignalDays
{
    private const string Prefix = "signals_";

    private static readonly NodaTime.Text.LocalDatePattern Pattern =
        NodaTime.Text.LocalDatePattern.CreateWithInvariantCulture("uuuuMMdd");

    public static string NameOf(LocalDate day) => Prefix + Pattern.Format(day);

    /// <summary>The day of a table; null for one of another sort.</summary>
    public static LocalDate? DayOf(string name) =>
        name.StartsWith(Prefix, StringComparison.Ordinal)
        && Pattern.Parse(name[Prefix.Length..]) is { Success: true } day
            ? day.Value
            : null;
}
