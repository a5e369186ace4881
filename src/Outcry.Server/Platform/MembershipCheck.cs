using System.Security.Claims;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using Outcry.Store.Rows;

namespace Outcry.Server.Platform;

/// <summary>The claim that names the session a cookie belongs to.</summary>
internal static class SessionClaim
{
    public const string Type = "outcry.session";

    public static Guid? Of(ClaimsPrincipal who) => Guid.TryParse(who.FindFirstValue(Type), out var id) ? id : null;
}

/// <summary>Asks the database what stands now: sessions and memberships that were ended open nothing any more, whatever a cookie says.</summary>
internal sealed class MembershipCheck(SystemDb database, IOptions<IdentityOptions> identity)
{
    /// <summary>Whether the session behind a cookie is open and its member's password, factors and the like are still the same.</summary>
    public async Task<bool> IsSessionOpenAsync(ClaimsPrincipal who, CancellationToken stop)
    {
        if (SessionClaim.Of(who) is not { } session)
            return false;
        var stamp = who.FindFirstValue(identity.Value.ClaimsIdentity.SecurityStampClaimType);
        await using var db = database.Open();
        return await db
            .Sessions.Where(s => s.Id == session)
            .Join(db.Users, s => s.MemberId, m => m.Id, (s, m) => m.SecurityStamp)
            .AnyAsync(s => s == stamp, stop);
    }

    /// <summary>Those of some open lines whose session and membership still stand.</summary>
    public async Task<HashSet<(Guid Session, Guid Workspace)>> StandingAsync(
        IReadOnlyCollection<Guid> sessions,
        CancellationToken stop
    )
    {
        await using var db = database.Open();
        var standing = await db
            .Sessions.Where(s => sessions.Contains(s.Id))
            .Join(db.Memberships, s => s.MemberId, m => m.MemberId, (s, m) => new { s.Id, m.WorkspaceId })
            .ToListAsync(stop);
        return [.. standing.Select(s => (s.Id, s.WorkspaceId))];
    }

    /// <summary>A member's place in a workspace as it stands now; null when there is none.</summary>
    public async Task<Role?> RoleAsync(Guid member, Guid workspace, CancellationToken stop)
    {
        await using var db = database.Open();
        return await db
            .Memberships.Where(m => m.MemberId == member && m.WorkspaceId == workspace)
            .Select(m => (Role?)m.Role)
            .FirstOrDefaultAsync(stop);
    }
}
