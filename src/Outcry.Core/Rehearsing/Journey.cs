using NodaTime;
using Outcry.Core.Greetings;
using Outcry.Core.Pages;
using Outcry.Core.Performing;
using Outcry.Core.Planning;
using Outcry.Core.Visitors;

namespace Outcry.Core.Rehearsing;

/// <summary>One page of an imagined visit.</summary>
/// <param name="Page">The page.</param>
/// <param name="StayMs">Milliseconds until the visitor goes on.</param>
/// <param name="Acts">What the visitor does there.</param>
public sealed record JourneyPage(PageAddress Page, long StayMs, IReadOnlyList<Act> Acts)
{
    /// <summary>Callouts for which the page leaves no room.</summary>
    public IReadOnlyCollection<Guid> WithoutRoom { get; init; } = [];

    /// <summary>Milliseconds between leaving it and arriving at the next page.</summary>
    public long AwayMs { get; init; }

    /// <summary>From where and by which campaign the visit comes, should it begin here.</summary>
    public WayIn CameBy { get; init; } = WayIn.Unknown;

    /// <summary>A page that is only looked at.</summary>
    public static JourneyPage Reading(PageAddress page, Duration stay) => new(page, (long)stay.TotalMilliseconds, []);
}

/// <summary>What one page of a rehearsal came to.</summary>
/// <param name="Page">The page.</param>
/// <param name="Armed">Callouts on the plan.</param>
/// <param name="Outcome">What was shown and what missed its turn.</param>
/// <param name="LeftOut">Callouts not on the plan, with their reason.</param>
public sealed record RehearsedPage(
    JourneyPage Page,
    IReadOnlyList<ArmedCallout> Armed,
    PageOutcome Outcome,
    IReadOnlyList<LeftOut> LeftOut
)
{
    /// <summary>The launcher that stands on the page; null for none.</summary>
    public Launcher? Stands { get; init; }

    /// <summary>Whether that is open as the page is arrived at.</summary>
    public bool IsOpen { get; init; }
}
