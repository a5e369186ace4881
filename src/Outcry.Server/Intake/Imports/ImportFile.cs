using System.Globalization;
using System.Text;
using System.Text.Json;
using CsvHelper;
using Outcry.Core.Care;
using Outcry.Core.Sources;
using Outcry.Server.Intake.Polls;

namespace Outcry.Server.Intake.Imports;

/// <summary>How a file is written.</summary>
internal enum FileShape
{
    /// <summary>Comma-, semicolon- or tab-separated values with a heading line.</summary>
    Csv,

    /// <summary>One JSON object a line.</summary>
    NdJson,
}

/// <summary>A row of a file, or why the line is none.</summary>
/// <param name="Original">The line as it stands in the file.</param>
internal sealed record FileRow(ListItem? Item, int Row, string? Fault, string Original);

/// <summary>Reads a file row by row, whatever its size.</summary>
internal static class ImportFile
{
    /// <summary>Tells the shape by the first sign of the content: an object means JSON lines.</summary>
    public static FileShape ShapeOf(string path)
    {
        using var reader = Open(path);
        int sign;
        while ((sign = reader.Read()) >= 0)
            if (!char.IsWhiteSpace((char)sign))
                return sign == '{' ? FileShape.NdJson : FileShape.Csv;
        return FileShape.Csv;
    }

    public static IEnumerable<FileRow> Rows(string path, FileShape shape) =>
        shape == FileShape.Csv ? CsvRows(path) : JsonRows(path);

    /// <summary>Columns of a file with an example value each, in the file's order.</summary>
    public static IReadOnlyList<JsonPlace> Columns(string path, FileShape shape)
    {
        if (shape == FileShape.NdJson)
        {
            using var lines = Open(path);
            while (ReadLine(lines) is { } line)
                if (line.Trim().Length > 0)
                    return TryParse(line) is { } first ? JsonPlaces.List(first) : [];
            return [];
        }
        // A JSON list would be read as one long heading.
        using (var first = Open(path))
            if (first.Peek() == '[')
                return [];
        using var reader = new CsvReader(Open(path), ListReader.CsvSettings);
        if (!reader.Read() || !reader.ReadHeader())
            return [];
        var heading = reader.HeaderRecord!;
        var cells = reader.Read() ? reader.Parser.Record! : [];
        return ListReader.Columns(heading, cells);
    }

    private static IEnumerable<FileRow> CsvRows(string path)
    {
        using var reader = new CsvReader(Open(path), ListReader.CsvSettings);
        if (!reader.Read() || !reader.ReadHeader())
            yield break;
        var places = reader
            .HeaderRecord!.Select((name, i) => (name, i))
            .GroupBy(h => h.name)
            .ToDictionary(g => g.Key, g => g.First().i);
        for (var row = 2; reader.Read(); row++)
        {
            var cells = reader.Parser.Record!;
            yield return new FileRow(
                new ListItem(
                    row,
                    place => places.TryGetValue(place, out var i) && i < cells.Length ? cells[i] : null,
                    () => string.Join('\u001f', cells)
                ),
                row,
                null,
                reader.Parser.RawRecord
            );
        }
    }

    private static IEnumerable<FileRow> JsonRows(string path)
    {
        using var reader = Open(path);
        for (var row = 1; ReadLine(reader) is { } line; row++)
            if (line.Length > LongestLine)
                yield return new FileRow(null, row, $"The line is longer than {LongestLine / 1024} KB.", line);
            else if (line.Trim().Length > 0)
                yield return TryParse(line) is { ValueKind: JsonValueKind.Object } item
                    ? new FileRow(ListReader.Of(row, item), row, null, line)
                    : new FileRow(null, row, "The line is not one JSON object.", line);
    }

    private static JsonElement? TryParse(string line)
    {
        try
        {
            return JsonGate.Parse(line);
        }
        catch (JsonException)
        {
            return null;
        }
    }

    /// <summary>Longest line of JSON taken, in characters; no event is as long.</summary>
    private const int LongestLine = 256 * 1024;

    // A line as long as the file would be held in memory whole; of one that is too long only that much is, and the rest is passed over.
    private static string? ReadLine(StreamReader reader)
    {
        var line = new StringBuilder();
        int sign;
        while ((sign = reader.Read()) >= 0)
        {
            if (sign == '\n')
                return line.ToString();
            if (line.Length <= LongestLine)
                line.Append((char)sign);
        }
        return line.Length > 0 ? line.ToString() : null;
    }

    private static StreamReader Open(string path) =>
        new(path, FileEncoding.Of(path).Encoding, detectEncodingFromByteOrderMarks: true);

    /// <summary>The order of day and month that the times of a file show; null when they are not written as numbers, or show none.</summary>
    public static DateOrder? DatesOf(string path, FileShape shape, string? timeColumn) =>
        timeColumn is null
            ? null
            : WrittenDate.Guess(Rows(path, shape).Take(WrittenDate.MostLookedAt).Select(r => r.Item?.Read(timeColumn)));
}
