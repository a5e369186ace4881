using NodaTime;
using Outcry.Core.Access;

namespace Outcry.Store.Rows;

/// <summary>Somebody who was asked by mail to join a workspace and has not yet, or has been asked no more.</summary>
public sealed class InvitationRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public required string Email { get; init; }
    public Role Role { get; init; }

    /// <summary>SHA-256 of the secret in the link, which is kept nowhere.</summary>
    public required byte[] Hash { get; set; }

    public required string InvitedBy { get; init; }
    public Instant InvitedAt { get; set; }

    /// <summary>From then on the link opens nothing.</summary>
    public Instant EndsAt { get; set; }
}

/// <summary>A machine's key to a workspace.</summary>
public sealed class TokenRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }

    /// <summary>What it is for, in its maker's words.</summary>
    public required string Name { get; init; }

    public required List<TokenScope> Scopes { get; init; }

    /// <summary>SHA-256 of the token, which was shown once and is kept nowhere.</summary>
    public required byte[] Hash { get; init; }

    /// <summary>Its first letters, to tell it from others.</summary>
    public required string Begins { get; init; }

    public required string MadeBy { get; init; }
    public Instant MadeAt { get; init; }

    /// <summary>The last request with it, to the minute; null before the first.</summary>
    public Instant? UsedAt { get; set; }

    /// <summary>When it was ended; null while it opens something.</summary>
    public Instant? EndedAt { get; set; }
}

/// <summary>A backup of the whole installation that was made.</summary>
public sealed class BackupRow
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Instant At { get; init; }
    public long Bytes { get; init; }
}

/// <summary>One act that changed what visitors see, who may what, or personal data. Written once; the database refuses to change it.</summary>
public sealed class TraceRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }

    /// <summary>The site it was about; null for the workspace's own matters. It may be gone: what was done with it stays written.</summary>
    public Guid? AboutSite { get; init; }

    public Instant At { get; init; }

    /// <summary>Whose act; null for the system's own and for a machine's token.</summary>
    public Guid? MemberId { get; init; }

    public required string By { get; init; }

    /// <summary>The verb: "published", "paused".</summary>
    public required string Act { get; init; }

    /// <summary>What it was done to, as it was called then.</summary>
    public required string Subject { get; init; }

    /// <summary>Its kind and id where it has a page of its own: "callout/0199…"; empty for none.</summary>
    public string Link { get; init; } = "";

    /// <summary>Before and after, in words.</summary>
    public List<TracedChange> Changes { get; init; } = [];

    /// <summary>The browser or the token it came from.</summary>
    public string Device { get; init; } = "";
}
