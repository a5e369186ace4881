using Outcry.Core.Evidence;
using Outcry.Core.Timing;

namespace Outcry.Core.Planning;

/// <summary>What a performance needs to know of a callout: what it waits for, how long it stays, who goes first.</summary>
/// <param name="Id">The callout.</param>
/// <param name="Class">How it takes its place.</param>
/// <param name="Priority">Lower goes first.</param>
/// <param name="Order">Rank by age among equals: the older callout has the lower number.</param>
/// <param name="Triggers">What has to happen on this page view; none means on arrival.</param>
/// <param name="Join">Whether all of it or any.</param>
/// <param name="StaysMs">Stay of each turn; null for "until closed". One entry a turn, at least one.</param>
/// <param name="TurnGapMs">From the end of a turn to when the next is due.</param>
/// <param name="HushMs">Hush that a close starts.</param>
/// <param name="PatienceMs">How long it waits for its place once due.</param>
public sealed record Cue(
    Guid Id,
    CalloutClass Class,
    int Priority,
    int Order,
    IReadOnlyList<Trigger> Triggers,
    Join Join,
    IReadOnlyList<long?> StaysMs,
    long TurnGapMs,
    long HushMs,
    long PatienceMs
)
{
    /// <summary>How often the turns are gone through; 0 for until closed or clicked.</summary>
    public int Rounds { get; init; } = 1;

    /// <summary>Whether only a click may bring it, because something holds it back otherwise.</summary>
    public bool AskedOnly { get; init; }

    /// <summary>What holds it back then.</summary>
    public Reason? Instead { get; init; }

    /// <summary>Whether it starts only while somebody of the team is there.</summary>
    public bool OnlyIfAvailable { get; init; }

    /// <summary>When its dates or hours end; null for not on any page view.</summary>
    public PlanEnd? Over { get; init; }

    /// <summary>The cue of an armed callout under the site's house rules.</summary>
    public static Cue Of(ArmedCallout armed, int order, HouseRules rules)
    {
        var brief = armed.Callout.Brief;
        return new Cue(
            armed.Callout.Id,
            armed.Callout.Class,
            brief.Priority,
            order,
            armed.Triggers,
            brief.When.Join,
            armed.StaysMs,
            brief.When.TurnGapSeconds * 1000L,
            (long)armed.Callout.Hush.TotalMilliseconds,
            rules.PatienceSeconds * 1000L
        )
        {
            Rounds = brief.Look.Shape == Shape.Crawl ? 1 : brief.When.Rounds,
            AskedOnly = armed.Instead is not null,
            Instead = armed.Instead,
            OnlyIfAvailable = brief.When.OnlyIfAvailable,
            Over = armed.Over,
        };
    }
}

/// <summary>Something that holds everything up while it is open.</summary>
public enum HoldKind
{
    /// <summary>The site's consent notice.</summary>
    Consent,

    /// <summary>A chat panel.</summary>
    Chat,

    /// <summary>A dialog of the page's own.</summary>
    Dialog,
}

/// <summary>Something that happens on a page, by the visitor's doing or not.</summary>
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

    /// <summary>Scrolls to so many percent of the page.</summary>
    Scroll,

    /// <summary>Brings an element into view.</summary>
    See,

    /// <summary>Moves the pointer out through the top edge.</summary>
    PointerOut,

    /// <summary>Flicks up by half a screen.</summary>
    FlickUp,

    /// <summary>Clicks an element of the page.</summary>
    ClickElement,

    /// <summary>Sees a video to its end.</summary>
    VideoEnds,

    /// <summary>Does something that the page reports by name.</summary>
    PageEvent,

    /// <summary>Moves, types or touches, which ends idleness and nothing else.</summary>
    Move,

    /// <summary>Goes on scrolling or moving for so many milliseconds of visible time, and does not rest meanwhile.</summary>
    Busy,

    /// <summary>Something that holds everything up opens.</summary>
    HoldOpens,

    /// <summary>It closes.</summary>
    HoldCloses,

    /// <summary>The last of the team goes.</summary>
    TeamLeaves,

    /// <summary>Somebody of the team is there again.</summary>
    TeamReturns,

    /// <summary>A callout's dates or hours end.</summary>
    Over,
}

/// <summary>One act at a time on the page.</summary>
/// <param name="AtMs">Milliseconds since the page view began, by the clock on the wall.</param>
/// <param name="Kind">What is done.</param>
/// <param name="Callout">To which callout, for close, click, hover and leave.</param>
/// <param name="Number">For scrolling: percent of the page; for <see cref="ActKind.Busy"/>: milliseconds.</param>
/// <param name="Target">The element's selector as triggers name it, or the name of a page event.</param>
/// <param name="Hold">What opens or closes.</param>
public sealed record Act(
    long AtMs,
    ActKind Kind,
    Guid? Callout = null,
    int Number = 0,
    string Target = "",
    HoldKind Hold = HoldKind.Consent
);

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
