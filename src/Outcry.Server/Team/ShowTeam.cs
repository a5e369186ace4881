using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.Team;

/// <param name="IsHere">Whether they have a desk open now.</param>
/// <param name="SeenAt">The last request of any of their sessions; null where none is open.</param>
internal sealed record TeamMemberView(
    Guid Id,
    string Name,
    string Email,
    Role Role,
    Instant JoinedAt,
    bool IsHere,
    Instant? SeenAt,
    bool HasFactor
);

internal sealed record InvitationView(
    Guid Id,
    string Email,
    Role Role,
    string InvitedBy,
    Instant InvitedAt,
    Instant EndsAt
);

/// <param name="Table">Who may do what.</param>
/// <param name="HasMail">Whether invitations can be mailed at all.</param>
internal sealed record TeamView(
    string Workspace,
    IReadOnlyList<TeamMemberView> Members,
    IReadOnlyList<InvitationView> Invitations,
    IReadOnlyList<AccessLine> Table,
    HouseHabits Habits,
    bool HasMail
);

/// <summary>The people of a workspace, those who are invited, and what they agreed on.</summary>
internal static class ShowTeam
{
    public static async Task<Ok<TeamView>> HandleAsync(
        Guid workspaceId,
        OutcryDb db,
        TeamPresence presence,
        Mail.Postman postman,
        IClock clock,
        CancellationToken stop
    )
    {
        var workspace = await db.Workspaces.AsNoTracking().FirstAsync(w => w.Id == workspaceId, stop);
        var members = await db
            .Memberships.AsNoTracking()
            .Join(
                db.Users,
                m => m.MemberId,
                u => u.Id,
                (m, u) =>
                    new
                    {
                        m.Role,
                        m.JoinedAt,
                        u.Id,
                        u.DisplayName,
                        u.Email,
                        u.TwoFactorEnabled,
                        SeenAt = db.Sessions.Where(s => s.MemberId == u.Id).Max(s => (Instant?)s.SeenAt),
                    }
            )
            .OrderBy(m => m.JoinedAt)
            .ThenBy(m => m.DisplayName)
            .ToListAsync(stop);
        var now = clock.GetCurrentInstant();
        var invitations = await db
            .Invitations.AsNoTracking()
            .OrderBy(i => i.InvitedAt)
            .Select(i => new InvitationView(i.Id, i.Email, i.Role, i.InvitedBy, i.InvitedAt, i.EndsAt))
            .ToListAsync(stop);
        var here = presence.AtDesk(workspaceId);
        return TypedResults.Ok(
            new TeamView(
                workspace.Name,
                members.ConvertAll(m => new TeamMemberView(
                    m.Id,
                    m.DisplayName,
                    m.Email ?? "",
                    m.Role,
                    m.JoinedAt,
                    here.Contains(m.Id),
                    m.SeenAt,
                    m.TwoFactorEnabled
                )),
                invitations,
                AccessTable.Lines,
                workspace.Habits,
                postman.IsSet
            )
        );
    }
}
