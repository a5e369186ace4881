using System.Text.Json;
using NodaTime;
using Outcry.Server.Sites;

namespace Outcry.Server.Visitor;

/// <summary>What a private link carries.</summary>
/// <param name="T">"member" for a member's own browser, "stage" for the composer's stage.</param>
/// <param name="C">The callout on the stage.</param>
/// <param name="U">Good until, in Unix seconds.</param>
internal sealed record PrivateTokenBody(string T, long U, Guid? C = null);

/// <summary>Signed, expiring tokens by which a browser is known to the site's own pages without any cookie.</summary>
internal static class PrivateToken
{
    public const string Member = "member";
    public const string Stage = "stage";
    public const string Install = "install";

    /// <summary>The name under which a link carries a token behind its "#", where no server's log keeps it.</summary>
    public const string FragmentName = "outcry";

    public static string Make(LiveSite site, string kind, Guid? callout, Instant until) =>
        SignedText.Sign(
            site.SigningKey,
            JsonSerializer.SerializeToUtf8Bytes(
                new PrivateTokenBody(kind, until.ToUnixTimeSeconds(), callout),
                VisitorJson.Default.PrivateTokenBody
            )
        );

    /// <summary>The token's content, or null when it is not this site's, was changed, or has expired.</summary>
    public static PrivateTokenBody? TryRead(LiveSite site, string? token, Instant now) =>
        Read(site, token, now) is { T: Member or Stage } body ? body : null;

    /// <summary>Whether the token opens the install page of the site, and nothing more.</summary>
    public static bool TryReadInstall(LiveSite site, string token, Instant now) =>
        Read(site, token, now) is { T: Install };

    private static PrivateTokenBody? Read(LiveSite site, string? token, Instant now)
    {
        if (string.IsNullOrEmpty(token) || SignedText.TryOpen(site.SigningKey, token) is not { } bytes)
            return null;
        try
        {
            var body = JsonSerializer.Deserialize(bytes, VisitorJson.Default.PrivateTokenBody);
            return body?.T is not null && body.U > now.ToUnixTimeSeconds() ? body : null;
        }
        catch (JsonException)
        {
            return null;
        }
    }
}
