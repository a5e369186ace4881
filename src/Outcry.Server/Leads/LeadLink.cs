using System.Text.Json;
using System.Text.Json.Serialization;
using NodaTime;
using Outcry.Server.Passports;
using Outcry.Server.Sites;

namespace Outcry.Server.Leads;

/// <summary>What a link in a mail to a lead does.</summary>
internal enum LeadAct
{
    /// <summary>Confirms a yes.</summary>
    Confirm,

    /// <summary>Takes everything back.</summary>
    Leave,

    /// <summary>Fetches the file that was promised.</summary>
    Fetch,
}

/// <summary>What such a link carries.</summary>
/// <param name="Act">What it does: a link for one act opens no other.</param>
/// <param name="Id">The yes; of a link that takes back, the lead.</param>
/// <param name="Until">Good until, in Unix seconds; 0 for always.</param>
internal sealed record LeadLinkBody(LeadAct Act, Guid Id, long Until);

/// <summary>Links in mails to leads, signed with the site's own key.</summary>
internal static class LeadLink
{
    /// <summary>A file is fetched within so long.</summary>
    public static Duration FetchesWithin { get; } = Duration.FromHours(24);

    /// <summary>Where a link leads, at the desk's address.</summary>
    public static string PathOf(LiveSite site, LeadAct act, Guid id, Instant? until)
    {
        var body = JsonSerializer.SerializeToUtf8Bytes(
            new LeadLinkBody(act, id, until?.ToUnixTimeSeconds() ?? 0),
            LeadLinkJson.Default.LeadLinkBody
        );
        return $"/o/{act.ToString().ToLowerInvariant()}/{site.Key}/{SignedText.Sign(site.LinkKeys, body)}";
    }

    /// <summary>What a link is about; null where it is not this site's, not for this act, was changed or has run out.</summary>
    public static Guid? TryRead(LiveSite site, LeadAct act, string token, Instant now)
    {
        if (SignedText.TryOpen(site.LinkKeys, token) is not { } bytes)
            return null;
        try
        {
            return
                JsonSerializer.Deserialize(bytes, LeadLinkJson.Default.LeadLinkBody) is { } body
                && body.Act == act
                && (body.Until == 0 || body.Until > now.ToUnixTimeSeconds())
                ? body.Id
                : null;
        }
        catch (JsonException)
        {
            return null;
        }
    }
}

[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase,
    RespectRequiredConstructorParameters = true
)]
[JsonSerializable(typeof(LeadLinkBody))]
internal sealed partial class LeadLinkJson : JsonSerializerContext;
