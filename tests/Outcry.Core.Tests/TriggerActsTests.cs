using Outcry.Core.Evidence;
using Outcry.Core.Performing;
using Outcry.Core.Rehearsing;
using Outcry.Core.Timing;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

/// <summary>A rehearsal of one callout does what that callout waits for.</summary>
public sealed class TriggerActsTests
{
    private static readonly Trigger Scroll = new(TriggerKind.Scroll, 60, "");
    private static readonly Trigger Video = new(TriggerKind.VideoEnd, 0, "#clip");
    private static readonly Trigger ThirdPage = new(TriggerKind.Pages, 3, "");

    [Fact]
    public void Everything_that_has_to_happen_is_done_and_said()
    {
        var does = TriggerActs.For([Trigger.After(5), Scroll, Video, ThirdPage], Join.All);
        Assert.Equal([ActKind.Scroll, ActKind.VideoEnds], does.Acts.Select(a => a.Kind));
        Assert.Equal(2, does.PagesBefore);
        Assert.Equal(
            ["scroll to 60 % at 0:10", "see a video to its end at 0:10", "look at 3 pages in this visit"],
            does.Words
        );
    }

    [Fact]
    public void Of_several_that_are_each_enough_the_first_is_done_and_none_where_time_is_enough()
    {
        Assert.Equal(["scroll to 60 % at 0:10"], TriggerActs.For([Scroll, Video], Join.Any).Words);
        Assert.Empty(TriggerActs.For([Scroll, Trigger.After(20)], Join.Any).Acts);
        Assert.Empty(TriggerActs.For([new Trigger(TriggerKind.Leaving, 0, "")], Join.All).Acts);
        Assert.Empty(TriggerActs.For([], Join.All).Words);
    }

    [Theory]
    [InlineData(TriggerKind.Scroll)]
    [InlineData(TriggerKind.InView)]
    [InlineData(TriggerKind.Click)]
    [InlineData(TriggerKind.VideoEnd)]
    [InlineData(TriggerKind.PageEvent)]
    [InlineData(TriggerKind.Pages)]
    [InlineData(TriggerKind.Idle)]
    [InlineData(TriggerKind.Leaving)]
    public void Whatever_it_waits_for_it_comes(TriggerKind kind)
    {
        var trigger = new Trigger(kind, 2, "#kiln");
        var callout = Live("a", Brief() with { When = Brief().When with { Triggers = [trigger] } });
        var does = TriggerActs.For([trigger], Join.All);
        var who = ImaginedVisitor.Newcomer with { PagesBefore = does.PagesBefore };
        var read = (Reading.TwoMinutes with { Acts = does.Acts }).Play(Site([callout]), Shop, who, Now);
        Assert.Contains(read.Showings, s => s.Callout == callout.Id);
    }
}
