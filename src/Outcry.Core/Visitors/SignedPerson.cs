using System.Security.Cryptography;
using System.Text;

namespace Outcry.Core.Visitors;

/// <summary>Who the site says a visitor is, where it signed that: kept as a keyed hash only.</summary>
public static class SignedPerson
{
    /// <summary>HMAC-SHA-256 (RFC 2104) over the id that the site uses for them, apart from every other use of the key.</summary>
    /// <param name="key">The site's key for people.</param>
    /// <param name="id">The site's own id of the person.</param>
    public static byte[] HashOf(byte[] key, string id) =>
        HMACSHA256.HashData(key, Encoding.UTF8.GetBytes($"signed id\n{id}"));
}
