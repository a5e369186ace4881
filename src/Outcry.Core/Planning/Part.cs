using Outcry.Core.Evidence;
using Outcry.Core.Timing;

namespace Outcry.Core.Planning;

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
internal sealed class Part(Cue cue)
{
    private const long Never = long.MaxValue;

    private long? _heldSince;
    private long _endsAt;

    public Cue Cue { get; } = cue;

    public TriggerWatch Triggers { get; } =
        new(
            cue.AskedOnly ? [.. cue.Triggers.Where(t => t.Kind == TriggerKind.Click)] : cue.Triggers,
            cue.AskedOnly && cue.Join == Join.Any ? Join.Any : cue.Join
        );

    public Phase Phase { get; set; } = Phase.Armed;

    /// <summary>Whether it is there because the visitor asked for it.</summary>
    public bool IsAsked { get; set; }

    /// <summary>Whether its dates or hours have ended, so that no click brings it back.</summary>
    public bool IsGone { get; set; }

    /// <summary>Which showing is next or on, from 0, counted through all rounds.</summary>
    public int Showing { get; set; }

    /// <summary>Which turn that is.</summary>
    public int Turn => Showing % Cue.StaysMs.Count;

    /// <summary>In which round of its turns, from 0.</summary>
    public int Round => Showing / Cue.StaysMs.Count;

    /// <summary>Whether showings are left after the one that is on.</summary>
    public bool HasMore => Cue.Rounds == 0 || Showing + 1 < Cue.StaysMs.Count * Cue.Rounds;

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

    public bool IsFloating => Cue.Class == CalloutClass.Floating;

    public bool IsDialog => Cue.Class == CalloutClass.Dialog;

    public bool IsInset => Cue.Class == CalloutClass.Inset;

    /// <summary>Whether it lies over the page, so that others wait for it.</summary>
    public bool IsOver => !IsInset;

    /// <summary>Whether its start takes from the visit's budget, and its end begins a gap.</summary>
    public bool TakesPlace => IsOver && !IsAsked;

    /// <summary>Whether a click of the visitor's alone brings it.</summary>
    public bool MayBeAsked { get; } =
        cue.Triggers.Count > 0
        && (
            cue.Join == Join.Any
                ? cue.Triggers.Any(t => t.Kind == TriggerKind.Click)
                : cue.Triggers.All(t => t.Kind == TriggerKind.Click)
        );

    /// <summary>In visible time; never while the pointer or focus rests on it.</summary>
    public long EndsAt => _heldSince is null ? _endsAt : Never;

    public void Start(long wall, long visible)
    {
        Phase = Phase.OnScreen;
        StartedMs = wall;
        _heldSince = null;
        _endsAt = Cue.StaysMs[Turn] is { } stay ? visible + stay : Never;
    }

    public void Hold(long visible) => _heldSince ??= visible;

    public void Release(long visible)
    {
        if (_heldSince is { } since && _endsAt != Never)
            _endsAt += visible - since;
        _heldSince = null;
    }

    /// <summary>Priority, then due time, then age.</summary>
    public bool GoesBefore(Part other) =>
        (Cue.Priority, DueMs, Cue.Order).CompareTo((other.Cue.Priority, other.DueMs, other.Cue.Order)) < 0;
}
