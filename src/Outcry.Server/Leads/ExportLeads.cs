using System.Globalization;
using System.Text;
using CsvHelper;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime.Text;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Leads;

/// <summary>Leads as a file: CSV (RFC 4180), or vCard 4.0 (RFC 6350). Row by row as the database gives them.</summary>
internal static class ExportLeads
{
    private static readonly IReadOnlyDictionary<string, Func<LeadRow, string>> Columns = new Dictionary<
        string,
        Func<LeadRow, string>
    >
    {
        ["email"] = l => l.Email ?? "",
        ["phone"] = l => l.Phone ?? "",
        ["first_name"] = l => l.FirstName,
        ["surname"] = l => l.Surname,
        ["state"] = l => l.State.ToString().ToLowerInvariant(),
        ["from"] = l => l.From,
        ["page"] = l => l.Page,
        ["campaign"] = l => l.Campaign,
        ["gave_at"] = l => InstantPattern.General.Format(l.GaveAt),
        ["confirmed_at"] = l => l.ConfirmedAt is { } at ? InstantPattern.General.Format(at) : "",
        ["withdrawn_at"] = l => l.WithdrawnAt is { } at ? InstantPattern.General.Format(at) : "",
        ["language"] = l => l.Language,
        ["place"] = l => l.Place,
        ["tags"] = l => string.Join(", ", l.Tags),
    };

    /// <summary>Writes them.</summary>
    /// <param name="columns">Of a CSV: which columns, with commas between; all of them where nothing is said. "answers.KEY" is one answer.</param>
    public static Results<PushStreamHttpResult, ProblemHttpResult> Handle(
        Guid siteId,
        string format,
        [AsParameters] LeadFilter filter,
        OutcryDb db,
        TraceBook traces,
        CancellationToken stop,
        string? columns = null
    )
    {
        if (format is not ("csv" or "vcf"))
            return Problems.BadField("format", "Leads are exported as csv or vcf.");
        var (leads, problem) = filter.Apply(db, siteId);
        if (leads is null)
            return problem!;
        var chosen = columns?.Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries) ?? [];
        if (chosen.Length == 0)
            chosen = [.. Columns.Keys];
        if (
            Array.Find(chosen, c => !Columns.ContainsKey(c) && !c.StartsWith(Answer, StringComparison.Ordinal)) is
            { } odd
        )
            return Problems.BadField("columns", $"There is no column \"{odd}\".");
        traces.Add("exported leads", format, siteId);
        var rows = leads.OrderByDescending(l => l.ChangedAt).ThenByDescending(l => l.Id).AsAsyncEnumerable();
        return TypedResults.Stream(
            async body =>
            {
                // Whoever takes them out is written down before the first row goes.
                await db.SaveChangesAsync(stop);
                await (format == "csv" ? WriteCsvAsync(body, rows, chosen, stop) : WriteCardsAsync(body, rows, stop));
            },
            format == "csv" ? "text/csv; charset=utf-8" : "text/vcard; charset=utf-8",
            $"leads.{format}"
        );
    }

    private const string Answer = "answers.";

    private static async Task WriteCsvAsync(
        Stream body,
        IAsyncEnumerable<LeadRow> rows,
        string[] columns,
        CancellationToken stop
    )
    {
        await using var writer = new StreamWriter(body, new UTF8Encoding(true));
        await using var csv = new CsvWriter(writer, CsvSafe.Settings);
        foreach (var column in columns)
            csv.WriteField(column);
        await csv.NextRecordAsync();
        await foreach (var row in rows.WithCancellation(stop))
        {
            foreach (var column in columns)
                csv.WriteField(
                    Columns.TryGetValue(column, out var read)
                        ? read(row)
                        : row.Answers.GetValueOrDefault(column[Answer.Length..]) ?? ""
                );
            await csv.NextRecordAsync();
        }
    }

    private static async Task WriteCardsAsync(Stream body, IAsyncEnumerable<LeadRow> rows, CancellationToken stop)
    {
        await using var writer = new StreamWriter(body, new UTF8Encoding(false)) { NewLine = "\r\n" };
        await foreach (var row in rows.WithCancellation(stop))
            await writer.WriteAsync(CardOf(row).AsMemory(), stop);
    }

    /// <summary>One person as a vCard 4.0 (RFC 6350), its lines folded after 75 octets.</summary>
    public static string CardOf(LeadRow row)
    {
        var name = $"{row.FirstName} {row.Surname}".Trim();
        List<string> lines =
        [
            "BEGIN:VCARD",
            "VERSION:4.0",
            $"UID:urn:uuid:{row.Id}",
            $"FN:{Escaped(name.Length > 0 ? name : row.Email ?? row.Phone ?? "Unknown")}",
            $"N:{Escaped(row.Surname)};{Escaped(row.FirstName)};;;",
        ];
        if (row.Email is { } email)
            lines.Add($"EMAIL:{Escaped(email)}");
        if (row.Phone is { } phone)
            lines.Add($"TEL;VALUE=uri:tel:{phone}");
        if (row.Tags.Count > 0)
            lines.Add($"CATEGORIES:{string.Join(',', row.Tags.Select(Escaped))}");
        lines.Add($"LANG:{row.Language}");
        lines.Add($"REV:{InstantPattern.CreateWithInvariantCulture("uuuuMMdd'T'HHmmss'Z'").Format(row.ChangedAt)}");
        lines.Add("END:VCARD");
        return string.Concat(lines.Select(l => Fold(l) + "\r\n"));
    }

    private static string Escaped(string text) =>
        text.Replace("\\", "\\\\", StringComparison.Ordinal)
            .Replace(",", "\\,", StringComparison.Ordinal)
            .Replace(";", "\\;", StringComparison.Ordinal)
            .ReplaceLineEndings("\\n");

    // 75 octets to a line (section 3.2); a character is never cut.
    private static string Fold(string line)
    {
        var folded = new StringBuilder();
        var octets = 0;
        foreach (var rune in line.EnumerateRunes())
        {
            if (octets + rune.Utf8SequenceLength > 75)
            {
                folded.Append("\r\n ");
                octets = 1;
            }
            folded.Append(rune.ToString());
            octets += rune.Utf8SequenceLength;
        }
        return folded.ToString();
    }
}
