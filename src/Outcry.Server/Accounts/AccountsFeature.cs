using System.Globalization;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Server.Live;
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
                o.User.RequireUniqueEmail = true;
            })
            .AddSignInManager()
            .AddEntityFrameworkStores<OutcryDb>();
        // Whoever is signed in may do nothing yet: the desk is for members.
        builder
            .Services.AddAuthorizationBuilder()
            .SetDefaultPolicy(
                new AuthorizationPolicyBuilder()
                    .RequireAuthenticatedUser()
                    .AddRequirements(new MembershipRequirement())
                    .Build()
            );
        builder.Services.AddScoped<IAuthorizationHandler, MembershipHandler>();
        builder.Services.AddSingleton<MembershipCheck>();
        builder.Services.AddSingleton<SignInGuard>();
        builder.Services.AddSingleton<SignInNotes>();
        builder.Services.AddAuthentication(IdentityConstants.ApplicationScheme).AddIdentityCookies();
        builder.Services.ConfigureApplicationCookie(o =>
        {
            o.Cookie.Name = "outcry.session";
            o.Cookie.HttpOnly = true;
            o.Cookie.SameSite = SameSiteMode.Lax;
            o.ExpireTimeSpan = TimeSpan.FromDays(14);
            o.SlidingExpiration = true;
            o.Events.OnRedirectToLogin = c => Refuse(c.HttpContext);
            o.Events.OnRedirectToAccessDenied = c => RefuseNonMember(c.HttpContext);
            o.Events.OnValidatePrincipal = Sessions.ValidateAsync;
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
        UserManager<Member> members,
        OutcryDb db,
        SignInGuard guard,
        SignInNotes notes,
        ILogger<SignInNotes> log,
        HttpContext http,
        IClock clock
    )
    {
        var (account, block) = (request.Email.Trim(), AddressBlock.Of(http));
        if (account.Length > LongestEmail || request.Password.Length > LongestPassword)
            return Wrong();
        if (guard.WaitFor(account, block) is var wait && wait > Duration.Zero)
        {
            log.MadeWait(wait.TotalSeconds);
            return Later(http, wait);
        }
        var member = await members.FindByEmailAsync(account);
        // Where there is no such account as much is worked out, so that its absence cannot be measured.
        var isRight =
            await members.CheckPasswordAsync(member ?? Nobody(members), request.Password) && member is not null;
        if (!isRight)
        {
            log.GotWrongPassword(member?.Id);
            if (guard.Wrong(account, block))
                notes.Tell(member?.Email);
            return Wrong();
        }
        log.SignedIn(member!.Id);
        guard.Right(account, block);
        await Sessions.BeginAsync(signIn, db, member, clock.GetCurrentInstant());
        return TypedResults.NoContent();
    }

    private const int LongestEmail = 254;
    private const int LongestPassword = 1_000;
    private static Member? _nobody;

    // An account like any other whose password nobody can have typed.
    private static Member Nobody(UserManager<Member> members)
    {
        if (_nobody is { } known)
            return known;
        var nobody = new Member();
        nobody.PasswordHash = members.PasswordHasher.HashPassword(
            nobody,
            Convert.ToHexString(System.Security.Cryptography.RandomNumberGenerator.GetBytes(32))
        );
        return _nobody = nobody;
    }

    private static async Task<NoContent> SignOutAsync(
        SignInManager<Member> signIn,
        OutcryDb db,
        DeskLines lines,
        CurrentMember member,
        ILogger<SignInNotes> log,
        HttpContext http,
        CancellationToken stop
    )
    {
        if (SessionClaim.Of(http.User) is { } session)
        {
            await db.Sessions.Where(s => s.Id == session).ExecuteDeleteAsync(stop);
            lines.Cut(session);
            log.SignedOut(member.Id);
        }
        await signIn.SignOutAsync();
        return TypedResults.NoContent();
    }

    private static ProblemHttpResult Later(HttpContext http, Duration wait)
    {
        var seconds = (int)Math.Ceiling(wait.TotalSeconds);
        http.Response.Headers.RetryAfter = seconds.ToString(CultureInfo.InvariantCulture);
        return Problems.Of(
            StatusCodes.Status429TooManyRequests,
            "too-many",
            "Too many tries",
            $"The e-mail address and the password did not match several times. Try again in {seconds} {(seconds == 1 ? "second" : "seconds")}."
        );
    }

    // The same words whether the address or the password is wrong, so that addresses cannot be probed.
    private static ProblemHttpResult Wrong() =>
        Problems.Of(
            StatusCodes.Status401Unauthorized,
            "credentials",
            "That did not match",
            "The e-mail address or the password is not right."
        );

    private static Task RefuseNonMember(HttpContext http) =>
        Problems
            .Of(
                StatusCodes.Status403Forbidden,
                "no-membership",
                "You are not a member here",
                "Your account belongs to no workspace. Ask an owner to invite you."
            )
            .ExecuteAsync(http);

    private static Task Refuse(HttpContext http) =>
        Problems
            .Of(StatusCodes.Status401Unauthorized, "signed-out", "You are signed out", "Sign in to go on.")
            .ExecuteAsync(http);
}

internal sealed record SignInRequest(string Email, string Password);

internal sealed record SessionView(string AntiforgeryToken, MemberView? Member);

internal sealed record MemberView(Guid Id, string Name, string Email, Role Role);
