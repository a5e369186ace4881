using System.Collections.Immutable;
using NodaTime;
using Outcry.Core.Pages;

namespace Outcry.Core.Claims;

/// <summary>How often pages were looked at in a window.</summary>
/// <param name="Views">Page views.</param>
/// <param name="Visitors">Visitors, each once.</param>
/// <param name="Span">The stretch truly covered: the smaller of the window and the age of the oldest view.</param>
public sealed record Looked(int Views, int Visitors, Duration Span)
{
    /// <summary>Whose view the oldest is; null when nobody looked.</summary>
    public string? OldestVisitor { get; init; }

    /// <summary>The stretch without that visitor's views, which is what they themselves may be told.</summary>
    public Duration OthersSpan { get; init; }

    /// <summary>The same for each single path; empty when nobody asked.</summary>
    public IReadOnlyDictionary<string, Looked> ByPath { get; init; } = ImmutableDictionary<string, Looked>.Empty;

    /// <summary>Nobody looked.</summary>
    public static Looked None { get; } = new(0, 0, Duration.Zero);
}

/// <summary>The recorded traffic that callouts draw on, as of one moment.</summary>
/// <param name="Present">The page on which each visitor with a sign of life in the last 60 seconds is, by visitor id.</param>
/// <param name="LookedAt">What was looked at, by the callout that counts it.</param>
public sealed record Traffic(
    IReadOnlyDictionary<string, PageAddress> Present,
    IReadOnlyDictionary<Guid, Looked> LookedAt
)
{
    /// <summary>Nobody is here and nobody was.</summary>
    public static Traffic None { get; } =
        new(ImmutableDictionary<string, PageAddress>.Empty, ImmutableDictionary<Guid, Looked>.Empty);
}
