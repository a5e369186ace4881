using System.Globalization;
using System.Text;

namespace Outcry.Core.Care;

/// <summary>The one gate for text from outside: whatever a visitor, a sender or a file says becomes text that can be stored, compared and read.</summary>
/// <remarks>
/// Halves of a surrogate pair become U+FFFD. Control characters but tab and line breaks, noncharacters and the marks that
/// turn the direction of what follows (Unicode Standard Annex 9, explicit embeddings, overrides and isolates) are dropped,
/// and of marks stacked on one base two are kept. Text of which only invisible characters are left is empty.
/// </remarks>
public static class PlainText
{
    /// <summary>Combining marks kept on one base: Vietnamese and Hebrew need two, a tower of them covers the lines around it.</summary>
    public const int MostMarks = 2;

    /// <summary>The text as it may be kept; the very same object when nothing had to be changed.</summary>
    public static string Clean(string? text)
    {
        if (string.IsNullOrEmpty(text))
            return "";
        return IsPlain(text) ? text : Mend(text);
    }

    /// <summary>The text cleaned and trimmed; null when nothing to read is left.</summary>
    public static string? OrNull(string? text) => Clean(text).Trim() is { Length: > 0 } kept ? kept : null;

    /// <summary>Shortens a text to at most so many UTF-16 code units, never within what a reader takes for one character.</summary>
    /// <param name="text">The text.</param>
    /// <param name="most">The most code units kept, 0 or more.</param>
    public static string Clip(string text, int most)
    {
        if (text.Length <= most)
            return text;
        var end = 0;
        while (end < text.Length)
        {
            var next = end + StringInfo.GetNextTextElementLength(text, end);
            if (next > most)
                break;
            end = next;
        }
        return text[..end];
    }

    /// <summary>Whether the character belongs to no text at all (The Unicode Standard, 23.7): U+FDD0 to U+FDEF, and the last two of each plane.</summary>
    public static bool IsNoncharacter(int rune) => rune is >= 0xFDD0 and <= 0xFDEF || (rune & 0xFFFE) == 0xFFFE;

    private static bool IsPlain(string text)
    {
        foreach (var c in text)
            if (c < ' ' ? c is not ('\t' or '\n' or '\r') : c > '~' && !IsPlainBeyondAscii(c))
                return false;
        return true;
    }

    // Letters of every script, punctuation, symbols; all that needs a second look is not among them.
    private static bool IsPlainBeyondAscii(char c) =>
        c >= '\u00A0'
        && c is not ('\u00AD' or '\u115F' or '\u1160' or '\u3164' or '\uFFA0' or '\u2800')
        && CharUnicodeInfo.GetUnicodeCategory(c)
            is not (
                UnicodeCategory.Surrogate
                or UnicodeCategory.Control
                or UnicodeCategory.Format
                or UnicodeCategory.OtherNotAssigned
                or UnicodeCategory.NonSpacingMark
                or UnicodeCategory.EnclosingMark
            );

    private static string Mend(string text)
    {
        var kept = new StringBuilder(text.Length);
        var marks = 0;
        var shows = false;
        foreach (var rune in text.EnumerateRunes())
        {
            if (IsDropped(rune.Value))
                continue;
            var isMark =
                Rune.GetUnicodeCategory(rune) is UnicodeCategory.NonSpacingMark or UnicodeCategory.EnclosingMark;
            marks = isMark ? marks + 1 : 0;
            if (marks > MostMarks)
                continue;
            shows |= !isMark && !IsInvisible(rune);
            kept.Append(rune.ToString());
        }
        return shows ? kept.ToString() : "";
    }

    private static bool IsDropped(int rune) =>
        (rune < ' ' && rune is not ('\t' or '\n' or '\r'))
        || rune is >= 0x7F and <= 0x9F
        || rune is >= 0x202A and <= 0x202E or >= 0x2066 and <= 0x2069
        || IsNoncharacter(rune);

    // Format characters (zero-width spaces and joiners, tags) and the blanks that scripts draw as nothing.
    private static bool IsInvisible(Rune rune) =>
        Rune.IsWhiteSpace(rune)
        || Rune.GetUnicodeCategory(rune) is UnicodeCategory.Format
        || rune.Value is 0x115F or 0x1160 or 0x3164 or 0xFFA0 or 0x2800;
}
