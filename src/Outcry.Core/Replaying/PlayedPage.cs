using Outcry.Core.Briefs;
using Outcry.Core.Performing;
using Outcry.Core.Planning;

namespace Outcry.Core.Replaying;

/// <summary>What a page view came to, with the callouts themselves.</summary>
/// <param name="Armed">The callouts on the plan.</param>
/// <param name="Outcome">What came of them.</param>
/// <param name="UntilMs">How long it was played: to the end of the page view, or beyond it to be cut there.</param>
internal sealed record PlayedPage(IReadOnlyList<ArmedCallout> Armed, PageOutcome Outcome, long UntilMs)
{
    private readonly Callout[] _shown =
    [
        .. Outcome.Showings.Select(s => Armed.First(a => a.Callout.Id == s.Callout).Callout),
    ];

    /// <summary>Nothing was on the plan.</summary>
    public static PlayedPage Nothing { get; } = new([], new PageOutcome([], []), 0);

    /// <summary>Whose showing the one at a place is.</summary>
    public Callout CalloutAt(int place) => _shown[place];
}
