using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Talks;

/// <summary>A visitor's key to their own talk: kept in their browser, here only as its hash.</summary>
internal static class TalkKey
{
    /// <summary>So long after the last word a key opens nothing any more.</summary>
    public static Duration Lives { get; } = Duration.FromDays(30);

    /// <summary>Browsers in which one talk may be open; the oldest key goes first.</summary>
    public const int MostKeys = 8;

    private const int Bytes = 32;

    /// <summary>A new key: 256 bits from the system's generator, as base64url.</summary>
    public static string Make() => Base64Url(RandomNumberGenerator.GetBytes(Bytes));

    /// <summary>Lets a key open a talk.</summary>
    public static void Give(TalkRow talk, string key)
    {
        talk.KeyHashes.Add(HashOf(key));
        if (talk.KeyHashes.Count > MostKeys)
            talk.KeyHashes.RemoveAt(0);
    }

    /// <summary>Makes a key to a talk that is there. One statement, so that of several made at once none is lost.</summary>
    public static async Task<string> GiveAsync(OutcryDb db, Guid talkId, CancellationToken stop)
    {
        var key = Make();
        var hash = HashOf(key);
        await db.Database.ExecuteSqlAsync(
            $"""
            update talks set key_hashes =
              (array_append(key_hashes, {hash}))[greatest(1, cardinality(key_hashes) + 2 - {MostKeys}):]
            where id = {talkId}
            """,
            stop
        );
        return key;
    }

    /// <summary>Whether a key opens a talk at a moment.</summary>
    public static bool Opens(TalkRow talk, string? key, Instant now)
    {
        if (string.IsNullOrEmpty(key) || key.Length > 2 * Bytes || now - talk.LastAt > Lives)
            return false;
        var hash = HashOf(key);
        var opens = false;
        // All of them, so that the time tells nothing of which.
        foreach (var known in talk.KeyHashes)
            opens |= CryptographicOperations.FixedTimeEquals(known, hash);
        return opens;
    }

    private static byte[] HashOf(string key) => SHA256.HashData(Encoding.UTF8.GetBytes(key));

    private static string Base64Url(byte[] bytes) => System.Buffers.Text.Base64Url.EncodeToString(bytes);
}
