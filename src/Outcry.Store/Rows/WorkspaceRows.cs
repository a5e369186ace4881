using Microsoft.AspNetCore.Identity;
using NodaTime;

namespace Outcry.Store.Rows;

/// <summary>A row that belongs to one workspace and is never seen from another.</summary>
public interface IWorkspaceOwned
{
    Guid WorkspaceId { get; }
}

/// <summary>One company's account.</summary>
public sealed class WorkspaceRow
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public required string Name { get; set; }
    public Instant CreatedAt { get; init; }
}

/// <summary>A person who signs in.</summary>
public sealed class Member : IdentityUser<Guid>
{
    /// <summary>As colleagues see it: "Marta Quill".</summary>
    public string DisplayName { get; set; } = "";
}

/// <summary>A browser that a member signed in with, until it is signed out. Without its row its cookie opens nothing.</summary>
public sealed class SessionRow
{
    public Guid Id { get; init; } = Guid.CreateVersion7();

    public Guid MemberId { get; init; }

    public Instant StartedAt { get; init; }
}

/// <summary>What a member may do in a workspace, each including those below.</summary>
public enum Role
{
    /// <summary>May look.</summary>
    Viewer,

    /// <summary>May draft.</summary>
    Editor,

    /// <summary>May put things live.</summary>
    Publisher,

    /// <summary>May do everything.</summary>
    Owner,
}

/// <summary>A member's place in a workspace.</summary>
public sealed class MembershipRow : IWorkspaceOwned
{
    public Guid WorkspaceId { get; init; }
    public Guid MemberId { get; init; }
    public Role Role { get; set; }
}
