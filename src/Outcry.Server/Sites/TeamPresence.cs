using System.Collections.Concurrent;

namespace Outcry.Server.Sites;

/// <summary>Who of each workspace's team has a desk open right now, as far as this node is concerned.</summary>
internal sealed class TeamPresence
{
    private readonly ConcurrentDictionary<string, Guid> _byConnection = new();

    public bool IsThere(Guid workspaceId) => _byConnection.Values.Contains(workspaceId);

    public void Came(string connection, Guid workspaceId) => _byConnection[connection] = workspaceId;

    public void Went(string connection) => _byConnection.TryRemove(connection, out _);
}
