using NodaTime;

namespace Outcry.Core.Evidence;

/// <summary>Which events a callout draws on.</summary>
/// <param name="Sources">The sources; none means nothing can be drawn.</param>
/// <param name="Conditions">Conditions on the events' fields.</param>
/// <param name="Join">How the conditions are joined.</param>
/// <param name="Window">Rolling window back from now; null for all time.</param>
/// <param name="LeastNumber">Fewest events before anything is said, at least 1.</param>
public sealed record EvidenceRule(
    IReadOnlyCollection<Guid> Sources,
    IReadOnlyList<FieldCondition> Conditions,
    Join Join,
    Duration? Window,
    int LeastNumber
)
{
    /// <summary>Why an event is not among those the rule draws on at the given time, or null when it is.</summary>
    public EvidenceRefusal? Refuses(LedgerEvent happened, Instant now)
    {
        if (!Sources.Contains(happened.SourceId))
            return EvidenceRefusal.OtherSource;
        if (happened.State == EventState.OwnTest)
            return EvidenceRefusal.Test;
        if (happened.State == EventState.Hidden)
            return EvidenceRefusal.Hidden;
        if (happened.At > now)
            return EvidenceRefusal.Future;
        if (Window is { } window && now - happened.At > window)
            return EvidenceRefusal.TooOld;
        return Fits(happened) ? null : EvidenceRefusal.Condition;
    }

    private bool Fits(LedgerEvent happened) =>
        Conditions.Count == 0
        || (Join == Join.All ? Conditions.All(c => c.Holds(happened)) : Conditions.Any(c => c.Holds(happened)));
}

/// <summary>Why an event is not drawn on.</summary>
public enum EvidenceRefusal
{
    /// <summary>From another source.</summary>
    OtherSource,

    /// <summary>A member's own try.</summary>
    Test,

    /// <summary>Taken out by a member.</summary>
    Hidden,

    /// <summary>Dated after now.</summary>
    Future,

    /// <summary>Older than the window.</summary>
    TooOld,

    /// <summary>A condition does not hold.</summary>
    Condition,
}
