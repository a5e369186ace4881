using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using Outcry.Core.Rehearsing;
using Outcry.Server.Platform;
using Outcry.Server.Sites;

namespace Outcry.Server.Rehearsals;

/// <summary>A visitor to be found for a segment, from one that is imagined already.</summary>
internal sealed record CastRequest(Guid Segment, ImaginedVisitor From);

/// <param name="Assumed">What was changed of the visitor, clause by clause.</param>
internal sealed record CastView(ImaginedVisitor Visitor, IReadOnlyList<string> Assumed);

/// <summary>Finds a visitor who is in a segment.</summary>
internal static class CastVisitor
{
    public static Results<Ok<CastView>, ProblemHttpResult> Handle(
        Guid siteId,
        CastRequest request,
        LiveSites sites,
        IClock clock
    )
    {
        var site = sites.GetById(siteId);
        if (request.From.Problem is { } wrong)
            return Problems.BadField("from", wrong);
        if (!site.Context.Segments.TryGetValue(request.Segment, out var segment))
            return Problems.NotFound("segment");
        var found = Casting.TryCast(
            segment.Rule,
            site.Context.Segments,
            request.From,
            clock.GetCurrentInstant(),
            site.Zone
        );
        return found is null
            ? Problems.Of(
                StatusCodes.Status422UnprocessableEntity,
                "nobody",
                "Nobody fits",
                $"Nobody can be in the segment \"{segment.Name}\": its rule contradicts itself."
            )
            : TypedResults.Ok(new CastView(found, RehearsalWords.Assumed(request.From, found)));
    }
}
