using System.Collections.Concurrent;
using Microsoft.AspNetCore.SignalR;
using Outcry.Core.Access;
using Outcry.Server.Platform;

namespace Outcry.Server.Live;

/// <summary>The open live lines of this node, so that those of a session or a membership that has ended can be cut.</summary>
internal sealed class DeskLines(MembershipCheck memberships)
{
    private readonly ConcurrentDictionary<string, Line> _lines = new();

    public void Opened(HubCallerContext context, Guid session) =>
        _lines[context.ConnectionId] = new Line(context, session, null, default);

    /// <summary>Notes whose site a line follows, and as what.</summary>
    public void Follows(string connection, Guid workspace, Role role)
    {
        if (_lines.TryGetValue(connection, out var line))
            _lines.TryUpdate(connection, line with { Workspace = workspace, Role = role }, line);
    }

    public void Closed(string connection) => _lines.TryRemove(connection, out _);

    /// <summary>Cuts the lines of a session that was ended here, at once.</summary>
    public void Cut(Guid session)
    {
        foreach (var line in _lines.Values.Where(l => l.Session == session))
            Cut(line);
    }

    /// <summary>
    /// Cuts every line whose session or membership was ended anywhere. One whose role was changed is cut as well: its desk
    /// opens another by itself, and asks anew for whatever it shows.
    /// </summary>
    public async Task ReviewAsync(CancellationToken stop)
    {
        var lines = _lines.Values.ToList();
        if (lines.Count == 0)
            return;
        var standing = await memberships.StandingAsync([.. lines.Select(l => l.Session).Distinct()], stop);
        var open = standing.Keys.Select(s => s.Session).ToHashSet();
        foreach (
            var line in lines.Where(l =>
                l.Workspace is { } workspace
                    ? !standing.TryGetValue((l.Session, workspace), out var role) || role != l.Role
                    : !open.Contains(l.Session)
            )
        )
            Cut(line);
    }

    private void Cut(Line line)
    {
        Closed(line.Context.ConnectionId);
        line.Context.Abort();
    }

    private sealed record Line(HubCallerContext Context, Guid Session, Guid? Workspace, Role Role);
}

/// <summary>Looks every two seconds whether the sessions and memberships behind the open lines still stand.</summary>
internal sealed class LineReview(DeskLines lines, LoopWatch watch) : BackgroundService
{
    private const string Loop = "review of live lines";
    private static readonly TimeSpan Every = TimeSpan.FromSeconds(2);

    protected override Task ExecuteAsync(CancellationToken stoppingToken) =>
        watch.KeepAsync(Loop, GoRoundAsync, stoppingToken);

    private async Task GoRoundAsync(CancellationToken stop)
    {
        using var timer = new PeriodicTimer(Every);
        while (await timer.WaitForNextTickAsync(stop))
        {
            await lines.ReviewAsync(stop);
            watch.WentRound(Loop);
        }
    }
}
