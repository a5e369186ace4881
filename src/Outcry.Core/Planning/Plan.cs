using NodaTime;
using Outcry.Core.Visitors;

namespace Outcry.Core.Planning;

/// <summary>A callout that may show on this page view.</summary>
/// <param name="Callout">The callout.</param>
/// <param name="Turns">What it says, turn by turn, already worded.</param>
public sealed record ArmedCallout(Callout Callout, IReadOnlyList<PreparedTurn> Turns)
{
    /// <summary>When it is due, in milliseconds of visible time from the page view's start.</summary>
    public long DueMs => Callout.Brief.When.AfterSeconds * 1000L;

    /// <summary>How long a turn stays: the brief's seconds, and one more for each 40 characters over 80.</summary>
    public long StayMs(int turn) => StayFor(Callout.Brief.Look.StaySeconds, Turns[turn].Length);

    /// <summary>The stay of a text, in milliseconds.</summary>
    public static long StayFor(int seconds, int characters) =>
        (seconds + Math.Max(0, characters - FreeCharacters) / CharactersPerSecond) * 1000L;

    private const int FreeCharacters = 80;
    private const int CharactersPerSecond = 40;
}

/// <summary>A callout that will not show on this page view, and why.</summary>
public sealed record LeftOut(Callout Callout, Reason Reason);

/// <summary>What may happen on one page view.</summary>
/// <param name="Armed">Callouts on the plan, by priority, then age.</param>
/// <param name="LeftOut">All others with their reason; empty when no explanation was asked for.</param>
public sealed record Plan(IReadOnlyList<ArmedCallout> Armed, IReadOnlyList<LeftOut> LeftOut);

/// <summary>How a plan is made.</summary>
/// <param name="Explain">Whether every callout left out is named with its reason, which live traffic does without.</param>
/// <param name="LiftLimits">Whether hush, how often and least numbers are lifted, as on a trial visit.</param>
public sealed record PlanOptions(bool Explain = false, bool LiftLimits = false)
{
    /// <summary>As for live traffic.</summary>
    public static PlanOptions Live { get; } = new();

    /// <summary>With every reason.</summary>
    public static PlanOptions Explained { get; } = new(Explain: true);
}
