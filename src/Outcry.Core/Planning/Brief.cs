using Outcry.Core.Evidence;
using Outcry.Core.Timing;

namespace Outcry.Core.Planning;

/// <summary>A callout's definition, facet by facet, as the desk edits it and revisions freeze it.</summary>
/// <remarks>A brief may be incomplete or wrong while it is a draft; <see cref="BriefCheck"/> says what stands in the way of publishing.</remarks>
/// <param name="Say">What it says.</param>
/// <param name="From">Which events it draws on.</param>
/// <param name="Where">On which pages.</param>
/// <param name="When">At which moment of a page view.</param>
/// <param name="HowOften">How often for one visitor.</param>
/// <param name="Look">How it sits on the page.</param>
/// <param name="Priority">Who goes first when several are due: 1 (first) to 9.</param>
public sealed record Brief(
    SayFacet Say,
    FromFacet From,
    WhereFacet Where,
    WhenFacet When,
    HowOftenFacet HowOften,
    LookFacet Look,
    int Priority
);

/// <summary>Where a click on the callout leads.</summary>
public enum LinkTarget
{
    /// <summary>Nowhere.</summary>
    None,

    /// <summary>To the page of the event's product.</summary>
    Product,

    /// <summary>To an address of the author's.</summary>
    Address,
}

/// <summary>The picture beside the words.</summary>
public enum SayPicture
{
    /// <summary>None.</summary>
    None,

    /// <summary>The product's, or the initials where it has none.</summary>
    Product,

    /// <summary>The person's initials, or a plain sign where nobody is named.</summary>
    Initials,
}

/// <summary>What it says.</summary>
/// <param name="Message">Liquid tokens and the Markdown subset.</param>
/// <param name="Picture">The picture.</param>
/// <param name="Link">Where a click leads.</param>
/// <param name="LinkAddress">The address when the link is one.</param>
/// <param name="NewTab">Whether the link opens in a new tab.</param>
/// <param name="ShowTime">Whether the rough time stands under the words.</param>
public sealed record SayFacet(
    string Message,
    SayPicture Picture,
    LinkTarget Link,
    string LinkAddress,
    bool NewTab,
    bool ShowTime
);

/// <summary>Which events it draws on.</summary>
/// <param name="Sources">Ids of the sources.</param>
/// <param name="Conditions">Conditions on the events.</param>
/// <param name="Join">How the conditions are joined.</param>
/// <param name="WindowMinutes">Rolling window, 1 minute to 730 days; null for all time.</param>
/// <param name="LeastNumber">Fewest events before anything is said: 1 to 10,000.</param>
/// <param name="Shuffle">Shuffled, steady within a visit, instead of newest first.</param>
public sealed record FromFacet(
    IReadOnlyList<Guid> Sources,
    IReadOnlyList<FieldCondition> Conditions,
    Join Join,
    int? WindowMinutes,
    int LeastNumber,
    bool Shuffle
);

/// <summary>On which pages. No include means every page; excludes win.</summary>
public sealed record WhereFacet(IReadOnlyList<string> Includes, IReadOnlyList<string> Excludes);

/// <summary>At which moment of a page view.</summary>
/// <param name="AfterSeconds">Seconds of visible time, 0 (on arrival) to 3,600.</param>
/// <param name="Turns">Events told one after another: 1 to 10.</param>
/// <param name="TurnGapSeconds">Seconds between two turns: 1 to 600.</param>
public sealed record WhenFacet(int AfterSeconds, int Turns, int TurnGapSeconds);

/// <summary>How often for one visitor.</summary>
/// <param name="Unit">The unit.</param>
/// <param name="EveryDays">Days when the unit is days: 1 to 365.</param>
/// <param name="MostVisits">Most visits ever: 1 to 1,000; null for no limit.</param>
/// <param name="HushHours">Hours for which a close hushes the site: 0 to 8,760.</param>
public sealed record HowOftenFacet(RepeatUnit Unit, int EveryDays, int? MostVisits, int HushHours);

/// <summary>How it sits on the page.</summary>
public enum Shape
{
    /// <summary>A small card in a corner.</summary>
    Slip,
}

/// <summary>The side of the screen.</summary>
public enum Side
{
    /// <summary>Bottom left.</summary>
    Left,

    /// <summary>Bottom right.</summary>
    Right,
}

/// <summary>How it looks.</summary>
/// <param name="Shape">The shape.</param>
/// <param name="Side">The side.</param>
/// <param name="Band">Colour of the band, #RRGGBB.</param>
/// <param name="Ground">Colour of the ground, #RRGGBB.</param>
/// <param name="CloseMark">Whether visitors get a close mark.</param>
/// <param name="StaySeconds">Seconds it stays, 2 to 120, before what longer texts add.</param>
public sealed record LookFacet(Shape Shape, Side Side, string Band, string Ground, bool CloseMark, int StaySeconds);
