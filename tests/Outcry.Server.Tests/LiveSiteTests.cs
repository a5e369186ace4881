using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Claims;
using Outcry.Core.Evidence;
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

    private static LiveSite Site(params LedgerEvent[] events) =>
        new(
            Row,
            [],
            [],
            [.. events],
            BlockedWords.None,
            SiteContext.Nothing,
            new Dictionary<Guid, Looked>(),
            isTeamThere: true,
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
}
