using Outcry.Core.Care;

namespace Outcry.Core.Talks;

/// <summary>The gate for what is said in a talk.</summary>
public static class TalkText
{
    /// <summary>Characters of one message.</summary>
    public const int Longest = 4_000;

    /// <summary>Messages that one visitor may send in a minute; more is a flood.</summary>
    public const int MostAMinute = 30;

    /// <summary>Characters of a message that stand in a list.</summary>
    public const int Glimpse = 140;

    /// <summary>What was said, cleaned, with its lines; null where nothing is left of it.</summary>
    public static string? Clean(string? text) => PlainText.OrNull(text);

    /// <summary>As much of it as one message may have.</summary>
    public static string Clip(string text) => text.Length <= Longest ? text : PlainText.Clip(text, Longest - 1) + "…";

    /// <summary>Its beginning, on one line.</summary>
    public static string GlimpseOf(string text)
    {
        var line = text.ReplaceLineEndings(" ");
        return line.Length <= Glimpse ? line : PlainText.Clip(line, Glimpse - 1) + "…";
    }
}
