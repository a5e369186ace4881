using System.Globalization;

namespace Outcry.Core.Saying;

/// <summary>In which language something is said, and with whose way of writing numbers, dates and money.</summary>
/// <param name="Language">BCP 47 tag of the words.</param>
/// <param name="Culture">How numbers are written: the reader's own, where it is of the same language as the words.</param>
/// <param name="Own">The site's own built-in words of this language, by key.</param>
public sealed record Voice(string Language, CultureInfo Culture, IReadOnlyDictionary<string, string>? Own = null)
{
    /// <summary>English as it is written internationally.</summary>
    public static Voice English { get; } = Of("en", []);

    /// <summary>The voice for words of a language and a reader of certain languages.</summary>
    /// <param name="language">BCP 47 tag of the words.</param>
    /// <param name="readers">The reader's languages, the most wanted first.</param>
    /// <param name="own">The site's own built-in words of the language, by key.</param>
    public static Voice Of(
        string language,
        IReadOnlyList<string> readers,
        IReadOnlyDictionary<string, string>? own = null
    )
    {
        var main = LanguageTag.Main(language);
        // An English sentence with German decimals reads as a mistake, so the reader's region only counts within a language.
        var reader = language.Contains('-', StringComparison.Ordinal)
            ? null
            : readers.FirstOrDefault(r => LanguageTag.Main(r) == main && LanguageTag.IsWellFormed(r));
        return new Voice(language, CultureOf(reader ?? language), own);
    }

    private static CultureInfo CultureOf(string tag)
    {
        if (!LanguageTag.IsWellFormed(tag))
            return CultureInfo.InvariantCulture;
        try
        {
            // Made-up tags are cultures too as far as the library goes; the parent of one that is known nowhere is invariant.
            return CultureInfo.ReadOnly(new CultureInfo(tag, useUserOverride: false));
        }
        catch (CultureNotFoundException)
        {
            return CultureInfo.InvariantCulture;
        }
    }
}
