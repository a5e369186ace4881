using Outcry.Core.Evidence;
using Outcry.Core.Explaining;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;

namespace Outcry.Core.Performing;

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
public sealed record QueueEntry(
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

    /// <summary>Whether it opens a panel: while it is on, everything else waits as behind an open chat.</summary>
    public bool OpensPanel { get; init; }

    /// <summary>Whether it is a launcher's greeting: a click on it opens the panel, which holds up the rest until it is closed.</summary>
    public bool Greets { get; init; }

    /// <summary>When its dates or hours end; null for not on any page view.</summary>
    public ScheduleEnd? Over { get; init; }
}
