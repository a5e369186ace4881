using NodaTime;
using Outcry.Core.Following;

namespace Outcry.Store.Rows;

/// <summary>Somebody in a follow-up, or who was; each comes into one once.</summary>
public sealed class FollowRunRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }
    public Guid FollowUpId { get; init; }

    /// <summary>The revision that they came into, and keep.</summary>
    public int Revision { get; init; }
    public Guid LeadId { get; init; }

    /// <summary>At which step they are, by its place in that revision.</summary>
    public int At { get; set; }

    /// <summary>The same by its id; null once it is over.</summary>
    public Guid? StepId { get; set; }

    /// <summary>Steps that are behind them.</summary>
    public List<Guid> Passed { get; set; } = [];
    public Instant BegunAt { get; init; }

    /// <summary>Since when they are at their step.</summary>
    public Instant Since { get; set; }

    /// <summary>When it goes on; null once it is over.</summary>
    public Instant? DueAt { get; set; }
    public Instant? EndedAt { get; set; }
    public FollowEnd? End { get; set; }

    /// <summary>Address of the desk, under which links in mails are opened.</summary>
    public required string Desk { get; init; }
}
