namespace Outcry.Core.Visitors;

/// <summary>What sort of value a fact has.</summary>
public enum FactKind
{
    /// <summary>One of a few words.</summary>
    Choice,

    /// <summary>A whole number.</summary>
    Number,

    /// <summary>Any words.</summary>
    Text,

    /// <summary>A page, compared by pattern.</summary>
    Page,

    /// <summary>Something done or not.</summary>
    PastEvent,
}

/// <summary>What sort of value each fact has, and how it may be compared.</summary>
public static class FactKinds
{
    /// <summary>The sort of a fact's value.</summary>
    public static FactKind Of(VisitorFact fact) =>
        fact switch
        {
            VisitorFact.Standing or VisitorFact.Device or VisitorFact.Identity => FactKind.Choice,
            VisitorFact.VisitNumber
            or VisitorFact.PagesThisVisit
            or VisitorFact.PagesEver
            or VisitorFact.SecondsOnSite
            or VisitorFact.DaysSinceLastVisit
            or VisitorFact.LocalHour => FactKind.Number,
            VisitorFact.EntryPage => FactKind.Page,
            VisitorFact.Bought or VisitorFact.Submitted or VisitorFact.Saw or VisitorFact.Closed => FactKind.PastEvent,
            _ => FactKind.Text,
        };

    /// <summary>The words a choice has.</summary>
    public static IReadOnlyList<string> Choices(VisitorFact fact) =>
        fact switch
        {
            VisitorFact.Standing => ["new", "returning"],
            VisitorFact.Device => ["desktop", "tablet", "phone"],
            VisitorFact.Identity => ["known", "anonymous"],
            _ => [],
        };

    /// <summary>The comparisons that make sense for a fact.</summary>
    public static IReadOnlyList<FactComparison> Comparisons(VisitorFact fact) =>
        Of(fact) switch
        {
            FactKind.Number => [FactComparison.AtLeast, FactComparison.AtMost, FactComparison.Is, FactComparison.IsNot],
            // What a page says of its visitors may be an age, a total, a date of joining.
            FactKind.Text when fact == VisitorFact.Attribute =>
            [
                .. OfText,
                FactComparison.AtLeast,
                FactComparison.AtMost,
            ],
            FactKind.Text => OfText,
            _ => [FactComparison.Is, FactComparison.IsNot],
        };

    private static readonly FactComparison[] OfText =
    [
        FactComparison.Is,
        FactComparison.IsNot,
        FactComparison.Contains,
        FactComparison.Filled,
        FactComparison.Empty,
    ];

    /// <summary>Whether a fact needs a key, and what it names.</summary>
    public static string? KeyOf(VisitorFact fact) =>
        fact switch
        {
            VisitorFact.Campaign => "campaign parameter",
            VisitorFact.Attribute => "attribute",
            VisitorFact.Saw or VisitorFact.Closed => "callout",
            _ => null,
        };
}
