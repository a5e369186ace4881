using System.Text.Json.Serialization;

namespace Outcry.Core.Visitors;

/// <summary>A fact that visitors are told apart by.</summary>
public enum VisitorFact
{
    /// <summary>"new" or "returning".</summary>
    Standing,

    /// <summary>Number of the visit, from 1.</summary>
    VisitNumber,

    /// <summary>Pages looked at in this visit, this one included.</summary>
    PagesThisVisit,

    /// <summary>Pages looked at ever, this one included.</summary>
    PagesEver,

    /// <summary>Seconds since this visit began.</summary>
    SecondsOnSite,

    /// <summary>Whole days since the visit before this one.</summary>
    DaysSinceLastVisit,

    /// <summary>The first page of this visit: a page pattern.</summary>
    EntryPage,

    /// <summary>Host of the page that led here.</summary>
    Referrer,

    /// <summary>A campaign parameter; the key is "source", "medium", "campaign", "term" or "content".</summary>
    Campaign,

    /// <summary>"desktop", "tablet" or "phone".</summary>
    Device,

    /// <summary>One of the visitor's languages; "de" also means "de-AT".</summary>
    Language,

    /// <summary>Country by name.</summary>
    Country,

    /// <summary>Region by name.</summary>
    Region,

    /// <summary>City by name.</summary>
    City,

    /// <summary>Hour of the day on the visitor's clock: 0 to 23.</summary>
    LocalHour,

    /// <summary>"known" or "anonymous".</summary>
    Identity,

    /// <summary>What the page says of its visitor; the key names it.</summary>
    Attribute,

    /// <summary>One of the visitor's tags.</summary>
    Tag,

    /// <summary>Bought something; a value narrows it to a product or a category.</summary>
    Bought,

    /// <summary>Submitted a form; the key narrows it to a source.</summary>
    Submitted,

    /// <summary>Saw a callout; the key is the callout.</summary>
    Saw,

    /// <summary>Closed a callout; the key is the callout.</summary>
    Closed,
}

/// <summary>How a fact is compared.</summary>
public enum FactComparison
{
    /// <summary>Equal, case ignored; for a deed: did it.</summary>
    Is,

    /// <summary>Not equal; for a deed: did not do it.</summary>
    IsNot,

    /// <summary>Contains the text, case ignored.</summary>
    Contains,

    /// <summary>As many or more.</summary>
    AtLeast,

    /// <summary>As many or fewer.</summary>
    AtMost,

    /// <summary>Has any value.</summary>
    Filled,

    /// <summary>Has no value.</summary>
    Empty,
}

/// <summary>A rule over visitor facts: a tree of all, any and not over comparisons.</summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(AllOf), "all")]
[JsonDerivedType(typeof(AnyOf), "any")]
[JsonDerivedType(typeof(NotThis), "not")]
[JsonDerivedType(typeof(InSegment), "segment")]
[JsonDerivedType(typeof(FactTest), "test")]
public abstract record VisitorRule
{
    /// <summary>Lets every visitor in.</summary>
    public static VisitorRule Everybody { get; } = new AllOf([]);

    /// <summary>Tests and groups in one rule at most.</summary>
    public const int MostParts = 200;

    /// <summary>Groups within groups at most.</summary>
    public const int MostDepth = 8;
}

/// <summary>Every part must hold; none at all lets everybody in.</summary>
public sealed record AllOf(IReadOnlyList<VisitorRule> Rules) : VisitorRule;

/// <summary>One part is enough; none at all lets everybody in, as an empty list is no condition.</summary>
public sealed record AnyOf(IReadOnlyList<VisitorRule> Rules) : VisitorRule;

/// <summary>The part must not hold.</summary>
public sealed record NotThis(VisitorRule Rule) : VisitorRule;

/// <summary>The visitor must be in a segment.</summary>
public sealed record InSegment(Guid Segment) : VisitorRule;

/// <summary>One comparison.</summary>
/// <param name="Fact">Of which fact.</param>
/// <param name="Comparison">How.</param>
/// <param name="Value">With what; ignored by comparisons that need nothing.</param>
/// <param name="Key">Which campaign parameter, attribute, source or callout; empty where the fact needs none.</param>
/// <param name="WithinDays">For a deed, in the last so many days, 1 to 730; null for ever.</param>
public sealed record FactTest(
    VisitorFact Fact,
    FactComparison Comparison,
    string Value = "",
    string Key = "",
    int? WithinDays = null
) : VisitorRule;

/// <summary>A named rule, shared by the team.</summary>
/// <param name="Id">The segment.</param>
/// <param name="Name">Its name.</param>
/// <param name="Rule">Who belongs to it.</param>
public sealed record Segment(Guid Id, string Name, VisitorRule Rule);
