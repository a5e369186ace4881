using NodaTime;

namespace Outcry.Core.Care;

/// <summary>Tells a rush from a source's usual pace: what anybody's browser can cause, anybody can cause by the hundred.</summary>
/// <remarks>A rush is held for a look and not refused: it may be the day of a newsletter.</remarks>
public static class Rush
{
    /// <summary>The stretch over which events are counted.</summary>
    public static Duration Window { get; } = Duration.FromMinutes(10);

    /// <summary>So many in one stretch are no rush, however quiet the source usually is.</summary>
    public const int AlwaysUsual = 20;

    /// <summary>A busy hour has several times the average of a week, and a campaign's several times that.</summary>
    private const int TimesTheAverage = 10;

    private const int WindowsPerWeek = 7 * 24 * 6;

    /// <summary>Events of one stretch that are still usual.</summary>
    /// <param name="lastWeek">Events of the source in the seven days before.</param>
    public static int Most(int lastWeek) => Math.Max(AlwaysUsual, TimesTheAverage * lastWeek / WindowsPerWeek);
}
