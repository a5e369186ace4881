using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Explaining;
using Outcry.Core.Performing;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Core.Rehearsing;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

/// <summary>How a page is read in a rehearsal, and what would end a clash.</summary>
public sealed class ReadingTests
{
    private static readonly HouseRules NoPatience = HouseRules.Start with { PatienceSeconds = 2 };

    private static Callout Told(string name, int after, int? stay = 8, int priority = 5, params Trigger[] triggers)
    {
        var brief = Brief();
        return Live(
            name,
            brief with
            {
                When = When(after, 1, 12) with { Triggers = triggers.Length > 0 ? triggers : [Trigger.After(after)] },
                Look = brief.Look with { StaySeconds = stay },
                Priority = priority,
            }
        );
    }

    private static ReadPage Read(SiteSnapshot site, Reading? reading = null) =>
        (reading ?? Reading.TwoMinutes).Play(site, Shop, ImaginedVisitor.Newcomer, Now);

    [Fact]
    public void What_stays_until_closed_is_closed_after_a_while_and_makes_room_for_what_comes_after_it()
    {
        var open = Told("open", after: 5, stay: null);
        var later = Told("later", after: 40);

        var read = Read(Site([open, later]));

        var closed = read.Showings.Single(s => s.Callout == open.Id);
        Assert.Equal((5_000, 25_000, EndedBy.Closed), (closed.StartMs, closed.EndMs, closed.EndedBy));
        // The close hushes the site, which is what truly happens to whoever closes something.
        Assert.IsType<Hushed>(Assert.Single(read.Read.Outcome.Missed).Reason);
    }

    [Fact]
    public void What_waits_for_leaving_comes_on_at_the_turn_and_not_among_the_rest()
    {
        var leaving = Told("leaving", 0, 8, 5, new Trigger(TriggerKind.Leaving));
        var timed = Told("timed", after: 6);

        var read = Read(Site([leaving, timed]));

        Assert.Equal(timed.Id, Assert.Single(read.Read.Outcome.Showings).Callout);
        Assert.Equal((leaving.Id, 120_000L), (read.OnLeaving.Single().Callout, read.OnLeaving.Single().StartMs));
        Assert.Empty(read.Read.Outcome.Missed);
    }

    [Fact]
    public void What_is_due_by_time_after_the_turn_does_not_come_on()
    {
        var leaving = Told("leaving", 0, 8, 5, new Trigger(TriggerKind.Leaving));
        var late = Told("late", after: 125);

        var read = Read(Site([leaving, late]));

        Assert.DoesNotContain(read.Showings, s => s.Callout == late.Id);
        Assert.IsType<LeftBefore>(Assert.Single(read.Read.Outcome.Missed).Reason);
    }

    [Fact]
    public void What_waits_for_a_depth_comes_on_when_readers_get_there()
    {
        var deep = Told("deep", 0, 8, 5, new Trigger(TriggerKind.Scroll, 50));
        var site = Site([deep]);

        var read = Read(site, Reading.TwoMinutes with { Scrolls = [new ScrollPoint(50, 22_000)] });

        Assert.Equal(22_000, read.Showings.Single().StartMs);
        Assert.IsType<NeverDue>(Assert.Single(Read(site).Read.Outcome.Missed).Reason);
    }

    [Fact]
    public void The_pace_is_the_median_of_those_who_got_there()
    {
        (int, long)[] views = [(100, 10_000), (100, 20_000), (50, 30_000), (50, 40_000), (50, 50_000), (20, 90_000)];

        // Even scrolling: half the page after 5, 10, 30, 40 and 50 s.
        Assert.Equal((30_000L, 5), ScrollPace.Of(views, 50));
        Assert.Equal((null, 2), ScrollPace.Of(views, 60));
    }

    [Fact]
    public void A_clash_is_offered_what_ends_it_and_nothing_that_does_not()
    {
        var first = Told("first", after: 6, stay: 20, priority: 2);
        var late = Told("late", after: 8, priority: 5);
        var site = Site([first, late], rules: NoPatience);
        var mender = new ClashMender(site, SiteContext.Nothing, s => Read(s));
        var clash = Read(site).Read.Outcome.Missed.Single();

        var mends = mender.Mends(clash, ["/shop"]);

        Assert.Equal(3, mends.Count);
        Assert.All(
            mends,
            mend =>
            {
                var site2 = ClashMender.With(
                    site,
                    SiteContext.Nothing,
                    site.Callouts.First(c => c.Id == mend.Callout),
                    mend.Change
                );
                var after = Read(site2);
                Assert.True(
                    after.Showings.Any(s => s.Callout == late.Id)
                        || after.Read.LeftOut.Any(l => l.Callout.Id == late.Id && l.Reason is PageExcluded)
                );
            }
        );
        var wait = mends.Single(m => m.Change is WaitFor);
        // On screen until 0:26, then a gap of 10 s.
        Assert.Equal((late.Id, new WaitFor(36)), (wait.Callout, wait.Change));
        Assert.Equal(36_000, wait.Changes.Single().After.StartMs);
        Assert.Equal(
            mends[^1].Changes.Count(c => c.After.StartMs is null),
            mends.Max(m => m.Changes.Count(c => c.After.StartMs is null))
        );
    }

    [Fact]
    public void What_cannot_be_waited_for_is_not_offered_waiting()
    {
        var first = Told("first", after: 6, stay: 20, priority: 2);
        var late = Told("late", 0, 8, 5, new Trigger(TriggerKind.Scroll, 10));
        var site = Site([first, late], rules: NoPatience);
        ReadPage Play(SiteSnapshot s) => Read(s, Reading.TwoMinutes with { Scrolls = [new ScrollPoint(10, 8_000)] });

        var mends = new ClashMender(site, SiteContext.Nothing, Play).Mends(Play(site).Read.Outcome.Missed.Single(), []);

        Assert.DoesNotContain(mends, m => m.Change is WaitFor);
    }

    [Fact]
    public void A_difference_tells_what_moves_what_comes_and_what_goes()
    {
        var moves = Told("moves", after: 6, stay: 4, priority: 2);
        var goes = Told("goes", after: 22, stay: 4, priority: 5);
        var site = Site([moves, goes], rules: NoPatience);
        var later = ClashMender.With(site, SiteContext.Nothing, moves, new WaitFor(20));

        var differences = Difference.Between(Read(site), Read(later));

        string? NameOf(Guid id) => site.Callouts.First(c => c.Id == id).Name;
        Assert.Equal(
            ["moves \"moves\" from 0:06 to 0:20", "no longer shows \"goes\""],
            differences.Select(d => RehearsalWords.Say(d, NameOf))
        );
        Assert.IsType<NoFreeSlot>(differences[1].After.Reason);
        Assert.Empty(Difference.Between(Read(site), Read(site)));
    }

    [Fact]
    public void A_changed_callout_is_planned_anew_and_the_others_keep_their_evidence()
    {
        var (one, other) = (Told("one", after: 6), Told("other", after: 30));
        var site = Site([one, other]);

        var changed = ClashMender.With(site, SiteContext.Nothing, one, new ExcludePages(["/shop"]));

        Assert.IsType<PageExcluded>(ReasonFor(site.Replacing(changed.Callouts.First(c => c.Id == one.Id)), null, null));
        Assert.Contains(site.Evidence.Single(e => e.Callout.Id == other.Id), changed.Evidence);
    }

    [Fact]
    public void Every_reason_names_where_it_can_be_changed()
    {
        Assert.Equal(ControlPlace.Where, ReasonCatalogue.ControlOf(new PageExcluded("/cart")));
        Assert.Equal(ControlPlace.From, ReasonCatalogue.ControlOf(new TooFewEvents(3, 1, null)));
        Assert.Equal(ControlPlace.HouseRules, ReasonCatalogue.ControlOf(new BudgetSpent(6, 6)));
        Assert.Equal(ControlPlace.OffAir, ReasonCatalogue.ControlOf(new SiteOffAir()));
        Assert.True(ReasonCatalogue.RankOf(new SiteOffAir()) < ReasonCatalogue.RankOf(new TooFewEvents(3, 1, null)));
        Assert.True(
            ReasonCatalogue.RankOf(new NoFreeSlot(0, 1, null, null)) < ReasonCatalogue.RankOf(new PageNotIncluded(1))
        );
    }

    [Fact]
    public void Saying_nothing_of_other_pages_changes_nothing_of_this_one()
    {
        var here = Told("here", after: 6);
        var waits = Live("waits", Brief() with { From = Brief().From with { LeastNumber = 5_000 } });
        var elsewhere = Live("elsewhere", Brief() with { Where = Where(["/journal/**"], []) });
        var site = Site([here, waits, elsewhere]);

        var (whole, brief) = (Read(site), Read(site, Reading.TwoMinutes with { OnPageOnly = true }));

        Assert.Equal(whole.Showings, brief.Showings);
        Assert.Equal(whole.Read.Outcome.Missed, brief.Read.Outcome.Missed);
        Assert.Equal(waits.Id, Assert.Single(brief.Read.LeftOut).Callout.Id);
        Assert.Equal([waits.Id, elsewhere.Id], whole.Read.LeftOut.Select(l => l.Callout.Id));
    }
}
