using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Claims;
using Outcry.Core.Evidence;
using Outcry.Core.Explaining;
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
/// <param name="Says">The one sentence of a count; empty where single events are told.</param>
/// <param name="TooLong">What to know of the longest; null when all fit.</param>
/// <param name="Examples">What each token is worth in the newest event that fills it.</param>
/// <param name="LeftOut">Events of its sources and its window that it does not draw on, by why not; the commonest first.</param>
/// <param name="Rows">The newest, worded as visitors would read them.</param>
internal sealed record EvidenceView(
    int Counted,
    int Needs,
    string Span,
    string? Missing,
    string Says,
    string? TooLong,
    IReadOnlyDictionary<string, string> Examples,
    IReadOnlyList<LeftOutView> LeftOut,
    IReadOnlyList<EvidenceRowView> Rows
);

/// <param name="Number">How many, at least 1.</param>
/// <param name="Why">The end of a sentence that begins with the number.</param>
internal sealed record LeftOutView(int Number, string Why);

/// <summary>Opens a claim into its events.</summary>
internal static class ShowEvidence
{
    private const int RowsShown = 20;

    public static async Task<Results<Ok<EvidenceView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid id,
        OutcryDb db,
        LiveSites sites,
        LookedCounter counter,
        IClock clock,
        CancellationToken stop
    )
    {
        var row = await db.FindDefinitionAsync(siteId, BriefKind.Callout, id, stop);
        if (row is null)
            return Problems.NotFound("callout");
        var site = sites.GetById(siteId);
        var draft = row.Draft.Read<Brief>();
        var needsSource =
            draft.Kind is not (CalloutKind.Notice or CalloutKind.Headcount)
            && draft.From.Measure is not (Measure.PageViews or Measure.Visitors);
        if (needsSource && draft.From.Sources.Count == 0)
            return TypedResults.Ok(Nothing(draft, "No source is chosen yet, so there is nothing to tell."));
        var now = clock.GetCurrentInstant();
        if (await DraftSnapshot.TryMakeAsync(site, row, counter, now, stop) is not { } made)
            return TypedResults.Ok(
                Nothing(
                    draft,
                    draft.Kind is CalloutKind.Notice
                        ? null
                        : "Something in the brief stops it; its events can be read once that is changed."
                )
            );
        var evidence = made.Site.Evidence[made.Site.Callouts.ToList().IndexOf(made.Draft)];
        var claim = evidence.ClaimNow;
        return TypedResults.Ok(
            new EvidenceView(
                claim.Number,
                claim.Needs,
                claim.Span == Duration.Zero ? "" : SpanPhrase.Say(claim.Span, evidence.Callout.Evidence.Window),
                claim.Missing is null ? null : ReasonSentence.Say(claim.Missing, site.Zone, _ => null),
                evidence.TellsEvents ? "" : claim.Turns[0].Text,
                TooLong(claim, made.Draft.Brief.Look.Shape),
                Examples(evidence, site, now),
                LeftOut(evidence.Callout.Evidence, site, now),
                Rows(evidence, claim, site, now)
            )
        );
    }

    // What is older or from elsewhere was never meant; of the rest whoever wonders is told.
    private static List<LeftOutView> LeftOut(EvidenceRule rule, LiveSite site, Instant now) =>
        [
            .. site
                .Events.Where(e => rule.Window is not { } window || now - e.At <= window)
                .Select(e => WordsOf(rule.Refuses(e, now), rule))
                .OfType<string>()
                .GroupBy(why => why)
                .Select(g => new LeftOutView(g.Count(), g.Key))
                .OrderByDescending(l => l.Number)
                .ThenBy(l => l.Why, StringComparer.Ordinal),
        ];

    private static string? WordsOf(EvidenceRefusal? refusal, EvidenceRule rule) =>
        refusal switch
        {
            EvidenceRefusal.TooFewStars => $"under {rule.LeastStars:0.#} stars",
            EvidenceRefusal.Held => "waiting for review",
            EvidenceRefusal.Hidden => "hidden",
            EvidenceRefusal.Duplicate => "reported twice",
            EvidenceRefusal.Condition => "outside the conditions",
            EvidenceRefusal.OtherPage => "on other pages",
            _ => null,
        };

    // What each token is worth in the newest event that fills it; a token that none fills has no example.
    private static Dictionary<string, string> Examples(PreparedEvidence evidence, LiveSite site, Instant now)
    {
        var examples = new Dictionary<string, string>();
        if (!evidence.TellsEvents)
            return examples;
        var crowd = new PlaceCrowd(evidence.Events);
        foreach (var happened in evidence.Events.Take(PreparedEvidence.MostWorded))
        foreach (
            var (token, value) in EventTokens.Read(happened, site.DisplayOf(happened.SourceId), crowd, now, site.Voice)
        )
            if (value.Length > 0)
                examples.TryAdd(token, value);
        return examples;
    }

    /// <summary>Characters that fit a slip without scrolling, as its narrowest words are set.</summary>
    private const int FitsSlip = 220;

    private static string? TooLong(ClaimNow claim, Shape shape)
    {
        var longest = claim.Turns.Select(t => t.Length).DefaultIfEmpty(0).Max();
        return shape == Shape.Slip && longest > FitsSlip
            ? $"The longest of these has {longest} characters. A slip holds about {FitsSlip}; the rest is there by scrolling. Shorten the message, or leave a field out."
            : null;
    }

    // A claim opens into its events: as they are told, or, under a count, in the words of their kind.
    private static List<EvidenceRowView> Rows(PreparedEvidence evidence, ClaimNow claim, LiveSite site, Instant now)
    {
        string SourceOf(LedgerEvent happened) => site.Sources[happened.SourceId].Name;
        if (evidence.TellsEvents)
            return
            [
                .. claim
                    .Turns.Take(RowsShown)
                    .Select(t => new EvidenceRowView(t.Event!.Id, t.Event.At, t.Spans, t.Meta, SourceOf(t.Event))),
            ];
        var wording = new EventWording(site, now);
        return
        [
            .. evidence
                .Events.Take(RowsShown)
                .Select(e => (Event: e, Worded: wording.Default(e)))
                .Select(x => new EvidenceRowView(
                    x.Event.Id,
                    x.Event.At,
                    x.Worded.Spans,
                    x.Worded.Meta,
                    SourceOf(x.Event)
                )),
        ];
    }

    private static EvidenceView Nothing(Brief brief, string? missing) =>
        new(0, brief.From.LeastNumber, "", missing, "", null, new Dictionary<string, string>(), [], []);
}
