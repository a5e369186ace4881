using Microsoft.AspNetCore.Identity;
using NodaTime;
using Outcry.Core.Access;

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

    /// <summary>How its team wants to work.</summary>
    public HouseHabits Habits { get; set; } = HouseHabits.Start;

    /// <summary>How far it may go.</summary>
    public WorkspaceLimits Limits { get; set; } = WorkspaceLimits.None;

    /// <summary>The month ("2015-04", UTC) in which its owners were warned of the visitors' limit; null before.</summary>
    public string? LimitWarned { get; set; }

    /// <summary>The month in which that limit was reached and acted on; null before.</summary>
    public string? LimitReached { get; set; }
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

    /// <summary>The last request, to the minute.</summary>
    public Instant SeenAt { get; set; }

    /// <summary>The browser and its system, as its member would name them: "Firefox on Linux".</summary>
    public string Device { get; init; } = "";

    /// <summary>Whether it was begun with a second factor or a passkey.</summary>
    public bool HadFactor { get; set; }
}

/// <summary>A browser that a member has signed in from before; a new one is told to its member by mail.</summary>
public sealed class DeviceRow
{
    public Guid MemberId { get; init; }

    /// <summary>SHA-256 of the number that its cookie holds.</summary>
    public required byte[] Hash { get; init; }

    public Instant FirstAt { get; init; }
}

/// <summary>A member's place in a workspace.</summary>
public sealed class MembershipRow : IWorkspaceOwned
{
    public Guid WorkspaceId { get; init; }
    public Guid MemberId { get; init; }
    public Role Role { get; set; }

    /// <summary>Whether they said that they are away for visitors; it stays until they say otherwise.</summary>
    public bool IsAway { get; set; }

    public Instant JoinedAt { get; init; }
}
