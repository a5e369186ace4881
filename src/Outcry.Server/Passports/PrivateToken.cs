using System.Text.Json;
using System.Text.Json.Serialization;
using NodaTime;
using Outcry.Core.Rehearsing;
using Outcry.Server.Sites;

namespace Outcry.Server.Passports;

/// <summary>What a private link carries.</summary>
/// <param name="T">"member" for a member's own browser, "stage" for the composer's stage, "trial" for a trial visit.</param>
/// <param name="C">The callout or launcher on the stage, or whose draft is on trial.</param>
/// <param name="U">Good until, in Unix seconds.</param>
/// <param name="R">Of a trial visit and a stage: as whom, and with what lifted.</param>
/// <param name="A">Of a stage: the moment that it is played at, in Unix seconds; null for now.</param>
internal sealed record PrivateTokenBody(string T, long U, Guid? C = null, TrialBody? R = null, long? A = null);

/// <summary>As whom a trial visit is walked.</summary>
/// <param name="V">The visitor.</param>
/// <param name="L">Whether limits are lifted.</param>
internal sealed record TrialBody(ImaginedVisitor V, bool L);

/// <summary>Signed, expiring tokens by which a browser is known to the site's own pages without any cookie.</summary>
internal static class PrivateToken
{
    public const string Member = "member";
    public const string Stage = "stage";
    public const string Install = "install";
    public const string Trial = "trial";

    /// <summary>The name under which a link carries a token behind its "#", where no server's log keeps it.</summary>
    public const string FragmentName = "outcry";

    public static string Make(LiveSite site, string kind, Guid? callout, Instant until) =>
        Sign(site, new PrivateTokenBody(kind, until.ToUnixTimeSeconds(), callout));

    /// <summary>A stage on which a draft is read by somebody.</summary>
    public static string MakeStage(
        LiveSite site,
        ImaginedVisitor reader,
        Guid definition,
        Instant until,
        Instant? at = null
    ) =>
        Sign(
            site,
            new PrivateTokenBody(
                Stage,
                until.ToUnixTimeSeconds(),
                definition,
                new TrialBody(reader, L: true),
                at?.ToUnixTimeSeconds()
            )
        );

    public static string MakeTrial(LiveSite site, TrialBody trial, Guid? draft, Instant until) =>
        Sign(site, new PrivateTokenBody(Trial, until.ToUnixTimeSeconds(), draft, trial));

    private static string Sign(LiveSite site, PrivateTokenBody body) =>
        SignedText.Sign(
            site.LinkKeys,
            JsonSerializer.SerializeToUtf8Bytes(body, PassportsJson.Default.PrivateTokenBody)
        );

    /// <summary>The token's content, or null when it is not this site's, was changed, has expired, or is of a sort that opens no page.</summary>
    public static PrivateTokenBody? TryRead(LiveSite site, string? token, Instant now)
    {
        var body = Read(site, token, now);
        return body is { T: Member or Stage } or { T: Trial, R.V: not null } ? body : null;
    }

    /// <summary>Whether the token opens the install page of the site, and nothing more.</summary>
    public static bool TryReadInstall(LiveSite site, string token, Instant now) =>
        Read(site, token, now) is { T: Install };

    private static PrivateTokenBody? Read(LiveSite site, string? token, Instant now)
    {
        if (string.IsNullOrEmpty(token) || SignedText.TryOpen(site.LinkKeys, token) is not { } bytes)
            return null;
        try
        {
            var body = JsonSerializer.Deserialize(bytes, PassportsJson.Default.PrivateTokenBody);
            return body?.T is not null && body.U > now.ToUnixTimeSeconds() ? body : null;
        }
        catch (JsonException)
        {
            return null;
        }
    }
}

[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
    UseStringEnumConverter = true,
    RespectNullableAnnotations = true,
    RespectRequiredConstructorParameters = true
)]
[JsonSerializable(typeof(PrivateTokenBody))]
internal sealed partial class PassportsJson : JsonSerializerContext;
