using System.Reflection;
using System.Text.Json;
using Microsoft.AspNetCore.Identity;
using Outcry.Store.Rows;

namespace Outcry.Server.Accounts;

/// <summary>
/// Refuses passwords that stand in a shipped list of those found in breaches (49,000 of them, from the npm package
/// "@zxcvbn-ts/language-common"), also with a tail of digits or signs, or said twice; and one's own name or address.
/// </summary>
internal sealed class KnownPasswords : IPasswordValidator<Member>
{
    private static readonly Lazy<HashSet<string>> List = new(Read);

    public Task<IdentityResult> ValidateAsync(UserManager<Member> manager, Member user, string? password) =>
        Task.FromResult(
            Objection(password ?? "", user) is { } objection
                ? IdentityResult.Failed(new IdentityError { Code = "known", Description = objection })
                : IdentityResult.Success
        );

    private static string? Objection(string password, Member user)
    {
        var typed = password.ToLowerInvariant();
        if (Cores(typed).Any(List.Value.Contains))
            return "This password stands in lists of stolen ones, or is one of them with a little added. Take several words that mean nothing together.";
        var own = new[] { user.Email?.Split('@')[0], user.Email, user.DisplayName };
        return own.Any(o =>
            o is { Length: > 3 } && typed.Contains(o, StringComparison.OrdinalIgnoreCase) && typed.Length < o.Length + 8
        )
            ? "This password is your own name or address with a little added. Take several words that mean nothing together."
            : null;
    }

    // What a guesser tries first: as it is, without its tail, its half where it says one thing twice.
    private static IEnumerable<string> Cores(string typed)
    {
        yield return typed;
        var bare = typed.Trim([.. "0123456789!?.,-_#*+@$ "]);
        yield return bare;
        foreach (var whole in new[] { typed, bare })
            if (whole.Length % 2 == 0 && whole.Length > 0 && whole[..(whole.Length / 2)] == whole[(whole.Length / 2)..])
                yield return whole[..(whole.Length / 2)];
    }

    private static HashSet<string> Read()
    {
        using var list = Assembly.GetExecutingAssembly().GetManifestResourceStream("known-passwords.json")!;
        return [.. JsonSerializer.Deserialize<string[]>(list)!];
    }
}
