using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Identity;
using Outcry.Server.Platform;
using Outcry.Store.Rows;

namespace Outcry.Server.Accounts;

/// <summary>What a password has to be, and how a refusal of it is told.</summary>
internal static class PasswordRules
{
    public const int Shortest = 12;
    public const int Longest = 1_000;

    /// <summary>Makes an account; its refusal names the field.</summary>
    public static async Task<ProblemHttpResult?> CreateAsync(
        UserManager<Member> members,
        Member member,
        string password
    ) => Refusal(await members.CreateAsync(member, password));

    public static ProblemHttpResult? Refusal(IdentityResult result)
    {
        if (result.Succeeded)
            return null;
        var error = result.Errors.First();
        return error.Code switch
        {
            "known" => Problems.BadField("password", error.Description),
            "PasswordTooShort" => Problems.BadField(
                "password",
                $"A password has at least {Shortest} characters. Several words make a good one."
            ),
            "DuplicateUserName" or "DuplicateEmail" => Problems.BadField(
                "email",
                "There is an account with this address. Sign in with it."
            ),
            "InvalidUserName" or "InvalidEmail" => Problems.BadField("email", "This address cannot be an account's."),
            "PasswordMismatch" => Problems.BadField("current", "This is not your password."),
            "InvalidToken" => Problems.Of(
                StatusCodes.Status404NotFound,
                "link-gone",
                "This link no longer holds",
                "It was used, or is older than an hour. Ask for a new one."
            ),
            _ => Problems.BadField("password", error.Description),
        };
    }

    /// <summary>What is wrong with the name and the address of an account that is to be; null for nothing.</summary>
    public static ProblemHttpResult? Check(string name, string email, string password)
    {
        if (name.Length is 0 or > LongestName)
            return Problems.BadField("name", $"Your name, as colleagues see it: 1 to {LongestName} characters.");
        if (!Mail.MailFeature.IsAddress(email) || email.Length > LongestEmail)
            return Problems.BadField("email", "This is no e-mail address.");
        return password.Length > Longest ? Problems.BadField("password", $"At most {Longest} characters.") : null;
    }

    public const int LongestName = 80;
    public const int LongestEmail = 254;
}
