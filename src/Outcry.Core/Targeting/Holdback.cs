using Outcry.Core.Evidence;

namespace Outcry.Core.Targeting;

/// <summary>Chooses the visitors who are deliberately shown nothing of a callout.</summary>
public static class Holdback
{
    /// <summary>Whether a visitor is among the held back: hash(visitor, callout) mod 10,000 below the share, so that nobody changes sides.</summary>
    /// <param name="visitorId">The visitor.</param>
    /// <param name="callout">The callout.</param>
    /// <param name="percent">The share, 0 to 100.</param>
    public static bool Holds(string visitorId, Guid callout, int percent) =>
        percent > 0 && SteadyShuffle.Seed(visitorId, 0, callout, 0) % 10_000 < (ulong)(percent * 100);
}
