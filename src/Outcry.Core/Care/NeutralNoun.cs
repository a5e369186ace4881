namespace Outcry.Core.Care;

/// <summary>The word that stands for a person who is not named.</summary>
public static class NeutralNoun
{
    private static readonly Dictionary<string, string> Supplied = new(StringComparer.OrdinalIgnoreCase)
    {
        ["en"] = "Someone",
        ["de"] = "Jemand",
        ["fr"] = "Quelqu’un",
        ["es"] = "Alguien",
        ["nl"] = "Iemand",
        ["it"] = "Qualcuno",
        ["pt"] = "Alguém",
        ["ja"] = "どなたか",
        ["ar"] = "شخص ما",
    };

    /// <summary>Languages for which a noun is supplied, as BCP 47 tags.</summary>
    public static IReadOnlyCollection<string> Languages => Supplied.Keys;

    /// <summary>The noun for a language: the site's own, else the supplied one, else its main language's, else English.</summary>
    /// <param name="language">BCP 47 tag, such as "de-AT".</param>
    /// <param name="own">The site's own nouns by tag.</param>
    public static string For(string language, IReadOnlyDictionary<string, string> own)
    {
        for (var tag = language; tag.Length > 0; tag = Shorter(tag))
        {
            if (own.TryGetValue(tag, out var chosen) && chosen.Trim().Length > 0)
                return chosen.Trim();
            if (Supplied.TryGetValue(tag, out var supplied))
                return supplied;
        }
        return Supplied["en"];
    }

    private static string Shorter(string tag) => tag.LastIndexOf('-') is var at and > 0 ? tag[..at] : "";
}
