using System.Buffers;
using System.Globalization;
using System.Text;
using System.Text.Json;
using System.Text.Unicode;

namespace Outcry.Core.Care;

/// <summary>The gate for JSON from outside: makes every text in it one that can be read and stored, before anything reads it.</summary>
/// <remarks>
/// JSON may hold what no text holds: escapes of half a surrogate pair, NUL, noncharacters (RFC 8259 §8.2 leaves them open),
/// and bytes that are no UTF-8. Readers throw on the first and databases on the others, in the middle of a lot that others are
/// part of. Here halves and broken bytes become U+FFFD, and NUL and noncharacters are dropped.
/// </remarks>
public static class JsonGate
{
    private const int EscapeLength = 6;

    private static readonly SearchValues<byte> Suspect = SearchValues.Create([
        .. Enumerable.Range(0xEF, 0x100 - 0xEF).Select(b => (byte)b),
    ]);

    /// <summary>The same JSON with sound texts; the very same memory when nothing had to be changed.</summary>
    public static ReadOnlyMemory<byte> Clean(ReadOnlyMemory<byte> json)
    {
        var span = json.Span;
        return span.IndexOf("\\u"u8) < 0 && span.IndexOfAny(Suspect) < 0 && Utf8.IsValid(span) ? json : Mend(span);
    }

    /// <summary>Reads a document out of a text from outside.</summary>
    /// <exception cref="JsonException">It is not JSON.</exception>
    public static JsonElement Parse(string json) => Parse(Encoding.UTF8.GetBytes(json));

    /// <summary>Reads a document out of bytes from outside.</summary>
    /// <exception cref="JsonException">It is not JSON.</exception>
    public static JsonElement Parse(ReadOnlyMemory<byte> json)
    {
        using var document = JsonDocument.Parse(Clean(json));
        return document.RootElement.Clone();
    }

    private static byte[] Mend(ReadOnlySpan<byte> json)
    {
        var kept = new ArrayBufferWriter<byte>(json.Length);
        while (!json.IsEmpty)
            json = json[(json[0] == '\\' ? Escape(json, kept) : Plain(json, kept))..];
        return kept.WrittenSpan.ToArray();
    }

    // One escape; how many bytes of the JSON it took.
    private static int Escape(ReadOnlySpan<byte> json, ArrayBufferWriter<byte> kept)
    {
        if (Unit(json) is not { } unit)
        {
            var plain = Math.Min(2, json.Length);
            kept.Write(json[..plain]);
            return plain;
        }
        if (char.IsHighSurrogate(unit) && Unit(json[EscapeLength..]) is { } low && char.IsLowSurrogate(low))
        {
            if (!PlainText.IsNoncharacter(char.ConvertToUtf32(unit, low)))
                kept.Write(json[..(2 * EscapeLength)]);
            return 2 * EscapeLength;
        }
        if (char.IsSurrogate(unit))
            kept.Write("\uFFFD"u8);
        else if (unit != 0 && !PlainText.IsNoncharacter(unit))
            kept.Write(json[..EscapeLength]);
        return EscapeLength;
    }

    private static int Plain(ReadOnlySpan<byte> json, ArrayBufferWriter<byte> kept)
    {
        var status = Rune.DecodeFromUtf8(json, out var rune, out var taken);
        if (status != OperationStatus.Done)
            kept.Write("\uFFFD"u8);
        else if (!PlainText.IsNoncharacter(rune.Value))
            kept.Write(json[..taken]);
        return Math.Max(1, taken);
    }

    // The UTF-16 code unit that "\uXXXX" at the beginning stands for; null when no such escape stands there.
    private static char? Unit(ReadOnlySpan<byte> json) =>
        json.Length >= EscapeLength
        && json[0] == '\\'
        && json[1] == 'u'
        && ushort.TryParse(
            json[2..EscapeLength],
            NumberStyles.AllowHexSpecifier,
            CultureInfo.InvariantCulture,
            out var unit
        )
            ? (char)unit
            : null;
}
