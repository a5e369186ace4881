using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Pages;
using Outcry.Core.Rehearsing;
using Outcry.Server.Callouts;
using Outcry.Server.Passports;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Server.Visitor;
using Outcry.Store;

namespace Outcry.Server.Rehearsals;

/// <summary>A trial visit to be walked on the live site.</summary>
/// <param name="Path">The page on which it begins.</param>
/// <param name="Visitor">As whom.</param>
/// <param name="LiftLimits">Whether hush, how often, holdbacks and least numbers are lifted.</param>
/// <param name="Draft">A callout whose draft is on air in place of what is live of it.</param>
internal sealed record TrialRequest(string Path, ImaginedVisitor Visitor, bool LiftLimits = false, Guid? Draft = null);

/// <param name="Address">Opens the site as that visitor; whoever has it can.</param>
internal sealed record TrialView(string Address, Instant Until);

/// <summary>Makes the signed link of a trial visit.</summary>
internal static class OpenTrial
{
    private static readonly Duration Life = Duration.FromHours(2);

    // Browsers and servers in between cut addresses that are longer than this.
    private const int LongestAddress = 8_000;

    public static async Task<Results<Ok<TrialView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        TrialRequest request,
        OutcryDb db,
        LiveSites sites,
        IClock clock,
        CancellationToken stop
    )
    {
        var site = sites.GetById(siteId);
        if (request.Visitor.Problem is { } wrong)
            return Problems.BadField("visitor", wrong);
        if (
            !request.Path.StartsWith('/')
            || request.Path.StartsWith("//", StringComparison.Ordinal)
            || !Uri.TryCreate(new Uri(site.HomeAddress), request.Path, out var page)
            || PageAddress.TryParse(page.ToString()) is null
        )
            return Problems.BadField("path", "The page is a path of the site, such as /shop.");
        if (request.Draft is { } draft && await db.FindDefinitionAsync(siteId, BriefKind.Callout, draft, stop) is null)
            return Problems.NotFound("callout");
        var until = clock.GetCurrentInstant() + Life;
        var token = PrivateToken.MakeTrial(
            site,
            new TrialBody(request.Visitor, request.LiftLimits),
            request.Draft,
            until
        );
        var address = $"{page.GetLeftPart(UriPartial.Query)}#{PrivateToken.FragmentName}={token}";
        return address.Length > LongestAddress
            ? Problems.BadField("visitor", "So much is imagined of this visitor that no address can carry it.")
            : TypedResults.Ok(new TrialView(address, until));
    }
}
