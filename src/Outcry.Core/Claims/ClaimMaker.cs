using System.Collections.Frozen;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Saying;

namespace Outcry.Core.Claims;

/// <summary>Draws a callout's evidence for one audience, kind by kind.</summary>
internal static class ClaimMaker
{
    private static readonly FrozenSet<string> Nobody = FrozenSet<string>.Empty;

    public static AudienceClaim For(PreparedEvidence evidence, Audience audience)
    {
        try
        {
            return OfKind(evidence, audience);
        }
        catch (WordingException failed)
        {
            return new AudienceClaim([], 0, 0, Duration.Zero, [], Nobody) { Failure = failed.Message };
        }
    }

    private static AudienceClaim OfKind(PreparedEvidence evidence, Audience audience) =>
        evidence.Callout.Brief.Kind switch
        {
            CalloutKind.Notice or CalloutKind.Prompt => OfNotice(evidence, audience),
            CalloutKind.Headcount => OfHeads(evidence, audience),
            CalloutKind.Tally when BriefEvidence.CountsTraffic(evidence.Callout.Brief) => OfLooks(evidence, audience),
            CalloutKind.Tally => OfEvents(evidence, audience),
            CalloutKind.Remainder => OfStock(evidence, audience),
            CalloutKind.Standing => OfTotals(evidence, audience),
            _ => OfStories(evidence, audience),
        };

    private static AudienceClaim OfNotice(PreparedEvidence evidence, Audience audience)
    {
        var brief = evidence.Callout.Brief;
        var target = brief.When.Schedule.TargetAt(evidence.Zone);
        var turn = TurnWriter.Notice(brief.Say, audience.Wording, target, evidence.Now);
        return new AudienceClaim([], 0, 1, Duration.Zero, [turn], Nobody);
    }

    private static AudienceClaim OfStories(PreparedEvidence evidence, Audience audience)
    {
        var (events, near) = Near(evidence, audience, OfPage(evidence.Events, audience.Path));
        return Worded(evidence, audience, events, near, events.Count);
    }

    // Of each product the newest level decides; what is sold out or plentiful is not told.
    private static AudienceClaim OfStock(PreparedEvidence evidence, Audience audience)
    {
        var low = OfPage(evidence.Events, audience.Path)
            .DistinctBy(e => e.Product?.Name ?? "")
            .Where(e => LevelOf(e) is > 0 and var left && left <= evidence.Callout.Brief.From.MostLeft)
            .ToList();
        return Worded(evidence, audience, low, 0, low.Count);
    }

    // Of each source the newest total stands; older ones are its history.
    private static AudienceClaim OfTotals(PreparedEvidence evidence, Audience audience)
    {
        var totals = evidence.Events.DistinctBy(e => e.SourceId).ToList();
        var greatest = totals.Select(TotalOf).DefaultIfEmpty(0).Max();
        return Worded(evidence, audience, totals, 0, (int)Math.Min(int.MaxValue, Math.Max(0, greatest)));
    }

    private static AudienceClaim OfEvents(PreparedEvidence evidence, Audience audience)
    {
        var (events, near) = Near(evidence, audience, OfPage(evidence.Events, audience.Path));
        // "First" makes no sense of a count: it is everybody's.
        var number =
            evidence.Callout.Brief.From.Measure == Measure.People ? evidence.People.Count(events) : events.Count;
        var span = SpanOf(events, evidence);
        return new AudienceClaim(events, near, number, span, [Count(evidence, audience, number, span)], Nobody);
    }

    private static AudienceClaim OfLooks(PreparedEvidence evidence, Audience audience)
    {
        var looked = LookedAt(evidence, audience);
        var number = evidence.Callout.Brief.From.Measure == Measure.PageViews ? looked.Views : looked.Visitors;
        return new AudienceClaim([], 0, number, looked.Span, [Count(evidence, audience, number, looked.Span)], Nobody);
    }

    private static AudienceClaim OfHeads(PreparedEvidence evidence, Audience audience)
    {
        if (evidence.Callout.Brief.From.WindowMinutes is not null)
        {
            var looked = LookedAt(evidence, audience);
            var lately = Count(evidence, audience, looked.Visitors, looked.Span);
            return new AudienceClaim([], 0, looked.Visitors, looked.Span, [lately], Nobody);
        }
        var present = evidence
            .Traffic.Present.Where(p =>
                audience.Path.Length > 0 ? p.Value.Path == audience.Path : evidence.Callout.CountsPage(p.Value)
            )
            .Select(p => p.Key)
            .ToFrozenSet();
        var turn = Count(evidence, audience, present.Count, Duration.Zero);
        return new AudienceClaim([], 0, present.Count, Duration.Zero, [turn], present);
    }

    /// <summary>A count worded for those whose own part is not in it.</summary>
    public static PreparedTurn Count(PreparedEvidence evidence, Audience audience, int number, Duration span) =>
        TurnWriter.Count(
            evidence.Callout.Brief.Say,
            audience.Wording,
            number,
            new Stretch(span, evidence.Callout.Evidence.Window)
        );

    /// <summary>The stretch that a count covers once the reader's own part is left out: nobody's own doing makes it longer.</summary>
    public static Duration SpanWithout(
        PreparedEvidence evidence,
        AudienceClaim claim,
        Audience audience,
        ReaderIdentity reader
    )
    {
        if (claim.Present.Count > 0)
            return claim.Span;
        if (BriefEvidence.CountsTraffic(evidence.Callout.Brief))
        {
            var looked = LookedAt(evidence, audience);
            return looked.OldestVisitor == reader.VisitorId ? looked.OthersSpan : looked.Span;
        }
        var own = claim.Events.Where(reader.Did).Select(evidence.People.Of).ToHashSet();
        var others = claim.Events.Where(e => !reader.Did(e) && !own.Contains(evidence.People.Of(e)));
        return EvidenceSelector.TrueSpan([.. others], evidence.Callout.Evidence.Window, evidence.Now);
    }

    private static Looked LookedAt(PreparedEvidence evidence, Audience audience)
    {
        var looked = evidence.Traffic.LookedAt.GetValueOrDefault(evidence.Callout.Id, Looked.None);
        return audience.Path.Length == 0 ? looked : looked.ByPath.GetValueOrDefault(audience.Path, Looked.None);
    }

    private static AudienceClaim Worded(
        PreparedEvidence evidence,
        Audience audience,
        IReadOnlyList<LedgerEvent> events,
        int near,
        int number
    )
    {
        var turns = new List<PreparedTurn>(Math.Min(events.Count, PreparedEvidence.MostWorded));
        string? failure = null;
        foreach (var happened in events.Take(PreparedEvidence.MostWorded))
            try
            {
                turns.Add(Word(evidence, audience, happened));
            }
            catch (WordingException failed)
            {
                // One event that cannot be said leaves the others to be told.
                failure = failed.Message;
            }
        return new AudienceClaim(events, near, number, SpanOf(events, evidence), turns, Nobody)
        {
            Failure = turns.Count == 0 ? failure : null,
        };
    }

    private static PreparedTurn Word(PreparedEvidence evidence, Audience audience, LedgerEvent happened) =>
        TurnWriter.Event(
            evidence.Callout.Brief.Say,
            audience.Wording,
            happened,
            evidence.DisplayOf(happened.SourceId),
            evidence.Crowd,
            evidence.Now,
            evidence.Zone
        );

    private static (IReadOnlyList<LedgerEvent> Events, int Near) Near(
        PreparedEvidence evidence,
        Audience audience,
        IReadOnlyList<LedgerEvent> events
    )
    {
        var nearness = evidence.Callout.Brief.From.Near;
        if (nearness == Nearness.Anywhere)
            return (events, 0);
        bool IsNear(LedgerEvent e) =>
            audience.Near.Length > 0
            && string.Equals(
                nearness is Nearness.CountryFirst or Nearness.CountryOnly ? e.Place.Country : e.Place.Region,
                audience.Near,
                StringComparison.OrdinalIgnoreCase
            );
        var near = events.Where(IsNear).ToList();
        return
            nearness is Nearness.CountryOnly or Nearness.RegionOnly || evidence.Callout.Brief.Kind == CalloutKind.Tally
            ? (nearness is Nearness.CountryOnly or Nearness.RegionOnly ? near : events, near.Count)
            : ([.. near, .. events.Where(e => !IsNear(e))], near.Count);
    }

    /// <summary>Those of the events that are about the product of a page; all of them for no page in particular.</summary>
    public static IReadOnlyList<LedgerEvent> OfPage(IReadOnlyList<LedgerEvent> events, string path) =>
        path.Length == 0 ? events : [.. events.Where(e => PageAddress.TryParse(e.Product?.Address)?.Path == path)];

    private static Duration SpanOf(IReadOnlyList<LedgerEvent> events, PreparedEvidence evidence)
    {
        if (ReferenceEquals(events, evidence.Events) || events.Count == evidence.Counted)
            return evidence.Span;
        return EvidenceSelector.TrueSpan(events, evidence.Callout.Evidence.Window, evidence.Now);
    }

    /// <summary>What an event says is left; null when it says nothing.</summary>
    public static decimal? LevelOf(LedgerEvent happened) => NumberOf(happened, EventFields.Left);

    private static decimal TotalOf(LedgerEvent happened) => NumberOf(happened, EventFields.Total) ?? 0;

    private static decimal? NumberOf(LedgerEvent happened, string field) =>
        decimal.TryParse(
            happened.Fields.GetValueOrDefault(field),
            System.Globalization.NumberStyles.Number,
            System.Globalization.CultureInfo.InvariantCulture,
            out var number
        )
            ? number
            : null;
}
