using System.Globalization;
using NodaTime;
using Outcry.Core.Pages;

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
    /// <summary>Events older than this are left aside before anything is counted; null for no limit but the window.</summary>
    public Duration? Oldest { get; init; }

    /// <summary>Pages on which it must have happened; null for anywhere.</summary>
    public PageRule? Pages { get; init; }

    /// <summary>Fewest stars, 0 to 5; 0 also takes what has none.</summary>
    public decimal LeastStars { get; init; }

    /// <summary>Kinds of event that are told at all; null for every kind.</summary>
    public IReadOnlyCollection<EventKind>? Kinds { get; init; }

    /// <summary>How far back it reaches at most.</summary>
    internal Duration Reach => Duration.Min(Window ?? Duration.MaxValue, Oldest ?? Duration.MaxValue);

    /// <summary>Why an event is not among those the rule draws on at the given time, or null when it is.</summary>
    public EvidenceRefusal? Refuses(LedgerEvent happened, Instant now)
    {
        if (!Sources.Contains(happened.SourceId))
            return EvidenceRefusal.OtherSource;
        if (OfState(happened.State) is { } refusal)
            return refusal;
        if (happened.At > now)
            return EvidenceRefusal.Future;
        if (Window is { } window && now - happened.At > window)
            return EvidenceRefusal.TooOld;
        if (Oldest is { } oldest && now - happened.At > oldest)
            return EvidenceRefusal.TooOld;
        if (Kinds is not null && !Kinds.Contains(happened.Kind))
            return EvidenceRefusal.OtherKind;
        if (Pages is not null && !(PageAddress.TryParse(happened.Page) is { } page && Pages.Decide(page).Shown))
            return EvidenceRefusal.OtherPage;
        // Who speaks up for a site gives no stars; asking for some leaves such words alone.
        if (LeastStars > 0 && !(Stars(happened) >= LeastStars || IsWithoutStars(happened)))
            return EvidenceRefusal.TooFewStars;
        return Fits(happened) ? null : EvidenceRefusal.Condition;
    }

    private static bool IsWithoutStars(LedgerEvent happened) =>
        happened.Kind == EventKind.Endorsement && Stars(happened) is null;

    private static decimal? Stars(LedgerEvent happened) =>
        happened.Fields.TryGetValue(EventFields.Stars, out var written)
        && decimal.TryParse(written, NumberStyles.Number, CultureInfo.InvariantCulture, out var stars)
            ? stars
            : null;

    private static EvidenceRefusal? OfState(EventState state) =>
        state switch
        {
            EventState.Usable => null,
            EventState.OwnTest => EvidenceRefusal.Test,
            EventState.Held => EvidenceRefusal.Held,
            EventState.Duplicate => EvidenceRefusal.Duplicate,
            _ => EvidenceRefusal.Hidden,
        };

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

    /// <summary>Waiting for a look.</summary>
    Held,

    /// <summary>Told a second time.</summary>
    Duplicate,

    /// <summary>Dated after now.</summary>
    Future,

    /// <summary>Older than the window.</summary>
    TooOld,

    /// <summary>A condition does not hold.</summary>
    Condition,

    /// <summary>Of a kind that is not told like this.</summary>
    OtherKind,

    /// <summary>It happened on another page.</summary>
    OtherPage,

    /// <summary>A review with fewer stars than asked for.</summary>
    TooFewStars,
}
