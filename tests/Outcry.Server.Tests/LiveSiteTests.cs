using NodaTime;
using Outcry.Core.Asking;
using Outcry.Core.Briefs;
using Outcry.Core.Care;
using Outcry.Core.Claims;
using Outcry.Core.Evidence;
using Outcry.Core.Greetings;
using Outcry.Core.Pages;
using Outcry.Core.Publishing;
using Outcry.Core.Targeting;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Tests;

/// <summary>A site in memory is replaced whole when something changes, and nothing falls into the gap.</summary>
public sealed class LiveSiteTests
{
    private static readonly Instant Now = Instant.FromUtc(2015, 11, 24, 12, 0);

    private static readonly SiteRow Row = new()
    {
        Name = "Gap",
        Key = "0123456789abcdef",
        HomeAddress = "http://gap.test/",
        AllowedHosts = ["gap.test"],
        TimeZone = "UTC",
        Rules = HouseRules.Start,
    };

    private static LiveSite Site(params LedgerEvent[] events) => Site([], events);

    private static LiveSite Site(IReadOnlyList<Callout> callouts, params LedgerEvent[] events) =>
        new(
            Row,
            [],
            callouts,
            [],
            [.. events],
            BlockedWords.None,
            SiteContext.Nothing,
            new Dictionary<Guid, Looked>(),
            TeamThere.All,
            Now
        );

    private static LedgerEvent Event(int minutesAgo) =>
        new()
        {
            Id = Guid.NewGuid(),
            SourceId = Guid.NewGuid(),
            Kind = EventKind.Purchase,
            At = Now - Duration.FromMinutes(minutesAgo),
            PersonKey = $"x:{minutesAgo}",
        };

    [Fact]
    public void Whoever_answers_while_a_site_is_read_anew_or_just_replaced_is_asked_no_more()
    {
        var yes = AskedBefore.Nothing with { HasGiven = true };
        var (before, after) = (Site(), Site());
        before.ExpectSuccessor();
        before.Asked.Note("meanwhile", yes);
        after.Inherit(before);
        before.ExpectNoSuccessor();
        // The answer was on its way to the one that was there when it came.
        before.Asked.Note("afterwards", yes);
        Assert.True(after.Asked.Of("meanwhile").HasGiven);
        Assert.True(after.Asked.Of("afterwards").HasGiven);
    }

    [Fact]
    public void What_comes_in_while_a_site_is_read_anew_is_there_afterwards_once()
    {
        var (read, missed, late) = (Event(3), Event(2), Event(1));
        var before = Site();
        before.Add(read);
        before.ExpectSuccessor();
        before.Add(missed);
        // It was committed before the reading came to it, so it is there already.
        var both = Event(4);
        before.Add(both);
        var after = Site(read, both);
        after.Inherit(before);
        // Whoever took hold of the old one before it was replaced still adds to it.
        before.Add(late);
        Assert.Equal([late.Id, missed.Id, read.Id, both.Id], after.Events.Select(e => e.Id));
    }

    [Fact]
    public void What_was_deleted_before_a_site_is_read_anew_does_not_come_back()
    {
        var before = Site();
        before.Add(Event(1));
        before.ExpectSuccessor();
        var after = Site();
        after.Inherit(before);
        Assert.Empty(after.Events);
    }

    [Fact]
    public void Names_that_no_source_takes_are_still_known_after_a_change()
    {
        var before = Site();
        before.Hearing.NoteUnclaimed("kiln_opened");
        var after = Site();
        after.Inherit(before);
        Assert.Equal(["kiln_opened"], after.Hearing.Unclaimed);
    }

    [Fact]
    public void Who_is_here_is_counted_anew_every_two_seconds_however_many_events_come_in()
    {
        var brief = StarterBrief.For(CalloutKind.Headcount, EventKind.Purchase, [], "en");
        var callout = new Callout(
            new Definition(Guid.NewGuid(), "Here now", DefinitionState.Live, Now, 1),
            brief with
            {
                From = brief.From with { LeastNumber = 1 },
            }
        );
        var site = Site([callout]);
        site.SawVisitor("v1", PageAddress.TryParse("http://gap.test/shop")!, Now);
        for (var tick = 1; tick <= 10; tick++)
        {
            site.Add(Event(tick));
            site.Refresh(Now + Duration.FromMilliseconds(300 * tick), evenIfNothingCame: false);
        }
        Assert.Equal(1, site.Snapshot.Evidence[0].ClaimNow.Number);
    }

    [Fact]
    public void An_event_that_came_in_is_told_after_the_next_refresh_and_goes_when_its_window_has_passed()
    {
        var source = Guid.NewGuid();
        var brief = StarterBrief.For(CalloutKind.Moment, EventKind.Purchase, [source], "en");
        var site = Site([
            new Callout(
                new Definition(Guid.NewGuid(), "Bought", DefinitionState.Live, Now, 1),
                brief with
                {
                    From = brief.From with { LeastNumber = 1, WindowMinutes = 60 },
                }
            ),
        ]);
        site.Add(Event(0) with { SourceId = source });
        site.Refresh(Now, evenIfNothingCame: false);
        Assert.Single(site.Snapshot.Evidence[0].Events);
        site.Refresh(Now + Duration.FromMinutes(61), evenIfNothingCame: true);
        Assert.Empty(site.Snapshot.Evidence[0].Events);
    }

    [Fact]
    public void Whoever_went_while_turning_to_something_is_gone()
    {
        var (team, workspace) = (new TeamPresence(), Guid.NewGuid());
        for (var i = 0; i < 3_000; i++)
        {
            var connection = $"c{i}";
            team.Came(connection, workspace, Guid.NewGuid(), Guid.NewGuid(), "Marta");
            Parallel.Invoke(() => team.Turned(connection, "callout:1"), () => team.Went(connection));
        }
        Assert.False(team.IsThere(workspace));
    }
}
