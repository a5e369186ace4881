using NodaTime;
using Outcry.Core.Publishing;

namespace Outcry.Core.Planning;

/// <summary>Runs a page view's small queue as the browser does, but on an exact clock: which callout starts when, and what became of the rest.</summary>
/// <remarks>
/// Three clocks run: the wall's, on which acts and results are told; visible time, which stands still while the tab is
/// hidden and on which all waits and stays count; and patience, which also stands still while something of the page
/// holds everything up. Nothing overtakes the head of the queue: of two readings of the rules that is the calmer.
/// </remarks>
public sealed class Performance
{
    private const long Never = long.MaxValue;

    /// <summary>Nobody is taken to be leaving before this, in visible time.</summary>
    public const long EarliestLeavingMs = 5_000;

    private readonly HouseRules _rules;
    private readonly PageStart _start;
    private readonly Part[] _parts;
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

    private Performance(IEnumerable<Cue> cues, HouseRules rules, PageStart start)
    {
        _rules = rules;
        _start = start;
        _starts = start.Starts;
        _lastEnd = -start.SinceLastEndMs;
        _hushUntil = start.HushLeftMs;
        _dialogHushUntil = start.DialogHushLeftMs;
        _teamAway = start.IsTeamAway;
        // One order for all: what is performed must not depend on how the cues came.
        _parts = [.. cues.OrderBy(c => c.Order).Select(c => new Part(c))];
    }

    /// <summary>Plays a page view to its end.</summary>
    /// <param name="cues">The callouts on the plan.</param>
    /// <param name="rules">The house rules.</param>
    /// <param name="start">What the visit brings along.</param>
    /// <param name="acts">What happens on the page, in any order; acts on a callout that is not on screen do nothing.</param>
    /// <param name="stayMs">Wall time after which the page is left.</param>
    public static PageOutcome Play(
        IEnumerable<Cue> cues,
        HouseRules rules,
        PageStart start,
        IEnumerable<Act> acts,
        long stayMs
    )
    {
        var performance = new Performance(cues, rules, start);
        var overs = performance._parts.Where(p => p.Cue.Over is not null).Select(p => OverOf(p.Cue));
        var upcoming = new Queue<Act>(overs.Concat(acts).Where(a => a.AtMs <= stayMs).OrderBy(a => a.AtMs));
        while (performance.Advance(upcoming, stayMs))
            performance.Settle(upcoming);
        performance.LeavePage();
        return new PageOutcome(
            [.. performance._showings.OrderBy(s => s.StartMs).ThenBy(s => s.Turn).ThenBy(s => performance.OrderOf(s))],
            performance._missed
        );
    }

    private static Act OverOf(Cue cue) => new(cue.Over!.Value.AtMs, ActKind.Over, cue.Id);

    private int OrderOf(Showing showing) => Array.FindIndex(_parts, p => p.Cue.Id == showing.Callout);

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
        foreach (var part in _parts)
            switch (part.Phase)
            {
                case Phase.Armed when !_consentOpen:
                    left = Math.Min(left, part.Triggers.NextMs(WaitedMs, IdleMs));
                    break;
                case Phase.Resting when !_consentOpen:
                    left = Math.Min(left, part.DueMs - _visible);
                    break;
                case Phase.Queued:
                    waiting = true;
                    if (!IsHeld)
                        left = Math.Min(left, part.GivesUpAt - _patience);
                    break;
                case Phase.OnScreen when part.EndsAt != Never:
                    left = Math.Min(left, part.EndsAt - _visible);
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
        foreach (var part in _parts)
            if (part.Phase == Phase.OnScreen && part.EndsAt <= _visible)
                End(part, EndedBy.Stayed);
        if (!_consentOpen)
            foreach (var part in _parts)
                BecomeDue(part);
        StartWhatCan();
        // Of several that become due at once one starts, and stands in the way of the others from then on.
        foreach (var part in _parts)
            if (part is { Phase: Phase.Queued, QueuedBehind: null })
                part.QueuedBehind = Blocker();
        if (!IsHeld)
            foreach (var part in _parts)
                if (part.Phase == Phase.Queued && part.GivesUpAt <= _patience)
                    (part.Phase, part.GaveUpMs, part.GaveUpWallMs) = (Phase.GaveUp, _visible, _wall);
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
                foreach (var part in _parts)
                    if (part.Cue.Id == act.Callout)
                        BeOver(part);
                return;
            case ActKind.Close:
            case ActKind.Click:
            case ActKind.Hover:
            case ActKind.Leave:
                Active(_visible);
                if (Array.Find(_parts, p => p.Phase == Phase.OnScreen && p.Cue.Id == act.Callout) is { } shown)
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
            foreach (var part in _parts)
                part.Triggers.Wait(WaitedMs, IdleMs);
        var leaves = IsLeaving(act);
        foreach (var part in _parts)
            if (part.Triggers.Take(act, leaves) && part.MayBeAsked)
                Ask(part);
        if (act.Kind == ActKind.Busy)
            Active(_visible + act.Number);
        else if (act.Kind is not (ActKind.PointerOut or ActKind.Hide or ActKind.PageEvent or ActKind.VideoEnds))
            Active(_visible);
    }

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
    private void BeOver(Part part)
    {
        part.IsGone = true;
        if (part.Phase == Phase.OnScreen)
            End(part, EndedBy.Over);
        else if (part.Phase != Phase.Over)
            Miss(
                part,
                part.Cue.Over is { Limit: var limit } ? new OutsideSchedule(limit) : new NotLive(DefinitionState.Paused)
            );
    }

    // What is on screen stays; what was asked for before is asked for anew.
    private void Ask(Part part)
    {
        if (part.IsGone || part.Phase == Phase.OnScreen || (part.Cue.Join == Evidence.Join.All && !part.Triggers.Holds))
            return;
        if (part.Phase is Phase.Over or Phase.GaveUp or Phase.Resting)
            part.Showing = 0;
        part.IsAsked = true;
        part.Phase = Phase.Queued;
        part.DueMs = _visible;
        part.GivesUpAt = Never;
        part.NextFreeMs = null;
    }

    private void Touch(Part shown, ActKind how)
    {
        switch (how)
        {
            case ActKind.Close:
                End(shown, EndedBy.Closed);
                Hush(shown);
                break;
            case ActKind.Click:
                End(shown, EndedBy.Clicked);
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
            foreach (var part in _parts)
                if (part is { Phase: Phase.OnScreen, IsOver: true } && (part.IsFloating || kind == HoldKind.Consent))
                    End(part, EndedBy.Yielded);
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
        foreach (var part in _parts)
        {
            if (part.Phase is Phase.Queued && part.IsAsked)
                (part.Phase, part.IsAsked) = (Phase.Over, false);
            else if (part.Phase is Phase.Queued && part.Showing == 0)
                part.Phase = Phase.Armed;
            if (part.Phase is Phase.Queued or Phase.Resting)
                (part.Phase, part.DueMs) = (Phase.Resting, _visible + part.Cue.TurnGapMs);
            part.Triggers.RestartWaits();
        }
    }

    private void BecomeDue(Part part)
    {
        if (part.Phase == Phase.Armed)
        {
            part.Triggers.Wait(WaitedMs, IdleMs);
            if (part.Triggers.Holds)
                Queue(part, _visible);
        }
        else if (part.Phase == Phase.Resting && part.DueMs <= _visible)
        {
            Queue(part, part.DueMs);
        }
    }

    private void Queue(Part part, long dueMs)
    {
        part.Phase = Phase.Queued;
        part.DueMs = dueMs;
        part.GivesUpAt = _patience + part.Cue.PatienceMs;
        part.QueuedBehind = null;
    }

    private void StartWhatCan()
    {
        if (!_consentOpen)
            StartAsked();
        DropHopeless();
        foreach (var part in _parts)
            if (part is { Phase: Phase.Queued, IsInset: true } && !IsHeld)
                Start(part);
        while (Head() is { } head && MayStart(head))
            Start(head);
        foreach (var part in _parts)
            if (part.Phase == Phase.GaveUp && part.NextFreeMs is null && MayStart(part))
                part.NextFreeMs = _visible;
    }

    // Of several that one click asks for the first comes; shown one after the other in one instant nobody would read any.
    private void StartAsked()
    {
        foreach (var part in _parts)
            if (part is { Phase: Phase.Queued, IsAsked: true, IsInset: true })
                Start(part);
        Part? came = null;
        while (
            _parts.Where(p => p is { Phase: Phase.Queued, IsAsked: true }).Aggregate((Part?)null, Earlier) is { } next
        )
            if (came is null)
            {
                Start(next);
                came = next.Phase == Phase.OnScreen ? next : null;
            }
            else
            {
                next.GaveUpWallMs = _wall;
                Miss(next, new NoFreeSlot(next.DueMs, _visible, null, came.Cue.Id));
            }
    }

    private static Part Earlier(Part? first, Part other) => first is null || other.GoesBefore(first) ? other : first;

    private Part? Head()
    {
        Part? head = null;
        foreach (var part in _parts)
            if (
                part is { Phase: Phase.Queued, IsInset: false, IsAsked: false }
                && (head is null || part.GoesBefore(head))
            )
                head = part;
        return head;
    }

    // A hush and a spent budget outlast the wait of whoever queues, so there is nothing to wait for.
    private void DropHopeless()
    {
        foreach (var part in _parts)
        {
            if (part.Phase != Phase.Queued || part.IsAsked)
                continue;
            if (HushOver(part) is var over && over > _visible)
                Miss(part, new Hushed(_start.At + Duration.FromMilliseconds(_wall + over - _visible)));
            else if (part.IsOver && part.Showing == 0 && _starts >= _rules.MostPerVisit)
                Miss(part, new BudgetSpent(_starts, _rules.MostPerVisit));
        }
    }

    private bool MayStart(Part part)
    {
        if (IsHeld || GapFreeAt > _visible || HushOver(part) > _visible)
            return false;
        if (part.Showing == 0 && _starts >= _rules.MostPerVisit)
            return false;
        var floating = 0;
        foreach (var other in _parts)
            if (other is { Phase: Phase.OnScreen, IsOver: true })
            {
                if (other.IsAsked || other.IsDialog)
                    return false;
                floating++;
            }
        return part.IsDialog ? floating == 0 : floating < _rules.MostAtOnce;
    }

    private void Start(Part part)
    {
        if (part.Cue.OnlyIfAvailable && _teamAway)
        {
            Miss(part, new NobodyAvailable());
            return;
        }
        if (part is { IsAsked: true, IsOver: true })
            foreach (var shown in _parts)
                if (shown is { Phase: Phase.OnScreen, IsOver: true })
                    End(shown, EndedBy.Yielded);
        if (part.IsFloating && _start.WithoutRoom.Contains(part.Cue.Id))
        {
            Miss(part, new NoRoom());
            return;
        }
        if (part.IsInset && _start.WithoutPlace.TryGetValue(part.Cue.Id, out var selector))
        {
            Miss(part, new NoPlace(selector));
            return;
        }
        if (part is { Showing: 0, TakesPlace: true })
            _starts++;
        part.Start(_wall, _visible);
    }

    private void End(Part part, EndedBy how)
    {
        _showings.Add(
            new Showing(part.Cue.Id, part.Turn, part.DueMs, part.StartedMs, _wall, how, part.IsAsked, part.Round)
        );
        if (part.TakesPlace)
            (_lastEnd, _lastEnded) = (_visible, part.Cue.Id);
        var goesOn = how is EndedBy.Stayed or EndedBy.Yielded && part.HasMore;
        part.Triggers.ForgetClicks();
        part.IsAsked = false;
        part.Phase = goesOn ? Phase.Resting : Phase.Over;
        if (!goesOn)
            return;
        part.Showing++;
        part.DueMs = _visible + part.Cue.TurnGapMs;
    }

    private void Hush(Part closed)
    {
        if (closed.IsDialog)
            _dialogHushUntil = Math.Max(_dialogHushUntil, _visible + closed.Cue.HushMs);
        else
            _hushUntil = Math.Max(_hushUntil, _visible + closed.Cue.HushMs);
    }

    private void LeavePage()
    {
        foreach (var part in _parts)
            switch (part.Phase)
            {
                case Phase.OnScreen:
                    End(part, EndedBy.PageLeft);
                    break;
                case Phase.GaveUp:
                    Miss(part, new NoFreeSlot(part.DueMs, part.GaveUpMs, part.NextFreeMs, part.QueuedBehind));
                    break;
                case Phase.Queued when OpenHold is { } hold:
                    Miss(part, new HeldByPage(part.DueMs, hold));
                    break;
                case Phase.Queued:
                case Phase.Resting:
                    Miss(part, new LeftBefore(part.DueMs, _visible));
                    break;
                case Phase.Armed:
                    Miss(part, WhyNeverDue(part));
                    break;
            }
    }

    private Reason WhyNeverDue(Part part)
    {
        if (part.Cue.Instead is { } instead)
            return instead;
        if (part.Triggers.FirstMissing() is { } missing)
            return new NeverDue(missing);
        return _consentOpen
            ? new HeldByPage(part.Triggers.TimedMs, HoldKind.Consent)
            : new LeftBefore(_waitsSince + part.Triggers.TimedMs, _visible);
    }

    private void Miss(Part part, Reason reason)
    {
        part.Phase = Phase.Over;
        part.IsAsked = false;
        part.Triggers.ForgetClicks();
        if (_wasHidden && reason is OnPageReason onPage)
            reason = onPage with { TabWasHidden = true };
        _missed.Add(new Missed(part.Cue.Id, part.Turn, reason, AtOf(part, reason)));
    }

    // Whoever gave up did so before the page was left.
    private long AtOf(Part part, Reason reason) => reason is NoFreeSlot ? part.GaveUpWallMs : _wall;

    private long HushOver(Part part) =>
        part.IsAsked ? 0
        : part.IsDialog ? Math.Max(_hushUntil, _dialogHushUntil)
        : _hushUntil;

    private bool IsHeld => _consentOpen || _chatOpen || _dialogOpen;

    private HoldKind? OpenHold =>
        _consentOpen ? HoldKind.Consent
        : _chatOpen ? HoldKind.Chat
        : _dialogOpen ? HoldKind.Dialog
        : null;

    private long WaitedMs => _visible - _waitsSince;

    private long IdleMs => _visible - _lastActivity;

    private long GapFreeAt => _lastEnd is { } end ? end + _rules.GapSeconds * 1000L : 0;

    private Guid? Blocker() =>
        Array.Find(_parts, p => p is { Phase: Phase.OnScreen, IsOver: true })?.Cue.Id
        ?? (GapFreeAt > _visible ? _lastEnded : null);
}
