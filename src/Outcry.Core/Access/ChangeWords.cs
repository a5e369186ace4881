using System.Globalization;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace Outcry.Core.Access;

/// <summary>One thing that is different now, in words.</summary>
/// <param name="What">Which: "how often › a week".</param>
/// <param name="Before">What it was; empty for nothing.</param>
/// <param name="After">What it is; empty for nothing.</param>
public sealed record TracedChange(string What, string Before, string After);

/// <summary>Says what differs between two states of anything that can be written as JSON.</summary>
public static class ChangeWords
{
    /// <summary>More are told by their number alone.</summary>
    public const int Most = 40;

    private const int LongestValue = 400;

    /// <summary>What differs, in the order in which it is written; the last line counts those beyond <see cref="Most"/>.</summary>
    public static IReadOnlyList<TracedChange> Between(JsonNode? before, JsonNode? after)
    {
        var changes = new List<TracedChange>();
        Walk("", before, after, changes);
        return changes.Count <= Most
            ? changes
            :
            [
                .. changes.Take(Most),
                new TracedChange($"{(changes.Count - Most).ToString(CultureInfo.InvariantCulture)} more", "", ""),
            ];
    }

    /// <summary>What differs between two values as they are written with some options.</summary>
    public static IReadOnlyList<TracedChange> Between<T>(T before, T after, JsonSerializerOptions options) =>
        Between(JsonSerializer.SerializeToNode(before, options), JsonSerializer.SerializeToNode(after, options));

    private static void Walk(string what, JsonNode? before, JsonNode? after, List<TracedChange> changes)
    {
        if (JsonNode.DeepEquals(before, after))
            return;
        // What was not there before, or is no more, is said as a whole unless it has parts with names of their own.
        if (before is JsonObject or null && after is JsonObject or null)
        {
            var (was, now) = (before as JsonObject, after as JsonObject);
            foreach (var name in Names(was, now))
                Walk(what.Length == 0 ? Words(name) : $"{what} › {Words(name)}", was?[name], now?[name], changes);
            return;
        }
        changes.Add(new TracedChange(what, Value(before), Value(after)));
    }

    private static IEnumerable<string> Names(JsonObject? one, JsonObject? other) =>
        (one ?? []).Select(p => p.Key).Concat((other ?? []).Select(p => p.Key)).Distinct();

    private static string Value(JsonNode? node)
    {
        var text = node switch
        {
            null => "",
            JsonArray list => string.Join(", ", list.Select(Value)),
            JsonObject parts => string.Join(
                ", ",
                parts.Where(p => p.Value is not null).Select(p => $"{Words(p.Key)} {Value(p.Value)}")
            ),
            JsonValue value when value.TryGetValue<bool>(out var yes) => yes ? "yes" : "no",
            _ => node.ToString(),
        };
        return text.Length > LongestValue ? $"{text[..LongestValue]}…" : text;
    }

    // "maxPerVisit" is read as "max per visit".
    private static string Words(string name)
    {
        var words = new StringBuilder(name.Length + 8);
        foreach (var letter in name)
        {
            if (char.IsUpper(letter) && words.Length > 0)
                words.Append(' ');
            words.Append(char.ToLowerInvariant(letter));
        }
        return words.ToString();
    }
}
