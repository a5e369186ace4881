using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using MimeKit;

namespace Outcry.Server.Mail;

/// <summary>
/// Where mails to leads come back to: each has a return path of its own (RFC 5321 §4.4), so that what comes back by mail says
/// which it was, however the server at the other end calls its reader, and nobody can make one up.
/// </summary>
/// <remarks>"bounces@pots.example" with the letter's id and a code of it behind a plus sign (RFC 5233).</remarks>
internal sealed class BounceAddress
{
    private const int CodeBytes = 8;
    private readonly byte[] _key;
    private readonly string _local;
    private readonly string _domain;

    public BounceAddress(IConfiguration configuration)
    {
        _key = Encoding.UTF8.GetBytes(configuration["Mail:BounceKey"] ?? "");
        var set = configuration["Mail:Bounces"] ?? "";
        var at = set.LastIndexOf('@');
        (_local, _domain) = at > 0 ? (set[..at], set[(at + 1)..]) : ("", "");
    }

    /// <summary>Whether anything can come back.</summary>
    public bool IsSet => _local.Length > 0 && _key.Length > 0;

    /// <summary>Whether somebody who brings a mail back shows the right key.</summary>
    public bool Opens(string? authorization) =>
        IsSet
        && authorization?.StartsWith("Bearer ", StringComparison.OrdinalIgnoreCase) == true
        && CryptographicOperations.FixedTimeEquals(
            SHA256.HashData(Encoding.UTF8.GetBytes(authorization[7..].Trim())),
            SHA256.HashData(_key)
        );

    /// <summary>The return path of a letter; null where none is set.</summary>
    public MailboxAddress? Of(Guid letter) =>
        IsSet
            ? new MailboxAddress(
                "",
                string.Create(CultureInfo.InvariantCulture, $"{_local}+{letter:N}-{CodeOf(letter)}@{_domain}")
            )
            : null;

    /// <summary>Of which letter an address is the return path; null for none.</summary>
    public Guid? Read(string address)
    {
        var parts = address.Split('@')[0].Split('+', 2);
        if (!IsSet || parts.Length != 2 || !parts[0].Equals(_local, StringComparison.OrdinalIgnoreCase))
            return null;
        var (id, code) = parts[1].Split('-', 2) is [var first, var second] ? (first, second) : ("", "");
        return
            Guid.TryParseExact(id, "N", out var letter)
            && CryptographicOperations.FixedTimeEquals(
                Encoding.UTF8.GetBytes(code.ToLowerInvariant()),
                Encoding.UTF8.GetBytes(CodeOf(letter))
            )
            ? letter
            : null;
    }

    private string CodeOf(Guid letter) =>
        Convert.ToHexStringLower(
            HMACSHA256.HashData(_key, Encoding.UTF8.GetBytes($"return path {letter:N}"))[..CodeBytes]
        );
}
