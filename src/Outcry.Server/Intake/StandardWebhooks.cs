using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using NodaTime;

namespace Outcry.Server.Intake;

/// <summary>Signs and checks messages by the Standard Webhooks specification 1.0: HMAC-SHA256 over "id.timestamp.body".</summary>
internal static class StandardWebhooks
{
    public const string IdHeader = "webhook-id";
    public const string TimestampHeader = "webhook-timestamp";
    public const string SignatureHeader = "webhook-signature";

    private const string SecretPrefix = "whsec_";
    private const string SignaturePrefix = "v1,";

    /// <summary>How far a message's time may be from ours, either way.</summary>
    public static Duration Tolerance { get; } = Duration.FromMinutes(5);

    public static string NewSecret() => SecretPrefix + Convert.ToBase64String(RandomNumberGenerator.GetBytes(24));

    /// <summary>The signature header's value for a message.</summary>
    public static string Sign(string secret, string id, long unixSeconds, ReadOnlySpan<byte> body) =>
        SignaturePrefix
        + Convert.ToBase64String(Compute(secret, id, unixSeconds.ToString(CultureInfo.InvariantCulture), body));

    /// <summary>Why a message cannot be believed, as a sentence for its sender, or null when it can.</summary>
    public static string? Objection(
        string secret,
        string? id,
        string? timestamp,
        string? signatures,
        ReadOnlySpan<byte> body,
        Instant now
    )
    {
        if (string.IsNullOrEmpty(id) || string.IsNullOrEmpty(timestamp) || string.IsNullOrEmpty(signatures))
            return $"The headers {IdHeader}, {TimestampHeader} and {SignatureHeader} must all be there.";
        if (id.Length > 200)
            return $"{IdHeader} is longer than 200 characters.";
        if (!long.TryParse(timestamp, NumberStyles.None, CultureInfo.InvariantCulture, out var seconds))
            return $"{TimestampHeader} must be Unix seconds.";
        var age = Math.Abs(now.ToUnixTimeSeconds() - Math.Min(seconds, long.MaxValue / 2));
        if (age > (long)Tolerance.TotalSeconds)
            return $"{TimestampHeader} is {age} s away from our clock; at most {Tolerance.TotalSeconds} s are allowed. Check the sender's clock.";
        var expected = Compute(secret, id, timestamp, body);
        foreach (var signature in signatures.Split(' ', StringSplitOptions.RemoveEmptyEntries))
            if (IsSame(signature, expected))
                return null;
        return $"No signature in {SignatureHeader} fits the body and the secret.";
    }

    private static bool IsSame(string signature, byte[] expected)
    {
        if (!signature.StartsWith(SignaturePrefix, StringComparison.Ordinal))
            return false;
        Span<byte> claimed = stackalloc byte[HMACSHA256.HashSizeInBytes];
        return Convert.TryFromBase64String(signature[SignaturePrefix.Length..], claimed, out var length)
            && CryptographicOperations.FixedTimeEquals(claimed[..length], expected);
    }

    private static byte[] Compute(string secret, string id, string timestamp, ReadOnlySpan<byte> body)
    {
        var key = Convert.FromBase64String(secret[SecretPrefix.Length..]);
        using var mac = IncrementalHash.CreateHMAC(HashAlgorithmName.SHA256, key);
        mac.AppendData(Encoding.UTF8.GetBytes($"{id}.{timestamp}."));
        mac.AppendData(body);
        return mac.GetHashAndReset();
    }
}
