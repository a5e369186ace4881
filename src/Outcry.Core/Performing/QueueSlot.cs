using Outcry.Core.Evidence;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;

namespace Outcry.Core.Performing;

/// <summary>Where a callout stands within a page view.</summary>
internal enum Phase
{
    /// <summary>Waits for its triggers.</summary>
    Armed,

    /// <summary>Between two turns.</summary>
    Resting,

    /// <summary>Due, and waiting for its place.</summary>
    Queued,

    /// <summary>On screen.</summary>
    OnScreen,

    /// <summary>Its patience ended; watched only to tell when its place would have been free.</summary>
    GaveUp,

    /// <summary>Through with this page view.</summary>
    Over,
}

/// <summary>One callout's part in a page view.</summary>
internal sealed class QueueSlot(QueueEntry entry)
{
    private const long Never = long.MaxValue;

    private long? _heldSince;
    private long _endsAt;

    public QueueEntry Entry { get; } = entry;

    public TriggerWatch Triggers { get; } =
        new(
            entry.AskedOnly ? [.. entry.Triggers.Where(t => t.Kind == TriggerKind.Click)] : entry.Triggers,
            entry.AskedOnly && entry.Join == Join.Any ? Join.Any : entry.Join
        );

    public Phase Phase { get; set; } = Phase.Armed;

    /// <summary>Whether it is there because the visitor asked for it.</summary>
    public bool IsAsked { get; set; }

    /// <summary>Whether its dates or hours have ended, so that no click brings it back.</summary>
    public bool IsGone { get; set; }

    /// <summary>Which showing is next or on, from 0, counted through all rounds.</summary>
    public int Showing { get; set; }

    /// <summary>Which turn that is.</summary>
    public int Turn => Showing % Entry.StaysMs.Count;

    /// <summary>In which round of its turns, from 0.</summary>
    public int Round => Showing / Entry.StaysMs.Count;

    /// <summary>Whether showings are left after the one that is on.</summary>
    public bool HasMore => Entry.Rounds == 0 || Showing + 1 < Entry.StaysMs.Count * Entry.Rounds;

    /// <summary>When it was or will be due, in visible time.</summary>
    public long DueMs { get; set; }

    /// <summary>When its patience ends, on the clock that stands still while something holds everything up.</summary>
    public long GivesUpAt { get; set; }

    public long StartedMs { get; set; }

    /// <summary>When its patience ended, in visible time.</summary>
    public long GaveUpMs { get; set; }

    /// <summary>The same by the clock on the wall.</summary>
    public long GaveUpWallMs { get; set; }

    /// <summary>When its place would have been free, in visible time.</summary>
    public long? NextFreeMs { get; set; }

    public Guid? QueuedBehind { get; set; }

    public bool IsFloating => Entry.Class == CalloutClass.Floating;

    public bool IsDialog => Entry.Class == CalloutClass.Dialog;

    public bool IsInset => Entry.Class == CalloutClass.Inset;

    /// <summary>Whether it lies over the page, so that others wait for it.</summary>
    public bool IsOver => !IsInset;

    /// <summary>Whether its start takes from the visit's budget, and its end begins a gap.</summary>
    public bool TakesPlace => IsOver && !IsAsked;

    /// <summary>Whether a click of the visitor's alone brings it.</summary>
    public bool MayBeAsked { get; } =
        entry.Triggers.Count > 0
        && (
            entry.Join == Join.Any
                ? entry.Triggers.Any(t => t.Kind == TriggerKind.Click)
                : entry.Triggers.All(t => t.Kind == TriggerKind.Click)
        );

    /// <summary>In visible time; never while the pointer or focus rests on it.</summary>
    public long EndsAt => _heldSince is null ? _endsAt : Never;

    public void Start(long wall, long visible)
    {
        Phase = Phase.OnScreen;
        StartedMs = wall;
        _heldSince = null;
        _endsAt = Entry.StaysMs[Turn] is { } stay ? visible + stay : Never;
    }

    public void Hold(long visible) => _heldSince ??= visible;

    public void Release(long visible)
    {
        if (_heldSince is { } since && _endsAt != Never)
            _endsAt += visible - since;
        _heldSince = null;
    }

    /// <summary>Priority, then due time, then age.</summary>
    public bool GoesBefore(QueueSlot other) =>
        (Entry.Priority, DueMs, Entry.Order).CompareTo((other.Entry.Priority, other.DueMs, other.Entry.Order)) < 0;
}
