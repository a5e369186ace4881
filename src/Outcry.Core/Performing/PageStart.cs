using System.Collections.Immutable;
using NodaTime;

namespace Outcry.Core.Performing;

/// <summary>What a page view takes over from the visit so far.</summary>
/// <param name="Starts">Callouts started in the visit that count against its budget.</param>
/// <param name="SinceLastEndMs">Milliseconds since a floating or dialog callout last ended in this visit; null when none did.</param>
/// <param name="HushLeftMs">Milliseconds of hush still to run; 0 when there is none.</param>
/// <param name="DialogHushLeftMs">The same for dialogs alone.</param>
/// <param name="At">The page view's start, from which hush reasons are told.</param>
public sealed record PageStart(int Starts, long? SinceLastEndMs, long HushLeftMs, long DialogHushLeftMs, Instant At)
{
    /// <summary>Whether the visitor goes by touch, for which leaving is told otherwise than by a pointer.</summary>
    public bool IsTouch { get; init; }

    /// <summary>Whether nobody of the team is there as the page view begins.</summary>
    public bool IsTeamAway { get; init; }

    /// <summary>Callouts for which this page leaves no room.</summary>
    public IReadOnlyCollection<Guid> WithoutRoom { get; init; } = [];

    /// <summary>Insets whose place is known not to be on this page, with its selector.</summary>
    public IReadOnlyDictionary<Guid, string> WithoutPlace { get; init; } = ImmutableDictionary<Guid, string>.Empty;

    /// <summary>The first page view of a visit without history.</summary>
    public static PageStart Fresh(Instant at) => new(0, null, 0, 0, at);

    /// <summary>The start that follows from what is known of a visitor.</summary>
    public static PageStart Of(Visitors.VisitorRecord visitor, Instant now) =>
        new(
            visitor.Visit.Starts,
            visitor.Visit.LastEndAt is { } end ? (long)(now - end).TotalMilliseconds : null,
            Left(visitor.HushUntil, now),
            Left(visitor.DialogHushUntil, now),
            now
        );

    private static long Left(Instant? until, Instant now) =>
        until is { } u && u > now ? (long)(u - now).TotalMilliseconds : 0;
}
