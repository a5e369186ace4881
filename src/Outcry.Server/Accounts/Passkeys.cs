using System.Buffers.Text;
using System.Text.Json;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Identity;
using NodaTime;
using NodaTime.Extensions;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Accounts;

/// <param name="Id">The credential's id, base64url.</param>
internal sealed record PasskeyView(string Id, string Name, Instant MadeAt);

/// <param name="Name">What its owner calls it: "Work laptop".</param>
/// <param name="Credential">What the browser made, as it writes it in JSON (WebAuthn level 3, section 5.1).</param>
internal sealed record NewPasskeyRequest(string Name, JsonElement Credential);

internal sealed record PasskeySignInRequest(JsonElement Credential);

/// <summary>Passkeys (W3C WebAuthn): made under one's account, and a way through the door that needs no password and counts as a second factor.</summary>
internal static class Passkeys
{
    private const int Most = 10;
    private const int LongestName = 60;

    public static async Task<Results<ContentHttpResult, ProblemHttpResult>> OfferAsync(
        ConfirmRequest request,
        CurrentMember current,
        UserManager<Member> members,
        SignInManager<Member> signIn,
        SignInGuard guard,
        HttpContext http
    )
    {
        var member = await OwnAccount.MeAsync(current, members);
        if (await OwnAccount.RefuseGuessAsync(member, request.Password, members, guard, http) is { } refused)
            return refused;
        var options = await signIn.MakePasskeyCreationOptionsAsync(
            new PasskeyUserEntity
            {
                Id = $"{member.Id}",
                Name = member.Email!,
                DisplayName = member.DisplayName,
            }
        );
        return TypedResults.Content(options, "application/json");
    }

    public static async Task<Results<Ok<List<PasskeyView>>, ProblemHttpResult>> AddAsync(
        NewPasskeyRequest request,
        CurrentMember current,
        UserManager<Member> members,
        SignInManager<Member> signIn,
        TraceBook traces,
        OutcryDb db,
        AccountLetters letters
    )
    {
        var name = request.Name.Trim();
        if (name.Length is 0 or > LongestName)
            return Problems.BadField("name", $"Give it a name of 1 to {LongestName} characters.");
        var member = await OwnAccount.MeAsync(current, members);
        if ((await members.GetPasskeysAsync(member)).Count >= Most)
            return Problems.BadField("name", $"An account has at most {Most} passkeys. Take one away first.");
        var made = await TryAsync(() => signIn.PerformPasskeyAttestationAsync(request.Credential.GetRawText()));
        if (made is not { Succeeded: true })
            return Unfit;
        made.Passkey.Name = name;
        if (!(await members.AddOrUpdatePasskeyAsync(member, made.Passkey)).Succeeded)
            return Unfit;
        foreach (var workspace in current.Roles.Keys)
            traces.AddFor(workspace, "added a passkey", current.Name);
        await db.SaveChangesAsync();
        letters.FactorChanged(member, "A passkey was added");
        return TypedResults.Ok(Views(await members.GetPasskeysAsync(member)));
    }

    public static async Task<Results<NoContent, ProblemHttpResult>> RemoveAsync(
        string passkeyId,
        CurrentMember current,
        UserManager<Member> members,
        AccountLetters letters
    )
    {
        var member = await OwnAccount.MeAsync(current, members);
        if (!Base64Url.IsValid(passkeyId))
            return Problems.NotFound("passkey");
        var id = Base64Url.DecodeFromChars(passkeyId);
        if (await members.GetPasskeyAsync(member, id) is null)
            return Problems.NotFound("passkey");
        await members.RemovePasskeyAsync(member, id);
        letters.FactorChanged(member, "A passkey was taken away");
        return TypedResults.NoContent();
    }

    /// <summary>What a browser needs to be asked for any passkey of this house; nobody is named.</summary>
    public static async Task<ContentHttpResult> AskAsync(SignInManager<Member> signIn) =>
        TypedResults.Content(await signIn.MakePasskeyRequestOptionsAsync(null), "application/json");

    public static async Task<Results<NoContent, ProblemHttpResult>> SignInAsync(
        PasskeySignInRequest request,
        SignInManager<Member> signIn,
        UserManager<Member> members,
        Sessions sessions,
        ILogger<SignInNotes> log
    )
    {
        var shown = await TryAsync(() => signIn.PerformPasskeyAssertionAsync(request.Credential.GetRawText()));
        if (shown is not { Succeeded: true })
            return Problems.Of(
                StatusCodes.Status401Unauthorized,
                "passkey",
                "That passkey does not fit",
                "It belongs to no account here, or it took too long. Try again, or sign in with your password."
            );
        // Its counter has moved: one that stands still is a copy.
        await members.AddOrUpdatePasskeyAsync(shown.User, shown.Passkey);
        log.SignedIn(shown.User.Id);
        await sessions.BeginAsync(shown.User, hadFactor: true);
        return TypedResults.NoContent();
    }

    public static List<PasskeyView> Views(IEnumerable<UserPasskeyInfo> passkeys) =>
        [
            .. passkeys.Select(p => new PasskeyView(
                Base64Url.EncodeToString(p.CredentialId),
                p.Name ?? "",
                p.CreatedAt.ToInstant()
            )),
        ];

    // Without what the offer left behind, or with JSON of another shape, the library throws; for the caller it is a refusal.
    private static async Task<T?> TryAsync<T>(Func<Task<T>> act)
        where T : class
    {
        try
        {
            return await act();
        }
        catch (Exception bad)
            when (bad is InvalidOperationException or JsonException or FormatException or PasskeyException)
        {
            return null;
        }
    }

    private static ProblemHttpResult Unfit =>
        Problems.BadField("credential", "The browser's answer does not fit what it was asked. Begin again.");
}
