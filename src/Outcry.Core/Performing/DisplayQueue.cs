using NodaTime;
using Outcry.Core.Explaining;
using Outcry.Core.Publishing;
using Outcry.Core.Timing;

namespace Outcry.Core.Performing;

/// <summary>Runs a page view's small queue as the browser does, but on an exact clock: which callout starts when, and what became of the rest.</summary>
/// <remarks>
/// Three clocks run: the wall's, on which acts and results are told; visible time, which stands still while the tab is
/// hidden and on which all waits and stays count; and patience, which also stands still while something of the page
/// holds everything up. Nothing overtakes the head of the queue: of two readings of the rules that is the calmer.
/// </remarks>
public sealed class DisplayQueue
{
    private const long Never = long.MaxValue;

    /// <summary>Nobody is taken to be leaving before this, in visible time.</summary>
    public const long EarliestLeavingMs = 5_000;

    private readonly HouseRules _rules;
    private readonly PageStart _start;
    private readonly QueueSlot[] _slots;
    private readonly List<Showing> _showings = [];
    private readonly List<Missed> _missed = [];

    private long _wall;
    private long _visible;
    private long _patience;
    private bool _hidden;
    private bool _wasHidden;
    private bool _teamAway;
    private int _starts;
    private long? _lastEnd;
    private Guid? _lastEnded;
    private long _hushUntil;
    private long _dialogHushUntil;
    private long _waitsSince;
    private long _lastActivity;
    private bool _consentOpen;
    private bool _chatOpen;
    private bool _dialogOpen;

    private DisplayQueue(IEnumerable<QueueEntry> entries, HouseRules rules, PageStart start)
    {
        _rules = rules;
        _start = start;
        _starts = start.Starts;
        _lastEnd = -start.SinceLastEndMs;
        _hushUntil = start.HushLeftMs;
        _dialogHushUntil = start.DialogHushLeftMs;
        _teamAway = start.IsTeamAway;
        // One order for all: what is performed must not depend on how the entries came.
        _slots = [.. entries.OrderBy(c => c.Order).Select(c => new QueueSlot(c))];
    }

    /// <summary>Plays a page view to its end.</summary>
    /// <param name="entries">The callouts on the plan.</param>
    /// <param name="rules">The house rules.</param>
    /// <param name="start">What the visit brings along.</param>
    /// <param name="acts">What happens on the page, in any order; acts on a callout that is not on screen do nothing.</param>
    /// <param name="stayMs">Wall time after which the page is left.</param>
    public static PageOutcome Play(
        IEnumerable<QueueEntry> entries,
        HouseRules rules,
        PageStart start,
        IEnumerable<Act> acts,
        long stayMs
    )
    {
        var performance = new DisplayQueue(entries, rules, start);
        var overs = performance._slots.Where(p => p.Entry.Over is not null).Select(p => OverOf(p.Entry));
        var upcoming = new Queue<Act>(overs.Concat(acts).Where(a => a.AtMs <= stayMs).OrderBy(a => a.AtMs));
        while (performance.Advance(upcoming, stayMs))
            performance.Settle(upcoming);
        performance.LeavePage();
        return new PageOutcome(
            [.. performance._showings.OrderBy(s => s.StartMs).ThenBy(s => s.Turn).ThenBy(s => performance.OrderOf(s))],
            performance._missed
        );
    }

    private static Act OverOf(QueueEntry entry) => new(entry.Over!.Value.AtMs, ActKind.Over, entry.Id);

    private int OrderOf(Showing showing) => Array.FindIndex(_slots, p => p.Entry.Id == showing.Callout);

    // Moves the clocks to the next instant at which anything can change; false when the page is left first.
    private bool Advance(Queue<Act> acts, long stayMs)
    {
        var next = acts.TryPeek(out var act) ? act.AtMs : Never;
        if (!_hidden && LeftMs() is var left and not Never)
            next = Math.Min(next, _wall + Math.Max(0, left));
        if (next >= stayMs && !(next == stayMs && act?.AtMs == stayMs))
        {
            MoveTo(stayMs);
            return false;
        }
        MoveTo(next);
        return true;
    }

    private void MoveTo(long wall)
    {
        if (!_hidden)
        {
            _visible += wall - _wall;
            if (!IsHeld)
                _patience += wall - _wall;
        }
        _wall = wall;
    }

    // Visible time until something happens by itself.
    private long LeftMs()
    {
        var left = Never;
        var waiting = false;
        foreach (var slot in _slots)
            switch (slot.Phase)
            {
                case Phase.Armed when !_consentOpen:
                    left = Math.Min(left, slot.Triggers.NextMs(WaitedMs, IdleMs));
                    break;
                case Phase.Resting when !_consentOpen:
                    left = Math.Min(left, slot.DueMs - _visible);
                    break;
                case Phase.Queued:
                    waiting = true;
                    if (!IsHeld)
                        left = Math.Min(left, slot.GivesUpAt - _patience);
                    break;
                case Phase.OnScreen when slot.EndsAt != Never:
                    left = Math.Min(left, slot.EndsAt - _visible);
                    break;
                case Phase.GaveUp:
                    waiting = true;
                    break;
            }
        if (waiting && GapFreeAt > _visible)
            left = Math.Min(left, GapFreeAt - _visible);
        return left;
    }

    // At one instant: acts, then ends, then what becomes due, then starts, and only then does patience end.
    private void Settle(Queue<Act> acts)
    {
        while (acts.TryPeek(out var act) && act.AtMs <= _wall)
            Do(acts.Dequeue());
        if (_hidden)
            return;
        foreach (var slot in _slots)
            if (slot.Phase == Phase.OnScreen && slot.EndsAt <= _visible)
                End(slot, EndedBy.Stayed);
        if (!_consentOpen)
            foreach (var slot in _slots)
                BecomeDue(slot);
        StartWhatCan();
        // Of several that become due at once one starts, and stands in the way of the others from then on.
        foreach (var slot in _slots)
            if (slot is { Phase: Phase.Queued, QueuedBehind: null })
                slot.QueuedBehind = Blocker();
        if (!IsHeld)
            foreach (var slot in _slots)
                if (slot.Phase == Phase.Queued && slot.GivesUpAt <= _patience)
                    (slot.Phase, slot.GaveUpMs, slot.GaveUpWallMs) = (Phase.GaveUp, _visible, _wall);
    }

    private void Do(Act act)
    {
        switch (act.Kind)
        {
            case ActKind.Hide:
                NoteAct(act);
                _hidden = _wasHidden = true;
                return;
            case ActKind.Return:
                _hidden = false;
                NoteAct(act);
                return;
            case ActKind.HoldOpens:
                Hold(act.Hold, open: true);
                return;
            case ActKind.HoldCloses:
                Hold(act.Hold, open: false);
                return;
            case ActKind.TeamLeaves:
            case ActKind.TeamReturns:
                _teamAway = act.Kind == ActKind.TeamLeaves;
                return;
            case ActKind.Over:
                foreach (var slot in _slots)
                    if (slot.Entry.Id == act.Callout)
                        BeOver(slot);
                return;
            case ActKind.Close:
            case ActKind.Click:
            case ActKind.Hover:
            case ActKind.Leave:
                Active(_visible);
                if (Array.Find(_slots, p => p.Phase == Phase.OnScreen && p.Entry.Id == act.Callout) is { } shown)
                    Touch(shown, act.Kind);
                return;
            default:
                NoteAct(act);
                return;
        }
    }

    private void NoteAct(Act act)
    {
        // Time that ran out before the act counts before it.
        if (!_consentOpen && !_hidden)
            foreach (var slot in _slots)
                slot.Triggers.Wait(WaitedMs, IdleMs);
        var leaves = IsLeaving(act);
        foreach (var slot in _slots)
            if (act.Kind == ActKind.Show ? slot.Entry.Id == act.Callout : IsAskedBy(act, leaves, slot))
                Ask(slot);
        if (act.Kind == ActKind.Busy)
            Active(_visible + act.Number);
        else if (
            act.Kind
            is not (ActKind.PointerOut or ActKind.Hide or ActKind.PageEvent or ActKind.Show or ActKind.VideoEnds)
        )
            Active(_visible);
    }

    private static bool IsAskedBy(Act act, bool leaves, QueueSlot slot) =>
        slot.Triggers.Take(act, leaves)
        && slot.MayBeAsked
        && (slot.Entry.Join == Evidence.Join.Any || slot.Triggers.Holds);

    // Who is busy for a while is so whatever else is done meanwhile.
    private void Active(long until) => _lastActivity = Math.Max(_lastActivity, until);

    private bool IsLeaving(Act act) =>
        _visible >= EarliestLeavingMs
        && act.Kind switch
        {
            ActKind.Hide => true,
            ActKind.PointerOut => !_start.IsTouch,
            ActKind.FlickUp => _start.IsTouch,
            _ => false,
        };

    // Also while the tab is hidden: what nobody sees end must not be there when they are back.
    private void BeOver(QueueSlot slot)
    {
        slot.IsGone = true;
        if (slot.Phase == Phase.OnScreen)
            End(slot, EndedBy.Over);
        else if (slot.Phase != Phase.Over)
            Miss(
                slot,
                slot.Entry.Over is { Limit: var limit }
                    ? new OutsideSchedule(limit)
                    : new NotLive(DefinitionState.Paused)
            );
    }

    // What is on screen stays; what was asked for before is asked for anew.
    private void Ask(QueueSlot slot)
    {
        if (slot.IsGone || slot.Phase == Phase.OnScreen)
            return;
        if (slot.Phase is Phase.Over or Phase.GaveUp or Phase.Resting)
            slot.Showing = 0;
        slot.IsAsked = true;
        slot.Phase = Phase.Queued;
        slot.DueMs = _visible;
        slot.GivesUpAt = Never;
        slot.NextFreeMs = null;
    }

    private void Touch(QueueSlot shown, ActKind how)
    {
        switch (how)
        {
            case ActKind.Close:
                End(shown, EndedBy.Closed);
                Hush(shown);
                break;
            case ActKind.Click:
                End(shown, EndedBy.Clicked);
                if (shown.Entry.Greets)
                    Hold(HoldKind.Chat, open: true);
                break;
            case ActKind.Hover:
                shown.Hold(_visible);
                break;
            case ActKind.Leave:
                shown.Release(_visible);
                break;
        }
    }

    private void Hold(HoldKind kind, bool open)
    {
        if (open == IsOpen(kind))
            return;
        if (kind == HoldKind.Chat)
            _chatOpen = open;
        else if (kind == HoldKind.Dialog)
            _dialogOpen = open;
        else if (open)
            _consentOpen = true;
        else
            CloseConsent();
        // A dialog of ours yields to the law only: it has the visitor's focus, and a close of its own.
        if (open)
            foreach (var slot in _slots)
                if (slot is { Phase: Phase.OnScreen, IsOver: true } && (slot.IsFloating || kind == HoldKind.Consent))
                    End(slot, EndedBy.Yielded);
    }

    private bool IsOpen(HoldKind kind) =>
        kind switch
        {
            HoldKind.Consent => _consentOpen,
            HoldKind.Chat => _chatOpen,
            _ => _dialogOpen,
        };

    // All waits begin again: those for triggers, those between turns, and those for a place.
    private void CloseConsent()
    {
        _consentOpen = false;
        _waitsSince = _visible;
        Active(_visible);
        foreach (var slot in _slots)
        {
            if (slot.Phase is Phase.Queued && slot.IsAsked)
                Miss(slot, new HeldByPage(slot.DueMs, HoldKind.Consent));
            else if (slot.Phase is Phase.Queued && slot.Showing == 0)
                slot.Phase = Phase.Armed;
            if (slot.Phase is Phase.Queued or Phase.Resting)
                (slot.Phase, slot.DueMs) = (Phase.Resting, _visible + slot.Entry.TurnGapMs);
            slot.Triggers.RestartWaits();
        }
    }

    private void BecomeDue(QueueSlot slot)
    {
        if (slot.Phase == Phase.Armed)
        {
            slot.Triggers.Wait(WaitedMs, IdleMs);
            if (slot.Triggers.Holds)
                Queue(slot, _visible);
        }
        else if (slot.Phase == Phase.Resting && slot.DueMs <= _visible)
        {
            Queue(slot, slot.DueMs);
        }
    }

    private void Queue(QueueSlot slot, long dueMs)
    {
        slot.Phase = Phase.Queued;
        slot.DueMs = dueMs;
        slot.GivesUpAt = _patience + slot.Entry.PatienceMs;
        slot.QueuedBehind = null;
    }

    private void StartWhatCan()
    {
        if (!_consentOpen)
            StartAsked();
        DropHopeless();
        foreach (var slot in _slots)
            if (slot is { Phase: Phase.Queued, IsInset: true } && !IsHeld)
                Start(slot);
        while (Head() is { } head && MayStart(head))
        {
            Start(head);
            // Once the last that the visit may see is on, whoever queued with it stands in nobody's way.
            DropHopeless();
        }
        foreach (var slot in _slots)
            if (slot.Phase == Phase.GaveUp && slot.NextFreeMs is null && MayStart(slot))
                slot.NextFreeMs = _visible;
    }

    // Of several that one click asks for the first comes; shown one after the other in one instant nobody would read any.
    private void StartAsked()
    {
        foreach (var slot in _slots)
            if (slot is { Phase: Phase.Queued, IsAsked: true, IsInset: true })
                Start(slot);
        QueueSlot? came = null;
        while (
            _slots.Where(p => p is { Phase: Phase.Queued, IsAsked: true }).Aggregate((QueueSlot?)null, Earlier)
                is { } next
        )
            if (came is null)
            {
                Start(next);
                came = next.Phase == Phase.OnScreen ? next : null;
            }
            else
            {
                next.GaveUpWallMs = _wall;
                Miss(next, new NoFreeSlot(next.DueMs, _visible, null, came.Entry.Id));
            }
    }

    private static QueueSlot Earlier(QueueSlot? first, QueueSlot other) =>
        first is null || other.GoesBefore(first) ? other : first;

    private QueueSlot? Head()
    {
        QueueSlot? head = null;
        foreach (var slot in _slots)
            if (
                slot is { Phase: Phase.Queued, IsInset: false, IsAsked: false }
                && (head is null || slot.GoesBefore(head))
            )
                head = slot;
        return head;
    }

    // A hush and a spent budget outlast the wait of whoever queues, so there is nothing to wait for.
    private void DropHopeless()
    {
        foreach (var slot in _slots)
        {
            if (slot.Phase != Phase.Queued || slot.IsAsked)
                continue;
            if (HushOver(slot) is var over && over > _visible)
                Miss(slot, new Hushed(_start.At + Duration.FromMilliseconds(_wall + over - _visible)));
            else if (slot.IsOver && slot.Showing == 0 && _starts >= _rules.MostPerVisit)
                Miss(slot, new BudgetSpent(_starts, _rules.MostPerVisit));
        }
    }

    private bool MayStart(QueueSlot slot)
    {
        if (IsHeld || GapFreeAt > _visible || HushOver(slot) > _visible)
            return false;
        if (slot.Showing == 0 && _starts >= _rules.MostPerVisit)
            return false;
        var floating = 0;
        foreach (var other in _slots)
            if (other is { Phase: Phase.OnScreen, IsOver: true })
            {
                if (other.IsAsked || other.IsDialog)
                    return false;
                floating++;
            }
        return slot.IsDialog ? floating == 0 : floating < _rules.MostAtOnce;
    }

    private void Start(QueueSlot slot)
    {
        if (slot.Entry.OnlyIfAvailable && _teamAway)
        {
            Miss(slot, new NobodyAvailable());
            return;
        }
        if (slot is { IsAsked: true, IsOver: true })
            foreach (var shown in _slots)
                if (shown is { Phase: Phase.OnScreen, IsOver: true })
                    End(shown, EndedBy.Yielded);
        if (slot.IsFloating && _start.WithoutRoom.Contains(slot.Entry.Id))
        {
            Miss(slot, new NoRoom());
            return;
        }
        if (slot.IsInset && _start.WithoutPlace.TryGetValue(slot.Entry.Id, out var selector))
        {
            Miss(slot, new NoPlace(selector));
            return;
        }
        if (slot.Entry.OpensPanel)
            foreach (var shown in _slots)
                if (shown is { Phase: Phase.OnScreen, IsFloating: true })
                    End(shown, EndedBy.Yielded);
        if (slot is { Showing: 0, TakesPlace: true })
            _starts++;
        slot.Start(_wall, _visible);
    }

    private void End(QueueSlot slot, EndedBy how)
    {
        _showings.Add(
            new Showing(slot.Entry.Id, slot.Turn, slot.DueMs, slot.StartedMs, _wall, how, slot.IsAsked, slot.Round)
        );
        if (slot.TakesPlace)
            (_lastEnd, _lastEnded) = (_visible, slot.Entry.Id);
        var goesOn = how is EndedBy.Stayed or EndedBy.Yielded && slot.HasMore;
        slot.Triggers.ForgetClicks();
        slot.IsAsked = false;
        slot.Phase = goesOn ? Phase.Resting : Phase.Over;
        if (!goesOn)
            return;
        slot.Showing++;
        slot.DueMs = _visible + slot.Entry.TurnGapMs;
    }

    private void Hush(QueueSlot closed)
    {
        if (closed.IsDialog)
            _dialogHushUntil = Math.Max(_dialogHushUntil, _visible + closed.Entry.HushMs);
        else
            _hushUntil = Math.Max(_hushUntil, _visible + closed.Entry.HushMs);
    }

    private void LeavePage()
    {
        foreach (var slot in _slots)
            switch (slot.Phase)
            {
                case Phase.OnScreen:
                    End(slot, EndedBy.PageLeft);
                    break;
                case Phase.GaveUp:
                    Miss(slot, new NoFreeSlot(slot.DueMs, slot.GaveUpMs, slot.NextFreeMs, slot.QueuedBehind));
                    break;
                case Phase.Queued when OpenHold is { } hold:
                    Miss(slot, new HeldByPage(slot.DueMs, hold));
                    break;
                case Phase.Queued:
                case Phase.Resting:
                    Miss(slot, new LeftBefore(slot.DueMs, _visible));
                    break;
                case Phase.Armed:
                    Miss(slot, WhyNeverDue(slot));
                    break;
            }
    }

    private Reason WhyNeverDue(QueueSlot slot)
    {
        if (slot.Entry.Instead is { } instead)
            return instead;
        if (slot.Triggers.FirstMissing() is { } missing)
            return new NeverDue(missing);
        return _consentOpen
            ? new HeldByPage(slot.Triggers.TimedMs, HoldKind.Consent)
            : new LeftBefore(_waitsSince + slot.Triggers.TimedMs, _visible);
    }

    private void Miss(QueueSlot slot, Reason reason)
    {
        slot.Phase = Phase.Over;
        slot.IsAsked = false;
        slot.Triggers.ForgetClicks();
        if (_wasHidden && reason is OnPageReason onPage)
            reason = onPage with { TabWasHidden = true };
        _missed.Add(new Missed(slot.Entry.Id, slot.Turn, reason, AtOf(slot, reason)));
    }

    // Whoever gave up did so before the page was left.
    private long AtOf(QueueSlot slot, Reason reason) => reason is NoFreeSlot ? slot.GaveUpWallMs : _wall;

    private long HushOver(QueueSlot slot) =>
        slot.IsAsked ? 0
        : slot.IsDialog ? Math.Max(_hushUntil, _dialogHushUntil)
        : _hushUntil;

    private bool IsHeld => _consentOpen || IsChatOpen || _dialogOpen;

    // A greeting that opens the panel is that panel while it is on.
    private bool IsChatOpen =>
        _chatOpen || Array.Exists(_slots, p => p is { Phase: Phase.OnScreen, Entry.OpensPanel: true });

    private HoldKind? OpenHold =>
        _consentOpen ? HoldKind.Consent
        : IsChatOpen ? HoldKind.Chat
        : _dialogOpen ? HoldKind.Dialog
        : null;

    private long WaitedMs => _visible - _waitsSince;

    private long IdleMs => _visible - _lastActivity;

    private long GapFreeAt => _lastEnd is { } end ? end + _rules.GapSeconds * 1000L : 0;

    private Guid? Blocker() =>
        Array.Find(_slots, p => p is { Phase: Phase.OnScreen, IsOver: true })?.Entry.Id
        ?? (GapFreeAt > _visible ? _lastEnded : null);
}
