using NodaTime;

namespace Outcry.Core.Planning;

/// <summary>Runs a page view's small queue as the browser does, but on an exact clock: which callout starts when, and what became of the rest.</summary>
/// <remarks>
/// Two clocks run: the wall's, on which acts and results are told, and visible time, which stands still while the tab
/// is hidden and on which all waits and stays count. Nothing overtakes the head of the queue: of two readings of the
/// rules that is the calmer.
/// </remarks>
public sealed class Performance
{
    private const long Never = long.MaxValue;

    private readonly HouseRules _rules;
    private readonly PageStart _start;
    private readonly List<Waiting> _upcoming = [];
    private readonly List<Waiting> _queue = [];
    private readonly List<OnScreen> _onScreen = [];
    private readonly List<Waiting> _gaveUp = [];
    private readonly List<Showing> _showings = [];
    private readonly List<Missed> _missed = [];
    private readonly HashSet<Guid> _closed = [];

    private long _wall;
    private long _visible;
    private bool _hidden;
    private int _starts;
    private long? _lastEnd;
    private Guid? _lastEnded;
    private long _hushUntil;
    private long _dialogHushUntil;

    private Performance(IEnumerable<Cue> cues, HouseRules rules, PageStart start)
    {
        _rules = rules;
        _start = start;
        _starts = start.Starts;
        _lastEnd = -start.SinceLastEndMs;
        _hushUntil = start.HushLeftMs;
        _dialogHushUntil = start.DialogHushLeftMs;
        _upcoming.AddRange(cues.Select(c => new Waiting(c, 0, c.DueMs)));
    }

    /// <summary>Plays a page view to its end.</summary>
    /// <param name="cues">The callouts on the plan.</param>
    /// <param name="rules">The house rules.</param>
    /// <param name="start">What the visit brings along.</param>
    /// <param name="acts">What the visitor does, in any order; acts on a callout that is not on screen do nothing.</param>
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
        var upcoming = new Queue<Act>(acts.Where(a => a.AtMs <= stayMs).OrderBy(a => a.AtMs));
        while (performance.Advance(upcoming, stayMs))
            performance.Settle(upcoming);
        performance.LeavePage();
        return new PageOutcome(
            [.. performance._showings.OrderBy(s => s.StartMs).ThenBy(s => s.Turn)],
            performance._missed
        );
    }

    // Moves both clocks to the next instant at which anything can change; false when the page is left first.
    private bool Advance(Queue<Act> acts, long stayMs)
    {
        var next = acts.TryPeek(out var act) ? act.AtMs : Never;
        if (!_hidden && NextVisible() is var visible and not Never)
            next = Math.Min(next, _wall + Math.Max(0, visible - _visible));
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
            _visible += wall - _wall;
        _wall = wall;
    }

    private long NextVisible()
    {
        var next = Never;
        foreach (var waiting in _upcoming)
            next = Math.Min(next, waiting.DueMs);
        foreach (var waiting in _queue)
            next = Math.Min(next, waiting.GivesUpMs);
        foreach (var shown in _onScreen)
            next = Math.Min(next, shown.EndsAt);
        if ((_queue.Count > 0 || _gaveUp.Count > 0) && GapFreeAt > _visible)
            next = Math.Min(next, GapFreeAt);
        return next;
    }

    // At one instant: acts, then ends, then what becomes due, then starts, and only then does patience end.
    private void Settle(Queue<Act> acts)
    {
        while (acts.TryPeek(out var act) && act.AtMs <= _wall)
            Do(acts.Dequeue());
        if (_hidden)
            return;
        foreach (var ended in _onScreen.Where(s => s.EndsAt <= _visible).ToList())
            End(ended, EndedBy.Stayed);
        foreach (var due in _upcoming.Where(w => w.DueMs <= _visible).ToList())
            Queue(due);
        StartWhatCan();
        foreach (var impatient in _queue.Where(w => w.GivesUpMs <= _visible).ToList())
            GiveUp(impatient);
    }

    private void Do(Act act)
    {
        switch (act.Kind)
        {
            case ActKind.Hide:
                _hidden = true;
                return;
            case ActKind.Return:
                _hidden = false;
                return;
        }
        if (_onScreen.Find(s => s.Waiting.Cue.Id == act.Callout) is not { } shown)
            return;
        switch (act.Kind)
        {
            case ActKind.Close:
                _closed.Add(shown.Waiting.Cue.Id);
                End(shown, EndedBy.Closed);
                Hush(shown.Waiting.Cue);
                break;
            case ActKind.Click:
                _closed.Add(shown.Waiting.Cue.Id);
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

    private void Queue(Waiting due)
    {
        _upcoming.Remove(due);
        due.QueuedBehind = Blocker();
        if (
            due.Cue.Class is CalloutClass.Floating or CalloutClass.Dialog
            && due.Turn == 0
            && _starts >= _rules.MostPerVisit
        )
        {
            Miss(due, new BudgetSpent(_starts, _rules.MostPerVisit));
            return;
        }
        _queue.Add(due);
        _queue.Sort(Waiting.ByRank);
    }

    private void StartWhatCan()
    {
        foreach (var free in _queue.Where(w => w.Cue.Class is CalloutClass.Inset or CalloutClass.Asked).ToList())
            Start(free);
        DropHushed();
        while (_queue.Count > 0 && MayStart(_queue[0]))
            Start(_queue[0]);
        foreach (var waiting in _gaveUp.Where(w => w.NextFreeMs is null && MayStart(w)))
            waiting.NextFreeMs = _wall;
    }

    private void DropHushed()
    {
        foreach (var hushed in _queue.Where(w => HushOver(w.Cue) > _visible).ToList())
        {
            _queue.Remove(hushed);
            Miss(hushed, new Hushed(_start.At + Duration.FromMilliseconds(_wall + HushOver(hushed.Cue) - _visible)));
        }
    }

    private bool MayStart(Waiting waiting)
    {
        var floating = _onScreen.Count(s => s.Waiting.Cue.Class == CalloutClass.Floating);
        if (_onScreen.Exists(s => s.IsDialog) || GapFreeAt > _visible)
            return false;
        if (HushOver(waiting.Cue) > _visible)
            return false;
        if (waiting.Turn == 0 && _starts >= _rules.MostPerVisit)
            return false;
        return waiting.Cue.Class == CalloutClass.Dialog ? floating == 0 : floating < _rules.MostAtOnce;
    }

    private void Start(Waiting waiting)
    {
        _queue.Remove(waiting);
        if (waiting.Cue.Class == CalloutClass.Asked)
            foreach (var shown in _onScreen.Where(s => s.TakesPlace).ToList())
                End(shown, EndedBy.Yielded);
        if (waiting.Turn == 0 && waiting.Cue.Class is CalloutClass.Floating or CalloutClass.Dialog)
            _starts++;
        var stay = waiting.Cue.StaysMs[waiting.Turn];
        _onScreen.Add(new OnScreen(waiting, _wall, stay is { } s ? _visible + s : Never));
    }

    private void End(OnScreen shown, EndedBy how)
    {
        _onScreen.Remove(shown);
        var waiting = shown.Waiting;
        _showings.Add(new Showing(waiting.Cue.Id, waiting.Turn, waiting.DueMs, shown.StartedMs, _wall, how));
        if (shown.TakesPlace)
            (_lastEnd, _lastEnded) = (_visible, waiting.Cue.Id);
        var next = waiting.Turn + 1;
        if (next < waiting.Cue.StaysMs.Count && how != EndedBy.PageLeft && !_closed.Contains(waiting.Cue.Id))
            _upcoming.Add(new Waiting(waiting.Cue, next, _visible + waiting.Cue.TurnGapMs));
    }

    private void Hush(Cue closed)
    {
        if (closed.Class == CalloutClass.Dialog)
            _dialogHushUntil = Math.Max(_dialogHushUntil, _visible + closed.HushMs);
        else
            _hushUntil = Math.Max(_hushUntil, _visible + closed.HushMs);
    }

    private void GiveUp(Waiting waiting)
    {
        _queue.Remove(waiting);
        waiting.GaveUpMs = _wall;
        _gaveUp.Add(waiting);
    }

    private void LeavePage()
    {
        foreach (var shown in _onScreen.ToList())
            End(shown, EndedBy.PageLeft);
        foreach (var waiting in _gaveUp)
            Miss(waiting, new NoFreeSlot(waiting.DueMs, waiting.GaveUpMs, waiting.NextFreeMs, waiting.QueuedBehind));
        foreach (var waiting in _queue.Concat(_upcoming))
            Miss(waiting, new LeftBefore(waiting.DueMs, _wall));
    }

    private void Miss(Waiting waiting, Reason reason) => _missed.Add(new Missed(waiting.Cue.Id, waiting.Turn, reason));

    private long HushOver(Cue cue) =>
        cue.Class switch
        {
            CalloutClass.Floating => _hushUntil,
            CalloutClass.Dialog => Math.Max(_hushUntil, _dialogHushUntil),
            _ => 0,
        };

    private long GapFreeAt => _lastEnd is { } end ? end + _rules.GapSeconds * 1000L : 0;

    private Guid? Blocker() =>
        _onScreen.Find(s => s.TakesPlace)?.Waiting.Cue.Id ?? (GapFreeAt > _visible ? _lastEnded : null);

    private sealed class Waiting(Cue cue, int turn, long dueMs)
    {
        public Cue Cue { get; } = cue;

        public int Turn { get; } = turn;

        public long DueMs { get; } = dueMs;

        public long GivesUpMs { get; } = dueMs + cue.PatienceMs;

        public long GaveUpMs { get; set; }

        public long? NextFreeMs { get; set; }

        public Guid? QueuedBehind { get; set; }

        public static int ByRank(Waiting left, Waiting right) =>
            (left.Cue.Priority, left.DueMs, left.Cue.Order).CompareTo(
                (right.Cue.Priority, right.DueMs, right.Cue.Order)
            );
    }

    private sealed class OnScreen(Waiting waiting, long startedMs, long endsAt)
    {
        private long? _heldSince;
        private long _endsAt = endsAt;

        public Waiting Waiting { get; } = waiting;

        public long StartedMs { get; } = startedMs;

        /// <summary>In visible time; never while the pointer or focus rests on it.</summary>
        public long EndsAt => _heldSince is null ? _endsAt : Never;

        public bool IsDialog => Waiting.Cue.Class == CalloutClass.Dialog;

        public bool TakesPlace => Waiting.Cue.Class is CalloutClass.Floating or CalloutClass.Dialog;

        public void Hold(long visible) => _heldSince ??= visible;

        public void Release(long visible)
        {
            if (_heldSince is { } since && _endsAt != Never)
                _endsAt += visible - since;
            _heldSince = null;
        }
    }
}
