namespace Outcry.Server.Platform;

/// <summary>What the wall between workspaces has to know of sites.</summary>
internal interface ISiteBook
{
    /// <summary>Whose site it is; null when there is none.</summary>
    Guid? WorkspaceOf(Guid siteId);

    /// <summary>The hosts that some workspaces' sites allow.</summary>
    IEnumerable<string> HostsOf(IReadOnlySet<Guid> workspaces);
}
