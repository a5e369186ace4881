using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Accounts;

internal sealed record ForgottenRequest(string Email);

/// <param name="Link">What stands behind "#" in the mailed link.</param>
internal sealed record ResetRequest(string Link, string Password);

/// <summary>A new password for who has forgotten theirs, by a link that is mailed, holds for an hour and works once.</summary>
internal static class Resetting
{
    /// <summary>Mails the link; the answer is the same, and as quick, whether or not there is such an account.</summary>
    public static Accepted Ask(
        ForgottenRequest request,
        IServiceScopeFactory scopes,
        AccountLetters letters,
        DeskAddress address,
        HttpContext http
    )
    {
        var (email, desk) = (request.Email.Trim(), address.Of(http.Request));
        if (email.Length is > 0 and <= PasswordRules.LongestEmail)
            _ = Task.Run(async () =>
            {
                await using var scope = scopes.CreateAsyncScope();
                var members = scope.ServiceProvider.GetRequiredService<UserManager<Member>>();
                if (await members.FindByEmailAsync(email) is { } member)
                    letters.Reset(
                        member,
                        $"{desk}/reset#{member.Id}~{Uri.EscapeDataString(await members.GeneratePasswordResetTokenAsync(member))}"
                    );
            });
        return TypedResults.Accepted((string?)null);
    }

    /// <summary>Takes the new password. Every session ends; whoever has a second factor needs it at the door as ever.</summary>
    public static async Task<Results<NoContent, ProblemHttpResult>> ResetAsync(
        ResetRequest request,
        UserManager<Member> members,
        OutcryDb db,
        AccountLetters letters,
        CancellationToken stop
    )
    {
        if (request.Password.Length > PasswordRules.Longest)
            return Problems.BadField("password", $"At most {PasswordRules.Longest} characters.");
        if (
            request.Link.Split('~', 2) is not [var id, var token]
            || !Guid.TryParse(id, out _)
            || await members.FindByIdAsync(id) is not { } member
        )
            return PasswordRules.Refusal(IdentityResult.Failed(new IdentityError { Code = "InvalidToken" }))!;
        // A new security stamp comes with it: no cookie, no ticket and no such link from before opens anything.
        var done = await members.ResetPasswordAsync(member, Uri.UnescapeDataString(token), request.Password);
        if (PasswordRules.Refusal(done) is { } refusal)
            return refusal;
        await db.Sessions.Where(s => s.MemberId == member.Id).ExecuteDeleteAsync(stop);
        letters.PasswordChanged(member);
        return TypedResults.NoContent();
    }
}
