using NodaTime;
using Outcry.Core.Explaining;
using Outcry.Core.Pages;
using Outcry.Core.Performing;
using Outcry.Core.Planning;
using Outcry.Core.Rehearsing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Replaying;

/// <summary>Plays recorded visits twice, with the draft on air and without it, by the planner and the queue that serve real ones.</summary>
/// <remarks>
/// Nobody closes or clicks anything in a replay: what a visitor would have done with a callout they never met is not
/// recorded. Not safe for two threads; visits may be shared among several replayers as long as each visitor's stay together.
/// </remarks>
public sealed class Replayer
{
    private readonly ReplaySetting _setting;
    private readonly PlayMemory _memory;
    private readonly Guid _draft;
    private readonly Dictionary<PageAddress, Scene> _scenes = [];
    private readonly PlanOptions _watching;
    private readonly PlanOptions _plain = new() { StaysOnly = true };

    /// <summary>A replayer that has counted nothing yet.</summary>
    public Replayer(ReplaySetting setting)
    {
        _setting = setting;
        _memory = new PlayMemory(setting.Rules);
        _draft = setting.Draft.Id;
        _watching = new PlanOptions { StaysOnly = true, Watched = _draft };
        Tally = new ReplayTally(setting);
    }

    /// <summary>What was counted.</summary>
    public ReplayTally Tally { get; private set; }

    /// <summary>Hands over what was counted and begins anew.</summary>
    public ReplayTally TakeTally()
    {
        var tally = Tally;
        Tally = new ReplayTally(_setting);
        return tally;
    }

    /// <summary>Plays all recorded visits of one visitor.</summary>
    /// <param name="visits">In order; at least one.</param>
    public void Play(IReadOnlyList<RecordedVisit> visits)
    {
        var with = visits[0].VisitorBefore();
        var without = with;
        var (showings, first) = (0, (int?)null);
        for (var i = 0; i < visits.Count; i++)
        {
            var before = showings;
            for (var place = 0; place < visits[i].Pages.Count; place++)
                if (PlayView(visits[i], place, ref with, ref without, showings > before) is { } startMs)
                {
                    showings++;
                    first ??= (int)(startMs / 1000);
                }
            Tally.Visit(visits[i].Pages.Count);
        }
        Tally.Visitor(showings, first);
    }

    // Milliseconds at which the draft came on; null when it did not.
    private long? PlayView(
        RecordedVisit visit,
        int place,
        ref VisitorRecord with,
        ref VisitorRecord without,
        bool reachedBefore
    )
    {
        var view = new PageView(visit, place, SceneOf(visit.Pages[place].Page), _setting.AsOf(visit.Pages[place].At));
        var alike = ReferenceEquals(with, without);
        with = view.Arrive(with);
        without = alike ? with : view.Arrive(without);

        var watched = view.Scene.WithDraft;
        var (proposed, plan) = Play(view, with: true, with);
        long? startMs = null;
        if (watched)
        {
            startMs = StartOfDraft(proposed, view.StayMs);
            Tally.OnPage();
            if (startMs is null)
                Tally.Missed(WhyNot(plan!, proposed, view.StayMs));
        }
        var touches = view.Scene.WithoutDraft || (watched && plan!.Armed.Any(a => a.Callout.Id == _draft));
        if (alike && !touches)
        {
            without = with = Carry(with, proposed, view);
        }
        else
        {
            var (usual, _) = Play(view, with: false, without);
            CountShifts(proposed, usual, view.StayMs);
            var isSame = alike && AreSame(proposed, usual, view.StayMs);
            with = Carry(with, proposed, view);
            without = isSame ? with : Carry(without, usual, view);
        }
        Tally.Page(view.Day(_setting), view.Scene.Groups, startMs is not null, startMs is not null && !reachedBefore);
        if (view.StayMs == 0)
            Tally.EndUnknown();
        return startMs;
    }

    private (PlayedPage Played, Plan? Plan) Play(in PageView view, bool with, VisitorRecord visitor)
    {
        var scene = view.Scene;
        var onPage = with ? scene.OnPageWith : scene.OnPageWithout;
        var watches = with && scene.WithDraft;
        if (onPage.Count == 0 || (scene.Silence is not null && !watches))
            return (PlayedPage.Nothing, null);
        var site = with ? view.Moment.With : view.Moment.Without;
        var facts = view.Visit.Facts;
        var options = watches ? _watching : _plain;
        var plan = Planner.MakePlan(site, scene.Page, onPage, scene.Silence, visitor, facts, view.At, options);
        var start = PageStart.Of(visitor, view.At);
        var played =
            _memory.Find(plan.Armed, start, view.Visit, view.Place)
            ?? _memory.Play(
                plan.Armed,
                start with
                {
                    IsTouch = facts.Device != Device.Desktop,
                    IsTeamAway = !site.IsTeamThere(plan.Stands),
                },
                RecordedActs.Of(view.Visit, view.Place, _setting.Scrolls),
                view.StayMs
            );
        return (played, plan);
    }

    private long? StartOfDraft(PlayedPage played, long stayMs)
    {
        var showings = played.Outcome.Showings;
        for (var i = 0; i < showings.Count && showings[i].StartMs < stayMs; i++)
            if (showings[i].Callout == _draft && showings[i].IsFirst)
                return showings[i].StartMs;
        return null;
    }

    private Reason WhyNot(Plan plan, PlayedPage played, long stayMs)
    {
        foreach (var left in plan.LeftOut)
            if (left.Callout.Id == _draft)
                return left.Reason;
        foreach (var missed in played.Outcome.Missed)
            if (missed.Callout == _draft && missed.Turn == 0)
                // Of a page view that was played on: what came after its end did not come; what only an end tells, any end tells.
                return missed.AtMs < stayMs || missed.AtMs == played.UntilMs
                    ? missed.Reason
                    : new LeftBefore(missed.AtMs, stayMs);
        return new LeftBefore(played.Outcome.Showings.First(s => s.Callout == _draft).DueMs, stayMs);
    }

    private void CountShifts(PlayedPage proposed, PlayedPage usual, long stayMs)
    {
        foreach (var showing in usual.Outcome.Showings)
            if (showing.IsFirst && showing.StartMs < stayMs && !ComesOn(proposed, showing.Callout, stayMs))
                Shift(showing.Callout, 1, 0);
        foreach (var showing in proposed.Outcome.Showings)
            if (showing.IsFirst && showing.StartMs < stayMs && !ComesOn(usual, showing.Callout, stayMs))
                Shift(showing.Callout, 0, 1);
    }

    private void Shift(Guid callout, long lost, long gained)
    {
        if (callout != _draft)
            Tally.Shift(callout, lost, gained);
    }

    private static bool ComesOn(PlayedPage played, Guid callout, long stayMs)
    {
        foreach (var showing in played.Outcome.Showings)
            if (showing.Callout == callout && showing.IsFirst && showing.StartMs < stayMs)
                return true;
        return false;
    }

    // Whether a visitor carries the same on from both. The draft may come on as its live self does and yet count differently.
    private static bool AreSame(PlayedPage one, PlayedPage other, long stayMs)
    {
        var (a, b) = (one.Outcome.Showings, other.Outcome.Showings);
        for (var i = 0; ; i++)
        {
            var (left, right) = (i < a.Count && a[i].StartMs < stayMs, i < b.Count && b[i].StartMs < stayMs);
            if (!left || !right)
                return left == right;
            if (a[i] != b[i] || one.CalloutAt(i).Class != other.CalloutAt(i).Class)
                return false;
        }
    }

    private static VisitorRecord Carry(VisitorRecord visitor, PlayedPage played, in PageView view)
    {
        var showings = played.Outcome.Showings;
        for (var i = 0; i < showings.Count && showings[i].StartMs < view.StayMs; i++)
        {
            var showing = showings[i];
            if (showing.EndMs > view.StayMs)
                showing = showing with { EndMs = view.StayMs, EndedBy = EndedBy.PageLeft };
            visitor = Rehearsal.Note(visitor, played.CalloutAt(i), showing, view.At);
        }
        return visitor;
    }

    private Scene SceneOf(PageAddress page)
    {
        if (_scenes.TryGetValue(page, out var scene))
            return scene;
        return _scenes[page] = new Scene(page, _setting);
    }

    /// <summary>What is so of a page whoever comes and whenever.</summary>
    private sealed class Scene
    {
        public Scene(PageAddress page, ReplaySetting setting)
        {
            Page = page;
            var (with, without) = setting.AsOf(setting.From);
            (OnPageWith, OnPageWithout) = (with.OnPage(page), without.OnPage(page));
            WithDraft = OnPageWith.Any(p => with.Callouts[p].Id == setting.Draft.Id);
            WithoutDraft = OnPageWithout.Any(p => without.Callouts[p].Id == setting.Draft.Id);
            Silence = Planner.SilenceOver(with, page);
            Groups =
            [
                .. Enumerable.Range(0, setting.Groups.Count).Where(g => setting.Groups[g].Rule.Decide(page).Shown),
            ];
        }

        public PageAddress Page { get; }
        public IReadOnlyList<int> OnPageWith { get; }
        public IReadOnlyList<int> OnPageWithout { get; }
        public bool WithDraft { get; }
        public bool WithoutDraft { get; }
        public Reason? Silence { get; }
        public int[] Groups { get; }
    }

    private readonly record struct PageView(RecordedVisit Visit, int Place, Scene Scene, ReplayMoment Moment)
    {
        public Instant At => Visit.Pages[Place].At;

        public long StayMs => Visit.Pages[Place].StayMs;

        public int Day(ReplaySetting setting) => setting.DayOf(At);

        public VisitorRecord Arrive(VisitorRecord visitor)
        {
            var arrived = visitor.Arrive(At);
            return arrived.Visit.Pages == 1
                ? arrived.CameIn(Visit.CameBy with { EntryPage = Scene.Page.ToNote() })
                : arrived;
        }
    }
}
