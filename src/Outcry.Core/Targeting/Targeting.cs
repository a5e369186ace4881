using Outcry.Core.Evidence;
using Outcry.Core.Publishing;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Targeting;

/// <summary>On which pages. No include means every page; excludes win.</summary>
/// <param name="Includes">Patterns of the pages.</param>
/// <param name="Excludes">Patterns of those left out.</param>
/// <param name="Groups">Page groups that are included as well.</param>
/// <param name="Replaces">Whether on its pages it takes the place of callouts of its kind with wider patterns.</param>
public sealed record WhereFacet(
    IReadOnlyList<string> Includes,
    IReadOnlyList<string> Excludes,
    IReadOnlyList<Guid> Groups,
    bool Replaces
);

/// <summary>To whom.</summary>
/// <param name="Rule">Who; <see cref="VisitorRule.Everybody"/> for all.</param>
/// <param name="HiddenOn">Devices on which it is not shown.</param>
public sealed record WhoFacet(VisitorRule Rule, IReadOnlyList<Device> HiddenOn);

/// <summary>When it is due: what has to happen on a page view, and on which dates and at which hours.</summary>
/// <param name="Triggers">What has to happen; none means on arrival.</param>
/// <param name="Join">Whether all of it or any.</param>
/// <param name="Schedule">Dates and hours.</param>
/// <param name="OnlyIfAvailable">Only while somebody of the team is there, asked again at the moment of starting.</param>
public record DueFacet(IReadOnlyList<Trigger> Triggers, Join Join, Schedule Schedule, bool OnlyIfAvailable);

/// <summary>How often for one visitor.</summary>
/// <param name="Unit">The unit.</param>
/// <param name="Every">Of how many of the unit one start is allowed: 1 to 1,000.</param>
/// <param name="MostVisits">Most visits ever: 1 to 1,000; null for no limit.</param>
/// <param name="MostPerWeek">Most visits of seven days: 1 to 10; null for no limit.</param>
/// <param name="UntilClicked">Whether a click on it ends it for good.</param>
/// <param name="HushHours">Hours for which a close hushes the whole site: 0 to 8,760.</param>
/// <param name="AfterClose">How long it stays away itself after a close, where that is longer.</param>
/// <param name="Goals">Sources whose events mean success.</param>
/// <param name="AfterSuccess">How long it stays away after success.</param>
public sealed record HowOftenFacet(
    RepeatUnit Unit,
    int Every,
    int? MostVisits,
    int? MostPerWeek,
    bool UntilClicked,
    int HushHours,
    Pause AfterClose,
    IReadOnlyList<Guid> Goals,
    Pause AfterSuccess
);

/// <summary>To whom, where, when and how often, whatever it is that would be shown.</summary>
/// <param name="Where">On which pages.</param>
/// <param name="Who">To whom.</param>
/// <param name="When">When it is due.</param>
/// <param name="HowOften">How often for one visitor.</param>
/// <param name="HoldbackPercent">Share of visitors who are deliberately not shown it, so that its effect can be measured: 0 to 90.</param>
public sealed record Targeting(
    WhereFacet Where,
    WhoFacet Who,
    DueFacet When,
    HowOftenFacet HowOften,
    int HoldbackPercent
)
{
    /// <summary>The shared pieces it names.</summary>
    public References References =>
        new(
            RuleParts.Segments(Who.Rule).ToHashSet(),
            Where.Groups.ToHashSet(),
            HowOften.Goals.ToHashSet(),
            new HashSet<string>()
        );
}
