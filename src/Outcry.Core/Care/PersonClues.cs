namespace Outcry.Core.Care;

/// <summary>What tells one person from another without saying who: keyed hashes, so that guesses cannot be tried without the site's key.</summary>
/// <param name="EmailKey">"e:" and 32 hex digits; null without an e-mail address.</param>
/// <param name="PhoneKey">"p:" and 32 hex digits; null without a phone number.</param>
public sealed record PersonClues(string? EmailKey, string? PhoneKey)
{
    /// <summary>The clues in an e-mail address and a phone number.</summary>
    /// <param name="hashKey">The site's key.</param>
    /// <param name="email">Case and surrounding space do not matter.</param>
    /// <param name="phone">However it is written; what is no number of any country counts by its digits, at least five.</param>
    /// <param name="region">Where numbers without a country code are dialled: ISO 3166-1, two letters.</param>
    public static PersonClues Of(byte[] hashKey, string? email, string? phone, string region)
    {
        var mail = PlainText.Clean(email).Trim().ToUpperInvariant();
        return new PersonClues(
            mail.Length > 2 && mail.Contains('@', StringComparison.Ordinal) ? Hash("e:", hashKey, mail) : null,
            Dialled(phone, region) is { } number ? Hash("p:", hashKey, number) : null
        );
    }

    /// <summary>
    /// One key for counting distinct people: the e-mail address before the phone number, before the visitor, before the event itself.
    /// </summary>
    public string Primary(string? visitorId, string eventId) =>
        EmailKey ?? PhoneKey ?? (visitorId is null ? $"x:{eventId}" : $"v:{visitorId}");

    private static string? Dialled(string? phone, string region)
    {
        if (PhoneNumber.ToE164(phone, region) is { } number)
            return number;
        var digits = new string([.. (phone ?? "").Where(char.IsAsciiDigit)]).TrimStart('0');
        return digits.Length >= FewestDigits ? digits : null;
    }

    private const int FewestDigits = 5;

    private static string Hash(string kind, byte[] key, string text) => kind + KeyedHash.HexOf(key, text);
}
