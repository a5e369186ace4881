using NodaTime;

namespace Outcry.Core.Timing;

/// <summary>Reads local times of a zone as instants, where its clocks change too: so that a stretch covers all between its ends.</summary>
/// <remarks>A time that a change of clocks skips is the end of the gap, for both; of one that comes twice an opening takes the first, a closing the second.</remarks>
public static class WallClock
{
    /// <summary>When something that begins at a local time begins.</summary>
    public static Instant Opening(LocalDateTime local, DateTimeZone zone)
    {
        var mapping = zone.MapLocal(local);
        return mapping.Count == 0 ? mapping.LateInterval.Start : mapping.First().ToInstant();
    }

    /// <summary>When something that ends at a local time ends.</summary>
    public static Instant Closing(LocalDateTime local, DateTimeZone zone)
    {
        var mapping = zone.MapLocal(local);
        return mapping.Count == 0 ? mapping.LateInterval.Start : mapping.Last().ToInstant();
    }
}
