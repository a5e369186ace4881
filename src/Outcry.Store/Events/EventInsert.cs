using System.Data.Common;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata;
using Npgsql;
using Outcry.Store.Rows;

namespace Outcry.Store.Events;

/// <summary>Says of each event that is new, in the transaction that adds it, that it is there.</summary>
/// <param name="Channel">The channel of PostgreSQL's NOTIFY.</param>
/// <param name="Before">What the message begins with; the site, "|Event|" and the event's id follow.</param>
public sealed record NewsOfEvents(string Channel, string Before);

/// <summary>Writes events many at a time: one statement, each column sent as one array. The columns are those of the model.</summary>
public static class EventInsert
{
    /// <summary>Adds the events that are not there yet; part of the context's transaction, where it has one.</summary>
    /// <returns>Ids of those added; of several with one source and id the first is.</returns>
    /// <exception cref="NpgsqlException">The database is away; nothing was added.</exception>
    public static Task<HashSet<Guid>> AddEventsAsync(
        this OutcryDb db,
        IReadOnlyCollection<EventRow> events,
        NewsOfEvents? news,
        CancellationToken stop
    )
    {
        var columns = Columns(db);
        var names = string.Join(", ", columns.Select(c => c.Name));
        var values = string.Join(", ", columns.Select((c, i) => $"${i + 1}::{c.Type}[]"));
        var insert = $"insert into events ({names}) select * from unnest({values}) on conflict do nothing returning id";
        if (news is null)
            return RunAsync(db, insert, Arrays(columns, events), stop);
        var (channel, before) = ($"${columns.Count + 1}::text", $"${columns.Count + 2}::text");
        return RunAsync(
            db,
            $"""
            with added as ({insert}, site_id)
            select id, pg_notify({channel}, {before} || site_id || '|Event|' || id) from added
            """,
            [
                .. Arrays(columns, events),
                new NpgsqlParameter { Value = news.Channel },
                new NpgsqlParameter { Value = news.Before },
            ],
            stop
        );
    }

    /// <summary>Says which events would be added; adds nothing.</summary>
    /// <exception cref="NpgsqlException">The database is away.</exception>
    public static Task<HashSet<Guid>> FindNewEventsAsync(
        this OutcryDb db,
        IReadOnlyCollection<EventRow> events,
        CancellationToken stop
    ) =>
        RunAsync(
            db,
            """
            select distinct on (i.source_id, i.external_id) i.id
            from unnest($1::uuid[], $2::text[], $3::uuid[]) as i (source_id, external_id, id)
            where not exists (select from events e where e.source_id = i.source_id and e.external_id = i.external_id)
            order by i.source_id, i.external_id, i.id
            """,
            [
                new NpgsqlParameter { Value = events.Select(e => e.SourceId).ToArray() },
                new NpgsqlParameter { Value = events.Select(e => e.ExternalId).ToArray() },
                new NpgsqlParameter { Value = events.Select(e => e.Id).ToArray() },
            ],
            stop
        );

    private static async Task<HashSet<Guid>> RunAsync(
        OutcryDb db,
        string sql,
        IEnumerable<NpgsqlParameter> parameters,
        CancellationToken stop
    )
    {
        await db.Database.OpenConnectionAsync(stop);
        try
        {
            await using var command = new NpgsqlCommand(sql, (NpgsqlConnection)db.Database.GetDbConnection());
            foreach (var parameter in parameters)
                command.Parameters.Add(parameter);
            var ids = new HashSet<Guid>();
            await using DbDataReader reader = await command.ExecuteReaderAsync(stop);
            while (await reader.ReadAsync(stop))
                ids.Add(reader.GetGuid(0));
            return ids;
        }
        finally
        {
            await db.Database.CloseConnectionAsync();
        }
    }

    // In one order for all, so that two who add the same do not wait for each other.
    private static IEnumerable<NpgsqlParameter> Arrays(IReadOnlyList<Column> columns, IEnumerable<EventRow> events)
    {
        var rows = events
            .OrderBy(e => e.SourceId)
            .ThenBy(e => e.ExternalId, StringComparer.Ordinal)
            .ThenBy(e => e.Id)
            .ToList();
        return columns.Select(c => c.ToArray(rows));
    }

    private static IReadOnlyList<Column>? _columns;

    // What the database makes by itself is left to it.
    private static IReadOnlyList<Column> Columns(OutcryDb db) =>
        _columns ??= [
            .. db
                .Model.FindEntityType(typeof(EventRow))!
                .GetProperties()
                .Where(p => p.ValueGenerated != ValueGenerated.OnAddOrUpdate)
                .Select(p => new Column(p)),
        ];

    private sealed class Column(IProperty property)
    {
        private readonly Func<object?, object?> _toStore = property.GetTypeMapping().Converter is { } converter
            ? converter.ConvertToProvider
            : value => value;
        private readonly IClrPropertyGetter _getter = property.GetGetter();
        private readonly Type _element = Nullable(
            property.GetTypeMapping().Converter?.ProviderClrType ?? property.ClrType
        );

        public string Name { get; } = property.GetColumnName();
        public string Type { get; } = property.GetColumnType();

        public NpgsqlParameter ToArray(List<EventRow> rows)
        {
            var values = Array.CreateInstance(_element, rows.Count);
            for (var i = 0; i < rows.Count; i++)
                values.SetValue(_getter.GetClrValue(rows[i]) is { } value ? _toStore(value) : null, i);
            return new NpgsqlParameter { Value = values, DataTypeName = $"{Type}[]" };
        }

        private static Type Nullable(Type type) =>
            type.IsValueType && System.Nullable.GetUnderlyingType(type) is null
                ? typeof(Nullable<>).MakeGenericType(type)
                : type;
    }
}
