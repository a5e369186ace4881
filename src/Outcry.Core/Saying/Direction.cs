using System.Text;

namespace Outcry.Core.Saying;

/// <summary>Keeps a value that runs the other way from turning the sentence around it.</summary>
internal static class Direction
{
    private const char FirstStrongIsolate = '\u2068';
    private const char PopDirectionalIsolate = '\u2069';

    /// <summary>The value, within an isolate where it has letters of the other direction (Unicode Standard Annex 9, 2.4).</summary>
    /// <param name="value">A value, with no direction marks of its own.</param>
    /// <param name="inRightToLeft">Whether the sentence runs from right to left.</param>
    public static string Isolated(string value, bool inRightToLeft)
    {
        foreach (var rune in value.EnumerateRunes())
            if (Rune.IsLetter(rune) && IsRightToLeft(rune.Value) != inRightToLeft)
                return $"{FirstStrongIsolate}{value}{PopDirectionalIsolate}";
        return value;
    }

    // The blocks of Hebrew, Arabic, Syriac, Thaana, N'Ko and their neighbours, with their presentation forms.
    private static bool IsRightToLeft(int rune) =>
        rune
            is >= 0x0590
                and <= 0x08FF
                or >= 0xFB1D
                and <= 0xFDFF
                or >= 0xFE70
                and <= 0xFEFF
                or >= 0x10800
                and <= 0x10FFF
                or >= 0x1E800
                and <= 0x1EFFF;
}
