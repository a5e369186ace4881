using NodaTime;

namespace Outcry.Core.Talks;

/// <summary>How soon people usually answer, said honestly or not at all.</summary>
public static class UsualAnswer
{
    /// <summary>Fewer talks say nothing.</summary>
    public const int LeastTalks = 10;

    /// <summary>First answers of so many days count.</summary>
    public static Duration Span { get; } = Duration.FromDays(14);

    /// <summary>The steps in which it is said, in minutes; the last is a day.</summary>
    private static readonly int[] Steps = [1, 2, 5, 10, 15, 30, 60, 120, 240, 1_440];

    /// <summary>The median of first answers, as the next of the steps, in minutes; null for too few talks.</summary>
    /// <param name="firstAnswers">Open time from a visitor's first word to the first answer by a person.</param>
    public static int? Minutes(IReadOnlyCollection<Duration> firstAnswers)
    {
        if (firstAnswers.Count < LeastTalks)
            return null;
        var sorted = firstAnswers.Order().ToList();
        var middle = sorted.Count / 2;
        var median = sorted.Count % 2 == 1 ? sorted[middle] : (sorted[middle - 1] + sorted[middle]) / 2;
        var index = Array.FindIndex(Steps, s => median <= Duration.FromMinutes(s));
        return Steps[index < 0 ? ^1 : index];
    }
}
