using NodaTime;

namespace Outcry.Core.Evidence;

/// <summary>The events a rule draws on at one moment.</summary>
/// <param name="Counted">Newest first.</param>
/// <param name="Span">The stretch they truly cover: the smaller of the window and the age of the oldest; zero when there are none.</param>
public sealed record Selection(IReadOnlyList<LedgerEvent> Counted, Duration Span);

/// <summary>Draws events by a rule.</summary>
public static class EvidenceSelector
{
    /// <summary>The events that the rule draws on now, newest first, whoever reads them.</summary>
    /// <param name="newestFirst">The site's events, newest first.</param>
    /// <param name="rule">The rule.</param>
    /// <param name="now">Counted back from here.</param>
    public static Selection Select(IEnumerable<LedgerEvent> newestFirst, EvidenceRule rule, Instant now)
    {
        var counted = new List<LedgerEvent>();
        var reach = rule.Reach;
        foreach (var happened in newestFirst)
        {
            // All that follow are older still.
            if (now - happened.At > reach)
                break;
            var refusal = rule.Refuses(happened, now);
            if (refusal is null)
                counted.Add(happened);
        }
        return new Selection(counted, TrueSpan(counted, rule.Window, now));
    }

    internal static Duration TrueSpan(IReadOnlyList<LedgerEvent> counted, Duration? window, Instant now) =>
        counted.Count == 0 ? Duration.Zero : Within(window, now - counted.Min(e => e.At));

    internal static Duration SpanOfNewestFirst(IReadOnlyList<LedgerEvent> counted, Duration? window, Instant now) =>
        counted.Count == 0 ? Duration.Zero : Within(window, now - counted[^1].At);

    private static Duration Within(Duration? window, Duration age) => window is { } w && w < age ? w : age;
}
