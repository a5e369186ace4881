using System.Globalization;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Server.Live;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Accounts;

internal sealed record SignInRequest(string Email, string Password);

/// <param name="Ticket">What the first step gave.</param>
/// <param name="Code">Six digits of the authenticator, or a recovery code.</param>
internal sealed record SecondStepRequest(string Ticket, string Code);

/// <param name="Ticket">To be given with the code, within five minutes; null when the door is open already.</param>
internal sealed record SignInAnswer(string? Ticket);

/// <param name="HouseIsEmpty">Nobody has an account yet: the first one makes the workspace, with the key that the start printed.</param>
/// <param name="MayRegister">Whether strangers may open a workspace of their own.</param>
internal sealed record SessionView(string AntiforgeryToken, MemberView? Member, bool HouseIsEmpty, bool MayRegister);

/// <param name="HasFactor">Whether this session was begun with a second factor.</param>
internal sealed record MemberView(
    Guid Id,
    string Name,
    string Email,
    bool HasFactor,
    IReadOnlyList<MemberWorkspace> Workspaces
);

/// <param name="NeedsFactor">Whether its habits ask for a second factor that this session does not have.</param>
/// <param name="IdleMinutes">Minutes without a movement after which somebody is away for visitors.</param>
internal sealed record MemberWorkspace(
    Guid Id,
    string Name,
    Role Role,
    IReadOnlyList<Right> Rights,
    bool NeedsFactor,
    int IdleMinutes
);

/// <summary>Through the door, in one step or two, and out again.</summary>
internal static class SignIn
{
    private static readonly TimeSpan TicketLife = TimeSpan.FromMinutes(5);

    public static async Task<Ok<SessionView>> ShowAsync(
        HttpContext http,
        CurrentMember member,
        IAntiforgery antiforgery,
        SystemDb database,
        HouseDoor door,
        CancellationToken stop
    )
    {
        var token = antiforgery.GetAndStoreTokens(http).RequestToken!;
        http.Response.Headers.CacheControl = "no-store";
        return TypedResults.Ok(
            new SessionView(
                token,
                member.IsKnown ? await ViewAsync(member, database, stop) : null,
                !member.IsKnown && await door.IsEmptyAsync(stop),
                door.MayRegister
            )
        );
    }

    private static async Task<MemberView> ViewAsync(CurrentMember member, SystemDb database, CancellationToken stop)
    {
        await using var db = database.Open();
        var theirs = member.Roles.Keys.ToList();
        var rows = await db
            .Workspaces.AsNoTracking()
            .Where(w => theirs.Contains(w.Id))
            .OrderBy(w => w.Name)
            .ToListAsync(stop);
        return new MemberView(
            member.Id,
            member.Name,
            member.Email,
            member.HasFactor,
            rows.ConvertAll(w => new MemberWorkspace(
                w.Id,
                w.Name,
                member.Roles[w.Id],
                [.. AccessTable.Of(member.Roles[w.Id]).Order()],
                w.Habits.NeedsFactor(member.Roles[w.Id]) && !member.HasFactor,
                w.Habits.Answers.IdleMinutes
            ))
        );
    }

    public static async Task<Results<Ok<SignInAnswer>, ProblemHttpResult>> BeginAsync(
        SignInRequest request,
        UserManager<Member> members,
        Sessions sessions,
        SignInGuard guard,
        SignInNotes notes,
        IDataProtectionProvider protection,
        ILogger<SignInNotes> log,
        HttpContext http
    )
    {
        var (account, block) = (request.Email.Trim(), AddressBlock.Of(http));
        if (account.Length > PasswordRules.LongestEmail || request.Password.Length > PasswordRules.Longest)
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
        if (member!.TwoFactorEnabled)
            return TypedResults.Ok(new SignInAnswer(Ticket(protection).Protect(TicketText(member), TicketLife)));
        log.SignedIn(member.Id);
        guard.Right(account, block);
        await sessions.BeginAsync(member, hadFactor: false);
        return TypedResults.Ok(new SignInAnswer(null));
    }

    /// <summary>The second step: a code of the authenticator, or one of the recovery codes, each good once.</summary>
    public static async Task<Results<NoContent, ProblemHttpResult>> CompleteAsync(
        SecondStepRequest request,
        UserManager<Member> members,
        Sessions sessions,
        SignInGuard guard,
        UsedCodes used,
        AccountLetters letters,
        IDataProtectionProvider protection,
        ILogger<SignInNotes> log,
        HttpContext http
    )
    {
        if (await ReadTicketAsync(request.Ticket, protection, members) is not { } member)
            return Problems.Of(
                StatusCodes.Status401Unauthorized,
                "ticket",
                "That took too long",
                "Begin again with your password."
            );
        // Counted apart from wrong passwords: whoever gets here knows the right one.
        var (account, block) = ($"factor:{member.Email}", AddressBlock.Of(http));
        if (guard.WaitFor(account, block) is var wait && wait > Duration.Zero)
            return Later(http, wait);
        var code = request.Code.Replace(" ", "", StringComparison.Ordinal);
        var byRecovery = code.Length > 6;
        var isRight = byRecovery
            ? (await members.RedeemTwoFactorRecoveryCodeAsync(member, request.Code.Trim())).Succeeded
            : await members.VerifyTwoFactorTokenAsync(member, TokenOptions.DefaultAuthenticatorProvider, code)
                && used.TryUse(member.Id, code);
        if (!isRight)
        {
            guard.Wrong(account, block);
            return Problems.Of(
                StatusCodes.Status401Unauthorized,
                "code",
                "That code does not fit",
                "That code does not fit. Take the one that the authenticator shows now, or a recovery code that you have not used yet."
            );
        }
        guard.Right(account, block);
        guard.Right(member.Email!, block);
        log.SignedIn(member.Id);
        if (byRecovery)
            letters.FactorChanged(member, "A recovery code was used to sign in");
        await sessions.BeginAsync(member, hadFactor: true);
        return TypedResults.NoContent();
    }

    // A new password, or a factor taken away, ends what was begun before.
    private static string TicketText(Member member) => $"{member.Id}|{member.SecurityStamp}";

    private static ITimeLimitedDataProtector Ticket(IDataProtectionProvider protection) =>
        protection.CreateProtector("outcry.second-step").ToTimeLimitedDataProtector();

    private static async Task<Member?> ReadTicketAsync(
        string ticket,
        IDataProtectionProvider protection,
        UserManager<Member> members
    )
    {
        try
        {
            var text = Ticket(protection).Unprotect(ticket);
            return await members.FindByIdAsync(text.Split('|')[0]) is { } member && TicketText(member) == text
                ? member
                : null;
        }
        catch (System.Security.Cryptography.CryptographicException)
        {
            return null;
        }
    }

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

    public static async Task<NoContent> EndAsync(
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

    public static ProblemHttpResult Later(HttpContext http, Duration wait)
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
}
