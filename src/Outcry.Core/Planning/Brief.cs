using System.Text.Json.Serialization;
using Outcry.Core.Evidence;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Planning;

/// <summary>What a notification tells.</summary>
public enum CalloutKind
{
    /// <summary>One real event.</summary>
    Moment,

    /// <summary>How many did something in a period.</summary>
    Tally,

    /// <summary>How many are here now, or looked lately.</summary>
    Headcount,

    /// <summary>How few are left.</summary>
    Remainder,

    /// <summary>A review or an endorsement.</summary>
    Quote,

    /// <summary>A total from elsewhere.</summary>
    Standing,

    /// <summary>An announcement, an offer, a countdown.</summary>
    Notice,
}

/// <summary>A callout's definition, facet by facet, as the desk edits it and revisions freeze it.</summary>
/// <remarks>A brief may be incomplete or wrong while it is a draft; <see cref="BriefCheck"/> says what stands in the way of publishing.</remarks>
/// <param name="Kind">What it tells.</param>
/// <param name="Say">What it says.</param>
/// <param name="From">Which events it draws on.</param>
/// <param name="Where">On which pages.</param>
/// <param name="Who">To whom.</param>
/// <param name="When">At which moment of a page view, and on which dates and at which hours.</param>
/// <param name="HowOften">How often for one visitor.</param>
/// <param name="Look">How it sits on the page.</param>
/// <param name="Priority">Who goes first when several are due: 1 (first) to 9.</param>
/// <param name="HoldbackPercent">Share of visitors who are deliberately not shown it, so that its effect can be measured: 0 to 90.</param>
public sealed record Brief(
    CalloutKind Kind,
    SayFacet Say,
    FromFacet From,
    WhereFacet Where,
    WhoFacet Who,
    WhenFacet When,
    HowOftenFacet HowOften,
    LookFacet Look,
    int Priority,
    int HoldbackPercent
)
{
    /// <summary>Whether after the last of its turns the first may come again on the same page view.</summary>
    [JsonIgnore]
    public bool RepeatsTurns => When.Rounds != 1 || Look is { Shape: Shape.Crawl, StaySeconds: null };
}

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

    /// <summary>A plain sign of the kind.</summary>
    Sign,

    /// <summary>One picture for all, by its address.</summary>
    Image,

    /// <summary>A small map of the country it happened in, or the initials where that may not be told.</summary>
    Map,
}

/// <summary>How the age of an event is said.</summary>
public enum TimeStyle
{
    /// <summary>Not at all.</summary>
    Hidden,

    /// <summary>In steps that give no pace away: "today", "this week", "recently".</summary>
    Rough,

    /// <summary>"12 minutes ago".</summary>
    Ago,

    /// <summary>The time of day on a 24-hour clock for events under a day old; older ones as "3 days ago".</summary>
    Clock24,

    /// <summary>The same on a 12-hour clock.</summary>
    Clock12,
}

/// <summary>How a count is said.</summary>
public enum NumberStyle
{
    /// <summary>As it is.</summary>
    Exact,

    /// <summary>Rounded down to a friendly step, with "+".</summary>
    Rounded,

    /// <summary>Not at all; the token's fallback stands.</summary>
    Hidden,
}

/// <summary>The words of a callout in one language.</summary>
/// <param name="Language">BCP 47 tag; empty for the site's own language.</param>
/// <param name="Message">Liquid tokens and the Markdown subset.</param>
/// <param name="Detail">An optional line under it, of the same make; empty for none.</param>
/// <param name="Button">Words of the link or button; empty for none, where the whole callout is the link.</param>
public sealed record Wording(string Language, string Message, string Detail, string Button);

/// <summary>What it says.</summary>
/// <param name="Message">In the site's own language: Liquid tokens and the Markdown subset.</param>
/// <param name="Detail">An optional line under it, of the same make; empty for none.</param>
/// <param name="Button">Words of the link or button; empty for none, where the whole callout is the link.</param>
/// <param name="Translations">The same in other languages.</param>
/// <param name="Picture">The picture.</param>
/// <param name="PictureAddress">Its address when it is one picture for all.</param>
/// <param name="Link">Where a click leads.</param>
/// <param name="LinkAddress">The address when the link is one.</param>
/// <param name="NewTab">Whether the link opens in a new tab.</param>
/// <param name="Campaign">Campaign name appended to links as utm_campaign, with source and medium; empty for none.</param>
/// <param name="Time">How the age of an event is said under the words.</param>
/// <param name="Number">How a count is said.</param>
/// <param name="Code">A code to copy; empty for none.</param>
public sealed record SayFacet(
    string Message,
    string Detail,
    string Button,
    IReadOnlyList<Wording> Translations,
    SayPicture Picture,
    string PictureAddress,
    LinkTarget Link,
    string LinkAddress,
    bool NewTab,
    string Campaign,
    TimeStyle Time,
    NumberStyle Number,
    string Code
);

/// <summary>What a count counts.</summary>
public enum Measure
{
    /// <summary>Events of the sources.</summary>
    Events,

    /// <summary>People behind the events, each once.</summary>
    People,

    /// <summary>Page views of the counted pages.</summary>
    PageViews,

    /// <summary>Visitors who looked at the counted pages, each once.</summary>
    Visitors,
}

/// <summary>Whose events a visitor is told, by place.</summary>
public enum Nearness
{
    /// <summary>Everybody's.</summary>
    Anywhere,

    /// <summary>Those of the visitor's country first, then all others.</summary>
    CountryFirst,

    /// <summary>Only those of the visitor's country.</summary>
    CountryOnly,

    /// <summary>Those of the visitor's region first, then all others.</summary>
    RegionFirst,

    /// <summary>Only those of the visitor's region.</summary>
    RegionOnly,
}

/// <summary>Which events it draws on.</summary>
/// <param name="Sources">Ids of the sources.</param>
/// <param name="Conditions">Conditions on the events.</param>
/// <param name="Join">How the conditions are joined.</param>
/// <param name="WindowMinutes">Rolling window, 1 minute to 730 days; null for all time, and for a headcount: here now.</param>
/// <param name="OldestDays">Events older than this are left aside before anything is counted: 1 to 730; null for no limit but the window.</param>
/// <param name="LeastNumber">Fewest before anything is said: 1 to 10,000.</param>
/// <param name="Shuffle">Shuffled, steady within a visit, instead of newest first.</param>
/// <param name="Measure">What a count counts.</param>
/// <param name="Near">Whose events, by place.</param>
/// <param name="Pages">Pages on which it must have happened, and which page views are counted; none for everywhere.</param>
/// <param name="OfThisPage">Only what is about the product of the page on which it is read.</param>
/// <param name="MostLeft">For a remainder: the most that may be left before it is said, 1 to 10,000.</param>
/// <param name="LeastStars">For a quote: the fewest stars, 0 to 5; 0 also takes what has none.</param>
public sealed record FromFacet(
    IReadOnlyList<Guid> Sources,
    IReadOnlyList<FieldCondition> Conditions,
    Join Join,
    int? WindowMinutes,
    int? OldestDays,
    int LeastNumber,
    bool Shuffle,
    Measure Measure,
    Nearness Near,
    IReadOnlyList<string> Pages,
    bool OfThisPage,
    int MostLeft,
    decimal LeastStars
);

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
);

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

/// <summary>How it sits on the page.</summary>
public enum Shape
{
    /// <summary>A small card in a corner.</summary>
    Slip,

    /// <summary>A band from edge to edge.</summary>
    Ribbon,

    /// <summary>A panel that slides in from a side.</summary>
    Drawer,

    /// <summary>A centred dialog.</summary>
    Poster,

    /// <summary>A dialog over the whole page.</summary>
    Curtain,

    /// <summary>Inside the page's own content.</summary>
    Inset,

    /// <summary>One line along an edge that turns over.</summary>
    Crawl,
}

/// <summary>The side of the screen.</summary>
public enum Side
{
    /// <summary>Left.</summary>
    Left,

    /// <summary>Right.</summary>
    Right,
}

/// <summary>The edge of the screen.</summary>
public enum Edge
{
    /// <summary>Bottom.</summary>
    Bottom,

    /// <summary>Top.</summary>
    Top,
}

/// <summary>Where an inset stands, seen from its element.</summary>
public enum InsetPlace
{
    /// <summary>Before it.</summary>
    Before,

    /// <summary>In it, first.</summary>
    First,

    /// <summary>In it, last.</summary>
    Last,

    /// <summary>After it.</summary>
    After,
}

/// <summary>How it looks.</summary>
/// <param name="Shape">The shape.</param>
/// <param name="Side">Side of the screen, for a slip and a drawer.</param>
/// <param name="Edge">Edge of the screen, for a slip, a ribbon and a crawl.</param>
/// <param name="PhoneEdge">The same on phones.</param>
/// <param name="Anchor">For an inset: selector of the element it stands by.</param>
/// <param name="Inset">For an inset: where it stands, seen from that element.</param>
/// <param name="Band">Colour of the band and the button, #RRGGBB.</param>
/// <param name="Ground">Colour of the ground, #RRGGBB.</param>
/// <param name="CloseMark">Whether visitors get a close mark; a dialog always has one.</param>
/// <param name="StaySeconds">Seconds it stays, 2 to 120, before what longer texts add; null for until closed.</param>
public sealed record LookFacet(
    Shape Shape,
    Side Side,
    Edge Edge,
    Edge PhoneEdge,
    string Anchor,
    InsetPlace Inset,
    string Band,
    string Ground,
    bool CloseMark,
    int? StaySeconds
);
