using System.Collections.Frozen;
using System.Globalization;
using System.Text;

namespace Outcry.Core.Care;

/// <summary>Finds words that must not reach visitors unseen, however they are disguised.</summary>
/// <remarks>
/// A word matches as a whole word, never inside another one: "Scunthorpe" is a town. It is found in any case, with or
/// without accents, spelt with look-alike letters or digits, and with its letters spaced out or dotted ("b a d", "b.a.d").
/// In scripts that put no spaces between words (Chinese, Japanese, Thai) it is found anywhere.
/// </remarks>
public sealed class BlockedWords
{
    /// <summary>Longest entry taken, in characters.</summary>
    public const int MaxEntryLength = 80;

    private readonly FoldedText _folding;
    private readonly FrozenDictionary<string, string> _words;
    private readonly FrozenDictionary<string, List<(string[] Parts, string Entry)>> _phrases;
    private readonly List<(string Folded, string Entry)> _unspaced;
    private readonly Dictionary<string, string?>? _seen;

    /// <summary>Compiles the entries; blank ones are left out.</summary>
    /// <param name="entries">Words and phrases, in any spelling.</param>
    /// <param name="folding">How texts are folded.</param>
    public BlockedWords(IEnumerable<string> entries, FoldedText folding)
    {
        _folding = folding;
        var words = new Dictionary<string, string>();
        var phrases = new Dictionary<string, List<(string[], string)>>();
        _unspaced = [];
        foreach (var entry in entries)
        {
            var folded = folding.Fold(entry).Trim();
            var parts = Tokens(folded);
            if (parts.Count == 0)
                continue;
            if (folded.EnumerateRunes().Any(IsUnspaced))
                _unspaced.Add((folded, entry));
            else if (parts.Count == 1)
                words.TryAdd(parts[0], entry);
            else
                AddPhrase(phrases, [.. parts], entry);
        }
        _words = words.ToFrozenDictionary();
        _phrases = phrases.ToFrozenDictionary();
    }

    private BlockedWords(BlockedWords same)
    {
        (_folding, _words, _phrases, _unspaced) = (same._folding, same._words, same._phrases, same._unspaced);
        _seen = [];
    }

    /// <summary>The same words, that look at a text only once: in a file one product is sold many times. For one thread, and for as long as one lot takes.</summary>
    public BlockedWords Remembering() => new(this);

    /// <summary>Blocks nothing.</summary>
    public static BlockedWords None { get; } = new([], new FoldedText());

    /// <summary>Entries compiled.</summary>
    public int Count => _words.Count + _phrases.Values.Sum(p => p.Count) + _unspaced.Count;

    /// <summary>The first entry found in any of the texts, as it stands in the list; null when all may pass.</summary>
    public string? FindIn(IEnumerable<string?> texts)
    {
        foreach (var text in texts)
            if (!string.IsNullOrEmpty(text) && Find(text) is { } found)
                return found;
        return null;
    }

    /// <summary>The first entry found in the text, or null.</summary>
    public string? Find(string text)
    {
        if (_seen is null)
            return LookIn(text);
        if (!_seen.TryGetValue(text, out var found))
            _seen[text] = found = LookIn(text);
        return found;
    }

    private string? LookIn(string text)
    {
        var folded = _folding.Fold(text);
        foreach (var (word, entry) in _unspaced)
            if (folded.Contains(word, StringComparison.Ordinal))
                return entry;
        var tokens = Tokens(folded);
        for (var i = 0; i < tokens.Count; i++)
            if ((WordAt(tokens[i]) ?? PhraseAt(tokens, i)) is { } found)
                return found;
        return SpacedOut(tokens);
    }

    private string? WordAt(string token) =>
        _words.TryGetValue(token, out var entry) ? entry
        : FoldedText.ReadDigits(token) is { } read && _words.TryGetValue(read, out entry) ? entry
        : _words.TryGetValue(Unstretched(token), out entry) ? entry
        : null;

    private string? PhraseAt(List<string> tokens, int start)
    {
        if (!_phrases.TryGetValue(tokens[start], out var candidates))
            return null;
        foreach (var (parts, entry) in candidates)
            if (start + parts.Length <= tokens.Count && parts.Index().All(p => tokens[start + p.Index] == p.Item))
                return entry;
        return null;
    }

    // Single letters in a row are read together: "b a d", "b-a-d", "b.4.d".
    private string? SpacedOut(List<string> tokens)
    {
        var run = new StringBuilder();
        for (var i = 0; i <= tokens.Count; i++)
        {
            if (i < tokens.Count && new StringInfo(tokens[i]).LengthInTextElements == 1)
            {
                run.Append(tokens[i]);
                continue;
            }
            if (run.Length >= 3 && WordAt(run.ToString()) is { } found)
                return found;
            run.Clear();
        }
        return null;
    }

    // "baaad" is read as "bad": three or more of a letter are one. Two are left, for many words have them.
    private static string Unstretched(string token)
    {
        var kept = new StringBuilder(token.Length);
        for (var i = 0; i < token.Length; )
        {
            var end = i;
            while (end < token.Length && token[end] == token[i])
                end++;
            kept.Append(token[i], end - i >= 3 ? 1 : end - i);
            i = end;
        }
        return kept.ToString();
    }

    private static List<string> Tokens(string folded)
    {
        var tokens = new List<string>();
        var start = -1;
        for (var i = 0; i <= folded.Length; i++)
        {
            var within = i < folded.Length && FoldedText.MayBeLetter(folded[i]);
            if (within && start < 0)
                start = i;
            if (within || start < 0)
                continue;
            // Signs that end a sentence stand at a word's end far more often than they stand for a letter.
            var token = folded[start..i].Trim('!', '|');
            if (token.Length > 0)
                tokens.Add(token);
            start = -1;
        }
        return tokens;
    }

    private static void AddPhrase(Dictionary<string, List<(string[], string)>> phrases, string[] parts, string entry)
    {
        if (!phrases.TryGetValue(parts[0], out var known))
            phrases[parts[0]] = known = [];
        known.Add((parts, entry));
    }

    // Han, Hiragana, Katakana and Thai, by their blocks in the Unicode Standard.
    private static bool IsUnspaced(Rune rune) =>
        rune.Value is (>= 0x0E00 and <= 0x0E7F) or (>= 0x3040 and <= 0x30FF) or (>= 0x3400 and <= 0x9FFF);
}
