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

/// <summary>How the desk opens the site's own page as a stage.</summary>
/// <param name="Origin">The site's origin, to which changes are announced.</param>
/// <param name="Fragment">What goes behind the "#" of any of its pages.</param>
/// <param name="Sketch">What goes before the path of a page for a sketch of it at the desk.</param>
/// <param name="IsHeard">Whether the snippet was ever heard on the site.</param>
internal sealed record StageView(string Origin, string Fragment, string Sketch, bool IsHeard);

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
        return TypedResults.Ok(
            new StageView(
                new Uri(site.HomeAddress).GetLeftPart(UriPartial.Authority),
                $"#{PrivateToken.FragmentName}={token}",
                StageSketch.PathOf(siteId),
                site.Hearing.HeardAt is not null
            )
        );
    }
}
