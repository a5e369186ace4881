using System.Text.Json;
using Npgsql;
using NpgsqlTypes;
using Outcry.Store.Rows;

namespace Outcry.Store.Events;

/// <summary>Writes events in bulk: one binary COPY into a table of the transaction's own, then what is new into the ledger.</summary>
public sealed class EventCopy(NpgsqlDataSource source)
{
    private static readonly (string Column, NpgsqlDbType Type, Func<EventRow, object?> Value)[] Columns =
    [
        ("id", NpgsqlDbType.Uuid, e => e.Id),
        ("workspace_id", NpgsqlDbType.Uuid, e => e.WorkspaceId),
        ("site_id", NpgsqlDbType.Uuid, e => e.SiteId),
        ("source_id", NpgsqlDbType.Uuid, e => e.SourceId),
        ("external_id", NpgsqlDbType.Text, e => e.ExternalId),
        ("kind", NpgsqlDbType.Text, e => e.Kind.ToString()),
        ("at", NpgsqlDbType.TimestampTz, e => e.At),
        ("received_at", NpgsqlDbType.TimestampTz, e => e.ReceivedAt),
        ("state", NpgsqlDbType.Text, e => e.State.ToString()),
        ("held_because", NpgsqlDbType.Text, e => e.HeldBecause),
        ("first_name", NpgsqlDbType.Text, e => e.FirstName),
        ("last_initial", NpgsqlDbType.Text, e => e.LastInitial),
        ("masked_name", NpgsqlDbType.Text, e => e.MaskedName),
        ("masked_email", NpgsqlDbType.Text, e => e.MaskedEmail),
        ("masked_phone", NpgsqlDbType.Text, e => e.MaskedPhone),
        ("city", NpgsqlDbType.Text, e => e.City),
        ("region", NpgsqlDbType.Text, e => e.Region),
        ("country", NpgsqlDbType.Text, e => e.Country),
        ("person_key", NpgsqlDbType.Text, e => e.PersonKey),
        ("phone_key", NpgsqlDbType.Text, e => e.PhoneKey),
        ("visitor_id", NpgsqlDbType.Text, e => e.VisitorId),
        ("page", NpgsqlDbType.Text, e => e.Page),
        ("product_name", NpgsqlDbType.Text, e => e.ProductName),
        ("product_address", NpgsqlDbType.Text, e => e.ProductAddress),
        ("product_picture", NpgsqlDbType.Text, e => e.ProductPicture),
        ("product_category", NpgsqlDbType.Text, e => e.ProductCategory),
        ("amount", NpgsqlDbType.Numeric, e => e.Amount),
        ("currency", NpgsqlDbType.Text, e => e.Currency),
        ("fields", NpgsqlDbType.Jsonb, e => JsonSerializer.Serialize(e.Fields, JsonColumn.Options)),
        ("import_id", NpgsqlDbType.Uuid, e => e.ImportId),
    ];

    private static readonly string Names = string.Join(", ", Columns.Select(c => c.Column));

    /// <summary>Adds the events that are not there yet, all in one commit.</summary>
    /// <returns>Ids of those added; of several with one source and id the first is.</returns>
    /// <exception cref="NpgsqlException">The database is away; nothing was added.</exception>
    public Task<HashSet<Guid>> AddAsync(IReadOnlyCollection<EventRow> events, CancellationToken stop) =>
        ThroughIncomingAsync(
            events,
            $"insert into events ({Names}) select {Names} from incoming order by id on conflict do nothing returning id",
            stop
        );

    /// <summary>Says which events would be added; adds nothing.</summary>
    /// <exception cref="NpgsqlException">The database is away.</exception>
    public Task<HashSet<Guid>> CountNewAsync(IReadOnlyCollection<EventRow> events, CancellationToken stop) =>
        ThroughIncomingAsync(
            events,
            """
            select distinct on (i.source_id, i.external_id) i.id from incoming i
            where not exists (select from events e where e.source_id = i.source_id and e.external_id = i.external_id)
            order by i.source_id, i.external_id, i.id
            """,
            stop
        );

    private async Task<HashSet<Guid>> ThroughIncomingAsync(
        IReadOnlyCollection<EventRow> events,
        string then,
        CancellationToken stop
    )
    {
        if (events.Count == 0)
            return [];
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(stop);
        await using (
            var make = new NpgsqlCommand(
                $"create temp table incoming on commit drop as select {Names} from events with no data",
                connection
            )
        )
            await make.ExecuteNonQueryAsync(stop);
        await CopyAsync(connection, events, stop);
        var ids = new HashSet<Guid>();
        await using (var query = new NpgsqlCommand(then, connection))
        await using (var reader = await query.ExecuteReaderAsync(stop))
            while (await reader.ReadAsync(stop))
                ids.Add(reader.GetGuid(0));
        await transaction.CommitAsync(stop);
        return ids;
    }

    private static async Task CopyAsync(
        NpgsqlConnection connection,
        IEnumerable<EventRow> events,
        CancellationToken stop
    )
    {
        await using var writer = await connection.BeginBinaryImportAsync(
            $"copy incoming ({Names}) from stdin (format binary)",
            stop
        );
        foreach (var happened in events)
        {
            await writer.StartRowAsync(stop);
            foreach (var (_, type, value) in Columns)
                if (value(happened) is { } known)
                    await writer.WriteAsync(known, type, stop);
                else
                    await writer.WriteNullAsync(stop);
        }
        await writer.CompleteAsync(stop);
    }
}
