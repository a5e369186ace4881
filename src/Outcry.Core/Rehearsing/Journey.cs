using NodaTime;
using Outcry.Core.Pages;
using Outcry.Core.Planning;

namespace Outcry.Core.Rehearsing;

/// <summary>One page of an imagined visit.</summary>
/// <param name="Page">The page.</param>
/// <param name="StayMs">Milliseconds until the visitor goes on.</param>
/// <param name="Acts">What the visitor does there.</param>
public sealed record JourneyPage(PageAddress Page, long StayMs, IReadOnlyList<Act> Acts)
{
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
);
