using Outcry.Core.Pages;

namespace Outcry.Core.Publishing;

/// <summary>Limits that hold over every callout of a site.</summary>
/// <param name="MostAtOnce">Floating callouts on screen at once (K): 1 to 5.</param>
/// <param name="GapSeconds">Seconds from the end of one to the start of the next (G): 0 to 600.</param>
/// <param name="MostPerVisit">Callouts started in a visit (V): 1 to 100.</param>
/// <param name="PatienceSeconds">Seconds a due callout waits for its place (P): 0 to 600.</param>
/// <param name="QuietPages">Page patterns on which nothing is shown.</param>
/// <param name="NeedsConsent">Whether only visitors who agreed are shown anything.</param>
/// <param name="ConsentNotice">Selector of the site's consent notice, beside what the page marks itself; empty for none.</param>
/// <param name="KeepClear">Selector of what nothing may be laid over, beside what the page marks itself; empty for none.</param>
public sealed record HouseRules(
    int MostAtOnce,
    int GapSeconds,
    int MostPerVisit,
    int PatienceSeconds,
    IReadOnlyList<string> QuietPages,
    bool NeedsConsent = false,
    string ConsentNotice = "",
    string KeepClear = ""
)
{
    /// <summary>The calm start: one at once, 10 s apart, 6 a visit, 20 s of patience, no quiet pages.</summary>
    public static HouseRules Start { get; } = new(1, 10, 6, 20, []);

    /// <summary>The first quiet pattern that means the page, or null.</summary>
    public PagePattern? QuietBy(PageAddress page) =>
        QuietPages.Select(PagePattern.Parse).FirstOrDefault(p => p.Matches(page));
}
