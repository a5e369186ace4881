using System.Runtime.CompilerServices;
using NodaTime;
using Npgsql;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Replaying;
using Outcry.Core.Visitors;
using Outcry.Store.Signals;

namespace Outcry.Server.Replays;

/// <summary>A lot of visitors with all their visits of a period, and how much of the period's record it took.</summary>
internal sealed record VisitorLot(IReadOnlyList<IReadOnlyList<RecordedVisit>> Visitors, long Reports);

/// <summary>Reads visits back from what snippets reported, visitor by visitor.</summary>
internal sealed partial class RecordedVisits(NpgsqlDataSource source, ILogger<RecordedVisits> log)
{
    private const int VisitorsInLot = 200;

    private const string Where = """
        from signals
        where site_id = $1 and day between $2 and $3 and at >= $4 and at < $5 and kind = any($6) and not is_test
        """;

    private static readonly short[] Kinds = [(short)SignalKind.View, (short)SignalKind.Left, (short)SignalKind.Depth];

    /// <summary>How many reports a period holds.</summary>
    public async Task<long> CountAsync(Guid siteId, Instant from, Instant until, CancellationToken stop)
    {
        await using var command = Command($"select count(*) {Where}", siteId, from, until);
        return (long)(await command.ExecuteScalarAsync(stop))!;
    }

    /// <summary>Reads a period, in lots of whole visitors.</summary>
    /// <param name="siteId">The site.</param>
    /// <param name="host">Its host, since only paths are recorded.</param>
    /// <param name="zone">Its time zone, by which visitors' clocks are taken to go.</param>
    /// <param name="from">From here.</param>
    /// <param name="until">To here, this end not included.</param>
    /// <param name="stop">Ends the reading.</param>
    public async IAsyncEnumerable<VisitorLot> ReadAsync(
        Guid siteId,
        string host,
        DateTimeZone zone,
        Instant from,
        Instant until,
        [EnumeratorCancellation] CancellationToken stop
    )
    {
        await using var command = Command(
            $"select visitor_id, visit, kind, at, path, value, device, traits::text, host, query {Where} order by visitor_id, at, kind desc",
            siteId,
            from,
            until
        );
        await using var reader = await command.ExecuteReaderAsync(stop);
        var pages = new Dictionary<(string, string, string), PageAddress>();
        var (lot, reports) = (new List<IReadOnlyList<RecordedVisit>>(), 0L);
        var (current, builder) = ("", (VisitBuilder?)null);
        while (await reader.ReadAsync(stop))
        {
            var visitor = reader.GetString(0);
            if (visitor != current)
            {
                Close();
                if (lot.Count >= VisitorsInLot)
                {
                    yield return new VisitorLot(lot, reports);
                    (lot, reports) = ([], 0);
                }
                (current, builder) = (visitor, new VisitBuilder(visitor));
            }
            reports++;
            Report(reader, builder!, PageOf(TextOr(reader, 8, host), reader.GetString(4), TextOr(reader, 9, "")), zone);
        }
        Close();
        if (reports > 0)
            yield return new VisitorLot(lot, reports);

        // Of a visitor whose page views lie before the period only ends may lie within it.
        void Close()
        {
            if (builder?.Build() is { Count: > 0 } visits)
                lot.Add(visits);
        }
        PageAddress PageOf(string of, string path, string query) =>
            pages.TryGetValue((of, path, query), out var page)
                ? page
                : pages[(of, path, query)] = PageAddress.Recorded(of, path, query);
    }

    private static string TextOr(NpgsqlDataReader reader, int column, string none) =>
        reader.IsDBNull(column) ? none : reader.GetString(column);

    // What visitors' browsers once said is read as far as it can be: a visit without its traits is still a visit.
    private VisitTraits? TraitsOf(NpgsqlDataReader reader)
    {
        if (reader.IsDBNull(7))
            return null;
        try
        {
            return VisitTraits.Read(reader.GetString(7));
        }
        catch (System.Text.Json.JsonException unreadable)
        {
            NotRead(unreadable, reader.GetString(0), reader.GetFieldValue<Instant>(3));
            return null;
        }
    }

    [LoggerMessage(
        1501,
        LogLevel.Warning,
        "The traits of a visit of {Visitor} at {At} cannot be read; it counts without them"
    )]
    private partial void NotRead(Exception unreadable, string visitor, Instant at);

    private void Report(NpgsqlDataReader reader, VisitBuilder builder, PageAddress page, DateTimeZone zone)
    {
        switch ((SignalKind)reader.GetInt16(2))
        {
            case SignalKind.View:
                var at = reader.GetFieldValue<Instant>(3);
                var traits = TraitsOf(reader);
                builder.View(
                    reader.GetInt32(1),
                    page,
                    at,
                    () => Facts(traits, (Device)reader.GetInt16(6), zone.GetUtcOffset(at)),
                    () => new WayIn(page.ToNote(), traits?.Referrer ?? "", traits?.Campaign ?? WayIn.Unknown.Campaign)
                );
                break;
            case SignalKind.Left:
                builder.Left(page, reader.GetInt32(5));
                break;
            case SignalKind.Depth:
                builder.Depth(page, reader.GetInt32(5));
                break;
        }
    }

    private static VisitorFacts Facts(VisitTraits? traits, Device device, Offset offset) =>
        new()
        {
            Device = device,
            Languages = traits?.Languages ?? [],
            Place = traits is null ? Place.Unknown : new Place(traits.City, traits.Region, traits.Country),
            Agreed = true,
            LocalOffset = offset,
        };

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
