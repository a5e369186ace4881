using System.Security.Claims;
using Microsoft.AspNetCore.Authorization;
using Microsoft.EntityFrameworkCore;
using Outcry.Core.Access;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Platform;

/// <summary>Who is asking, once known, and in which workspace.</summary>
internal sealed class CurrentMember
{
    private static readonly IReadOnlySet<Right> Nothing = new HashSet<Right>();

    public Guid Id { get; private set; }
    public Guid WorkspaceId { get; private set; }
    public string Name { get; private set; } = "";
    public string Email { get; private set; } = "";

    /// <summary>Whether somebody is asking whose membership of some workspace stands now.</summary>
    public bool IsKnown => Roles.Count > 0;

    /// <summary>Each workspace that is theirs, with their role in it.</summary>
    public IReadOnlyDictionary<Guid, Role> Roles { get; private set; } = new Dictionary<Guid, Role>();

    /// <summary>What may be done in the workspace that the request is about; nothing where it is about none.</summary>
    public IReadOnlySet<Right> Rights { get; private set; } = Nothing;

    /// <summary>What the machine's token is good for; null for a person.</summary>
    public IReadOnlyCollection<TokenScope>? Scopes { get; private set; }

    /// <summary>Whether this person has a second factor, and has signed in with it.</summary>
    public bool HasFactor { get; private set; }

    /// <summary>Whether the workspace's habits ask for a second factor that is not there.</summary>
    public bool LacksFactor { get; private set; }

    public bool May(Right right) => Rights.Contains(right);

    /// <summary>Becomes a person with a seat in each of their workspaces.</summary>
    public void Become(Member member, IReadOnlyCollection<Seat> seats, bool hasFactor)
    {
        (Id, Name, Email, HasFactor) = (member.Id, member.DisplayName, member.Email ?? "", hasFactor);
        Roles = seats.ToDictionary(s => s.WorkspaceId, s => s.Role);
        _seats = seats;
    }

    /// <summary>Becomes a machine with a token; it has no role and nothing beyond its scopes.</summary>
    public void Become(TokenRow token)
    {
        (Name, Scopes) = (token.Name, token.Scopes);
        Roles = new Dictionary<Guid, Role> { [token.WorkspaceId] = Role.Viewer };
    }

    /// <summary>Turns to one of their workspaces.</summary>
    public void Enter(Guid workspaceId)
    {
        WorkspaceId = workspaceId;
        Habits = _seats.FirstOrDefault(s => s.WorkspaceId == workspaceId)?.Habits ?? HouseHabits.Start;
        Rights = AccessTable.Of(Roles[workspaceId]);
        LacksFactor =
            !HasFactor && _seats.Any(s => s.WorkspaceId == workspaceId && s.Habits?.NeedsFactor(s.Role) == true);
    }

    /// <summary>What was agreed on in the workspace they turned to.</summary>
    public HouseHabits Habits { get; private set; } = HouseHabits.Start;

    private IReadOnlyCollection<Seat> _seats = [];
}

/// <summary>A person's seat in a workspace: their role, and what was agreed on there.</summary>
internal sealed record Seat(Guid WorkspaceId, Role Role, HouseHabits? Habits);

/// <summary>Lets each request see its member's workspace only; a site of another workspace does not exist for it.</summary>
/// <remarks>Stands before binding and authorisation, so that nothing about a foreign site can be learnt from an error.</remarks>
internal sealed class WorkspaceAccess(RequestDelegate next)
{
    public async Task InvokeAsync(
        HttpContext http,
        OutcryDb db,
        WorkspaceScope scope,
        CurrentMember current,
        ISiteBook sites
    )
    {
        await FindOutAsync(http, db, current);
        // Whoever is no member is refused by the authorisation that follows, before any site is looked for.
        if (current.IsKnown && WantedWorkspace(http, sites) is { } wanted)
        {
            if (!current.Roles.ContainsKey(wanted.Id))
            {
                await Problems.NotFound(wanted.What).ExecuteAsync(http);
                return;
            }
            current.Enter(wanted.Id);
            scope.Enter(wanted.Id);
        }
        await next(http);
    }

    private static async Task FindOutAsync(HttpContext http, OutcryDb db, CurrentMember current)
    {
        if (http.Items[typeof(TokenRow)] is TokenRow token)
        {
            current.Become(token);
            return;
        }
        if (!Guid.TryParse(http.User.FindFirstValue(ClaimTypes.NameIdentifier), out var memberId))
            return;
        var found = await db
            .Users.Where(u => u.Id == memberId)
            .Select(u => new
            {
                Member = u,
                Seats = db
                    .Memberships.IgnoreQueryFilters()
                    .Where(m => m.MemberId == u.Id)
                    .Join(db.Workspaces, m => m.WorkspaceId, w => w.Id, (m, w) => new Seat(w.Id, m.Role, w.Habits))
                    .ToList(),
            })
            .AsNoTracking()
            .FirstOrDefaultAsync(http.RequestAborted);
        if (found is not null)
            current.Become(found.Member, found.Seats, SessionClaim.HadFactor(http.User));
    }

    // Of a site, its workspace; a site or workspace that cannot be one is as little there as somebody else's.
    private static (Guid Id, string What)? WantedWorkspace(HttpContext http, ISiteBook sites)
    {
        if (http.GetRouteValue("siteId") is string site)
            return (Guid.TryParse(site, out var siteId) ? sites.WorkspaceOf(siteId) ?? Guid.Empty : Guid.Empty, "site");
        if (http.GetRouteValue("workspaceId") is string workspace)
            return (Guid.TryParse(workspace, out var workspaceId) ? workspaceId : Guid.Empty, "workspace");
        return null;
    }
}

/// <summary>The desk is open to members whose membership stands at this moment.</summary>
internal sealed class MembershipRequirement : IAuthorizationRequirement;

internal sealed class MembershipHandler(CurrentMember current) : AuthorizationHandler<MembershipRequirement>
{
    protected override Task HandleRequirementAsync(
        AuthorizationHandlerContext context,
        MembershipRequirement requirement
    )
    {
        if (current.IsKnown)
            context.Succeed(requirement);
        return Task.CompletedTask;
    }
}
