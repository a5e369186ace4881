using Outcry.Core.Publishing;
using Outcry.Core.Saying;

namespace Outcry.Core.Briefs;

/// <summary>The tokens that a kind of callout offers its message.</summary>
public static class KindTokens
{
    /// <summary>What all of the chosen sources offer, as far as the kind tells single events; else the kind's own tokens.</summary>
    public static IReadOnlyList<string> Offered(CalloutKind kind, IReadOnlyCollection<SourceOffer> chosen) =>
        kind switch
        {
            CalloutKind.Tally or CalloutKind.Headcount => [CountTokens.Number, CountTokens.Period],
            CalloutKind.Notice => [Countdown.Token, CountTokens.Code],
            CalloutKind.Prompt => [Countdown.Token],
            _ => OfEvents(chosen),
        };

    private static IReadOnlyList<string> OfEvents(IReadOnlyCollection<SourceOffer> chosen)
    {
        IEnumerable<string> offered = EventTokens.Common;
        if (chosen.Count > 0 && chosen.All(c => c.Display.ShowAmount))
            offered = offered.Append(EventTokens.Amount);
        if (chosen.Count > 0)
            offered = offered.Concat(
                chosen.Select(c => c.Display.ShownFields.AsEnumerable()).Aggregate((a, b) => a.Intersect(b))
            );
        return [.. offered];
    }

    /// <summary>Tokens that are empty for some readers or events, and so should have a fallback.</summary>
    public static bool MayBeEmpty(string token) =>
        token
            is "name"
                or "first_name"
                or "place"
                or "city"
                or "region"
                or "country"
                or "product"
                or "category"
                or EventTokens.Amount;
}
