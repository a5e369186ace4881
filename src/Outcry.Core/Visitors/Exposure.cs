using NodaTime;

namespace Outcry.Core.Visitors;

/// <summary>What one visitor has met of one callout.</summary>
/// <param name="Visits">Visits in which it started; several starts in a visit count once.</param>
/// <param name="LastStartAt">When it last started.</param>
/// <param name="LastStartVisit">Number of the visit in which it last started.</param>
/// <param name="LastCloseAt">When the visitor last closed it, if ever.</param>
/// <param name="LastClickAt">When the visitor last clicked it, if ever.</param>
public sealed record Exposure(
    int Visits,
    Instant LastStartAt,
    int LastStartVisit,
    Instant? LastCloseAt = null,
    Instant? LastClickAt = null
)
{
    /// <summary>Starts remembered one by one; a weekly limit cannot be higher.</summary>
    public const int MostRecent = 10;

    /// <summary>The last start of each of the latest visits, oldest first, at most <see cref="MostRecent"/>.</summary>
    public IReadOnlyList<Instant> RecentStarts { get; init; } = [LastStartAt];
}
