namespace Outcry.Store;

/// <summary>The languages whose words PostgreSQL's text search knows in all their forms; others are found as they were written.</summary>
public static class SearchLanguages
{
    /// <summary>The name of the configuration that knows no forms.</summary>
    public const string Simple = "simple";

    private static readonly Dictionary<string, string> ByTag = new()
    {
        ["ar"] = "arabic",
        ["ca"] = "catalan",
        ["da"] = "danish",
        ["de"] = "german",
        ["el"] = "greek",
        ["en"] = "english",
        ["es"] = "spanish",
        ["fi"] = "finnish",
        ["fr"] = "french",
        ["hu"] = "hungarian",
        ["it"] = "italian",
        ["nb"] = "norwegian",
        ["nl"] = "dutch",
        ["no"] = "norwegian",
        ["pt"] = "portuguese",
        ["ro"] = "romanian",
        ["ru"] = "russian",
        ["sv"] = "swedish",
        ["tr"] = "turkish",
    };

    /// <summary>The configuration for a language.</summary>
    /// <param name="tag">BCP 47 tag.</param>
    public static string Of(string tag) => ByTag.GetValueOrDefault(tag.Split('-')[0].ToLowerInvariant(), Simple);

    /// <summary>All of them.</summary>
    public static IReadOnlyList<string> All { get; } = [.. ByTag.Values.Append(Simple).Distinct().Order()];

    // The names are literals: what is computed from a column alone may be kept.
    internal static string VectorSql(string language, string text) =>
        $"case {language} {string.Concat(All.Select(c => $"when '{c}' then to_tsvector('{c}', {text}) "))}else to_tsvector('{Simple}', {text}) end";
}
