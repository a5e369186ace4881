using System.Collections.Concurrent;
using System.Reflection;
using System.Text.Json;
using Outcry.Core.Care;

namespace Outcry.Server.Platform;

/// <summary>The supplied lists of words to hold, by language, as published in the package naughty-words (CC BY 4.0).</summary>
internal sealed class SuppliedWords
{
    private const string Prefix = "blocked-words/";
    private readonly FoldedText _folding = new(LookAlikes());
    private readonly ConcurrentDictionary<string, BlockedWords> _compiled = new();

    public SuppliedWords()
    {
        ByLanguage = Assembly
            .GetExecutingAssembly()
            .GetManifestResourceNames()
            .Where(n => n.StartsWith(Prefix, StringComparison.Ordinal))
            .ToDictionary(n => n[Prefix.Length..^".json".Length], n => EmbeddedJson.Read<string[]>(n));
    }

    /// <summary>Words by BCP 47 tag.</summary>
    public IReadOnlyDictionary<string, string[]> ByLanguage { get; }

    /// <summary>The matcher for a site's choice. Sites that chose alike share one.</summary>
    public BlockedWords Compile(WordChoice choice)
    {
        // Choices that nobody makes any more are not kept; those in use are compiled once more.
        if (_compiled.Count >= MostCompiled)
            _compiled.Clear();
        return Compiled(choice);
    }

    /// <summary>The matcher for some words alone.</summary>
    public BlockedWords CompileOnly(IEnumerable<string> words) => new(words, _folding);

    private const int MostCompiled = 50;

    private BlockedWords Compiled(WordChoice choice) =>
        _compiled.GetOrAdd(JsonSerializer.Serialize(choice), _ => new BlockedWords(choice.Apply(ByLanguage), _folding));

    // Unicode's table of confusable characters (UTS 39), from the package unhomoglyph.
    private static Dictionary<string, string> LookAlikes() =>
        EmbeddedJson.Read<Dictionary<string, string>>("look-alikes.json");
}

/// <summary>Reads the JSON tables that the build puts into the program from published packages.</summary>
internal static class EmbeddedJson
{
    public static T Read<T>(string name)
    {
        using var stream =
            Assembly.GetExecutingAssembly().GetManifestResourceStream(name)
            ?? throw new InvalidOperationException(
                $"{name} is not part of this build. Fetch the web packages first: npm --prefix web ci."
            );
        return JsonSerializer.Deserialize<T>(stream)!;
    }
}
