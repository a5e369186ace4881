using System.Buffers.Binary;
using System.Security.Cryptography;

namespace Outcry.Tests.Shared;

/// <summary>What a telephone does with the key: the code of a moment (RFC 6238 over RFC 4226, SHA-1, 30 s, six digits).</summary>
internal static class Authenticator
{
    public static string Code(string key, int stepsFromNow = 0)
    {
        Span<byte> counter = stackalloc byte[8];
        BinaryPrimitives.WriteInt64BigEndian(counter, DateTimeOffset.UtcNow.ToUnixTimeSeconds() / 30 + stepsFromNow);
        Span<byte> hash = stackalloc byte[20];
#pragma warning disable CA5350 // The algorithm that authenticators use.
        HMACSHA1.HashData(Base32(key), counter, hash);
#pragma warning restore CA5350
        var at = hash[^1] & 0xF;
        var number = BinaryPrimitives.ReadInt32BigEndian(hash[at..]) & 0x7FFF_FFFF;
        return (number % 1_000_000).ToString("D6", System.Globalization.CultureInfo.InvariantCulture);
    }

    private static byte[] Base32(string key)
    {
        var (bits, held, bytes) = (0, 0, new List<byte>());
        foreach (var letter in key)
        {
            bits = ((bits & 0xFFF) << 5) | "ABCDEFGHIJKLMNOPQRSTUVWXYZ234567".IndexOf(letter, StringComparison.Ordinal);
            if ((held += 5) >= 8)
                bytes.Add((byte)((bits >> (held -= 8)) & 0xFF));
        }
        return [.. bytes];
    }
}
