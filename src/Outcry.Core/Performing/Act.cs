using Outcry.Core.Timing;

namespace Outcry.Core.Performing;

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

    /// <summary>Does something for which the page's own script calls a callout by its id.</summary>
    Show,

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
/// <param name="Callout">To which callout, for close, click, hover, leave and show.</param>
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
