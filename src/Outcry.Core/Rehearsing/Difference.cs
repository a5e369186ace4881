using Outcry.Core.Explaining;
using Outcry.Core.Performing;

namespace Outcry.Core.Rehearsing;

/// <summary>What became of a callout on a page: when it came on, or why not.</summary>
/// <param name="StartMs">Milliseconds since the page view began; null when it did not come on.</param>
/// <param name="Reason">Why not; null when it did.</param>
public sealed record Fate(long? StartMs, Reason? Reason);

/// <summary>One callout that fares differently in two rehearsals of the same page.</summary>
/// <param name="Callout">Which.</param>
/// <param name="Before">In the first.</param>
/// <param name="After">In the second.</param>
public sealed record Difference(Guid Callout, Fate Before, Fate After)
{
    /// <summary>Compares two rehearsals of one page.</summary>
    /// <returns>Callouts that come on at another moment, or in one only, in the order of the first; reasons alone make no difference.</returns>
    public static IReadOnlyList<Difference> Between(ReadPage before, ReadPage after) =>
        Between(before.Read with { Outcome = Whole(before) }, after.Read with { Outcome = Whole(after) });

    /// <inheritdoc cref="Between(ReadPage, ReadPage)"/>
    public static IReadOnlyList<Difference> Between(RehearsedPage before, RehearsedPage after)
    {
        var (was, becomes) = (FatesOf(before), FatesOf(after));
        return
        [
            .. was
                .Keys.Union(becomes.Keys)
                .Select(id => new Difference(
                    id,
                    was.GetValueOrDefault(id) ?? Gone,
                    becomes.GetValueOrDefault(id) ?? Gone
                ))
                .Where(d => d.Before.StartMs != d.After.StartMs)
                .OrderBy(d => d.Before.StartMs ?? d.After.StartMs),
        ];
    }

    private static Fate Gone { get; } = new(null, null);

    private static PageOutcome Whole(ReadPage page) => page.Read.Outcome with { Showings = [.. page.Showings] };

    private static Dictionary<Guid, Fate> FatesOf(RehearsedPage page)
    {
        var fates = page.LeftOut.ToDictionary(l => l.Callout.Id, l => new Fate(null, l.Reason));
        foreach (var missed in page.Outcome.Missed.Where(m => m.Turn == 0))
            fates[missed.Callout] = new Fate(null, missed.Reason);
        foreach (var showing in page.Outcome.Showings.Where(s => s.IsFirst))
            fates[showing.Callout] = new Fate(showing.StartMs, null);
        return fates;
    }
}
