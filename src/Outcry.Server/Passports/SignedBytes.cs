using System.Buffers;
using System.Buffers.Text;
using System.Security.Cryptography;
using Outcry.Core.Care;
using Outcry.Server.Sites;

namespace Outcry.Server.Passports;

/// <summary>Bytes that only this site can have written: a version, a keyed hash and a body, in base64url.</summary>
internal static class SignedBytes
{
    /// <summary>Another is not read: what the bytes mean would have changed.</summary>
    private const byte Version = 1;

    private const int MacBytes = KeyedHash.Bytes;
    private const int HeadBytes = 1 + MacBytes;
    private const int LongestText = 16 * 1024;

    public static string Sign(SiteKeys keys, ReadOnlySpan<byte> body)
    {
        var buffer = ArrayPool<byte>.Shared.Rent(HeadBytes + body.Length);
        try
        {
            buffer[0] = Version;
            body.CopyTo(buffer.AsSpan(HeadBytes));
            KeyedHash.Write(keys.Current, body, buffer.AsSpan(1, MacBytes));
            return Base64Url.EncodeToString(buffer.AsSpan(0, HeadBytes + body.Length));
        }
        finally
        {
            ArrayPool<byte>.Shared.Return(buffer);
        }
    }

    /// <summary>The body, or null when the text was written with none of the keys, was changed since, or is of another version.</summary>
    public static byte[]? TryOpen(SiteKeys keys, string text)
    {
        if (text.Length is 0 or > LongestText)
            return null;
        var buffer = ArrayPool<byte>.Shared.Rent(Base64Url.GetMaxDecodedLength(text.Length));
        try
        {
            if (
                Base64Url.DecodeFromChars(text, buffer, out _, out var length) != OperationStatus.Done
                || length <= HeadBytes
                || buffer[0] != Version
            )
                return null;
            var body = buffer.AsSpan(HeadBytes, length - HeadBytes);
            var claimed = buffer.AsSpan(1, MacBytes);
            return Fits(keys.Current, body, claimed) || (keys.Previous is { } before && Fits(before, body, claimed))
                ? body.ToArray()
                : null;
        }
        finally
        {
            ArrayPool<byte>.Shared.Return(buffer);
        }
    }

    private static bool Fits(byte[] key, ReadOnlySpan<byte> body, ReadOnlySpan<byte> claimed)
    {
        Span<byte> mac = stackalloc byte[MacBytes];
        KeyedHash.Write(key, body, mac);
        return CryptographicOperations.FixedTimeEquals(mac, claimed);
    }
}
