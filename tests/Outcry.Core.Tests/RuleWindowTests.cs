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
