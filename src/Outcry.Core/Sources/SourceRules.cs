using Outcry.Core.Care;
using Outcry.Core.Evidence;

namespace Outcry.Core.Sources;

/// <summary>What a source lets in, and in which state.</summary>
/// <param name="Conditions">Conditions an arrival must meet to count at all.</param>
/// <param name="Join">How they are joined.</param>
/// <param name="HoldsAll">Whether everything waits for a look.</param>
/// <param name="LeastStars">Fewest stars of a review that may be shown: 0 to 5.</param>
public sealed record SourceRules(
    IReadOnlyList<FieldCondition> Conditions,
    Join Join,
    bool HoldsAll = false,
    decimal LeastStars = 0
)
{
    /// <summary>Everything comes in, nothing waits.</summary>
    public static SourceRules Open { get; } = new([], Join.All);

    /// <summary>Whether an event meets the source's conditions.</summary>
    public bool Admits(LedgerEvent happened) =>
        Conditions.Count == 0
        || (Join == Join.All ? Conditions.All(c => c.Holds(happened)) : Conditions.Any(c => c.Holds(happened)));
}

/// <summary>The state an event begins in, and what decided it.</summary>
/// <param name="State">The state.</param>
/// <param name="Because">For a held event the word found, or empty where everything is held.</param>
public sealed record FirstState(EventState State, string Because = "");

/// <summary>Decides the state an event begins in.</summary>
public static class FirstLook
{
    /// <summary>
    /// In this order, the first that holds decides: an own test; a repeat; too few stars (hidden); a blocked word (held);
    /// a rush (held); a source that holds everything (held); else usable.
    /// </summary>
    /// <param name="arrival">What arrived.</param>
    /// <param name="rules">The source's rules.</param>
    /// <param name="words">The site's blocked words.</param>
    /// <param name="isOwn">Whether a member, a test host or a test send is behind it.</param>
    /// <param name="isRepeat">Whether it was told before.</param>
    public static FirstState Decide(
        IncomingEvent arrival,
        SourceRules rules,
        BlockedWords words,
        bool isOwn,
        bool isRepeat
    )
    {
        if (isOwn || arrival.IsTest)
            return new FirstState(EventState.OwnTest);
        if (isRepeat)
            return new FirstState(EventState.Duplicate);
        if (TooFewStars(arrival, rules.LeastStars))
            return new FirstState(EventState.Hidden, "too few stars");
        if (words.FindIn(arrival.ShownTexts) is { } found)
            return new FirstState(EventState.Held, found);
        if (arrival.IsRush)
            return new FirstState(EventState.Held, RushBecause);
        return rules.HoldsAll ? new FirstState(EventState.Held) : new FirstState(EventState.Usable);
    }

    /// <summary>Stands where a blocked word stands otherwise, for what came in a rush.</summary>
    public const string RushBecause = "many more at once than usual";

    private static bool TooFewStars(IncomingEvent arrival, decimal least) =>
        least > 0
        && arrival.Fields.TryGetValue(EventFields.Stars, out var written)
        && ValueReading.Amount(written) is { } stars
        && stars < least;
}

/// <summary>Whether a host is one where a team tries things out.</summary>
public static class HostRule
{
    /// <summary>
    /// Whether the host, with its port where there is one, fits one of the patterns: itself, or "*." and a domain for every host below it.
    /// </summary>
    public static bool Fits(IEnumerable<string> patterns, string host)
    {
        foreach (var pattern in patterns)
            if (
                pattern.StartsWith("*.", StringComparison.Ordinal)
                    ? host.EndsWith(pattern[1..], StringComparison.OrdinalIgnoreCase)
                    : string.Equals(pattern, host, StringComparison.OrdinalIgnoreCase)
            )
                return true;
        return false;
    }
}
