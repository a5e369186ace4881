namespace Outcry.Core.Evidence;

/// <summary>Orders that look random but stay the same for the same seed, without storing anything.</summary>
public static class SteadyShuffle
{
    /// <summary>A seed from what must stay together: the same visit, callout and revision give the same order.</summary>
    public static ulong Seed(string visitorId, int visitNumber, Guid callout, int revision)
    {
        var hash = FnvOffset;
        foreach (var letter in visitorId)
            hash = Mix(hash, letter);
        hash = Mix(hash, (ulong)visitNumber);
        hash = Mix(hash, Fold(callout));
        return Mix(hash, (ulong)revision);
    }

    /// <summary>The rank of one item under a seed; sorting by it shuffles.</summary>
    public static ulong Rank(ulong seed, Guid item) => Rank(seed, Fold(item));

    /// <summary>The same for an item that was folded before, as those are that are ranked for one reader after another.</summary>
    public static ulong Rank(ulong seed, ulong folded) => Mix(seed, folded);

    /// <summary>What of an item its rank depends on.</summary>
    public static ulong Fold(Guid item)
    {
        Span<byte> bytes = stackalloc byte[16];
        item.TryWriteBytes(bytes);
        return BitConverter.ToUInt64(bytes) ^ BitConverter.ToUInt64(bytes[8..]);
    }

    private const ulong FnvOffset = 14695981039346656037;

    // The finaliser of SplitMix64 (Steele, Lea, Flood 2014): every input bit reaches every output bit.
    private static ulong Mix(ulong hash, ulong value)
    {
        unchecked
        {
            var z = hash + value + 0x9E3779B97F4A7C15;
            z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9;
            z = (z ^ (z >> 27)) * 0x94D049BB133111EB;
            return z ^ (z >> 31);
        }
    }
}
