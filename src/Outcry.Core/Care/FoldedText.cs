using System.Collections.Frozen;
using System.Globalization;
using System.Text;

namespace Outcry.Core.Care;

/// <summary>Folds text so that spellings meant to be read as one word become one: case, accents, look-alike letters, digits used as letters.</summary>
/// <param name="lookAlikes">
/// What each character may be mistaken for, as in the confusables of Unicode Technical Standard 39; none leaves look-alikes alone.
/// </param>
public sealed class FoldedText(IReadOnlyDictionary<string, string>? lookAlikes = null)
{
    private readonly FrozenDictionary<string, string> _lookAlikes = (
        lookAlikes ?? new Dictionary<string, string>()
    ).ToFrozenDictionary();

    private static readonly FrozenDictionary<char, char> DigitsAsLetters = new Dictionary<char, char>
    {
        ['0'] = 'o',
        ['1'] = 'i',
        ['3'] = 'e',
        ['4'] = 'a',
        ['5'] = 's',
        ['7'] = 't',
        ['8'] = 'b',
        ['@'] = 'a',
        ['$'] = 's',
        ['!'] = 'i',
        ['|'] = 'i',
    }.ToFrozenDictionary();

    /// <summary>The text with case and accents gone and look-alikes replaced; what is no letter stays as it is.</summary>
    /// <remarks>Lone surrogates, which are no text, are dropped. "ÉMILE" gives "emile"; Cyrillic "а" gives Latin "a".</remarks>
    public string Fold(string text)
    {
        var folded = new StringBuilder(text.Length);
        foreach (var rune in Decompose(text).EnumerateRunes())
        {
            if (Rune.GetUnicodeCategory(rune) is UnicodeCategory.NonSpacingMark or UnicodeCategory.Format)
                continue;
            var letter = rune.ToString();
            // ASCII is what the others are mistaken for; folding it too would make "m" into "rn".
            if (!rune.IsAscii && _lookAlikes.TryGetValue(letter, out var meant))
                letter = meant;
            folded.Append(letter);
        }
        // "ß" is written "ss" where a keyboard or a capital has none.
        return Strip(folded.ToString().ToLowerInvariant().Replace("ß", "ss", StringComparison.Ordinal));
    }

    /// <summary>A word with digits and signs read as the letters they stand for; null when it has no letter, for then it is a number.</summary>
    public static string? ReadDigits(string word)
    {
        if (!word.Any(char.IsLetter))
            return null;
        return string.Create(
            word.Length,
            word,
            (letters, from) =>
            {
                for (var i = 0; i < from.Length; i++)
                    letters[i] = DigitsAsLetters.GetValueOrDefault(from[i], from[i]);
            }
        );
    }

    /// <summary>Whether a character can stand for a letter in a disguised word.</summary>
    public static bool MayBeLetter(char c) =>
        char.IsLetterOrDigit(c) || char.IsSurrogate(c) || c is '@' or '$' or '!' or '|';

    private static string Strip(string text)
    {
        var kept = new StringBuilder(text.Length);
        foreach (var rune in Decompose(text).EnumerateRunes())
            if (Rune.GetUnicodeCategory(rune) is not UnicodeCategory.NonSpacingMark)
                kept.Append(rune.ToString());
        return kept.ToString();
    }

    // Normalising throws on lone surrogates, which hostile input contains.
    private static string Decompose(string text)
    {
        var whole = new StringBuilder(text.Length);
        foreach (var rune in text.EnumerateRunes())
            if (rune != Rune.ReplacementChar)
                whole.Append(rune.ToString());
        return whole.ToString().Normalize(NormalizationForm.FormKD);
    }
}
