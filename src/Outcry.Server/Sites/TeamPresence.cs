using System.Collections.Concurrent;
using System.Diagnostics;
using Outcry.Core.Greetings;

namespace Outcry.Server.Sites;

/// <summary>Somebody of the team with a desk open.</summary>
/// <param name="Place">What they are at: "callout:ID" or "callout:ID:facet"; empty for nothing in particular.</param>
/// <param name="IsAway">Whether they said that they are away, or have not moved for long.</param>
internal sealed record Colleague(Guid MemberId, string Name, string Place, bool IsAway = false);

/// <summary>Members who answer for something: "Workshops".</summary>
internal sealed record AnswerGroup(Guid Id, string Name, IReadOnlySet<Guid> Members);

/// <summary>One open desk.</summary>
/// <param name="Who">Its member; away or not as they said by hand.</param>
/// <param name="Answers">Whether their role answers visitors.</param>
/// <param name="IsIdle">Whether nothing has moved at this desk for long.</param>
internal sealed record DeskLine(Guid Workspace, Guid Site, Colleague Who, bool Answers, bool IsIdle)
{
    /// <summary>Whether they would answer a visitor now.</summary>
    public bool IsPresent => Answers && !IsIdle && !Who.IsAway;
}

/// <summary>Who of each workspace's team has a desk open right now and what they are at, here and at the other nodes.</summary>
internal sealed class TeamPresence
{
    /// <summary>A desk of another node of which nothing was heard for so long is gone.</summary>
    public static readonly TimeSpan Silence = TimeSpan.FromSeconds(60);

    private readonly ConcurrentDictionary<string, DeskLine> _here = new();
    private readonly ConcurrentDictionary<string, (DeskLine Line, long HeardAt)> _elsewhere = new();

    // Gone through as they stand: asked at page views, and the dictionary's own copies would take all its locks.
    private IEnumerable<DeskLine> All =>
        _here
            .Select(l => l.Value)
            .Concat(
                _elsewhere
                    .Select(l => l.Value)
                    .Where(l => Stopwatch.GetElapsedTime(l.HeardAt) < Silence)
                    .Select(l => l.Line)
            );

    /// <summary>The desks that are open at this node, by their connection.</summary>
    /// <remarks>By the dictionary's own copy: one that is spread is counted first and copied then, with holes where somebody went between.</remarks>
    public IReadOnlyList<KeyValuePair<string, DeskLine>> Here => _here.ToArray();

    private volatile IReadOnlyDictionary<Guid, IReadOnlyList<AnswerGroup>> _groups =
        new Dictionary<Guid, IReadOnlyList<AnswerGroup>>();
    private volatile IReadOnlySet<(Guid Workspace, Guid Member)> _full = new HashSet<(Guid, Guid)>();

    /// <summary>Takes over which groups each workspace has, and who has as many talks open as one person should.</summary>
    public void TakeGroups(ILookup<Guid, AnswerGroup> groups, IReadOnlySet<(Guid Workspace, Guid Member)> full)
    {
        _groups = groups.ToDictionary(g => g.Key, g => (IReadOnlyList<AnswerGroup>)[.. g]);
        _full = full;
    }

    /// <summary>The groups of a workspace's team.</summary>
    public IReadOnlyList<AnswerGroup> GroupsOf(Guid workspaceId) => _groups.GetValueOrDefault(workspaceId) ?? [];

    /// <summary>Who of a workspace is present to answer, as a whole and by group; whoever has no room for another talk is not counted in a group.</summary>
    public TeamThere ThereOf(Guid workspaceId)
    {
        var present = IdsOf(workspaceId);
        return new TeamThere(
            present.Count > 0,
            GroupsOf(workspaceId)
                .ToDictionary(
                    g => g.Id,
                    g => g.Members.Any(m => present.Contains(m) && !_full.Contains((workspaceId, m)))
                )
        );
    }

    /// <summary>Whether anybody is present who answers visitors.</summary>
    public bool IsThere(Guid workspaceId) => All.Any(l => l.Workspace == workspaceId && l.IsPresent);

    /// <summary>Who of a workspace is present to answer, by name.</summary>
    /// <param name="group">Only those of this group; null for everybody.</param>
    public IReadOnlyList<string> NamesOf(Guid workspaceId, Guid? group = null) =>
        [
            .. All.Where(l => l.Workspace == workspaceId && l.IsPresent && IsOf(workspaceId, group, l.Who.MemberId))
                .Select(l => l.Who)
                .DistinctBy(c => c.MemberId)
                .Select(c => c.Name)
                .Order(StringComparer.Ordinal),
        ];

    private bool IsOf(Guid workspaceId, Guid? group, Guid member) =>
        group is null
        || GroupsOf(workspaceId).FirstOrDefault(g => g.Id == group) is not { } named
        || named.Members.Contains(member);

    /// <summary>The members of a workspace who are present to answer.</summary>
    public IReadOnlySet<Guid> IdsOf(Guid workspaceId) =>
        All.Where(l => l.Workspace == workspaceId && l.IsPresent).Select(l => l.Who.MemberId).ToHashSet();

    /// <summary>The members of a workspace with a desk open, whatever their role and wherever they look.</summary>
    public IReadOnlySet<Guid> AtDesk(Guid workspaceId) =>
        All.Where(l => l.Workspace == workspaceId).Select(l => l.Who.MemberId).ToHashSet();

    public void Came(
        string connection,
        Guid workspaceId,
        Guid siteId,
        Guid memberId,
        string name,
        bool answers = true,
        bool isAway = false
    ) =>
        _here[connection] = new DeskLine(
            workspaceId,
            siteId,
            new Colleague(memberId, name, "", isAway),
            answers,
            IsIdle: false
        );

    /// <summary>Notes what somebody turned to; their desk, or null when the connection follows no site.</summary>
    public DeskLine? Turned(string connection, string place) =>
        Change(connection, line => line with { Who = line.Who with { Place = place } });

    /// <summary>Notes whether anything moves at a desk; the desk, or null when the connection follows no site.</summary>
    public DeskLine? Moved(string connection, bool isIdle) => Change(connection, line => line with { IsIdle = isIdle });

    /// <summary>Notes that somebody said they are away, or back, at all their desks; the sites they have open.</summary>
    public IReadOnlyList<Guid> SaidAway(Guid workspaceId, Guid memberId, bool isAway)
    {
        DeskLine Set(DeskLine line) => line with { Who = line.Who with { IsAway = isAway } };
        bool IsTheirs(DeskLine line) => line.Workspace == workspaceId && line.Who.MemberId == memberId;
        var sites = new HashSet<Guid>();
        foreach (var (connection, line) in _here)
            if (IsTheirs(line) && Change(connection, Set) is { } changed)
                sites.Add(changed.Site);
        foreach (var (key, heard) in _elsewhere)
            if (IsTheirs(heard.Line) && _elsewhere.TryUpdate(key, heard with { Line = Set(heard.Line) }, heard))
                sites.Add(heard.Line.Site);
        return [.. sites];
    }

    /// <summary>Notes that somebody went; the site they followed, if any.</summary>
    public Guid? Went(string connection) => _here.TryRemove(connection, out var line) ? line.Site : null;

    /// <summary>Another node tells of a desk there; whether that is news.</summary>
    public bool Heard(string key, DeskLine line)
    {
        var isNews = !_elsewhere.TryGetValue(key, out var before) || before.Line != line;
        _elsewhere[key] = (line, Stopwatch.GetTimestamp());
        return isNews;
    }

    /// <summary>Another node tells that a desk there is gone; the site it followed.</summary>
    public Guid? WentElsewhere(string key) => _elsewhere.TryRemove(key, out var gone) ? gone.Line.Site : null;

    /// <summary>Forgets desks of nodes that have fallen silent; the sites whose desks they were.</summary>
    public IReadOnlyList<Guid> ForgetSilent() =>
        [
            .. _elsewhere
                .Where(l => Stopwatch.GetElapsedTime(l.Value.HeardAt) >= Silence && _elsewhere.TryRemove(l))
                .Select(l => l.Value.Line.Site)
                .Distinct(),
        ];

    /// <summary>Who is at a site's desk; somebody with several windows open is named once for each thing they are at.</summary>
    public IReadOnlyList<Colleague> At(Guid siteId)
    {
        var lines = All.Where(l => l.Site == siteId).ToList();
        // Whoever moves in one window is not away in another.
        var awake = lines.Where(l => !l.IsIdle).Select(l => l.Who.MemberId).ToHashSet();
        return
        [
            .. lines
                .Select(l => l.Who with { IsAway = l.Who.IsAway || !awake.Contains(l.Who.MemberId) })
                .Distinct()
                .OrderBy(c => c.Name)
                .ThenBy(c => c.Place),
        ];
    }

    private DeskLine? Change(string connection, Func<DeskLine, DeskLine> how)
    {
        // Whoever went in this very moment stays gone.
        while (_here.TryGetValue(connection, out var line))
            if (how(line) is var changed && _here.TryUpdate(connection, changed, line))
                return changed;
        return null;
    }
}
