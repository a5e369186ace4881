using Microsoft.EntityFrameworkCore;
using Outcry.Core.Talks;
using Outcry.Store;

namespace Outcry.Server.Sites;

/// <summary>Which groups each team has, as the database knows it.</summary>
internal static class TeamGroups
{
    /// <summary>Reads who answers for what, and who has as many talks open as one person should, into this node's memory.</summary>
    public static async Task ReadAsync(OutcryDb db, TeamPresence presence, CancellationToken stop)
    {
        var groups = await db.AnswerGroups.IgnoreQueryFilters().AsNoTracking().OrderBy(g => g.Name).ToListAsync(stop);
        var full = await db
            .Talks.IgnoreQueryFilters()
            .Where(t => t.State == TalkState.Claimed && t.MemberId != null)
            .GroupBy(t => new { t.WorkspaceId, Member = t.MemberId!.Value })
            .Where(g => g.Count() >= RoundRobin.MostOpenTalks)
            .Select(g => g.Key)
            .ToListAsync(stop);
        presence.TakeGroups(
            groups.ToLookup(g => g.WorkspaceId, g => new AnswerGroup(g.Id, g.Name, g.MemberIds.ToHashSet())),
            full.Select(f => (f.WorkspaceId, f.Member)).ToHashSet()
        );
    }
}
