using Outcry.Core.Explaining;

namespace Outcry.Core.Performing;

/// <summary>How a showing came to its end.</summary>
public enum EndedBy
{
    /// <summary>Its stay ran out.</summary>
    Stayed,

    /// <summary>The close mark.</summary>
    Closed,

    /// <summary>A click on its link or button.</summary>
    Clicked,

    /// <summary>It made way: for one that the visitor asked for, or for something of the page's own.</summary>
    Yielded,

    /// <summary>Its dates or hours ended, it was paused, or the site went off air.</summary>
    Over,

    /// <summary>The page was left.</summary>
    PageLeft,
}

/// <summary>A stretch on screen, in milliseconds of wall time since the page view began.</summary>
/// <param name="Callout">Which callout.</param>
/// <param name="Turn">Which turn, from 0.</param>
/// <param name="DueMs">When it was due, in visible time.</param>
/// <param name="StartMs">On screen from.</param>
/// <param name="EndMs">On screen until.</param>
/// <param name="EndedBy">What ended it.</param>
/// <param name="IsAsked">Whether the visitor asked for it by a click.</param>
/// <param name="Round">In which round of the turns, from 0.</param>
public sealed record Showing(
    Guid Callout,
    int Turn,
    long DueMs,
    long StartMs,
    long EndMs,
    EndedBy EndedBy,
    bool IsAsked = false,
    int Round = 0
)
{
    /// <summary>Whether the callout comes on with it, which counts, and not only goes on to its next turn or round.</summary>
    public bool IsFirst => Turn == 0 && Round == 0;
}

/// <summary>A due turn that did not start, and why.</summary>
/// <param name="Callout">Which callout.</param>
/// <param name="Turn">Which turn, from 0.</param>
/// <param name="Reason">Why.</param>
/// <param name="AtMs">When that was settled, in milliseconds of wall time since the page view began.</param>
public sealed record Missed(Guid Callout, int Turn, Reason Reason, long AtMs);

/// <summary>What a page view came to.</summary>
/// <param name="Showings">By start.</param>
/// <param name="Missed">First turns and later turns that were due or armed and never started.</param>
public sealed record PageOutcome(IReadOnlyList<Showing> Showings, IReadOnlyList<Missed> Missed);
