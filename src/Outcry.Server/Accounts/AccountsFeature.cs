using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Identity;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Accounts;

/// <summary>Signing in and out, and who one is.</summary>
internal static class AccountsFeature
{
    public static void AddAccounts(this WebApplicationBuilder builder)
    {
        builder
            .Services.AddIdentityCore<Member>(o =>
            {
                o.Password.RequiredLength = 12;
                o.Password.RequireNonAlphanumeric = false;
                o.Password.RequireUppercase = false;
                o.Password.RequireDigit = false;
                o.Lockout.MaxFailedAccessAttempts = 5;
                o.Lockout.DefaultLockoutTimeSpan = TimeSpan.FromMinutes(5);
                o.User.RequireUniqueEmail = true;
            })
            .AddSignInManager()
            .AddEntityFrameworkStores<OutcryDb>();
        builder.Services.AddAuthorization();
        builder.Services.AddAuthentication(IdentityConstants.ApplicationScheme).AddIdentityCookies();
        builder.Services.ConfigureApplicationCookie(o =>
        {
            o.Cookie.Name = "outcry.session";
            o.Cookie.HttpOnly = true;
            o.Cookie.SameSite = SameSiteMode.Lax;
            o.ExpireTimeSpan = TimeSpan.FromDays(14);
            o.SlidingExpiration = true;
            o.Events.OnRedirectToLogin = c => Refuse(c.HttpContext);
            o.Events.OnRedirectToAccessDenied = c => Refuse(c.HttpContext);
        });
    }

    public static void MapAccounts(this RouteGroupBuilder api)
    {
        var session = api.MapGroup("/session").WithTags("Session").AllowAnonymous();
        session.MapGet("", GetSession).WithName("GetSession");
        session.MapPost("", SignInAsync).RequireRateLimiting(Limits.SignIn).WithName("SignIn");
        session.MapDelete("", SignOutAsync).WithName("SignOut");
    }

    private static Ok<SessionView> GetSession(HttpContext http, CurrentMember member, IAntiforgery antiforgery)
    {
        var token = antiforgery.GetAndStoreTokens(http).RequestToken!;
        http.Response.Headers.CacheControl = "no-store";
        return TypedResults.Ok(
            new SessionView(
                token,
                member.IsKnown ? new MemberView(member.Id, member.Name, member.Email, member.Role) : null
            )
        );
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> SignInAsync(
        SignInRequest request,
        SignInManager<Member> signIn,
        UserManager<Member> members
    )
    {
        var member = await members.FindByEmailAsync(request.Email.Trim());
        if (member is null)
            return Wrong();
        var result = await signIn.PasswordSignInAsync(
            member,
            request.Password,
            isPersistent: true,
            lockoutOnFailure: true
        );
        if (result.IsLockedOut)
            return Problems.Of(
                StatusCodes.Status423Locked,
                "locked",
                "Signing in is locked for a while",
                "Five wrong passwords in a row lock an account for five minutes. Wait, then try again."
            );
        return result.Succeeded ? TypedResults.NoContent() : Wrong();
    }

    private static async Task<NoContent> SignOutAsync(SignInManager<Member> signIn)
    {
        await signIn.SignOutAsync();
        return TypedResults.NoContent();
    }

    // The same words whether the address or the password is wrong, so that addresses cannot be probed.
    private static ProblemHttpResult Wrong() =>
        Problems.Of(
            StatusCodes.Status401Unauthorized,
            "credentials",
            "That did not match",
            "The e-mail address or the password is not right."
        );

    private static Task Refuse(HttpContext http) =>
        Problems
            .Of(StatusCodes.Status401Unauthorized, "signed-out", "You are signed out", "Sign in to go on.")
            .ExecuteAsync(http);
}

internal sealed record SignInRequest(string Email, string Password);

internal sealed record SessionView(string AntiforgeryToken, MemberView? Member);

internal sealed record MemberView(Guid Id, string Name, string Email, Role Role);
