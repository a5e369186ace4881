using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;

namespace Outcry.Core.Briefs;

/// <summary>Which events a brief draws on.</summary>
internal static class BriefEvidence
{
    /// <summary>The rule of a brief.</summary>
    /// <exception cref="FormatException">A page pattern is not valid.</exception>
    public static EvidenceRule RuleOf(Brief brief)
    {
        var from = brief.From;
        return new EvidenceRule(
            from.Sources.ToHashSet(),
            from.Conditions,
            from.Join,
            from.WindowMinutes is { } minutes ? Duration.FromMinutes(minutes) : null,
            from.LeastNumber
        )
        {
            Oldest = from.OldestDays is { } days ? Duration.FromDays(days) : null,
            Pages = from.Pages.Count > 0 ? PageRule.Parse(from.Pages, []) : null,
            LeastStars = brief.Kind == CalloutKind.Quote ? from.LeastStars : 0,
            Kinds = KindsOf(brief.Kind),
        };
    }

    /// <summary>The kinds of event that a kind of callout tells; null for every kind.</summary>
    public static IReadOnlyCollection<EventKind>? KindsOf(CalloutKind kind) =>
        kind switch
        {
            CalloutKind.Remainder => [EventKind.StockLevel],
            CalloutKind.Quote => [EventKind.Review, EventKind.Endorsement],
            CalloutKind.Standing => [EventKind.Total],
            _ => null,
        };

    /// <summary>Whether it draws on the recorded page views and not on sources.</summary>
    public static bool CountsTraffic(Brief brief) =>
        brief.Kind == CalloutKind.Headcount
        || (brief.Kind == CalloutKind.Tally && brief.From.Measure is Measure.PageViews or Measure.Visitors);

    /// <summary>Whether it draws on nothing at all.</summary>
    public static bool NeedsNothing(Brief brief) => brief.SaysItself;
}
