using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Publishing;

namespace Outcry.Core.Briefs;

/// <summary>Checks what a brief draws on.</summary>
internal static class FromCheck
{
    public static IEnumerable<Problem> Problems(Brief brief, IReadOnlyCollection<SourceOffer> chosen)
    {
        var from = brief.From;
        var needsSource = !BriefEvidence.NeedsNothing(brief) && !BriefEvidence.CountsTraffic(brief);
        if (needsSource && chosen.Count == 0)
            yield return Blocking("from.sources", "It draws on no source yet. Choose where its events come from.");
        else if (
            needsSource
            && BriefEvidence.KindsOf(brief.Kind) is { } kinds
            && !chosen.Any(c => kinds.Contains(c.Kind))
        )
            yield return Blocking(
                "from.sources",
                $"None of these sources brings what it tells. It needs {string.Join(" or ", kinds.Select(Name))}."
            );
        if (from.WindowMinutes is < 1 or > 730 * 24 * 60)
            yield return Blocking(
                "from.windowMinutes",
                "The window must be between 1 minute and 730 days, or all time: in a window of zero nothing can have happened."
            );
        if (from.OldestDays is < 1 or > 730)
            yield return Blocking("from.oldestDays", "The oldest age must be between 1 and 730 days.");
        if (from.LeastNumber is < 1 or > 10_000)
            yield return Blocking("from.leastNumber", "The least number must be between 1 and 10,000.");
        else if (from.LeastNumber == 1 && brief.Kind is CalloutKind.Tally or CalloutKind.Headcount)
            yield return new Problem(
                "from.leastNumber",
                "A count of one reads as nobody else. A least number of 3 or more helps more than it hides.",
                Blocks: false
            );
        if (from.MostLeft is < 1 or > 10_000)
            yield return Blocking("from.mostLeft", "The most that may be left must be between 1 and 10,000.");
        if (from.LeastStars is < 0 or > 5)
            yield return Blocking("from.leastStars", "The fewest stars must be between 0 and 5.");
        foreach (var pattern in from.Pages)
            if (PagePattern.TryParse(pattern, out var error) is null)
                yield return Blocking("from.pages", $"{pattern}: {error}");
        foreach (var condition in from.Conditions)
            if (
                condition.Field.Length == 0
                || (condition.Comparison != Comparison.Filled && condition.Value.Length == 0)
            )
                yield return Blocking(
                    "from.conditions",
                    "A condition is not finished. Choose a field and what it is compared with, or remove it."
                );
    }

    private static string Name(EventKind kind) =>
        kind switch
        {
            EventKind.StockLevel => "stock levels",
            EventKind.Review => "reviews",
            EventKind.Endorsement => "endorsements",
            EventKind.Total => "totals",
            _ => kind.ToString(),
        };

    private static Problem Blocking(string field, string message) => new(field, message);
}
