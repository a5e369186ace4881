namespace Outcry.Core.Planning;

/// <summary>What a performance needs to know of a callout: when it is due, how long it stays, who goes first.</summary>
/// <param name="Id">The callout.</param>
/// <param name="Class">How it takes its place.</param>
/// <param name="Priority">Lower goes first.</param>
/// <param name="Order">Rank by age among equals: the older callout has the lower number.</param>
/// <param name="DueMs">When its trigger holds, in milliseconds of visible time.</param>
/// <param name="StaysMs">Stay of each turn; null for "until closed". One entry a turn, at least one.</param>
/// <param name="TurnGapMs">From the end of a turn to when the next is due.</param>
/// <param name="HushMs">Hush that a close starts.</param>
/// <param name="PatienceMs">How long it waits for its place once due.</param>
public sealed record Cue(
    Guid Id,
    CalloutClass Class,
    int Priority,
    int Order,
    long DueMs,
    IReadOnlyList<long?> StaysMs,
    long TurnGapMs,
    long HushMs,
    long PatienceMs
)
{
    /// <summary>The cue of an armed callout under the site's house rules.</summary>
    public static Cue Of(ArmedCallout armed, int order, HouseRules rules) =>
        new(
            armed.Callout.Id,
            armed.Callout.Class,
            armed.Callout.Brief.Priority,
            order,
            armed.DueMs,
            [.. armed.Turns.Select((_, turn) => (long?)armed.StayMs(turn))],
            armed.Callout.Brief.When.TurnGapSeconds * 1000L,
            (long)armed.Callout.Hush.TotalMilliseconds,
            rules.PatienceSeconds * 1000L
        );
}

/// <summary>Something the visitor does on a page.</summary>
public enum ActKind
{
    /// <summary>Turns to another tab.</summary>
    Hide,

    /// <summary>Comes back to the tab.</summary>
    Return,

    /// <summary>Closes a callout by its mark.</summary>
    Close,

    /// <summary>Clicks a callout's link or button.</summary>
    Click,

    /// <summary>Moves the pointer or the focus onto a callout.</summary>
    Hover,

    /// <summary>Moves it away.</summary>
    Leave,
}

/// <summary>One act at a time on the page.</summary>
/// <param name="AtMs">Milliseconds since the page view began, by the clock on the wall.</param>
/// <param name="Kind">What is done.</param>
/// <param name="Callout">To which callout; needed for all but hiding and returning.</param>
public sealed record Act(long AtMs, ActKind Kind, Guid? Callout = null);

/// <summary>How a showing came to its end.</summary>
public enum EndedBy
{
    /// <summary>Its stay ran out.</summary>
    Stayed,

    /// <summary>The close mark.</summary>
    Closed,

    /// <summary>A click on its link or button.</summary>
    Clicked,

    /// <summary>It made way for one that the visitor asked for.</summary>
    Yielded,

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
public sealed record Showing(Guid Callout, int Turn, long DueMs, long StartMs, long EndMs, EndedBy EndedBy);

/// <summary>A due turn that did not start, and why.</summary>
public sealed record Missed(Guid Callout, int Turn, Reason Reason);

/// <summary>What a page view came to.</summary>
/// <param name="Showings">By start.</param>
/// <param name="Missed">First turns and later turns that were due or armed and never started.</param>
public sealed record PageOutcome(IReadOnlyList<Showing> Showings, IReadOnlyList<Missed> Missed);
