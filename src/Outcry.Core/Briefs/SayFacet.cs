using Outcry.Core.Visitors;

namespace Outcry.Core.Briefs;

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
