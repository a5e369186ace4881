namespace Outcry.Core.Saying;

/// <summary>The small words of a language that only stand there for the word beside them: "from", "d’", "から".</summary>
/// <param name="Before">Words that stand before, with a space between; in small letters.</param>
/// <param name="Attached">What stands directly before.</param>
/// <param name="After">What follows directly.</param>
internal sealed record JoiningWords(
    IReadOnlyList<string> Before,
    IReadOnlyList<string> Attached,
    IReadOnlyList<string> After
)
{
    private static readonly JoiningWords None = new([], [], []);

    private static readonly IReadOnlyDictionary<string, JoiningWords> Shipped = Longest(
        LanguageData.Read<Dictionary<string, JoiningWords>>("joining-words.json")
    );

    /// <summary>Main languages whose joining words are known.</summary>
    public static IReadOnlyCollection<string> Languages => [.. Shipped.Keys];

    /// <summary>Those of a language; none when it is not shipped.</summary>
    public static JoiningWords Of(string language) => Shipped.GetValueOrDefault(LanguageTag.Main(language), None);

    /// <summary>How many characters at the end of a text are a joining word; 0 when it ends otherwise.</summary>
    /// <param name="left">What stands before an empty token.</param>
    public int LengthAtEnd(ReadOnlySpan<char> left)
    {
        foreach (var attached in Attached)
            if (EndsWithWord(left, attached))
                return attached.Length;
        var word = left.TrimEnd(' ');
        if (word.Length == left.Length)
            return 0;
        foreach (var before in Before)
            if (EndsWithWord(word, before))
                return left.Length - word.Length + before.Length;
        return 0;
    }

    /// <summary>How many characters at the start of a text are a joining word; 0 when it begins otherwise.</summary>
    public int LengthAtStart(ReadOnlySpan<char> right)
    {
        foreach (var after in After)
            if (right.StartsWith(after, StringComparison.Ordinal))
                return after.Length;
        return 0;
    }

    private static bool EndsWithWord(ReadOnlySpan<char> text, string word) =>
        text.EndsWith(word, StringComparison.OrdinalIgnoreCase)
        && (text.Length == word.Length || !char.IsLetterOrDigit(text[^(word.Length + 1)]));

    // "près de" before "de": of two that fit, the longer one is meant.
    private static Dictionary<string, JoiningWords> Longest(Dictionary<string, JoiningWords> read) =>
        read.ToDictionary(
            r => r.Key,
            r => new JoiningWords(Sorted(r.Value.Before), Sorted(r.Value.Attached), Sorted(r.Value.After))
        );

    private static string[] Sorted(IEnumerable<string> words) => [.. words.OrderByDescending(w => w.Length)];
}
