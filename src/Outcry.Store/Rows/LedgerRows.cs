using NodaTime;

namespace Outcry.Store.Rows;

/// <summary>One field that a member corrected; what it was is kept for audit.</summary>
public sealed class CorrectionRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public Guid EventId { get; init; }
    public required string Field { get; init; }
    public required string Was { get; init; }
    public required string Is { get; init; }
    public required string By { get; init; }
    public Instant At { get; init; }
}

/// <summary>A filter of the ledger under a name, shared by the team.</summary>
public sealed class SavedViewRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }
    public required string Name { get; init; }

    /// <summary>The filter as the ledger's address has it.</summary>
    public required string Query { get; init; }
    public required string By { get; init; }
}

/// <summary>Proof that somebody was erased, without saying who.</summary>
public sealed class ErasureRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }
    public Instant At { get; init; }
    public required string By { get; init; }

    /// <summary>By what they were found: "e-mail", "phone", "name".</summary>
    public required string FoundBy { get; init; }
    public int Events { get; init; }
    public int Visitors { get; init; }
    public int Deliveries { get; init; }

    /// <summary>SHA-256 over the ids of what was erased, in order: shows later that a given record was among it.</summary>
    public required string Digest { get; init; }
}

/// <summary>What is left of an event that was erased or deleted: enough to know it when it is told again, and nothing to read.</summary>
public sealed class TombstoneRow : IWorkspaceOwned
{
    public Guid WorkspaceId { get; init; }

    public Guid SiteId { get; init; }

    /// <summary>Keyed hash of the event's source and of the id under which its sender knows it.</summary>
    public required string Key { get; init; }

    public Instant At { get; init; }
}
