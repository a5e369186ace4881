using System.Security.Claims;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Accounts;

/// <summary>Sessions at the server: a cookie opens the desk only as long as its session's row stands and its member's security stamp is the same.</summary>
internal static class Sessions
{
    /// <summary>Signs a member in with a session of its own.</summary>
    public static async Task BeginAsync(SignInManager<Member> signIn, OutcryDb db, Member member, Instant now)
    {
        var session = new SessionRow { MemberId = member.Id, StartedAt = now };
        db.Sessions.Add(session);
        await db.Sessions.Where(s => s.MemberId == member.Id && s.StartedAt < now - Life).ExecuteDeleteAsync();
        await db.SaveChangesAsync();
        await signIn.SignInWithClaimsAsync(
            member,
            isPersistent: true,
            [new Claim(SessionClaim.Type, session.Id.ToString())]
        );
    }

    /// <summary>How long a session lasts at most, used or not.</summary>
    public static Duration Life { get; } = Duration.FromDays(90);

    /// <summary>Asked with every request that carries a cookie.</summary>
    public static async Task ValidateAsync(CookieValidatePrincipalContext context)
    {
        var services = context.HttpContext.RequestServices;
        var stands = services.GetRequiredService<MembershipCheck>();
        if (context.Principal is { } who && await stands.IsSessionOpenAsync(who, context.HttpContext.RequestAborted))
            return;
        context.RejectPrincipal();
        await context.HttpContext.SignOutAsync(IdentityConstants.ApplicationScheme);
    }
}
