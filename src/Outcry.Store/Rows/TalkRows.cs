using NodaTime;
using NpgsqlTypes;
using Outcry.Core.Scripts;
using Outcry.Core.Talks;

namespace Outcry.Store.Rows;

/// <summary>A conversation between one visitor and the team.</summary>
public sealed class TalkRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }
    public required string VisitorId { get; init; }

    /// <summary>In whose panel it began.</summary>
    public Guid LauncherId { get; init; }

    /// <summary>By which of its channels.</summary>
    public Guid ChannelId { get; init; }

    /// <summary>The talk that this one goes on from.</summary>
    public Guid? BeforeId { get; init; }

    /// <summary>The talk that it was put into; null for none.</summary>
    public Guid? MergedIntoId { get; set; }

    /// <summary>Whether it is a member's own try: seen in the inbox, counted nowhere.</summary>
    public bool IsTest { get; init; }

    /// <summary>SHA-256 of each key that opens it for its visitor; the keys themselves are kept in the visitor's browsers only.</summary>
    public List<byte[]> KeyHashes { get; init; } = [];

    public TalkState State { get; set; }

    /// <summary>Who has it, or had it last.</summary>
    public Guid? MemberId { get; set; }
    public Instant? SnoozedUntil { get; set; }
    public Instant? ClosedAt { get; set; }
    public string Reason { get; set; } = "";
    public Instant? WaitingSince { get; set; }

    /// <summary>When it was given to its member.</summary>
    public Instant? GivenAt { get; set; }

    /// <summary>When somebody of the team was mailed that this visitor waits; null since they were answered.</summary>
    public Instant? AlarmedAt { get; set; }

    public Instant BegunAt { get; init; }

    /// <summary>The last word of either side.</summary>
    public Instant LastAt { get; set; }

    /// <summary>The first answer by a person.</summary>
    public Instant? AnsweredAt { get; set; }

    /// <summary>Number of the newest word; they count from 1 without gaps.</summary>
    public int Last { get; set; }

    /// <summary>Up to which word the visitor has seen, and the team.</summary>
    public int SeenByVisitor { get; set; }
    public int SeenByTeam { get; set; }

    /// <summary>Up to which word answers were sent after the visitor by mail.</summary>
    public int MailedUpTo { get; set; }

    /// <summary>The beginning of the last word, for lists.</summary>
    public string Glimpse { get; set; } = "";

    /// <summary>Who the visitor says they are; empty until they do.</summary>
    public string Name { get; set; } = "";

    /// <summary>Where answers may be sent; null until they left an address.</summary>
    public string? Email { get; set; }

    /// <summary>When they agreed to be written to there.</summary>
    public Instant? AgreedAt { get; set; }

    public required string Language { get; set; }

    /// <summary>Address of the page that they were on last.</summary>
    public required string Page { get; set; }

    /// <summary>Words of the greeting that led to it; empty for none.</summary>
    public string Greeting { get; init; } = "";

    /// <summary>Where its network address was from when it began; empty for unknown.</summary>
    public string Place { get; init; } = "";

    public List<string> Tags { get; set; } = [];

    /// <summary>Which group of the team it is for; null for everybody.</summary>
    public Guid? GroupId { get; set; }

    /// <summary>Keyed hash of who the site says it is, where that was signed; null where nobody did.</summary>
    public byte[]? Person { get; set; }

    /// <summary>The script it began with; null for none.</summary>
    public Guid? ScriptId { get; set; }

    /// <summary>The revision that it keeps.</summary>
    public int ScriptRevision { get; set; }

    /// <summary>Where the script stands; null where there is none.</summary>
    public ScriptState? Script { get; set; }

    /// <summary>When silence ends the script; null where it waits for nothing.</summary>
    public Instant? ScriptEndsAt { get; set; }

    /// <summary>When the visitor was told that nobody has come yet; told once.</summary>
    public Instant? ToldLateAt { get; set; }

    /// <summary>Whether nothing more is heard of this visitor; they are not told.</summary>
    public bool IsBlocked { get; set; }

    /// <summary>The talk as the rules know it.</summary>
    public TalkStanding Standing
    {
        get => new(State, MemberId, SnoozedUntil, ClosedAt, Reason, WaitingSince);
        set =>
            (State, MemberId, SnoozedUntil, ClosedAt, Reason, WaitingSince) = (
                value.State,
                value.MemberId,
                value.SnoozedUntil,
                value.ClosedAt,
                value.Reason,
                value.WaitingSince
            );
    }
}

/// <summary>Who said a word of a talk.</summary>
public enum SaidBy
{
    /// <summary>The visitor.</summary>
    Visitor,

    /// <summary>A member of the team.</summary>
    Member,

    /// <summary>The house: what happened, in words.</summary>
    House,

    /// <summary>A script.</summary>
    Script,
}

/// <summary>Who reads a word of a talk.</summary>
public enum ReadBy
{
    /// <summary>Both sides.</summary>
    Both,

    /// <summary>The team alone: a note, or what happened.</summary>
    Team,
}

/// <summary>One word of a talk, as short or as long as it is.</summary>
public sealed class TalkWordRow : IWorkspaceOwned
{
    /// <summary>Made by whoever said it, so that sent twice is kept once.</summary>
    public Guid Id { get; init; }
    public Guid WorkspaceId { get; init; }
    public Guid TalkId { get; init; }

    /// <summary>1 for the first; without gaps.</summary>
    public int Number { get; init; }
    public SaidBy By { get; init; }
    public ReadBy For { get; init; }

    /// <summary>Which member.</summary>
    public Guid? MemberId { get; init; }

    /// <summary>Their name as it was then; empty for the visitor.</summary>
    public string Name { get; init; } = "";
    public required string Text { get; set; }
    public Instant At { get; init; }

    /// <summary>Ready replies of a script's question.</summary>
    public List<string> Replies { get; init; } = [];

    /// <summary>The address of a script's offer; empty for none.</summary>
    public string Link { get; init; } = "";

    /// <summary>Milliseconds before its reader sees it, as if it were typed.</summary>
    public int PauseMs { get; init; }

    /// <summary>A file that is sent; null for none.</summary>
    public TalkFile? File { get; init; }

    /// <summary>Members who are mentioned in a note.</summary>
    public List<Guid> Mentions { get; init; } = [];

    /// <summary>In which way its words are searched for: one of <see cref="SearchLanguages.All"/>.</summary>
    public string SearchedAs { get; init; } = SearchLanguages.Simple;

    /// <summary>Its words, for searching.</summary>
    public NpgsqlTsVector Search { get; init; } = null!;
}

/// <summary>A file as a word of a talk names it.</summary>
/// <param name="Id">Under which its bytes are kept.</param>
/// <param name="Name">With the ending that its content has.</param>
/// <param name="Bytes">Its size.</param>
/// <param name="Width">Of a picture: its width in pixels; null for what is none.</param>
/// <param name="Height">Of a picture: its height.</param>
public sealed record TalkFile(Guid Id, string Name, int Bytes, int? Width, int? Height);

/// <summary>The bytes of a file that was sent in a talk.</summary>
public sealed class TalkFileRow : IWorkspaceOwned
{
    public Guid Id { get; init; }
    public Guid WorkspaceId { get; init; }
    public Guid TalkId { get; init; }
    public required string Name { get; init; }

    /// <summary>As found in the bytes.</summary>
    public required string MediaType { get; init; }
    public required byte[] Bytes { get; init; }
    public bool IsOfVisitor { get; init; }
    public Instant At { get; init; }
}

/// <summary>Members who answer for something.</summary>
public sealed class AnswerGroupRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public required string Name { get; set; }
    public List<Guid> MemberIds { get; set; } = [];
}

/// <summary>A time that a visitor chose in a script.</summary>
public sealed class BookingRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }
    public Guid TalkId { get; init; }
    public Guid ScriptId { get; init; }

    /// <summary>The question at which it was chosen: one time is given once there.</summary>
    public Guid StepId { get; init; }
    public Instant StartsAt { get; init; }
    public int Minutes { get; init; }
    public Instant ChosenAt { get; init; }

    /// <summary>When the invitation went out; null until an address is known.</summary>
    public Instant? InvitedAt { get; set; }

    /// <summary>Where it went.</summary>
    public string? Email { get; set; }

    /// <summary>When the team called it off.</summary>
    public Instant? CancelledAt { get; set; }
}

/// <summary>Words that are said often, kept to be said again.</summary>
public sealed class SavedReplyRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }

    /// <summary>What is typed after "/" to have it.</summary>
    public required string Shortcut { get; set; }

    /// <summary>Liquid with {{ name }}, {{ page }}, {{ member }}.</summary>
    public required string Text { get; set; }
    public required string ChangedBy { get; set; }
    public Instant ChangedAt { get; set; }
}
