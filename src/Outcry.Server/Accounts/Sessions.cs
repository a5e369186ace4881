using System.Security.Claims;
using System.Security.Cryptography;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Server.Live;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Accounts;

/// <summary>One of a member's open sessions.</summary>
/// <param name="IsThis">Whether it is the one that asks.</param>
internal sealed record OpenSession(
    Guid Id,
    string Device,
    Instant StartedAt,
    Instant SeenAt,
    bool HadFactor,
    bool IsThis
);

/// <summary>Sessions at the server: a cookie opens the desk only as long as its session's row stands and its member's security stamp is the same.</summary>
internal sealed class Sessions(
    SignInManager<Member> signIn,
    OutcryDb db,
    AccountLetters letters,
    IHttpContextAccessor context,
    IClock clock
)
{
    private const string DeviceCookie = "outcry.device";

    /// <summary>How long a session lasts at most, used or not.</summary>
    public static Duration Life { get; } = Duration.FromDays(90);

    /// <summary>Signs a member in with a session of its own; from a browser not seen before they are told by mail.</summary>
    public async Task BeginAsync(Member member, bool hadFactor)
    {
        var http = context.HttpContext!;
        var now = clock.GetCurrentInstant();
        var session = new SessionRow
        {
            MemberId = member.Id,
            StartedAt = now,
            SeenAt = now,
            HadFactor = hadFactor,
            Device = DeviceName.Of(http.Request.Headers.UserAgent.ToString()),
        };
        db.Sessions.Add(session);
        var isNews = await NoteDeviceAsync(http, member, now);
        await db.Sessions.Where(s => s.MemberId == member.Id && s.StartedAt < now - Life).ExecuteDeleteAsync();
        await db.SaveChangesAsync();
        if (isNews)
            letters.NewDevice(member, session.Device, now);
        await signIn.SignInWithClaimsAsync(
            member,
            isPersistent: true,
            [
                new Claim(SessionClaim.Type, session.Id.ToString()),
                new Claim(SessionClaim.Factor, hadFactor ? "yes" : "no"),
            ]
        );
    }

    /// <summary>Gives the session that asks its claims anew, after a change that ended every other.</summary>
    /// <param name="member">Whose.</param>
    /// <param name="hasFactor">Whether it counts as one with a second factor from now on; null for as before.</param>
    public async Task GoOnAsync(Member member, bool? hasFactor = null)
    {
        var http = context.HttpContext!;
        var counts = hasFactor ?? SessionClaim.HadFactor(http.User);
        var mine = SessionClaim.Of(http.User)!.Value;
        await db.Sessions.Where(s => s.MemberId == member.Id && s.Id != mine).ExecuteDeleteAsync();
        await db.Sessions.Where(s => s.Id == mine).ExecuteUpdateAsync(s => s.SetProperty(x => x.HadFactor, counts));
        await signIn.SignInWithClaimsAsync(
            member,
            isPersistent: true,
            [new Claim(SessionClaim.Type, mine.ToString()), new Claim(SessionClaim.Factor, counts ? "yes" : "no")]
        );
    }

    // The first browser of an account is no news: its owner has just made it.
    private async Task<bool> NoteDeviceAsync(HttpContext http, Member member, Instant now)
    {
        var known = http.Request.Cookies[DeviceCookie];
        var number = known is { Length: 32 } ? known : Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(16));
        var hash = TokenDoor.Hash(number);
        http.Response.Cookies.Append(
            DeviceCookie,
            number,
            new CookieOptions
            {
                HttpOnly = true,
                SameSite = SameSiteMode.Lax,
                Secure = http.Request.IsHttps,
                MaxAge = TimeSpan.FromDays(400),
                IsEssential = true,
            }
        );
        var theirs = db.Devices.Where(d => d.MemberId == member.Id);
        if (await theirs.AnyAsync(d => d.Hash == hash))
            return false;
        var hadOthers = await theirs.AnyAsync();
        db.Devices.Add(
            new DeviceRow
            {
                MemberId = member.Id,
                Hash = hash,
                FirstAt = now,
            }
        );
        return hadOthers;
    }

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

    public static async Task<Ok<List<OpenSession>>> ListAsync(
        OutcryDb db,
        CurrentMember member,
        HttpContext http,
        CancellationToken stop
    )
    {
        var mine = SessionClaim.Of(http.User);
        return TypedResults.Ok(
            await db
                .Sessions.AsNoTracking()
                .Where(s => s.MemberId == member.Id)
                .OrderByDescending(s => s.SeenAt)
                .Select(s => new OpenSession(s.Id, s.Device, s.StartedAt, s.SeenAt, s.HadFactor, s.Id == mine))
                .ToListAsync(stop)
        );
    }

    /// <summary>Ends one of one's own sessions, on whatever browser it is.</summary>
    public static async Task<Results<NoContent, ProblemHttpResult>> EndAsync(
        Guid sessionId,
        OutcryDb db,
        CurrentMember member,
        DeskLines lines,
        CancellationToken stop
    )
    {
        var ended = await db.Sessions.Where(s => s.Id == sessionId && s.MemberId == member.Id).ExecuteDeleteAsync(stop);
        if (ended == 0)
            return Problems.NotFound("session");
        lines.Cut(sessionId);
        return TypedResults.NoContent();
    }
}
