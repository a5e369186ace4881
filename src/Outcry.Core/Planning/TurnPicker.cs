using Outcry.Core.Evidence;
using Outcry.Core.Visitors;

namespace Outcry.Core.Planning;

/// <summary>Picks the events one visitor is told, in the order of the turns.</summary>
internal static class TurnPicker
{
    /// <summary>The turns, or the reason why there are none.</summary>
    public static (IReadOnlyList<PreparedTurn> Turns, Reason? Reason) Pick(
        Callout callout,
        PreparedEvidence evidence,
        VisitorRecord visitor,
        Reader reader,
        int leastNumber
    )
    {
        var from = callout.Brief.From;
        if (evidence.Counted < leastNumber)
            return ([], new TooFewEvents(leastNumber, evidence.Counted, from.WindowMinutes));
        var own = OwnAmong(evidence, reader);
        if (evidence.Counted - own < leastNumber)
            return ([], new OnlyOwnEvents(leastNumber, evidence.Counted, own));

        ulong? seed = from.Shuffle
            ? SteadyShuffle.Seed(visitor.VisitorId, visitor.Visit.Number, callout.Id, callout.Revision)
            : null;
        var picked = PickInOrder(evidence.Turns, reader, own > 0, seed, callout.Brief.When.Turns);
        return picked.Count == 0 ? ([], new OnlyOwnEvents(leastNumber, evidence.Counted, own)) : (picked, null);
    }

    // Hardly any reader has done anything that is told, so the count is only made for those who may have.
    private static int OwnAmong(PreparedEvidence evidence, Reader reader)
    {
        var own = 0;
        if (reader.PersonKeys.Count > 0)
            foreach (var happened in evidence.Events)
                if (reader.Did(happened))
                    own++;
        return own;
    }

    // The same person does not come twice in a row; who would is passed over for the next in order.
    private static List<PreparedTurn> PickInOrder(
        IReadOnlyList<PreparedTurn> newestFirst,
        Reader reader,
        bool hasOwn,
        ulong? seed,
        int turns
    )
    {
        var picked = new List<PreparedTurn>(turns);
        ulong after = 0;
        var place = 0;
        while (picked.Count < turns)
        {
            var next = seed is { } s ? NextByRank(newestFirst, s, ref after) : NextInPlace(newestFirst, ref place);
            if (next is null)
                break;
            if (hasOwn && reader.Did(next.Event))
                continue;
            if (picked is [.., var last] && last.Event.PersonKey == next.Event.PersonKey)
                continue;
            picked.Add(next);
        }
        return picked;
    }

    private static PreparedTurn? NextInPlace(IReadOnlyList<PreparedTurn> turns, ref int place) =>
        place < turns.Count ? turns[place++] : null;

    // A few turns out of at most fifty: looking for the next smallest rank needs no sorted copy.
    private static PreparedTurn? NextByRank(IReadOnlyList<PreparedTurn> turns, ulong seed, ref ulong after)
    {
        PreparedTurn? best = null;
        var bestRank = ulong.MaxValue;
        for (var i = 0; i < turns.Count; i++)
        {
            var rank = SteadyShuffle.Rank(seed, turns[i].Event.Id);
            if (rank > after && rank < bestRank)
                (best, bestRank) = (turns[i], rank);
        }
        after = bestRank;
        return best;
    }
}
