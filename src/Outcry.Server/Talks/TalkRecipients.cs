using Microsoft.EntityFrameworkCore;
using Outcry.Core.Access;
using Outcry.Core.Greetings;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Talks;

/// <summary>Who of the team is mailed about a talk.</summary>
internal sealed class TalkRecipients(TeamPresence team)
{
    /// <summary>
    /// The addresses its launcher names; where it names none, the group that the talk is for; where there is none, the owners.
    /// </summary>
    public async Task<IReadOnlyList<string>> OfAsync(
        OutcryDb db,
        TalkRow talk,
        Launcher? launcher,
        CancellationToken stop
    ) =>
        launcher?.Brief.MailTo is { Count: > 0 } to ? to
        : team.GroupsOf(talk.WorkspaceId).FirstOrDefault(g => g.Id == talk.GroupId)
            is { Members: { Count: > 0 } theirs }
            ? await db.Users.Where(u => theirs.Contains(u.Id)).Select(u => u.Email!).ToListAsync(stop)
        : await db
            .Memberships.Where(m => m.WorkspaceId == talk.WorkspaceId && m.Role == Role.Owner)
            .Join(db.Users, m => m.MemberId, u => u.Id, (m, u) => u.Email!)
            .ToListAsync(stop);

    /// <summary>Whoever holds it, and else the same: it is theirs to know.</summary>
    public async Task<IReadOnlyList<string>> HolderOrAsync(
        OutcryDb db,
        TalkRow talk,
        Launcher? launcher,
        CancellationToken stop
    ) =>
        talk.MemberId is { } holder
            ? await db.Users.Where(u => u.Id == holder).Select(u => u.Email!).ToListAsync(stop)
            : await OfAsync(db, talk, launcher, stop);
}
