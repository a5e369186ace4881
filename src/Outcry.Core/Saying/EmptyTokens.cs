using System.Text.RegularExpressions;

namespace Outcry.Core.Saying;

/// <summary>
/// Takes out of a sentence the tokens that came to nothing, with all that stood there for them alone: marks of emphasis,
/// brackets and quotes around them, the joining word ("from") or the stop (", ") beside them, and one of two spaces.
/// </summary>
/// <remarks>
/// What the author wrote stays as it is wherever no token is empty, spaces before "!" and ":" in French too. A rule of thumb
/// for plain sentences, not a grammar: what must read well in any case gets a fallback.
/// </remarks>
internal static partial class EmptyTokens
{
    private static readonly (char Opens, char Closes)[] Around =
    [
        ('(', ')'),
        ('[', ']'),
        ('“', '”'),
        ('„', '“'),
        ('‘', '’'),
        ('«', '»'),
        ('»', '«'),
        ('「', '」'),
        ('『', '』'),
        ('（', '）'),
        ('"', '"'),
        ('\'', '\''),
    ];

    /// <summary>The sentence without its empty tokens.</summary>
    /// <param name="text">The sentence, values kept apart.</param>
    /// <param name="slots">The values.</param>
    /// <param name="language">BCP 47 tag of the sentence: whose joining words.</param>
    public static string Tidy(string text, Slots slots, string language)
    {
        var words = JoiningWords.Of(language);
        // From the last to the first, so that of "from {{ city }}, {{ country }}" the comma goes before the word.
        for (var at = text.Length - 1; at >= 0; at--)
            if (at < text.Length && slots.IsEmpty(text[at]))
                text = Without(text, at, slots, words);
        return RepeatedSpaces().Replace(text, " ").Trim();
    }

    private static string Without(string text, int at, Slots slots, JoiningWords words)
    {
        var (from, until) = Surroundings(text, at);
        var (left, right) = (text[..from], text[until..]);
        var spaced = left.EndsWith(' ') || right.StartsWith(' ');
        (left, right) = WithoutJoints(left, right, slots, words, out var joint);
        var kept = right.TrimStart(' ');
        // A sentence that was the token alone goes with its stop.
        if (IsStart(left) && Stop().Match(kept) is { Success: true } stop)
            right = kept = kept[stop.Length..];
        var glue = Glue(left, right, spaced || joint);
        if (left.Trim().Length == 0 && kept.Length > 0 && char.IsLower(kept[0]))
            kept = char.ToUpperInvariant(kept[0]) + kept[1..];
        return left.TrimEnd(' ') + glue + kept;
    }

    // Marks of emphasis, brackets and quotes with nothing but the token in them; of a link its address too.
    private static (int From, int Until) Surroundings(string text, int at)
    {
        var (from, until) = (at, at + 1);
        while (true)
        {
            var (before, after) = (SkipSpaces(text, from - 1, -1), SkipSpaces(text, until, 1));
            if (before < 0 || after >= text.Length)
                return (from, until);
            var pair = (text[before], text[after]);
            if (pair is ('*', '*') or ('_', '_') or ('+', '+'))
            {
                (from, until) = (before, after + 1);
                continue;
            }
            if (!Array.Exists(Around, a => a == pair))
                return (from, until);
            (from, until) = (before, after + 1);
            if (pair == ('[', ']') && until < text.Length && text[until] == '(')
                until = text.IndexOf(')', until) is > 0 and var end ? end + 1 : until;
        }
    }

    private static int SkipSpaces(string text, int at, int step)
    {
        while (at >= 0 && at < text.Length && text[at] == ' ')
            at += step;
        return at;
    }

    private static (string Left, string Right) WithoutJoints(
        string left,
        string right,
        Slots slots,
        JoiningWords words,
        out bool joint
    )
    {
        joint = true;
        var comma = StartsWithJoint().Match(right);
        var isListed = comma.Success && NextIsValue(right[comma.Length..], slots);
        var word = words.LengthAtEnd(left);
        // "from {{ city }}, Wales": the word still stands for what follows.
        if (isListed && (word > 0 || IsStart(left)))
            return (left, right[comma.Length..]);
        if (word > 0)
            left = left[..^word];
        if (EndsWithJoint().Match(left) is { Success: true } ends)
        {
            // Between two commas it was an aside, and both go.
            var isAside = !isListed && comma.Success && comma.Value.Trim() == ends.Value.Trim();
            return (left[..^ends.Length], isAside ? right[comma.Length..] : right);
        }
        if (IsStart(left) && comma.Success)
            return (left, right[comma.Length..]);
        if (words.LengthAtStart(right) is > 0 and var particle)
            return (left, right[particle..]);
        joint = word > 0 && left.EndsWith(' ');
        return (left, right);
    }

    private static bool NextIsValue(string rest, Slots slots)
    {
        var next = rest.TrimStart('*', '_', '+', ' ');
        return next.Length > 0 && Slots.IsSlot(next[0]) && !slots.IsEmpty(next[0]);
    }

    private static string Glue(string left, string right, bool spaced)
    {
        var (before, after) = (left.TrimEnd(' '), right.TrimStart(' '));
        if (!spaced || before.Length == 0 || after.Length == 0 || before[^1] is '\n' or '(' or '[' or '“' or '«')
            return "";
        if (after[0] == '\n' || Opens(left) || Closes(right))
            return "";
        // A space that the author set before a stop stays, as in French; one that only parted the token from it goes.
        return Tight().IsMatch(after) && !right.StartsWith(' ') ? "" : " ";
    }

    // "**{{ number }} people**": emphasis cannot begin or end with a space.
    private static bool Opens(string left) => OpeningMark().IsMatch(left);

    private static bool Closes(string right) => ClosingMark().IsMatch(right);

    // Where a sentence begins: at the head of the message or of a line, or after a stop.
    private static bool IsStart(string left)
    {
        var before = left.TrimEnd(' ', '*', '_', '+');
        return before.Length == 0 || before[^1] is '\n' or '.' or '!' or '?' or '…' or '。';
    }

    [GeneratedRegex(@"(?:^|[\s(\[“«])[*_+]+$")]
    private static partial Regex OpeningMark();

    [GeneratedRegex(@"^[*_+]+(?:$|[\s.,;:!?…)\]”»])")]
    private static partial Regex ClosingMark();

    [GeneratedRegex(" {2,}")]
    private static partial Regex RepeatedSpaces();

    [GeneratedRegex(@"^ *(?:[,;:/|·–—&、،]| - |-(?=\S)) *")]
    private static partial Regex StartsWithJoint();

    [GeneratedRegex(@" *(?:[,;:/|·–—&、،]| -|(?<=\S)-) *$")]
    private static partial Regex EndsWithJoint();

    [GeneratedRegex(@"^[.!?…。]+ *")]
    private static partial Regex Stop();

    [GeneratedRegex(@"^[.,;:!?…)\]”»]")]
    private static partial Regex Tight();
}
