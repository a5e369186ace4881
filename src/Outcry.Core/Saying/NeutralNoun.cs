namespace Outcry.Core.Saying;

/// <summary>The word that stands for a person who is not named.</summary>
public static class NeutralNoun
{
    /// <summary>Languages for which a noun is supplied, as BCP 47 tags.</summary>
    public static IReadOnlyCollection<string> Languages => BuiltInWords.Languages;

    /// <summary>The noun for a language: the site's own, else the supplied one, else its main language's, else English.</summary>
    /// <param name="language">BCP 47 tag, such as "de-AT".</param>
    /// <param name="own">The site's own nouns by tag.</param>
    public static string For(string language, IReadOnlyDictionary<string, string> own)
    {
        foreach (var tag in LanguageTag.Chain(language))
            if (own.TryGetValue(tag, out var chosen) && chosen.Trim().Length > 0)
                return chosen.Trim();
        return BuiltInWords.Say(Voice.Of(language, []), BuiltInWord.Someone);
    }
}
