using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using Outcry.Core.Planning;
using Outcry.Core.Saying;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.Callouts;

internal sealed record EvidenceRowView(Guid EventId, Instant At, IReadOnlyList<Span> Spans, string Meta, string Source);

/// <summary>The events behind a draft's claim now.</summary>
/// <param name="Counted">Events drawn on.</param>
/// <param name="Needs">Least number.</param>
/// <param name="Span">The stretch they truly cover, in words; empty when there are none.</param>
/// <param name="Missing">What is missing before anything is said; null when nothing is.</param>
/// <param name="Rows">The newest, worded as visitors would read them.</param>
internal sealed record EvidenceView(
    int Counted,
    int Needs,
    string Span,
    string? Missing,
    IReadOnlyList<EvidenceRowView> Rows
);

/// <summary>Opens a claim into its events.</summary>
internal static class ShowEvidence
{
    private const int RowsShown = 20;

    public static async Task<Results<Ok<EvidenceView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid calloutId,
        OutcryDb db,
        LiveSites sites,
        IClock clock,
        CancellationToken stop
    )
    {
        var row = await CalloutView.FindAsync(db, siteId, calloutId, stop);
        if (row is null)
            return Problems.NotFound("callout");
        var site = sites.GetById(siteId);
        var needs = row.Draft.From.LeastNumber;
        if (row.Draft.From.Sources.Count == 0)
            return TypedResults.Ok(
                new EvidenceView(0, needs, "", "No source is chosen yet, so there is nothing to tell.", [])
            );
        if (DraftSnapshot.TryMake(site, row, clock.GetCurrentInstant()) is not { } made)
            return TypedResults.Ok(
                new EvidenceView(0, needs, "", "The brief has to be put right before its events can be read.", [])
            );
        var index = made.Site.Callouts.ToList().IndexOf(made.Draft);
        var evidence = made.Site.Evidence[index];
        Reason? missing =
            evidence.Counted < needs ? new TooFewEvents(needs, evidence.Counted, row.Draft.From.WindowMinutes) : null;
        return TypedResults.Ok(
            new EvidenceView(
                evidence.Counted,
                needs,
                evidence.Counted == 0 ? "" : SpanPhrase.Say(evidence.Span),
                missing is null ? null : ReasonSentence.Say(missing, site.Zone, _ => null),
                [
                    .. evidence
                        .Turns.Take(RowsShown)
                        .Select(t => new EvidenceRowView(
                            t.Event.Id,
                            t.Event.At,
                            t.Spans,
                            t.Meta,
                            site.Sources[t.Event.SourceId].Name
                        )),
                ]
            )
        );
    }
}
