namespace Outcry.Core.Visitors;

/// <summary>Says facts and comparisons in words.</summary>
public static class FactWords
{
    /// <summary>A fact's name.</summary>
    public static string Name(VisitorFact fact, bool capital = false)
    {
        var name = fact switch
        {
            VisitorFact.Standing => "standing",
            VisitorFact.VisitNumber => "number of the visit",
            VisitorFact.PagesThisVisit => "pages in this visit",
            VisitorFact.PagesEver => "pages ever",
            VisitorFact.SecondsOnSite => "seconds on the site",
            VisitorFact.DaysSinceLastVisit => "days since the last visit",
            VisitorFact.EntryPage => "first page of the visit",
            VisitorFact.Referrer => "referring host",
            VisitorFact.Campaign => "campaign",
            VisitorFact.Device => "device",
            VisitorFact.Language => "language",
            VisitorFact.Country => "country",
            VisitorFact.Region => "region",
            VisitorFact.City => "city",
            VisitorFact.LocalHour => "hour on the visitor's clock",
            VisitorFact.Identity => "identity",
            VisitorFact.Attribute => "attribute",
            VisitorFact.Tag => "tag",
            VisitorFact.Bought => "bought",
            VisitorFact.Submitted => "submitted",
            VisitorFact.Saw => "saw",
            VisitorFact.Closed => "closed",
            _ => throw new ArgumentOutOfRangeException(nameof(fact), fact, null),
        };
        return capital ? $"{char.ToUpperInvariant(name[0])}{name[1..]}" : name;
    }

    /// <summary>A comparison as a clause: "pages in this visit is at least 3", "bought mugs in the last 30 days".</summary>
    /// <param name="test">The comparison.</param>
    /// <param name="nameOf">Names the callout or source a key means; null for one that is gone.</param>
    public static string Say(FactTest test, Func<Guid, string?> nameOf)
    {
        var kind = FactKinds.Of(test.Fact);
        if (kind == FactKind.PastEvent)
        {
            var what = Guid.TryParse(test.Key, out var id) ? nameOf(id) ?? "something that is gone" : test.Value;
            var said = $"{Name(test.Fact)}{(what.Length > 0 ? $" {what}" : " anything")}{Within(test.WithinDays)}";
            return test.Comparison == FactComparison.Is ? said : $"not: {said}";
        }
        var name = test.Key.Length > 0 ? $"{Name(test.Fact)} {test.Key}" : Name(test.Fact);
        return test.Comparison switch
        {
            FactComparison.Is => $"{name} is {test.Value}",
            FactComparison.IsNot => $"{name} is not {test.Value}",
            FactComparison.Contains => $"{name} contains {test.Value}",
            FactComparison.AtLeast => $"{name} is at least {test.Value}",
            FactComparison.AtMost => $"{name} is at most {test.Value}",
            FactComparison.Filled => $"{name} is known",
            _ => $"{name} is not known",
        };
    }

    private static string Within(int? days) =>
        days switch
        {
            null => "",
            1 => " in the last day",
            _ => $" in the last {days} days",
        };
}
