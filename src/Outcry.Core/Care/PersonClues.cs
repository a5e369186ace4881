using System.Security.Cryptography;
using System.Text;

namespace Outcry.Core.Care;

/// <summary>What tells one person from another without saying who: keyed hashes, so that guesses cannot be tried without the site's key.</summary>
/// <param name="EmailKey">"e:" and 32 hex digits; null without an e-mail address.</param>
/// <param name="PhoneKey">"p:" and 32 hex digits; null without a phone number.</param>
public sealed record PersonClues(string? EmailKey, string? PhoneKey)
{
    /// <summary>The clues in an e-mail address and a phone number.</summary>
    /// <param name="hashKey">The site's key.</param>
    /// <param name="email">Case and surrounding space do not matter.</param>
    /// <param name="phone">Only its digits count, less leading zeros; fewer than five digits are no number.</param>
    public static PersonClues Of(byte[] hashKey, string? email, string? phone)
    {
        var mail = email?.Trim().ToUpperInvariant();
        var digits = new string((phone ?? "").Where(char.IsAsciiDigit).ToArray()).TrimStart('0');
        return new PersonClues(
            mail is { Length: > 2 } && mail.Contains('@', StringComparison.Ordinal) ? Hash("e:", hashKey, mail) : null,
            digits.Length >= 5 ? Hash("p:", hashKey, digits) : null
        );
    }

    /// <summary>
    /// One key for counting distinct people: the e-mail address before the phone number, before the visitor, before the event itself.
    /// </summary>
    public string Primary(string? visitorId, string eventId) =>
        EmailKey ?? PhoneKey ?? (visitorId is null ? $"x:{eventId}" : $"v:{visitorId}");

    private static string Hash(string kind, byte[] key, string text) =>
        kind + Convert.ToHexStringLower(HMACSHA256.HashData(key, Encoding.UTF8.GetBytes(text)).AsSpan(0, 16));
}
