using NodaTime;
using Outcry.Core.Asking;

namespace Outcry.Store.Rows;

/// <summary>A person who said yes to a prompt. One person is one row in a workspace: by their e-mail address, else by their number.</summary>
public sealed class LeadRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }

    /// <summary>Sites on which they said yes, the first one first.</summary>
    public List<Guid> Sites { get; set; } = [];

    /// <summary>As they wrote it, its domain in small letters; null for none.</summary>
    public string? Email { get; set; }

    /// <summary>The same without regard to case, by which they are known again.</summary>
    public string? EmailKey { get; set; }

    /// <summary>E.164; null for none.</summary>
    public string? Phone { get; set; }

    public string FirstName { get; set; } = "";
    public string Surname { get; set; } = "";

    public LeadState State { get; set; }

    /// <summary>Promises that they agreed to, and those they took back.</summary>
    public List<Guid> Promises { get; set; } = [];
    public List<Guid> Withdrawn { get; set; } = [];

    /// <summary>The first yes.</summary>
    public Instant GaveAt { get; init; }

    /// <summary>The last thing that changed.</summary>
    public Instant ChangedAt { get; set; }
    public Instant? ConfirmedAt { get; set; }
    public Instant? WithdrawnAt { get; set; }
    public Instant? UnreachableAt { get; set; }

    /// <summary>Newest answers by key.</summary>
    public Dictionary<string, string> Answers { get; set; } = [];

    public List<string> Tags { get; set; } = [];

    /// <summary>Browsers that they said yes in.</summary>
    public List<string> Visitors { get; set; } = [];

    /// <summary>What they said yes to first, as it was called then, and on which page.</summary>
    public string From { get; init; } = "";
    public string Page { get; init; } = "";

    /// <summary>The campaign that led there; empty for none.</summary>
    public string Campaign { get; init; } = "";

    public required string Language { get; set; }
    public string Place { get; init; } = "";

    /// <summary>IANA time zone of the browser in which they said yes last; empty where it is not known.</summary>
    public string Zone { get; set; } = "";

    /// <summary>Whether it is a member's own try.</summary>
    public bool IsTest { get; set; }

    /// <summary>The last mail or text message of any follow-up; null for none.</summary>
    public Instant? FollowedAt { get; set; }

    /// <summary>The lead as the rules know it.</summary>
    public LeadLife Life
    {
        get => new(State, Promises, Withdrawn, ConfirmedAt, WithdrawnAt, UnreachableAt);
        set
        {
            (State, ConfirmedAt, WithdrawnAt, UnreachableAt) = (
                value.State,
                value.ConfirmedAt,
                value.WithdrawnAt,
                value.UnreachableAt
            );
            (Promises, Withdrawn) = ([.. value.Promises], [.. value.Withdrawn]);
        }
    }
}

/// <summary>One yes, word for word.</summary>
public sealed class LeadYesRow : IWorkspaceOwned
{
    /// <summary>Made by the browser: sent twice it is one yes.</summary>
    public Guid Id { get; init; }
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }
    public Guid LeadId { get; set; }

    /// <summary>To which prompt, and which revision of it.</summary>
    public Guid CalloutId { get; init; }
    public int Revision { get; init; }
    public required string Name { get; init; }

    /// <summary>What they agreed to; null where nothing was promised.</summary>
    public Guid? PromiseId { get; init; }

    /// <summary>Whether they ticked a box; else they pressed the button under the words.</summary>
    public bool Ticked { get; init; }
    public required string Language { get; init; }
    public required string Page { get; init; }
    public required string VisitorId { get; init; }
    public Instant At { get; init; }
    public Dictionary<string, string> Answers { get; init; } = [];

    /// <summary>When it was confirmed; null while it waits, or where it needs no confirmation.</summary>
    public Instant? ConfirmedAt { get; set; }

    /// <summary>When mails that ask to confirm went out, at most the last few.</summary>
    public List<Instant> AskedAt { get; set; } = [];

    /// <summary>The code that was given for it; empty for none.</summary>
    public string Code { get; set; } = "";
}

/// <summary>Words that people agreed to. They never change: other words are another promise.</summary>
public sealed class PromiseRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public required string Language { get; init; }
    public required string Text { get; init; }

    /// <summary>SHA-256 of language and text.</summary>
    public required byte[] Hash { get; init; }

    /// <summary>Counted in a workspace from 1.</summary>
    public int Number { get; init; }
    public Instant FirstAt { get; init; }
}

/// <summary>A mail or a text message to a lead, and what became of it; its words are not kept.</summary>
public sealed class LeadMailRow : IWorkspaceOwned
{
    /// <summary>The letter's; by it a mail that comes back is known.</summary>
    public Guid Id { get; init; }
    public Guid WorkspaceId { get; init; }
    public Guid LeadId { get; init; }

    /// <summary>The subject of a mail, the beginning of a text message.</summary>
    public required string Subject { get; init; }
    public bool IsText { get; init; }
    public SentState State { get; set; }
    public Instant At { get; init; }

    /// <summary>When it came to stand as it does.</summary>
    public Instant ChangedAt { get; set; }

    /// <summary>Of a letter to a lead that is to be sent.</summary>
    public static LeadMailRow Of(LetterRow letter, Guid lead) =>
        new()
        {
            Id = letter.Id,
            WorkspaceId = letter.WorkspaceId,
            LeadId = lead,
            Subject = letter.IsText ? Glimpse(letter.Text) : letter.Subject,
            IsText = letter.IsText,
            At = letter.MadeAt,
            ChangedAt = letter.MadeAt,
        };

    private const int GlimpseLength = 80;

    private static string Glimpse(string text) =>
        text.Length <= GlimpseLength
            ? text
            : $"{text[..(char.IsHighSurrogate(text[GlimpseLength - 2]) ? GlimpseLength - 2 : GlimpseLength - 1)]}…";
}

/// <summary>Codes that are given once each.</summary>
public sealed class CodePoolRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }
    public required string Name { get; set; }
    public required string ChangedBy { get; set; }
    public Instant ChangedAt { get; set; }

    /// <summary>When it was told that few are left; null since codes were added.</summary>
    public Instant? WarnedAt { get; set; }
}

/// <summary>One code of a pool.</summary>
public sealed class CodeRow : IWorkspaceOwned
{
    public Guid PoolId { get; init; }
    public required string Code { get; init; }
    public Guid WorkspaceId { get; init; }

    /// <summary>For which yes it was given; null while it is not.</summary>
    public Guid? YesId { get; set; }
    public Instant? GivenAt { get; set; }
}

/// <summary>What of leads a webhook is told.</summary>
public enum LeadWord
{
    /// <summary>Somebody said yes.</summary>
    New,

    /// <summary>Somebody may be written to.</summary>
    Confirmed,

    /// <summary>Somebody took it back.</summary>
    Withdrawn,

    /// <summary>Somebody came to a step of a follow-up; told to the webhook that the step names.</summary>
    Reached,
}

/// <summary>An address that is told of leads.</summary>
public sealed class WebhookRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }
    public required string Name { get; set; }
    public required string Address { get; set; }

    /// <summary>What messages are signed with (Standard Webhooks).</summary>
    public required string Secret { get; init; }
    public List<LeadWord> Words { get; set; } = [];

    /// <summary>Why it is told nothing; empty while it is told.</summary>
    public string OffBecause { get; set; } = "";
    public required string ChangedBy { get; set; }
    public Instant ChangedAt { get; set; }
}

/// <summary>One message to a webhook.</summary>
public sealed class WebhookMessageRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public Guid WebhookId { get; init; }
    public LeadWord Word { get; init; }

    /// <summary>The body, as it is signed and sent.</summary>
    public required string Body { get; init; }
    public Instant MadeAt { get; init; }

    /// <summary>How often it was tried.</summary>
    public int Tries { get; set; }

    /// <summary>When it is tried next; null once it was taken or given up.</summary>
    public Instant? NextAt { get; set; }

    /// <summary>When it was taken; null while it was not.</summary>
    public Instant? TakenAt { get; set; }

    /// <summary>What the last try came to.</summary>
    public int? Status { get; set; }
    public string Says { get; set; } = "";
}

/// <summary>A file that is given for a yes.</summary>
public sealed class RewardFileRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }
    public required string Name { get; init; }
    public required string MediaType { get; init; }
    public required byte[] Bytes { get; init; }
    public required string AddedBy { get; init; }
    public Instant AddedAt { get; init; }
}
