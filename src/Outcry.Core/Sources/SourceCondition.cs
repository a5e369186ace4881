using NodaTime;

namespace Outcry.Core.Sources;

/// <summary>How a source stands, at a glance.</summary>
public enum SourceCondition
{
    /// <summary>Nothing is wrong with it.</summary>
    Well,

    /// <summary>A member paused it.</summary>
    Paused,

    /// <summary>What came last was refused.</summary>
    Refusing,

    /// <summary>Less than half its usual day came in.</summary>
    Quiet,
}

/// <summary>What is known of a source's last time.</summary>
/// <param name="IsPaused">Whether nothing is taken in.</param>
/// <param name="LastEventAt">When its newest event happened.</param>
/// <param name="RefusedAt">When something was last refused.</param>
/// <param name="EventsLastDay">Events of the last 24 hours.</param>
/// <param name="UsualDay">Events of a usual day: the median of the four weeks before; null without a past.</param>
public sealed record SourceTraces(
    bool IsPaused,
    Instant? LastEventAt,
    Instant? RefusedAt,
    int EventsLastDay,
    double? UsualDay
)
{
    /// <summary>A usual day with fewer events than this says nothing about today.</summary>
    public const int LeastUsualDay = 10;

    /// <summary>The condition: a pause before a refusal, a refusal before a quiet day.</summary>
    public SourceCondition Judge() =>
        IsPaused ? SourceCondition.Paused
        // Since the last event came: something is wrong now, not once upon a time.
        : RefusedAt is { } refused && !(LastEventAt >= refused) ? SourceCondition.Refusing
        : UsualDay >= LeastUsualDay && EventsLastDay < UsualDay / 2 ? SourceCondition.Quiet
        : SourceCondition.Well;
}
