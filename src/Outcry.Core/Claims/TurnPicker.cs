using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Explaining;
using Outcry.Core.Pages;
using Outcry.Core.Visitors;

namespace Outcry.Core.Claims;

/// <summary>How turns are picked.</summary>
/// <param name="LiftLimits">Whether the least number is lifted, as on a trial visit.</param>
/// <param name="StaysOnly">Whether turns need only be as many as those told, and stay as long, whatever they say.</param>
internal readonly record struct TurnOptions(bool LiftLimits, bool StaysOnly);

/// <summary>Picks what one visitor is told, in the order of the turns.</summary>
internal static class TurnPicker
{
    /// <summary>The turns, or the reason why there are none.</summary>
    /// <param name="evidence">The callout's evidence.</param>
    /// <param name="visitor">Who reads.</param>
    /// <param name="reader">Whose own events are left out.</param>
    /// <param name="page">On which page.</param>
    /// <param name="options">Whether least numbers are lifted, and whether the words themselves matter.</param>
    public static (IReadOnlyList<PreparedTurn> Turns, Reason? Reason) Pick(
        PreparedEvidence evidence,
        FactReader visitor,
        ReaderIdentity reader,
        PageAddress page,
        TurnOptions options
    )
    {
        var brief = evidence.Callout.Brief;
        var wording = evidence.Callout.Messages.For(visitor.Facts.Languages);
        var audience = evidence.AudienceOf(wording, visitor.Facts.Place, page);
        var claim = evidence.For(audience);
        var needs = options.LiftLimits ? 1 : NeededBy(brief);
        if (claim.Failure is { } failure)
            return ([], new WordingFailed(failure));
        if (claim.Number < needs)
            return ([], Missing(evidence, claim, needs, audience));
        if (options.StaysOnly && reader.PersonKeys.Count == 0 && claim.AlikeFor(evidence.Callout) is { } alike)
            return (alike, null);
        return brief.Kind switch
        {
            CalloutKind.Notice or CalloutKind.Prompt => (claim.Turns, null),
            CalloutKind.Tally or CalloutKind.Headcount => Count(evidence, claim, audience, visitor, reader, needs),
            CalloutKind.Standing => Stories(evidence.Callout, claim, visitor, reader, needs, ownCount: false),
            _ => Stories(
                evidence.Callout,
                claim,
                visitor,
                reader,
                brief.Kind == CalloutKind.Remainder ? 1 : needs,
                ownCount: true
            ),
        };
    }

    /// <summary>The least number before a brief says anything.</summary>
    public static int NeededBy(Brief brief) =>
        brief.Kind is CalloutKind.Remainder or CalloutKind.Notice or CalloutKind.Prompt ? 1 : brief.From.LeastNumber;

    /// <summary>Why there is nothing to say yet.</summary>
    public static Reason Missing(PreparedEvidence evidence, AudienceClaim claim, int needs, Audience audience)
    {
        var brief = evidence.Callout.Brief;
        if (brief.Kind == CalloutKind.Remainder)
        {
            var ofPage = ClaimMaker.OfPage(evidence.Events, audience.Path);
            if (brief.From.OfThisPage && ofPage.Count == 0)
                return new TooFewOfPage(1, 0);
            var lowest = ofPage
                .DistinctBy(e => e.Product?.Name ?? "")
                .Select(ClaimMaker.LevelOf)
                .Where(l => l > 0)
                .Min();
            return new NothingLow(brief.From.MostLeft, (int?)lowest);
        }
        if (brief.From.Near is Nearness.CountryOnly or Nearness.RegionOnly && evidence.Counted >= needs)
            return new TooFewNear(needs, claim.Number, audience.Near);
        if (brief.From.OfThisPage && evidence.Counted >= needs)
            return new TooFewOfPage(needs, claim.Number);
        return new TooFewEvents(needs, claim.Number, brief.From.WindowMinutes);
    }

    private static (IReadOnlyList<PreparedTurn> Turns, Reason? Reason) Count(
        PreparedEvidence evidence,
        AudienceClaim claim,
        Audience audience,
        FactReader visitor,
        ReaderIdentity reader,
        int needs
    )
    {
        var own = OwnShare(evidence, claim, visitor, reader);
        if (own == 0)
            return (claim.Turns, null);
        return claim.Number - own < needs
            ? ([], new OnlyOwnEvents(needs, claim.Number, own))
            : (
                [
                    ClaimMaker.Count(
                        evidence,
                        audience,
                        claim.Number - own,
                        ClaimMaker.SpanWithout(evidence, claim, audience, reader)
                    ),
                ],
                null
            );
    }

    // Whose own part cannot be told exactly from what the browser carries is told of at least that much less, never more.
    private static int OwnShare(
        PreparedEvidence evidence,
        AudienceClaim claim,
        FactReader visitor,
        ReaderIdentity reader
    )
    {
        var brief = evidence.Callout.Brief;
        if (claim.Present.Count > 0)
            return claim.Present.Contains(reader.VisitorId) ? 1 : 0;
        if (BriefEvidence.CountsTraffic(brief))
        {
            var before = Math.Max(0, visitor.Record.PagesEver - 1);
            return Math.Min(
                brief.From.Measure == Measure.PageViews && brief.Kind == CalloutKind.Tally
                    ? before
                    : Math.Min(before, 1),
                claim.Number
            );
        }
        if (reader.PersonKeys.Count == 0)
            return 0;
        return brief.From.Measure == Measure.People
            ? evidence.People.Count(claim.Events.Where(reader.Did))
            : claim.Events.Count(reader.Did);
    }

    private static (IReadOnlyList<PreparedTurn> Turns, Reason? Reason) Stories(
        Callout callout,
        AudienceClaim claim,
        FactReader visitor,
        ReaderIdentity reader,
        int needs,
        bool ownCount
    )
    {
        var own = OwnAmong(claim.Events, reader);
        if (ownCount && claim.Events.Count - own < needs)
            return ([], new OnlyOwnEvents(needs, claim.Events.Count, own));
        ulong? seed = callout.Brief.From.Shuffle
            ? SteadyShuffle.Seed(visitor.Record.VisitorId, visitor.Record.Visit.Number, callout.Id, callout.Revision)
            : null;
        var picked = PickInOrder(claim, reader, own > 0, seed, callout.Brief);
        return picked.Count == 0 ? ([], new OnlyOwnEvents(needs, claim.Events.Count, own)) : (picked, null);
    }

    // Hardly any reader has done anything that is told, so the count is only made for those who may have.
    private static int OwnAmong(IReadOnlyList<LedgerEvent> events, ReaderIdentity reader)
    {
        var own = 0;
        if (reader.PersonKeys.Count > 0)
            for (var i = 0; i < events.Count; i++)
                if (reader.Did(events[i]))
                    own++;
        return own;
    }

    // The same person does not come twice in a row; who would is passed over for the next in order.
    private static List<PreparedTurn> PickInOrder(
        AudienceClaim claim,
        ReaderIdentity reader,
        bool hasOwn,
        ulong? seed,
        Brief brief
    )
    {
        var turns = brief.When.Turns;
        var picked = new List<PreparedTurn>(turns);
        // At most fifty turns are worded, of which a few are told: each is ranked once, and the next smallest rank looked for.
        Span<ulong> ranks = seed is null ? [] : stackalloc ulong[PreparedEvidence.MostWorded];
        var order = new Order(claim, seed, ranks);
        while (picked.Count < turns && order.Next() is { } next)
        {
            if (hasOwn && reader.Did(next.Event!))
                continue;
            if (picked is [.., var last] && last.Event!.IsSamePerson(next.Event!))
                continue;
            picked.Add(next);
        }
        if (brief.RepeatsTurns && picked.Count > 1 && picked[0].Event!.IsSamePerson(picked[^1].Event!))
            CloseRound(picked, ref order, hasOwn ? reader : null);
        return picked;
    }

    // After the last turn of a round comes the first one of the next: the two are a row as well.
    private static void CloseRound(List<PreparedTurn> picked, ref Order order, ReaderIdentity? reader)
    {
        picked.RemoveAt(picked.Count - 1);
        while (picked.Count > 1 && order.Next() is { } next)
            if (
                reader?.Did(next.Event!) != true
                && !picked[0].Event!.IsSamePerson(next.Event!)
                && !picked[^1].Event!.IsSamePerson(next.Event!)
            )
            {
                picked.Add(next);
                return;
            }
    }

    /// <summary>Goes through the turns, those of near events first; each part in place or shuffled.</summary>
    private ref struct Order
    {
        private readonly IReadOnlyList<PreparedTurn> _turns;
        private readonly ReadOnlySpan<ulong> _ranks;
        private readonly int _near;
        private ulong _after;
        private int _place;
        private bool _far;

        /// <param name="claim">Whose turns.</param>
        /// <param name="seed">What they are shuffled by; null for in place.</param>
        /// <param name="ranks">Where ranks are noted; one for each turn, where there is a seed.</param>
        public Order(AudienceClaim claim, ulong? seed, Span<ulong> ranks)
        {
            _turns = claim.Turns;
            _near = Math.Min(claim.NearCount, _turns.Count);
            if (seed is not { } s)
                return;
            var folded = claim.Folded;
            for (var i = 0; i < folded.Length; i++)
                ranks[i] = SteadyShuffle.Rank(s, folded[i]);
            _ranks = ranks[..folded.Length];
        }

        public PreparedTurn? Next()
        {
            if (_ranks.IsEmpty)
                return _place < _turns.Count ? _turns[_place++] : null;
            if (!_far)
            {
                if (_near > 0 && NextByRank(0, _near) is { } close)
                    return close;
                (_far, _after) = (true, 0);
            }
            return NextByRank(_near, _ranks.Length);
        }

        private PreparedTurn? NextByRank(int from, int until)
        {
            var best = -1;
            var bestRank = ulong.MaxValue;
            for (var i = from; i < until; i++)
            {
                var rank = _ranks[i];
                if (rank > _after && rank < bestRank)
                    (best, bestRank) = (i, rank);
            }
            _after = bestRank;
            return best < 0 ? null : _turns[best];
        }
    }
}
