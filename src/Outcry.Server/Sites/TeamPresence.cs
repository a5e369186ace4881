using System.Collections.Concurrent;

namespace Outcry.Server.Sites;

/// <summary>Somebody of the team with a desk open.</summary>
/// <param name="Place">What they are at: "callout:ID" or "callout:ID:facet"; empty for nothing in particular.</param>
internal sealed record Colleague(Guid MemberId, string Name, string Place);

/// <summary>Who of each workspace's team has a desk open right now and what they are at, as far as this node is concerned.</summary>
internal sealed class TeamPresence
{
    private readonly ConcurrentDictionary<string, Line> _byConnection = new();

    public bool IsThere(Guid workspaceId) => _byConnection.Values.Any(l => l.Workspace == workspaceId);

    /// <summary>Who of a workspace is there, by name.</summary>
    public IReadOnlyList<string> NamesOf(Guid workspaceId) =>
        [
            .. _byConnection
                .Values.Where(l => l.Workspace == workspaceId)
                .Select(l => l.Who)
                .DistinctBy(c => c.MemberId)
                .Select(c => c.Name)
                .Order(StringComparer.Ordinal),
        ];

    /// <summary>The members of a workspace who are there.</summary>
    public IReadOnlySet<Guid> IdsOf(Guid workspaceId) =>
        _byConnection.Values.Where(l => l.Workspace == workspaceId).Select(l => l.Who.MemberId).ToHashSet();

    public void Came(string connection, Guid workspaceId, Guid siteId, Guid memberId, string name) =>
        _byConnection[connection] = new Line(workspaceId, siteId, new Colleague(memberId, name, ""));

    /// <summary>Notes what somebody turned to; the site they follow, or null when the connection follows none.</summary>
    public Guid? Turned(string connection, string place)
    {
        // Whoever went in this very moment stays gone.
        while (_byConnection.TryGetValue(connection, out var line))
            if (_byConnection.TryUpdate(connection, line with { Who = line.Who with { Place = place } }, line))
                return line.Site;
        return null;
    }

    /// <summary>Notes that somebody went; the site they followed, if any.</summary>
    public Guid? Went(string connection) => _byConnection.TryRemove(connection, out var line) ? line.Site : null;

    /// <summary>Who is at a site's desk; somebody with several windows open is named once for each thing they are at.</summary>
    public IReadOnlyList<Colleague> At(Guid siteId) =>
        [
            .. _byConnection
                .Values.Where(l => l.Site == siteId)
                .Select(l => l.Who)
                .Distinct()
                .OrderBy(c => c.Name)
                .ThenBy(c => c.Place),
        ];

    private sealed record Line(Guid Workspace, Guid Site, Colleague Who);
}
