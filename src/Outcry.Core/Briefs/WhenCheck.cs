using Outcry.Core.Publishing;
using Outcry.Core.Timing;

namespace Outcry.Core.Briefs;

/// <summary>Checks when a brief runs.</summary>
internal static class WhenCheck
{
    public static IEnumerable<Problem> Problems(Brief brief, CheckMoment? moment)
    {
        var when = brief.When;
        if (when.Turns is < 1 or > 10)
            yield return Blocking("when.turns", "Between 1 and 10 turns.");
        if (when.TurnGapSeconds is < 1 or > 600)
            yield return Blocking("when.turnGapSeconds", "Between 1 and 600 seconds from one turn to the next.");
        if (when.Rounds is < 0 or > 100)
            yield return Blocking("when.rounds", "Between 1 and 100 rounds, or 0 for until closed or clicked.");
        if (
            moment is { Rules.GapSeconds: var gap }
            && gap > when.TurnGapSeconds
            && (when.Turns > 1 || when.Rounds != 1)
            && brief.Look.Shape is not (Shape.Inset or Shape.Crawl)
        )
            yield return new Problem(
                "when.turnGapSeconds",
                $"Turns come {gap} s apart, not {when.TurnGapSeconds}: the house rules keep {gap} s between two callouts.",
                Blocks: false
            );
        if (
            brief.Look.Shape is Shape.Poster or Shape.Curtain
            && (when.Triggers.Count == 0 || when.Triggers.Any(t => t is { Kind: TriggerKind.Seconds, Number: < 2 }))
        )
            yield return new Problem(
                "when.triggers",
                "At once is jarring for what covers the page. Give people some seconds, or let them scroll first.",
                Blocks: false
            );
    }

    private static Problem Blocking(string field, string message) => new(field, message);
}
