namespace Outcry.Core.Pages;

/// <summary>What a page rule says of one page, and which pattern said it.</summary>
/// <param name="Shown">Whether the rule lets the page in.</param>
/// <param name="Decider">The exclude or include that decided; null when no include stands in the rule or none matched.</param>
public sealed record PageVerdict(bool Shown, PagePattern? Decider);

/// <summary>A list of includes and a list of excludes. Excludes win; no include means every page.</summary>
public sealed record PageRule(IReadOnlyList<PagePattern> Includes, IReadOnlyList<PagePattern> Excludes)
{
    /// <summary>The rule that lets every page in.</summary>
    public static PageRule Everywhere { get; } = new([], []);

    /// <summary>Reads a rule whose patterns are known to be valid.</summary>
    /// <exception cref="FormatException">A pattern is not valid.</exception>
    public static PageRule Parse(IEnumerable<string> includes, IEnumerable<string> excludes) =>
        new([.. includes.Select(PagePattern.Parse)], [.. excludes.Select(PagePattern.Parse)]);

    /// <summary>Decides one page. Of several matching patterns the first in the list is named.</summary>
    public PageVerdict Decide(PageAddress page)
    {
        if (Excludes.FirstOrDefault(p => p.Matches(page)) is { } excluded)
            return new PageVerdict(false, excluded);
        if (Includes.Count == 0)
            return new PageVerdict(true, null);
        var included = Includes.FirstOrDefault(p => p.Matches(page));
        return new PageVerdict(included is not null, included);
    }
}
