using CsCheck;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Claims;
using Outcry.Core.Evidence;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

/// <summary>Evidence that is kept up event by event is the same as evidence that is selected anew.</summary>
public sealed class RuleWindowTests
{
    private static readonly Guid Other = Guid.NewGuid();

    private static LedgerEvent At(Instant at, Guid? source = null, string? visitor = null) =>
        new()
        {
            Id = Guid.NewGuid(),
            SourceId = source ?? Source,
            Kind = EventKind.Purchase,
            At = at,
            PersonKey = $"x:{Guid.NewGuid():N}",
            VisitorId = visitor,
        };

    private static Callout Drawing(int? windowMinutes, params Guid[] sources) =>
        Live(
            "drawing",
            Brief() with
            {
                From = Brief().From with { Sources = sources, WindowMinutes = windowMinutes, OldestDays = null },
            }
        );

    [Fact]
    public void A_view_does_not_change_whatever_comes_in_later_and_wherever()
    {
        Gen.Int[0, 500]
            .List[0, 60]
            .Sample(minutes =>
            {
                var window = new EventWindow();
                var views = new List<(IReadOnlyList<LedgerEvent> View, List<LedgerEvent> Was)>();
                foreach (var ago in minutes)
                {
                    window.Add(At(Now - Duration.FromMinutes(ago)));
                    if (ago % 7 == 0)
                        window.DropBefore(Now - Duration.FromMinutes(400));
                    views.Add((window.View, [.. window.View]));
                }
                return views.TrueForAll(v =>
                    v.View.SequenceEqual(v.Was)
                    && v.View.Select((_, i) => v.View[i]).SequenceEqual(v.Was)
                    && v.View.Zip(v.View.Skip(1)).All(p => p.First.At >= p.Second.At)
                );
            });
    }

    [Fact]
    public void What_happened_at_one_instant_stands_as_it_came_and_what_is_let_go_is_said()
    {
        var window = new EventWindow();
        Assert.Null(window.OldestAt);
        Assert.Empty(window.View);
        Assert.False(window.DropBefore(Now));
        Assert.False(window.KeepNewest(1));
        var (first, second, before) = (At(Now), At(Now), At(Now - Duration.FromHours(1)));
        window.Add(first);
        window.Add(second);
        window.Add(before);
        Assert.Equal([second.Id, first.Id, before.Id], window.View.Select(e => e.Id));
        Assert.Equal((3, before.At), (window.Count, window.OldestAt));
        Assert.Equal(second.Id, window.View[0].Id);
        Assert.Equal(before.Id, window.View[2].Id);
        Assert.Throws<ArgumentOutOfRangeException>(() => window.View[3]);
        Assert.Throws<ArgumentOutOfRangeException>(() => window.View[-1]);
        Assert.False(window.DropBefore(before.At));
        Assert.True(window.DropBefore(Now));
        Assert.Equal(2, window.Count);
        Assert.True(window.KeepNewest(1));
        Assert.Equal(second.Id, Assert.Single(window.View).Id);
        Assert.Equal([second.Id, first.Id], EventWindow.Of([second, first]).View.Select(e => e.Id));
    }

    [Fact]
    public void All_sources_are_told_together_newest_first_and_what_is_older_than_all_kept_comes_too_late()
    {
        LedgerEvent Ago(int hours, Guid? source = null) => At(Now - Duration.FromHours(hours), source);
        var (mine, theirs, newest) = (Ago(3), Ago(2, Other), Ago(1));
        var windows = new SourceWindows([theirs, mine], most: 2);
        Assert.Equal([theirs.Id, mine.Id], windows.NewestFirst.Select(e => e.Id));
        Assert.Same(windows.NewestFirst, windows.NewestFirst);
        Assert.True(windows.Add(newest));
        Assert.Equal([newest.Id, theirs.Id, mine.Id], windows.NewestFirst.Select(e => e.Id));
        var late = Ago(4);
        Assert.False(windows.Add(late));
        // It was refused, not taken in: told again it is as new as before.
        Assert.False(windows.Add(late));
        Assert.Equal([newest.Id, mine.Id], windows.Of(Source).Select(e => e.Id));
        Assert.True(windows.Add(Ago(3)));
        Assert.Equal(Now - Duration.FromHours(3), windows.OldestKept(Source));
        // What had to go may be told again, and goes again.
        Assert.True(windows.Add(mine));
        Assert.Empty(windows.Of(Guid.NewGuid()));
        Assert.Null(windows.OldestKept(Guid.NewGuid()));
    }

    [Fact]
    public void Of_each_source_the_newest_are_kept_and_every_event_once()
    {
        var first = At(Now - Duration.FromHours(5));
        var windows = new SourceWindows([At(Now, Other), first], most: 2);
        Assert.False(windows.Add(first));
        Assert.True(windows.Add(At(Now - Duration.FromHours(4))));
        Assert.Null(windows.OldestKept(Other));
        var newest = At(Now - Duration.FromHours(3));
        Assert.True(windows.Add(newest));
        Assert.False(windows.Add(first));
        Assert.Equal(3, windows.NewestFirst.Count);
        Assert.Equal(newest.Id, windows.Of(Source)[0].Id);
        Assert.Equal(Now - Duration.FromHours(4), windows.OldestKept(Source));
    }

    [Fact]
    public void Windows_kept_up_hold_what_would_be_selected_anew()
    {
        // Minutes from now, some of them to come; with each the clock goes on a little.
        Gen.Select(Gen.Int[-300, 20], Gen.Bool, Gen.Int[0, 15])
            .List[1, 50]
            .Sample(steps =>
            {
                Callout[] callouts = [Drawing(120, Source), Drawing(60, Source, Other), Drawing(null, Other)];
                var (now, all) = (Now, new List<LedgerEvent>());
                var events = new SourceWindows([], most: 1_000);
                var windows = new RuleWindows(callouts, events, now);
                foreach (var (minutes, isOther, goesOn) in steps)
                {
                    now += Duration.FromMinutes(goesOn);
                    var happened = At(now + Duration.FromMinutes(minutes), isOther ? Other : Source);
                    all.Add(happened);
                    Assert.True(events.Add(happened));
                    windows.Add(happened, now, new HashSet<Guid>());
                    windows.Advance(events, now);
                    foreach (var callout in callouts)
                    {
                        var anew = EvidenceSelector.Select(all.OrderByDescending(e => e.At), callout.Evidence, now);
                        var kept = windows.SelectionOf(callout, now);
                        if (
                            kept.Span != anew.Span
                            || !kept.Counted.Select(e => e.At).SequenceEqual(anew.Counted.Select(e => e.At))
                            || !kept.Counted.Select(e => e.Id).ToHashSet().SetEquals(anew.Counted.Select(e => e.Id))
                        )
                            return false;
                    }
                }
                return true;
            });
    }

    [Fact]
    public void An_event_changes_the_evidence_of_those_that_draw_on_its_source_and_of_no_other()
    {
        Callout[] callouts = [Drawing(120, Source), Drawing(120, Other)];
        var events = new SourceWindows([], most: 10);
        var windows = new RuleWindows(callouts, events, Now);
        var before = SiteSnapshot.Of(
            HouseRules.Start,
            false,
            callouts,
            windows,
            _ => DisplayPolicy.Start,
            VisitorHistory.Of([]),
            SiteConditions.Plain,
            Now
        );
        var happened = At(Now, visitor: "v1");
        events.Add(happened);
        var changed = new HashSet<Guid>();
        windows.Add(happened, Now, changed);
        Assert.Equal([callouts[0].Id], changed);
        var after = before.Later(
            c => changed.Contains(c.Id),
            windows,
            _ => DisplayPolicy.Start,
            VisitorHistory.Of([]).With(happened),
            SiteConditions.Plain,
            Now
        );
        var drawing = before.Callouts.ToList().IndexOf(callouts[0]);
        Assert.Empty(before.Evidence[drawing].Events);
        Assert.Equal([happened.Id], after.Evidence[drawing].Events.Select(e => e.Id));
        Assert.Same(before.Evidence[1 - drawing], after.Evidence[1 - drawing]);
        Assert.Single(after.PastEventsOf("v1"));
        Assert.True(after.ReaderOf("v1").Did(happened));
        Assert.Empty(before.PastEventsOf("v1"));
    }

    [Fact]
    public void A_visitors_past_is_told_newest_first_however_it_came_in()
    {
        var (old, late) = (At(Now - Duration.FromDays(2), visitor: "v"), At(Now, visitor: "v"));
        var told = VisitorHistory.Of([late]).With(old with { State = EventState.Duplicate }).With(old);
        Assert.Equal(
            VisitorHistory.Of([late, old]).PastEventsOf("v").Select(e => e.At),
            told.PastEventsOf("v").Select(e => e.At)
        );
    }
}
