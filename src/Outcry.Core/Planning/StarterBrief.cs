using Outcry.Core.Evidence;
using Outcry.Core.Saying;
using Outcry.Core.Timing;

namespace Outcry.Core.Planning;

/// <summary>The values a new brief starts with: chosen for a calm site, good enough to leave alone.</summary>
public static class StarterBrief
{
    /// <summary>Seconds before a callout first shows.</summary>
    public const int FirstWaitSeconds = 6;

    /// <summary>Seconds a callout stays.</summary>
    public const int StaySeconds = 7;

    /// <summary>Seconds between two turns.</summary>
    public const int TurnGapSeconds = 12;

    /// <summary>Fewest events before anything is said.</summary>
    public const int LeastNumber = 3;

    /// <summary>Seven days, in minutes.</summary>
    public const int WindowMinutes = 7 * 24 * 60;

    /// <summary>Hours of hush after a close.</summary>
    public const int HushHours = 24;

    /// <summary>A moment on the given sources, worded for their kind of event.</summary>
    public static Brief Moment(EventKind kind, IReadOnlyList<Guid> sources) =>
        new(
            new SayFacet(StarterWording.For(kind), SayPicture.Product, LinkTarget.Product, "", false, true),
            new FromFacet(sources, [], Join.All, WindowMinutes, LeastNumber, true),
            new WhereFacet([], []),
            new WhenFacet(FirstWaitSeconds, 1, TurnGapSeconds),
            new HowOftenFacet(RepeatUnit.Visit, 1, null, HushHours),
            new LookFacet(Shape.Slip, Side.Left, "#9C3517", "#FFFFFF", true, StaySeconds),
            Priority: 5
        );
}
