using System.Security.Cryptography;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Outcry.Server.Platform;
using Outcry.Store;

namespace Outcry.Server.Sites;

/// <summary>What a key of a site signs.</summary>
internal enum KeyUse
{
    /// <summary>Visitors' passports.</summary>
    Passports,

    /// <summary>Private links: of members, stages and trial visits.</summary>
    Links,
}

/// <param name="Use">Which key is changed.</param>
internal sealed record ChangeKeyRequest(KeyUse Use);

/// <summary>Changes a site's key. What the one before signed is believed still, until the key is changed once more.</summary>
internal static class ChangeKeys
{
    public static async Task<NoContent> HandleAsync(
        Guid siteId,
        ChangeKeyRequest request,
        OutcryDb db,
        SiteNews news,
        TraceBook traces,
        CancellationToken stop
    )
    {
        var row = await db.Sites.FirstAsync(s => s.Id == siteId, stop);
        var fresh = RandomNumberGenerator.GetBytes(row.PassportKey.Length);
        if (request.Use == KeyUse.Passports)
            (row.PreviousPassportKey, row.PassportKey) = (row.PassportKey, fresh);
        else
            (row.PreviousLinkKey, row.LinkKey) = (row.LinkKey, fresh);
        traces.Add($"changed the key of {request.Use.ToString().ToLowerInvariant()} of", row.Name, siteId);
        await db.SaveChangesAsync(stop);
        await news.TellAsync(siteId, SiteChange.Definition);
        return TypedResults.NoContent();
    }
}
