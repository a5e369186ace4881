using System.Security.Claims;
using Microsoft.AspNetCore.Authorization;
using Microsoft.EntityFrameworkCore;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Platform;

/// <summary>Who is asking, once known.</summary>
internal sealed class CurrentMember
{
    public Guid Id { get; private set; }
    public Guid WorkspaceId { get; private set; }
    public string Name { get; private set; } = "";
    public string Email { get; private set; } = "";
    public Role Role { get; private set; }

    /// <summary>Whether somebody is asking whose membership stands now.</summary>
    public bool IsKnown => Id != Guid.Empty;

    public void Become(Member member, MembershipRow membership)
    {
        Id = member.Id;
        Name = member.DisplayName;
        Email = member.Email ?? "";
        WorkspaceId = membership.WorkspaceId;
        Role = membership.Role;
    }
}

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
        if (Guid.TryParse(http.User.FindFirstValue(ClaimTypes.NameIdentifier), out var memberId))
        {
            var found = await db
                .Memberships.IgnoreQueryFilters()
                .Where(m => m.MemberId == memberId)
                .Join(db.Users, m => m.MemberId, u => u.Id, (m, u) => new { Membership = m, Member = u })
                .AsNoTracking()
                .FirstOrDefaultAsync(http.RequestAborted);
            if (found is not null)
            {
                current.Become(found.Member, found.Membership);
                scope.Enter(found.Membership.WorkspaceId);
            }
        }
        // Whoever is no member is refused by the authorisation that follows, before any site is looked for.
        if (
            current.IsKnown
            && http.GetRouteValue("siteId") is string text
            && !(Guid.TryParse(text, out var siteId) && sites.WorkspaceOf(siteId) == current.WorkspaceId)
        )
        {
            await Problems.NotFound("site").ExecuteAsync(http);
            return;
        }
        await next(http);
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

/// <summary>Asks for a role before an endpoint runs.</summary>
internal static class RoleDemand
{
    /// <summary>Refuses members below the role with a sentence that says who may.</summary>
    public static RouteHandlerBuilder For(this RouteHandlerBuilder route, Role least) =>
        route
            .AddEndpointFilter(
                async (context, next) =>
                    context.HttpContext.RequestServices.GetRequiredService<CurrentMember>().Role >= least
                        ? await next(context)
                        : Problems.Of(
                            StatusCodes.Status403Forbidden,
                            "role",
                            "Your role does not allow this",
                            least switch
                            {
                                Role.Publisher =>
                                    "Only publishers and owners put things live or take them off. Ask one of them.",
                                Role.Owner => "Only owners can do this. Ask one of them.",
                                _ => "Your role may only look. Ask an owner for a role that may draft.",
                            }
                        )
            )
            .ProducesProblem(StatusCodes.Status403Forbidden);
}
