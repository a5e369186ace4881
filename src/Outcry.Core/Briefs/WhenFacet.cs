using Outcry.Core.Evidence;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;

namespace Outcry.Core.Briefs;

/// <summary>At which moment of a page view, and on which dates and at which hours.</summary>
/// <param name="Triggers">What has to happen; none means on arrival.</param>
/// <param name="Join">Whether all of it or any.</param>
/// <param name="Turns">Events told one after another: 1 to 10.</param>
/// <param name="TurnGapSeconds">Seconds between two turns: 1 to 600.</param>
/// <param name="Rounds">How often the turns are gone through: 1 to 100; 0 for until closed or clicked.</param>
/// <param name="Schedule">Dates and hours.</param>
/// <param name="OnlyIfAvailable">Only while somebody of the team is there, asked again at the moment of starting.</param>
public sealed record WhenFacet(
    IReadOnlyList<Trigger> Triggers,
    Join Join,
    int Turns,
    int TurnGapSeconds,
    int Rounds,
    Schedule Schedule,
    bool OnlyIfAvailable
) : DueFacet(Triggers, Join, Schedule, OnlyIfAvailable);
