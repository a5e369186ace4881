namespace Outcry.Core.Care;

/// <summary>A site's choice of blocked words: the supplied lists of some languages, less what was taken out, plus its own.</summary>
/// <remarks>
/// Not every language at once: "pot" is what a pottery sells and a slur in Dutch. A site begins with English and its own.
/// </remarks>
/// <param name="Languages">Languages whose supplied list holds, as BCP 47 tags; none holds no supplied word.</param>
/// <param name="Added">The site's own words.</param>
/// <param name="TakenOut">Supplied words that the site lets pass.</param>
public sealed record WordChoice(
    IReadOnlyList<string> Languages,
    IReadOnlyList<string> Added,
    IReadOnlyList<string> TakenOut
)
{
    /// <summary>English, and nothing changed.</summary>
    public static WordChoice Start { get; } = new(["en"], [], []);

    /// <summary>English and the main language of the site.</summary>
    /// <param name="language">BCP 47 tag, such as "de-AT".</param>
    public static WordChoice For(string language) =>
        Start with
        {
            Languages = [.. new[] { "en", language.Split('-')[0].ToLowerInvariant() }.Distinct()],
        };

    /// <summary>The words that hold an event, given the supplied ones by language.</summary>
    public IEnumerable<string> Apply(IReadOnlyDictionary<string, string[]> supplied)
    {
        var passed = TakenOut.ToHashSet(StringComparer.OrdinalIgnoreCase);
        return Languages
            .Where(supplied.ContainsKey)
            .SelectMany(l => supplied[l])
            .Distinct()
            .Where(w => !passed.Contains(w))
            .Concat(Added);
    }
}
