namespace Outcry.Core.Timing;

/// <summary>What a visitor does, or what passes, before a callout is due.</summary>
public enum TriggerKind
{
    /// <summary>So many seconds of visible time on the page; 0 is on arrival.</summary>
    Seconds,

    /// <summary>So many seconds of visible time without the visitor doing anything.</summary>
    Idle,

    /// <summary>The page scrolled to so many percent of its length.</summary>
    Scroll,

    /// <summary>An element comes into view.</summary>
    InView,

    /// <summary>The visitor is about to leave.</summary>
    Leaving,

    /// <summary>A click on an element.</summary>
    Click,

    /// <summary>A video ends.</summary>
    VideoEnd,

    /// <summary>The page sends an event by name.</summary>
    PageEvent,

    /// <summary>So many pages looked at in this visit, this one included.</summary>
    Pages,
}

/// <summary>One condition of the moment.</summary>
/// <param name="Kind">What has to happen.</param>
/// <param name="Number">
/// Seconds (0 to 3,600; idle from 1), percent (1 to 100) or pages (1 to 100), as the kind asks for; 0 otherwise.
/// </param>
/// <param name="Target">A selector, or the name of a page event; empty where the kind needs none. A video without one is any video.</param>
public sealed record Trigger(TriggerKind Kind, int Number = 0, string Target = "")
{
    /// <summary>Longest target, in characters.</summary>
    public const int MaxTargetLength = 300;

    /// <summary>After seconds on the page.</summary>
    public static Trigger After(int seconds) => new(TriggerKind.Seconds, seconds);

    /// <summary>Whether the kind waits for an element or a name.</summary>
    public static bool NeedsTarget(TriggerKind kind) =>
        kind is TriggerKind.InView or TriggerKind.Click or TriggerKind.PageEvent;

    /// <summary>The numbers a kind may have; null when it has none.</summary>
    public static (int Least, int Most)? Range(TriggerKind kind) =>
        kind switch
        {
            TriggerKind.Seconds => (0, 3_600),
            TriggerKind.Idle => (1, 3_600),
            TriggerKind.Scroll or TriggerKind.Pages => (1, 100),
            _ => null,
        };
}
