using Outcry.Core.Briefs;
using Outcry.Core.Publishing;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Replaying;

/// <summary>Says what a replay of a draft takes for granted because nobody recorded it.</summary>
public static class ReplayCaveats
{
    /// <summary>A sentence each, only those that bear on this draft; nobody closing anything bears on every one.</summary>
    /// <param name="draft">The draft.</param>
    /// <param name="rules">The site's house rules.</param>
    /// <param name="segments">The site's segments, which the draft's visitor rule may name.</param>
    public static IReadOnlyList<string> Of(Brief draft, HouseRules rules, IReadOnlyDictionary<Guid, Segment> segments)
    {
        var said = new List<string>
        {
            "Nobody closes or clicks anything: what visitors would have done with it is not known.",
        };
        foreach (var kind in draft.When.Triggers.Select(t => t.Kind).Distinct())
            if (OfTrigger(kind) is { } caveat)
                said.Add(caveat);
        var facts = FactsOf(draft.Targeting.Who.Rule, segments, []).ToHashSet();
        if (facts.Overlaps([VisitorFact.Identity, VisitorFact.Attribute, VisitorFact.Tag]))
            said.Add(
                "Whether a visitor was known, and what your pages said of them, is not recorded: all are taken as unknown."
            );
        if (facts.Contains(VisitorFact.LocalHour))
            said.Add("The visitors' own clocks are not recorded: the site's time is taken.");
        if (
            facts.Overlaps([VisitorFact.DaysSinceLastVisit, VisitorFact.PagesEver, VisitorFact.Saw, VisitorFact.Closed])
        )
            said.Add(
                "Of visits before the period only their number is known: those visitors have met nothing in them."
            );
        if (rules.NeedsConsent)
            said.Add("Who had agreed is not recorded: everybody is taken to have.");
        if (draft.When.OnlyIfAvailable)
            said.Add("When the team was there is not recorded: it is taken to be as it is now.");
        if (BriefEvidence.CountsTraffic(draft))
            said.Add("What it counts is taken to be as it is now, not as it was then.");
        return said;
    }

    private static string? OfTrigger(TriggerKind kind) =>
        kind switch
        {
            TriggerKind.Scroll => "How far pages were scrolled is recorded, not when: it is taken to go on evenly.",
            TriggerKind.Leaving => "Visitors are taken to show that they leave one second before the end of a visit.",
            TriggerKind.Idle =>
                "Visitors who scroll are taken to scroll evenly until they go, and not to rest meanwhile.",
            TriggerKind.InView => "Which elements came into view is not recorded: none ever does.",
            TriggerKind.Click => "Clicks on your pages are not recorded: nobody makes one.",
            TriggerKind.VideoEnd => "Videos are not recorded: none is seen to its end.",
            TriggerKind.PageEvent => "Page events are not recorded: none is sent.",
            _ => null,
        };

    private static IEnumerable<VisitorFact> FactsOf(
        VisitorRule rule,
        IReadOnlyDictionary<Guid, Segment> segments,
        HashSet<Guid> seen
    ) =>
        rule switch
        {
            FactTest test => [test.Fact],
            AllOf all => all.Rules.SelectMany(r => FactsOf(r, segments, seen)),
            AnyOf any => any.Rules.SelectMany(r => FactsOf(r, segments, seen)),
            NotThis not => FactsOf(not.Rule, segments, seen),
            InSegment named when seen.Add(named.Segment) && segments.TryGetValue(named.Segment, out var segment) =>
                FactsOf(segment.Rule, segments, seen),
            _ => [],
        };
}
