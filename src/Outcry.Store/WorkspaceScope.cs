namespace Outcry.Store;

/// <summary>Whose rows a unit of work sees: one workspace's, or, for the system's own work, everybody's.</summary>
public sealed class WorkspaceScope
{
    private WorkspaceScope(Guid workspaceId, bool everything)
    {
        WorkspaceId = workspaceId;
        Everything = everything;
    }

    /// <summary>Nobody's rows, until somebody is known.</summary>
    public WorkspaceScope()
        : this(Guid.Empty, false) { }

    /// <summary>The workspace; empty sees nothing.</summary>
    public Guid WorkspaceId { get; private set; }

    /// <summary>Whether every workspace is seen.</summary>
    public bool Everything { get; }

    /// <summary>The system's own scope: intake, planning, seeding.</summary>
    public static WorkspaceScope System { get; } = new(Guid.Empty, true);

    /// <summary>Narrows the scope to a workspace, once its member is known.</summary>
    public void Enter(Guid workspaceId) => WorkspaceId = workspaceId;
}
