using System.Security.Claims;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Store;

namespace Outcry.Server.Platform;

/// <summary>The claims that a session's cookie carries besides who it is of.</summary>
internal static class SessionClaim
{
    /// <summary>Names the session a cookie belongs to.</summary>
    public const string Type = "outcry.session";

    /// <summary>Says that the session was begun with a second factor.</summary>
    public const string Factor = "outcry.factor";

    public static Guid? Of(ClaimsPrincipal who) => Guid.TryParse(who.FindFirstValue(Type), out var id) ? id : null;

    public static bool HadFactor(ClaimsPrincipal who) => who.HasClaim(Factor, "yes");
}

/// <summary>Asks the database what stands now: sessions and memberships that were ended open nothing any more, whatever a cookie says.</summary>
internal sealed class MembershipCheck(SystemDb database, IOptions<IdentityOptions> identity, IClock clock)
{
    private static readonly Duration Noted = Duration.FromMinutes(1);

    /// <summary>Whether the session behind a cookie is open and its member's password, factors and the like are still the same.</summary>
    public async Task<bool> IsSessionOpenAsync(ClaimsPrincipal who, CancellationToken stop)
    {
        if (SessionClaim.Of(who) is not { } session)
            return false;
        var stamp = who.FindFirstValue(identity.Value.ClaimsIdentity.SecurityStampClaimType);
        await using var db = database.Open();
        var found = await db
            .Sessions.Where(s => s.Id == session)
            .Join(
                db.Users,
                s => s.MemberId,
                m => m.Id,
                (s, m) =>
                    new
                    {
                        m.SecurityStamp,
                        s.SeenAt,
                        s.MemberId,
                    }
            )
            .FirstOrDefaultAsync(stop);
        if (found is null || found.SecurityStamp != stamp)
            return false;
        var now = clock.GetCurrentInstant();
        if (now - found.SeenAt < Noted)
            return true;
        if (now - found.SeenAt >= await LongestAwayAsync(db, found.MemberId, stop))
        {
            await db.Sessions.Where(s => s.Id == session).ExecuteDeleteAsync(stop);
            return false;
        }
        await db.Sessions.Where(s => s.Id == session).ExecuteUpdateAsync(s => s.SetProperty(x => x.SeenAt, now), stop);
        return true;
    }

    // Of several workspaces the strictest habit counts: one session opens them all.
    private static async Task<Duration> LongestAwayAsync(OutcryDb db, Guid member, CancellationToken stop)
    {
        var habits = await db
            .Memberships.Where(m => m.MemberId == member)
            .Join(db.Workspaces, m => m.WorkspaceId, w => w.Id, (m, w) => w.Habits)
            .ToListAsync(stop);
        return Duration.FromHours(habits.Select(h => h.AwayHours).DefaultIfEmpty(HouseHabits.MostAway).Min());
    }

    /// <summary>Those of some open lines whose session and membership still stand, each with its role as it is now.</summary>
    public async Task<IReadOnlyDictionary<(Guid Session, Guid Workspace), Role>> StandingAsync(
        IReadOnlyCollection<Guid> sessions,
        CancellationToken stop
    )
    {
        await using var db = database.Open();
        var standing = await db
            .Sessions.Where(s => sessions.Contains(s.Id))
            .Join(
                db.Memberships,
                s => s.MemberId,
                m => m.MemberId,
                (s, m) =>
                    new
                    {
                        s.Id,
                        m.WorkspaceId,
                        m.Role,
                    }
            )
            .ToListAsync(stop);
        return standing.ToDictionary(s => (s.Id, s.WorkspaceId), s => s.Role);
    }

    /// <summary>A member's place in a workspace as it stands now; null when there is none.</summary>
    public async Task<(Role Role, bool IsAway)?> SeatAsync(Guid member, Guid workspace, CancellationToken stop)
    {
        await using var db = database.Open();
        return
            await db
                .Memberships.Where(m => m.MemberId == member && m.WorkspaceId == workspace)
                .Select(m => new { m.Role, m.IsAway })
                .FirstOrDefaultAsync(stop)
                is { } seat
            ? (seat.Role, seat.IsAway)
            : null;
    }
}
