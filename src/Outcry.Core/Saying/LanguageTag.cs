using System.Globalization;

namespace Outcry.Core.Saying;

/// <summary>Reads BCP 47 language tags as far as choosing a wording needs it.</summary>
public static class LanguageTag
{
    /// <summary>Longest tag taken, in characters (RFC 5646 §4.4.1 asks for room for 35).</summary>
    public const int MaxLength = 35;

    /// <summary>"de" of "de-AT", in lower case.</summary>
    public static string Main(string tag) =>
        tag.IndexOf('-', StringComparison.Ordinal) is var dash and > 0
            ? tag[..dash].ToLowerInvariant()
            : tag.ToLowerInvariant();

    /// <summary>The tag, then ever shorter ones: "zh-Hant-TW", "zh-Hant", "zh" (RFC 4647 §3.4, "Lookup").</summary>
    public static IEnumerable<string> Chain(string tag)
    {
        for (var rest = tag; rest.Length > 0; rest = rest.LastIndexOf('-') is var dash and > 0 ? rest[..dash] : "")
            yield return rest;
    }

    /// <summary>Whether it is made of letters, digits and single hyphens and begins with a language of two or three letters.</summary>
    public static bool IsWellFormed(string tag) =>
        tag.Length is > 1 and <= MaxLength
        && tag.Split('-') is [{ Length: 2 or 3 } main, .. var rest]
        && main.All(char.IsAsciiLetter)
        && rest.All(r => r.Length is > 0 and <= 8 && r.All(char.IsAsciiLetterOrDigit));

    /// <summary>What it is called in English, by CLDR: "Dutch", "Portuguese (Brazil)"; the tag itself where it is called nothing.</summary>
    public static string NameOf(string tag)
    {
        try
        {
            return CultureInfo.GetCultureInfo(tag).EnglishName is { Length: > 0 } name ? name : tag;
        }
        catch (CultureNotFoundException)
        {
            return tag;
        }
    }

    /// <summary>Whether the language is written from right to left.</summary>
    public static bool IsRightToLeft(string tag) =>
        Main(tag) is "ar" or "he" or "fa" or "ur" or "yi" or "ps" or "sd" or "ckb" or "dv";

    /// <summary>The first of a reader's languages for which something is there, by the longest match; null when there is none.</summary>
    /// <param name="readers">The reader's languages, the most wanted first.</param>
    /// <param name="offered">What is there.</param>
    public static string? Choose(IReadOnlyList<string> readers, IReadOnlyCollection<string> offered)
    {
        foreach (var reader in readers)
        foreach (var tag in Chain(reader))
            if (offered.FirstOrDefault(o => string.Equals(o, tag, StringComparison.OrdinalIgnoreCase)) is { } found)
                return found;
        return null;
    }
}
