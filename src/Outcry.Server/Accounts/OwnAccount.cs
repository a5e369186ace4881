using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Outcry.Core.Access;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Accounts;

/// <param name="RecoveryLeft">Recovery codes that were not used yet.</param>
internal sealed record AccountView(
    string Name,
    string Email,
    bool HasAuthenticator,
    int RecoveryLeft,
    IReadOnlyList<PasskeyView> Passkeys
);

internal sealed record NameRequest(string Name);

/// <param name="Current">The password as it is, asked for again.</param>
internal sealed record PasswordRequest(string Current, string Password);

/// <param name="Key">The shared secret in base 32, to be typed where a picture cannot be read.</param>
/// <param name="Address">The same as the address that authenticators read (otpauth), to be drawn as a picture.</param>
internal sealed record FactorKeyView(string Key, string Address);

internal sealed record FactorRequest(string Code);

internal sealed record ConfirmRequest(string Password);

/// <param name="Codes">Shown once; each opens the door once without the authenticator.</param>
internal sealed record RecoveryView(IReadOnlyList<string> Codes);

/// <summary>One's own account: name, password, second factor.</summary>
internal static class OwnAccount
{
    private const int RecoveryCodes = 10;

    public static async Task<Ok<AccountView>> ShowAsync(CurrentMember current, UserManager<Member> members)
    {
        var member = await MeAsync(current, members);
        return TypedResults.Ok(
            new AccountView(
                member.DisplayName,
                member.Email!,
                member.TwoFactorEnabled,
                await members.CountRecoveryCodesAsync(member),
                Passkeys.Views(await members.GetPasskeysAsync(member))
            )
        );
    }

    public static async Task<Results<NoContent, ProblemHttpResult>> RenameAsync(
        NameRequest request,
        CurrentMember current,
        UserManager<Member> members
    )
    {
        var name = request.Name.Trim();
        if (name.Length is 0 or > PasswordRules.LongestName)
            return Problems.BadField("name", $"Your name has 1 to {PasswordRules.LongestName} characters.");
        var member = await MeAsync(current, members);
        member.DisplayName = name;
        await members.UpdateAsync(member);
        return TypedResults.NoContent();
    }

    /// <summary>Takes a new password; every other session ends.</summary>
    public static async Task<Results<NoContent, ProblemHttpResult>> ChangePasswordAsync(
        PasswordRequest request,
        CurrentMember current,
        UserManager<Member> members,
        Sessions sessions,
        SignInGuard guard,
        AccountLetters letters,
        HttpContext http
    )
    {
        var member = await MeAsync(current, members);
        if (await RefuseGuessAsync(member, request.Current, members, guard, http) is { } refused)
            return refused;
        if (request.Password.Length > PasswordRules.Longest)
            return Problems.BadField("password", $"At most {PasswordRules.Longest} characters.");
        if (
            PasswordRules.Refusal(await members.ChangePasswordAsync(member, request.Current, request.Password)) is
            { } refusal
        )
            return refusal;
        await sessions.GoOnAsync(member);
        letters.PasswordChanged(member);
        return TypedResults.NoContent();
    }

    /// <summary>Makes the key of an authenticator; it counts once a code of it was given.</summary>
    public static async Task<Results<Ok<FactorKeyView>, ProblemHttpResult>> MakeKeyAsync(
        ConfirmRequest request,
        CurrentMember current,
        UserManager<Member> members,
        SignInGuard guard,
        Sessions sessions,
        HttpContext http
    )
    {
        var member = await MeAsync(current, members);
        if (await RefuseGuessAsync(member, request.Password, members, guard, http) is { } refused)
            return refused;
        if (member.TwoFactorEnabled)
            return Problems.Of(
                StatusCodes.Status409Conflict,
                "factor",
                "There is one already",
                "Take the present authenticator away first, then set up another."
            );
        await members.ResetAuthenticatorKeyAsync(member);
        await sessions.GoOnAsync(member);
        var key = (await members.GetAuthenticatorKeyAsync(member))!;
        var label = Uri.EscapeDataString($"Outcry:{member.Email}");
        return TypedResults.Ok(new FactorKeyView(key, $"otpauth://totp/{label}?secret={key}&issuer=Outcry&digits=6"));
    }

    /// <summary>Turns the second factor on, once the authenticator has shown a right code, and gives the recovery codes.</summary>
    public static async Task<Results<Ok<RecoveryView>, ProblemHttpResult>> TurnOnAsync(
        FactorRequest request,
        CurrentMember current,
        UserManager<Member> members,
        Sessions sessions,
        UsedCodes used,
        TraceBook traces,
        OutcryDb db,
        AccountLetters letters
    )
    {
        var member = await MeAsync(current, members);
        var code = request.Code.Replace(" ", "", StringComparison.Ordinal);
        if (
            !await members.VerifyTwoFactorTokenAsync(member, TokenOptions.DefaultAuthenticatorProvider, code)
            || !used.TryUse(member.Id, code)
        )
            return Problems.BadField("code", "That code does not fit. Take the one that the authenticator shows now.");
        await members.SetTwoFactorEnabledAsync(member, true);
        var codes = await members.GenerateNewTwoFactorRecoveryCodesAsync(member, RecoveryCodes);
        await sessions.GoOnAsync(member, hasFactor: true);
        await TraceAsync("set up a second factor", current, traces, db);
        letters.FactorChanged(member, "A second factor was set up");
        return TypedResults.Ok(new RecoveryView([.. codes!]));
    }

    /// <summary>Takes the authenticator away.</summary>
    public static async Task<Results<NoContent, ProblemHttpResult>> TurnOffAsync(
        ConfirmRequest request,
        CurrentMember current,
        UserManager<Member> members,
        Sessions sessions,
        SignInGuard guard,
        TraceBook traces,
        OutcryDb db,
        AccountLetters letters,
        HttpContext http
    )
    {
        var member = await MeAsync(current, members);
        if (await RefuseGuessAsync(member, request.Password, members, guard, http) is { } refused)
            return refused;
        await members.SetTwoFactorEnabledAsync(member, false);
        await members.ResetAuthenticatorKeyAsync(member);
        // What is gone is not counted on: a house that asks for a second factor asks again at once. A passkey is one, too.
        if ((await members.GetPasskeysAsync(member)).Count == 0)
            await sessions.GoOnAsync(member, hasFactor: false);
        else
            await sessions.GoOnAsync(member);
        await TraceAsync("took the second factor away", current, traces, db);
        letters.FactorChanged(member, "The second factor was taken away");
        return TypedResults.NoContent();
    }

    /// <summary>Makes new recovery codes; those from before open nothing any more.</summary>
    public static async Task<Results<Ok<RecoveryView>, ProblemHttpResult>> MakeCodesAsync(
        ConfirmRequest request,
        CurrentMember current,
        UserManager<Member> members,
        SignInGuard guard,
        HttpContext http
    )
    {
        var member = await MeAsync(current, members);
        if (await RefuseGuessAsync(member, request.Password, members, guard, http) is { } refused)
            return refused;
        if (!member.TwoFactorEnabled)
            return Problems.BadField("password", "Set up the authenticator first.");
        return TypedResults.Ok(
            new RecoveryView([.. (await members.GenerateNewTwoFactorRecoveryCodesAsync(member, RecoveryCodes))!])
        );
    }

    // What concerns a person is kept in every workspace that trusts them.
    private static async Task TraceAsync(string act, CurrentMember current, TraceBook traces, OutcryDb db)
    {
        foreach (var workspace in current.Roles.Keys)
            traces.AddFor(workspace, act, current.Name);
        await db.SaveChangesAsync();
    }

    /// <summary>Asks for the password again, slowed down as at the door; null when it is right.</summary>
    public static async Task<ProblemHttpResult?> RefuseGuessAsync(
        Member member,
        string password,
        UserManager<Member> members,
        SignInGuard guard,
        HttpContext http
    )
    {
        var block = AddressBlock.Of(http);
        if (guard.WaitFor(member.Email!, block) is var wait && wait > NodaTime.Duration.Zero)
            return SignIn.Later(http, wait);
        if (password.Length <= PasswordRules.Longest && await members.CheckPasswordAsync(member, password))
            return null;
        guard.Wrong(member.Email!, block);
        return Problems.BadField("current", "This is not your password.");
    }

    public static async Task<Member> MeAsync(CurrentMember current, UserManager<Member> members) =>
        (await members.FindByIdAsync($"{current.Id}"))!;
}
