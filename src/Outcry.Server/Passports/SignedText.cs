using System.Buffers.Text;
using System.Security.Cryptography;
using Outcry.Server.Sites;

namespace Outcry.Server.Passports;

/// <summary>Text that only this site can have written: a body and its HMAC-SHA256, both base64url, with a dot between.</summary>
internal static class SignedText
{
    public static string Sign(SiteKeys keys, ReadOnlySpan<byte> body)
    {
        Span<byte> mac = stackalloc byte[HMACSHA256.HashSizeInBytes];
        HMACSHA256.HashData(keys.Current, body, mac);
        return $"{Base64Url.EncodeToString(body)}.{Base64Url.EncodeToString(mac)}";
    }

    private static bool Fits(byte[] key, byte[] body, byte[] claimed)
    {
        Span<byte> mac = stackalloc byte[HMACSHA256.HashSizeInBytes];
        HMACSHA256.HashData(key, body, mac);
        return CryptographicOperations.FixedTimeEquals(mac, claimed);
    }

    /// <summary>The body, or null when the text was not written with this key or was changed since.</summary>
    public static byte[]? TryOpen(SiteKeys keys, string text)
    {
        var dot = text.IndexOf('.', StringComparison.Ordinal);
        if (dot <= 0 || text.Length > 16 * 1024)
            return null;
        try
        {
            var body = Base64Url.DecodeFromChars(text.AsSpan(0, dot));
            var claimed = Base64Url.DecodeFromChars(text.AsSpan(dot + 1));
            return Fits(keys.Current, body, claimed) || (keys.Previous is { } before && Fits(before, body, claimed))
                ? body
                : null;
        }
        catch (FormatException)
        {
            return null;
        }
    }
}
