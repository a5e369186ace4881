using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Rehearsing;
using Outcry.Core.Saying;
using Outcry.Server.Passports;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.Callouts;

/// <summary>Makes the signed token by which the site's page shows this draft, and only to the desk that asked.</summary>
internal static class OpenStage
{
    private static readonly Duration Life = Duration.FromHours(4);

    public static async Task<Results<Ok<StageView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid id,
        OutcryDb db,
        LiveSites sites,
        IClock clock,
        CancellationToken stop,
        string? language = null
    )
    {
        if (!string.IsNullOrEmpty(language) && !LanguageTag.IsWellFormed(language))
            return Problems.BadField("language", "The language is a BCP 47 tag such as en or de-AT.");
        if (await db.FindDefinitionAsync(siteId, BriefKind.Callout, id, stop) is null)
            return Problems.NotFound("callout");
        var site = sites.GetById(siteId);
        var reader = new ImaginedVisitor { Languages = string.IsNullOrEmpty(language) ? [] : [language] };
        var token = PrivateToken.MakeStage(site, reader, id, clock.GetCurrentInstant() + Life);
        return TypedResults.Ok(StageView.Of(site, token));
    }
}
