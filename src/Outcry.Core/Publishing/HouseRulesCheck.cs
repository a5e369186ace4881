using Outcry.Core.Pages;

namespace Outcry.Core.Publishing;

/// <summary>Checks house rules before a site is held to them.</summary>
public static class HouseRulesCheck
{
    /// <summary>Most patterns of quiet pages.</summary>
    public const int MostQuietPages = 100;

    /// <summary>Longest selector, in characters.</summary>
    public const int LongestSelector = 300;

    /// <summary>The first objection to each rule; empty when a site may be held to them.</summary>
    public static IReadOnlyList<Problem> Check(HouseRules rules)
    {
        List<Problem?> found =
        [
            Between("mostAtOnce", rules.MostAtOnce, 1, 5, "callouts on screen at once"),
            Between("gapSeconds", rules.GapSeconds, 0, 600, "seconds between two callouts"),
            Between("mostPerVisit", rules.MostPerVisit, 1, 100, "callouts in a visit"),
            Between("patienceSeconds", rules.PatienceSeconds, 0, 600, "seconds of patience"),
            QuietPages(rules.QuietPages),
            Selector("consentNotice", rules.ConsentNotice),
            Selector("keepClear", rules.KeepClear),
        ];
        return [.. found.OfType<Problem>()];
    }

    private static Problem? Between(string field, int number, int least, int most, string what) =>
        number >= least && number <= most ? null : new(field, $"Between {least} and {most} {what}.");

    private static Problem? QuietPages(IReadOnlyList<string> patterns)
    {
        if (patterns.Count > MostQuietPages)
            return new("quietPages", $"At most {MostQuietPages} patterns of quiet pages.");
        foreach (var pattern in patterns)
            if (PagePattern.TryParse(pattern, out var error) is null)
                return new("quietPages", $"{pattern}: {error}");
        return null;
    }

    private static Problem? Selector(string field, string selector) =>
        selector.Length > LongestSelector ? new(field, $"A selector has at most {LongestSelector} characters.")
        // Whoever writes markup or a rule here means something else; the browser would find nothing by it.
        : selector.AsSpan().IndexOfAny("<{}") >= 0
            ? new(field, "Write a selector such as #cookies or .notice, not markup or styles.")
        : selector.Trim().Length > 0 && !CssSelector.IsReadable(selector)
            ? new(
                field,
                $"\"{selector}\" is no selector that a browser can read. Write one such as #cookies or .notice."
            )
        : null;
}
