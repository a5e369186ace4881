using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using Outcry.Core.Visitors;
using Outcry.Server.Platform;
using Outcry.Server.Sites;

namespace Outcry.Server.Audience;

/// <summary>A rule whose visitors are to be counted.</summary>
internal sealed record SizeRequest(VisitorRule Rule);

/// <param name="Visitors">Recorded visitors for whom the rule holds, as their latest visit left them.</param>
/// <param name="Of">All recorded visitors.</param>
/// <param name="From">Since when they are counted.</param>
/// <param name="At">When they were counted.</param>
/// <param name="Sample">The latest of them.</param>
internal sealed record SizeView(int Visitors, int Of, Instant From, Instant At, IReadOnlyList<VisitorView> Sample);

/// <summary>Counts the recorded visitors of the last 30 days who are in a segment, or would be.</summary>
internal static class SizeSegment
{
    private const int Sampled = 8;

    public static async Task<Results<Ok<SizeView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        SizeRequest request,
        LiveSites sites,
        CensusTaker taker,
        CancellationToken stop
    )
    {
        var site = sites.GetById(siteId);
        if (CompiledRule.TryCompile(request.Rule, site.Context.Segments, out var error) is not { } rule)
            return Problems.BadField("rule", error);
        var census = await taker.ReadAsync(site, stop);
        var such = census.Matching(rule, site.Snapshot).ToList();
        return TypedResults.Ok(
            new SizeView(
                such.Count,
                census.Visitors.Count,
                census.From,
                census.At,
                [.. such.Take(Sampled).Select(v => VisitorView.Of(v, site.Snapshot))]
            )
        );
    }
}
