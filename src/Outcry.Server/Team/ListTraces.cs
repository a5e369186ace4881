using CsvHelper;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using NodaTime.Text;
using Outcry.Core.Access;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Team;

/// <param name="Link">Kind and id of what it was done to: "callout/0199…"; empty for none.</param>
internal sealed record TraceView(
    Guid Id,
    Guid? SiteId,
    Instant At,
    Guid? MemberId,
    string By,
    string Act,
    string Subject,
    string Link,
    IReadOnlyList<TracedChange> Changes,
    string Device
);

/// <param name="Next">To be given as "before" for older ones; null when there are none.</param>
internal sealed record TracePage(IReadOnlyList<TraceView> Traces, Guid? Next);

/// <summary>What to look for; what is empty is not asked for.</summary>
internal sealed record TraceFilter
{
    /// <summary>Whose acts.</summary>
    public Guid? Member { get; init; }

    /// <summary>About which site.</summary>
    public Guid? Site { get; init; }

    /// <summary>Words in the act or in what it was done to.</summary>
    public string? Query { get; init; }

    private const int LongestQuery = 100;

    public IQueryable<TraceRow> Apply(IQueryable<TraceRow> traces)
    {
        if (Member is { } member)
            traces = traces.Where(t => t.MemberId == member);
        if (Site is { } site)
            traces = traces.Where(t => t.AboutSite == site);
        if (Query?.Trim() is { Length: > 0 and <= LongestQuery } words)
        {
            var pattern = $"%{LikePattern.Literal(words)}%";
            traces = traces.Where(t =>
                EF.Functions.ILike(t.Act + " " + t.Subject, pattern, LikePattern.Escape)
                || EF.Functions.ILike(t.By, pattern, LikePattern.Escape)
            );
        }
        return traces.OrderByDescending(t => t.Id);
    }
}

/// <summary>Who did what and when, newest first; nobody can change it afterwards, whatever their role.</summary>
internal static class ListTraces
{
    private const int PageSize = 50;
    private const int MostExported = 100_000;

    public static async Task<Ok<TracePage>> HandleAsync(
        Guid workspaceId,
        [AsParameters] TraceFilter filter,
        OutcryDb db,
        CancellationToken stop,
        Guid? before = null
    )
    {
        var wanted = filter.Apply(db.Traces.AsNoTracking());
        if (before is { } id)
            wanted = wanted.Where(t => t.Id < id);
        var rows = await wanted.Take(PageSize + 1).ToListAsync(stop);
        var shown = rows.Take(PageSize).ToList();
        return TypedResults.Ok(
            new TracePage(
                shown.ConvertAll(t => new TraceView(
                    t.Id,
                    t.AboutSite,
                    t.At,
                    t.MemberId,
                    t.By,
                    t.Act,
                    t.Subject,
                    t.Link,
                    t.Changes,
                    t.Device
                )),
                rows.Count > PageSize ? shown[^1].Id : null
            )
        );
    }

    /// <summary>The same as a table (RFC 4180), the newest hundred thousand.</summary>
    public static IResult ExportAsync(Guid workspaceId, [AsParameters] TraceFilter filter, OutcryDb db) =>
        TypedResults.Stream(
            async stream =>
            {
                await using var writer = new StreamWriter(stream);
                await using var csv = new CsvWriter(writer, CsvSafe.Settings);
                foreach (var head in new[] { "at", "who", "act", "subject", "before", "after", "device" })
                    csv.WriteField(head);
                await csv.NextRecordAsync();
                await foreach (var t in filter.Apply(db.Traces.AsNoTracking()).Take(MostExported).AsAsyncEnumerable())
                {
                    csv.WriteField(InstantPattern.General.Format(t.At));
                    foreach (
                        var text in new[]
                        {
                            t.By,
                            t.Act,
                            t.Subject,
                            string.Join("; ", t.Changes.Select(c => $"{c.What}: {c.Before}")),
                            string.Join("; ", t.Changes.Select(c => $"{c.What}: {c.After}")),
                            t.Device,
                        }
                    )
                        csv.WriteField(text);
                    await csv.NextRecordAsync();
                }
            },
            "text/csv; charset=utf-8",
            "outcry-activity.csv"
        );
}
