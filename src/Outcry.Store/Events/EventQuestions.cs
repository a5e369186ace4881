using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;
using NodaTime;
using Npgsql;
using Outcry.Core.Evidence;
using Outcry.Store.Rows;

namespace Outcry.Store.Events;

/// <summary>What has to be known before events are added.</summary>
/// <param name="Held">People of whom nobody else may write until the transaction ends; none where that does not matter.</param>
/// <param name="Sites">The sites concerned.</param>
/// <param name="Stones">Keys of events that may have been deleted or erased before.</param>
/// <param name="People">Who the events are of, by e-mail or phone.</param>
/// <param name="From">Events from this time on, included.</param>
/// <param name="To">To this time, included.</param>
public sealed record EventQuestion(
    IReadOnlyCollection<string> Held,
    Guid[] Sites,
    string[] Stones,
    string[] People,
    Instant From,
    Instant To
);

/// <summary>What is known.</summary>
/// <param name="Stones">Which of the keys stand for deleted or erased events, by site.</param>
/// <param name="Told">What those people told in that time, as far as a repeat is known by it.</param>
public sealed record EventAnswer(HashSet<(Guid Site, string Key)> Stones, List<EventRow> Told);

/// <summary>Asks what has to be known before events are added, all in one round trip.</summary>
public static class EventQuestions
{
    // In one order for all, so that two who hold two of the same people do not wait for each other.
    private const string Hold =
        "select pg_advisory_xact_lock(hashtextextended(p, 0)) from unnest($1) with ordinality as held (p, at) order by at";

    private const string Stones = "select site_id, key from tombstones where site_id = any($1) and key = any($2)";

    // Both by the people's own indexes and nothing else: beside the index by site and time, whose statistics lag behind what
    // is coming in, they would lose, and each question would read all of the day's events.
    private const string Told = """
        select site_id, source_id, kind, person_key, phone_key, product_name, at, external_id from events
        where person_key = any($1) and at between $2 and $3 and state not in ('OwnTest', 'Deleted', 'Duplicate')
        """;

    private const string ToldByPhone = """
        with known as materialized (select * from events where site_id = any($4) and phone_key = any($1))
        select site_id, source_id, kind, person_key, phone_key, product_name, at, external_id from known
        where at between $2 and $3 and state not in ('OwnTest', 'Deleted', 'Duplicate')
        """;

    /// <summary>Asks; part of the context's transaction, where it has one.</summary>
    /// <exception cref="NpgsqlException">The database is away.</exception>
    public static async Task<EventAnswer> AskAsync(this OutcryDb db, EventQuestion question, CancellationToken stop)
    {
        await db.Database.OpenConnectionAsync(stop);
        try
        {
            await using var batch = new NpgsqlBatch(
                (NpgsqlConnection)db.Database.GetDbConnection(),
                (NpgsqlTransaction?)db.Database.CurrentTransaction?.GetDbTransaction()
            );
            if (question.Held.Count > 0)
                batch.BatchCommands.Add(
                    Command(Hold, [question.Held.Distinct().Order(StringComparer.Ordinal).ToArray()])
                );
            batch.BatchCommands.Add(Command(Stones, [question.Sites, question.Stones]));
            if (question.People.Length > 0)
                batch.BatchCommands.Add(Command(Told, [question.People, question.From, question.To]));
            if (question.People.Where(k => k[0] == 'p').ToArray() is { Length: > 0 } phones)
                batch.BatchCommands.Add(Command(ToldByPhone, [phones, question.From, question.To, question.Sites]));
            return await ReadAsync(batch, question, stop);
        }
        finally
        {
            await db.Database.CloseConnectionAsync();
        }
    }

    private static async Task<EventAnswer> ReadAsync(NpgsqlBatch batch, EventQuestion question, CancellationToken stop)
    {
        var (stones, told) = (new HashSet<(Guid, string)>(), new List<EventRow>());
        await using var reader = await batch.ExecuteReaderAsync(stop);
        if (question.Held.Count > 0)
            await reader.NextResultAsync(stop);
        while (await reader.ReadAsync(stop))
            stones.Add((reader.GetGuid(0), reader.GetString(1)));
        while (await reader.NextResultAsync(stop))
        while (await reader.ReadAsync(stop))
            told.Add(
                new EventRow
                {
                    SiteId = reader.GetGuid(0),
                    SourceId = reader.GetGuid(1),
                    Kind = Enum.Parse<EventKind>(reader.GetString(2)),
                    PersonKey = reader.GetString(3),
                    PhoneKey = reader.IsDBNull(4) ? null : reader.GetString(4),
                    ProductName = reader.IsDBNull(5) ? null : reader.GetString(5),
                    At = reader.GetFieldValue<Instant>(6),
                    ExternalId = reader.GetString(7),
                }
            );
        return new EventAnswer(stones, told);
    }

    private static NpgsqlBatchCommand Command(string sql, object[] values)
    {
        var command = new NpgsqlBatchCommand(sql);
        foreach (var value in values)
            command.Parameters.Add(new NpgsqlParameter { Value = value });
        return command;
    }
}
