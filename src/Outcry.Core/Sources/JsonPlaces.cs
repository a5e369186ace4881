using System.Globalization;
using System.Text.Json;
using Json.Pointer;
using Outcry.Core.Care;

namespace Outcry.Core.Sources;

/// <summary>A place in a JSON document and an example of what stands there.</summary>
/// <param name="Pointer">JSON Pointer (RFC 6901).</param>
/// <param name="Sample">The value as text, at most 80 characters.</param>
public sealed record JsonPlace(string Pointer, string Sample);

/// <summary>Reads JSON of any shape by pointing at its places.</summary>
public static class JsonPlaces
{
    /// <summary>Places listed of one document at most.</summary>
    public const int MostListed = 200;

    private const int DeepestLevel = 12;
    private const int SampleLength = 80;

    /// <summary>Every place that holds a plain value, in the document's order; of a list only the first item.</summary>
    public static IReadOnlyList<JsonPlace> List(JsonElement document)
    {
        var places = new List<JsonPlace>();
        Walk(document, "", 0, places);
        return places;
    }

    /// <summary>The plain value at a pointer as text; null when nothing plain stands there or the pointer cannot be read.</summary>
    public static string? Read(JsonElement document, string pointer) =>
        JsonPointer.TryParse(pointer, out var parsed) && parsed.Evaluate(document) is { } found ? Plain(found) : null;

    /// <summary>Whether a text is a JSON Pointer.</summary>
    public static bool IsPointer(string text) => text.Length > 0 && JsonPointer.TryParse(text, out _);

    /// <summary>A value shortened to an example.</summary>
    public static string Sample(string text) => PlainText.Clip(PlainText.Clean(Head(text)), SampleLength);

    // A cell may be as long as its file; of the rest nothing is looked at.
    private static string Head(string text) => text.Length <= 4 * SampleLength ? text : text[..(4 * SampleLength)];

    private static void Walk(JsonElement at, string pointer, int level, List<JsonPlace> places)
    {
        if (places.Count >= MostListed || level > DeepestLevel)
            return;
        switch (at.ValueKind)
        {
            case JsonValueKind.Object:
                foreach (var part in at.EnumerateObject())
                    Walk(part.Value, $"{pointer}/{Escape(part.Name)}", level + 1, places);
                break;
            case JsonValueKind.Array when at.GetArrayLength() > 0:
                Walk(at[0], $"{pointer}/0", level + 1, places);
                break;
            default:
                if (Plain(at) is { } text && pointer.Length > 0)
                    places.Add(new JsonPlace(pointer, Sample(text)));
                break;
        }
    }

    private static string? Plain(JsonElement value) =>
        value.ValueKind switch
        {
            JsonValueKind.String => TextOf(value),
            JsonValueKind.Number => value.TryGetDecimal(out var number)
                ? number.ToString(CultureInfo.InvariantCulture)
                : value.GetRawText(),
            JsonValueKind.True => "true",
            JsonValueKind.False => "false",
            _ => null,
        };

    // A text with half a surrogate pair is JSON, but no text; it is read as if it were not there.
    private static string? TextOf(JsonElement value)
    {
        try
        {
            return value.GetString();
        }
        catch (InvalidOperationException)
        {
            return null;
        }
    }

    private static string Escape(string name) =>
        name.Replace("~", "~0", StringComparison.Ordinal).Replace("/", "~1", StringComparison.Ordinal);
}
