using System.Text.Json.Serialization;
using Outcry.Core.Asking;
using Outcry.Core.Targeting;

namespace Outcry.Core.Briefs;

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

    /// <summary>A question: may we write to you?</summary>
    Prompt,
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
    /// <summary>What a prompt asks for, promises and gives; null for every other kind.</summary>
    public AskFacet? Ask { get; init; }

    /// <summary>Whether it says its own words and tells of no event.</summary>
    [JsonIgnore]
    public bool SaysItself => Kind is CalloutKind.Notice or CalloutKind.Prompt;

    /// <summary>To whom, where, when and how often.</summary>
    [JsonIgnore]
    public Targeting.Targeting Targeting => new(Where, Who, When, HowOften, HoldbackPercent);

    /// <summary>Whether after the last of its turns the first may come again on the same page view.</summary>
    [JsonIgnore]
    public bool RepeatsTurns => When.Rounds != 1 || Look is { Shape: Shape.Crawl, StaySeconds: null };
}
