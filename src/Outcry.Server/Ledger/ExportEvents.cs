using System.Globalization;
using System.Text.Json;
using CsvHelper;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using NodaTime.Text;
using Outcry.Core.Evidence;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Ledger;

/// <summary>An event as an export has it: what the ledger holds, masks and all.</summary>
internal sealed record ExportedEvent(
    Guid Id,
    string At,
    string Source,
    string Kind,
    string State,
    string FirstName,
    string LastInitial,
    string MaskedEmail,
    string MaskedPhone,
    string City,
    string Region,
    string Country,
    string Product,
    string Category,
    decimal? Amount,
    string Currency,
    string Page,
    IReadOnlyDictionary<string, string> Fields
);

/// <summary>Writes the events that pass the filter, row by row as the database gives them.</summary>
internal static class ExportEvents
{
    /// <summary>How many rows are to come, so that whoever reads can say how far it is.</summary>
    public const string CountHeader = "X-Outcry-Rows";

    private sealed record Format(
        string Type,
        Func<Stream, IAsyncEnumerable<ExportedEvent>, CancellationToken, Task> WriteAsync
    );

    private static readonly Dictionary<string, Format> Formats = new()
    {
        ["csv"] = new("text/csv; charset=utf-8", WriteCsvAsync),
        ["ndjson"] = new("application/x-ndjson", WriteJsonAsync),
    };

    public static async Task<Results<PushStreamHttpResult, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        string format,
        [AsParameters] EventFilter filter,
        OutcryDb db,
        LiveSites sites,
        HttpResponse response,
        IClock clock,
        CancellationToken stop
    )
    {
        if (!Formats.TryGetValue(format, out var chosen))
            return Problems.BadField("format", "Events are exported as csv or ndjson.");
        var site = sites.GetById(siteId);
        var (events, problem) = filter.Apply(db, site, clock.GetCurrentInstant());
        if (events is null)
            return problem!;
        response.Headers[CountHeader] = (await events.CountAsync(stop)).ToString(CultureInfo.InvariantCulture);
        var rows = events.OrderByDescending(e => e.At).ThenByDescending(e => e.Id).AsAsyncEnumerable();
        return TypedResults.Stream(
            body => chosen.WriteAsync(body, Export(rows, site), stop),
            chosen.Type,
            $"events.{format}"
        );
    }

    private static async IAsyncEnumerable<ExportedEvent> Export(IAsyncEnumerable<EventRow> rows, LiveSite site)
    {
        await foreach (var row in rows)
            yield return new ExportedEvent(
                row.Id,
                InstantPattern.ExtendedIso.Format(row.At),
                site.Sources.GetValueOrDefault(row.SourceId)?.Name ?? "",
                Spelt(row.Kind),
                Spelt(row.State),
                row.FirstName,
                row.LastInitial,
                row.MaskedEmail,
                row.MaskedPhone,
                row.City,
                row.Region,
                row.Country,
                row.ProductName ?? "",
                row.ProductCategory ?? "",
                row.Amount,
                row.Currency ?? "",
                row.Page ?? "",
                row.Fields
            );
    }

    private static async Task WriteCsvAsync(Stream body, IAsyncEnumerable<ExportedEvent> events, CancellationToken stop)
    {
        await using var writer = new StreamWriter(body, leaveOpen: true);
        await using var csv = new CsvWriter(writer, CsvSafe.Settings);
        foreach (var heading in Headings)
            csv.WriteField(heading);
        await csv.NextRecordAsync();
        await foreach (var e in events.WithCancellation(stop))
        {
            foreach (
                var cell in (IEnumerable<string>)
                    [
                        e.Id.ToString(),
                        e.At,
                        e.Source,
                        e.Kind,
                        e.State,
                        e.FirstName,
                        e.LastInitial,
                        e.MaskedEmail,
                        e.MaskedPhone,
                        e.City,
                        e.Region,
                        e.Country,
                        e.Product,
                        e.Category,
                        e.Amount?.ToString(CultureInfo.InvariantCulture) ?? "",
                        e.Currency,
                        e.Page,
                        e.Fields.Count == 0 ? "" : JsonSerializer.Serialize(e.Fields, JsonColumn.Options),
                    ]
            )
                csv.WriteField(cell);
            await csv.NextRecordAsync();
        }
    }

    private static async Task WriteJsonAsync(
        Stream body,
        IAsyncEnumerable<ExportedEvent> events,
        CancellationToken stop
    )
    {
        await foreach (var e in events.WithCancellation(stop))
        {
            await JsonSerializer.SerializeAsync(body, e, JsonColumn.Options, stop);
            await body.WriteAsync("\n"u8.ToArray(), stop);
        }
    }

    private static readonly string[] Headings =
    [
        "id",
        "at",
        "source",
        "kind",
        "state",
        "first_name",
        "last_initial",
        "masked_email",
        "masked_phone",
        "city",
        "region",
        "country",
        "product",
        "category",
        "amount",
        "currency",
        "page",
        "fields",
    ];

    private static string Spelt<T>(T choice)
        where T : struct, Enum => JsonNamingPolicy.CamelCase.ConvertName(choice.ToString());
}
