using NodaTime;
using Outcry.Core.Greetings;
using Outcry.Core.Scripts;
using Outcry.Core.Talks;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Talks;

/// <summary>A talk as it stands in a list.</summary>
/// <param name="Member">Who has it; null for nobody.</param>
/// <param name="Title">The visitor's name, or where they are from, or neither.</param>
/// <param name="IsUnread">Whether the team has not seen its newest word.</param>
/// <param name="Urgency">How urgent it is that somebody answers.</param>
/// <param name="Launcher">Name of the launcher it began at.</param>
/// <param name="VisitorId">Under which the visitor's doings are recorded.</param>
/// <param name="GroupId">The group that it is for; null for everybody.</param>
internal sealed record TalkView(
    Guid Id,
    TalkState State,
    Guid? MemberId,
    string? Member,
    string Title,
    string Glimpse,
    Instant BegunAt,
    Instant LastAt,
    bool IsUnread,
    Urgency Urgency,
    Instant? WaitingSince,
    Instant? SnoozedUntil,
    string Reason,
    string Launcher,
    string Page,
    string Language,
    IReadOnlyList<string> Tags,
    bool IsTest,
    bool IsBlocked,
    string VisitorId,
    Guid? GroupId
)
{
    public static TalkView Of(TalkRow row, string? member, LiveSite site, WaitingLimits limits, Instant now)
    {
        var launcher = site.Compiled.GetValueOrDefault(row.LauncherId) as Launcher;
        return new TalkView(
            row.Id,
            row.State,
            row.MemberId,
            member,
            row.Name.Length > 0 ? row.Name
                : row.Place.Length > 0 ? $"Visitor from {row.Place}"
                : "A visitor",
            row.Glimpse,
            row.BegunAt,
            row.LastAt,
            row.SeenByTeam < row.Last,
            Waiting.Of(row.WaitingSince, now, launcher?.Times, limits),
            row.WaitingSince,
            row.SnoozedUntil,
            row.Reason,
            launcher?.Definition.Name ?? "",
            row.Page,
            row.Language,
            row.Tags,
            row.IsTest,
            row.IsBlocked,
            row.VisitorId,
            row.GroupId
        );
    }
}

/// <summary>A word as the team reads it.</summary>
/// <param name="For">Whether the visitor reads it, too.</param>
/// <param name="Name">The member's name as it was then; empty for the visitor and the house.</param>
internal sealed record TalkWordView(
    int Number,
    Guid Id,
    SaidBy By,
    ReadBy For,
    Guid? MemberId,
    string Name,
    string Text,
    Instant At,
    IReadOnlyList<string> Replies,
    TalkFilePart? File
)
{
    public static TalkWordView Of(TalkWordRow row, LiveSite site, Instant now) =>
        new(
            row.Number,
            row.Id,
            row.By,
            row.For,
            row.MemberId,
            row.Name,
            row.Text,
            row.At,
            row.Replies,
            row.File is { } file ? TalkFilePart.Of(file, site, now) : null
        );
}

/// <summary>A talk with everything that was said.</summary>
/// <param name="Email">Where answers may be sent; null where no address was left.</param>
/// <param name="SeenByVisitor">Number of the last word that the visitor has seen.</param>
/// <param name="Greeting">Words of the greeting that led to it; empty for none.</param>
/// <param name="BeforeId">The talk that it goes on from.</param>
/// <param name="IsThere">Whether the visitor has the talk open at this moment, on this node.</param>
/// <param name="Script">The script it began with; null for none.</param>
/// <param name="Kept">What a script kept, by field.</param>
/// <param name="Words">In the order of their numbers.</param>
/// <param name="Earlier">Words before those.</param>
/// <param name="Booking">The time that was booked; null for none.</param>
internal sealed record TalkDetailView(
    TalkView Talk,
    string? Email,
    Instant? AgreedAt,
    int SeenByVisitor,
    string Greeting,
    Guid? BeforeId,
    bool IsThere,
    Guid? Script,
    IReadOnlyDictionary<string, KeptAnswer> Kept,
    IReadOnlyList<TalkWordView> Words,
    int Earlier,
    BookingView? Booking
);

/// <summary>How many talks stand in each queue.</summary>
/// <param name="Waiting">Unclaimed and one's own in which the visitor waits.</param>
internal sealed record TalkCountsView(int Mine, int Unclaimed, int Others, int Snoozed, int Waiting);

/// <param name="Next">Asks for those after these; null when there are none.</param>
internal sealed record TalkPageView(IReadOnlyList<TalkView> Talks, string? Next, TalkCountsView Counts);

/// <summary>Somebody who may answer.</summary>
/// <param name="IsThere">Whether they have a desk open.</param>
/// <param name="OpenTalks">Talks they have open.</param>
internal sealed record AnsweringView(Guid Id, string Name, bool IsThere, int OpenTalks);
