using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Pages;
using Outcry.Core.Performing;
using Outcry.Core.Planning;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Rehearsing;

/// <summary>Plays an imagined visit, with the planner that serves live traffic and the queue that the browser runs.</summary>
public static class Rehearsal
{
    /// <summary>Plays a journey.</summary>
    /// <param name="site">The site.</param>
    /// <param name="visitor">Who walks it; a new visitor is <see cref="VisitorRecord.New"/>.</param>
    /// <param name="facts">What else is known of who walks it.</param>
    /// <param name="journey">The pages in order.</param>
    /// <param name="now">When it begins.</param>
    /// <param name="options">How plans are made.</param>
    /// <returns>Each page with what was shown and why the rest was not, and the visitor as the journey leaves them.</returns>
    public static (IReadOnlyList<RehearsedPage> Pages, VisitorRecord Visitor) Play(
        SiteSnapshot site,
        VisitorRecord visitor,
        VisitorFacts facts,
        IEnumerable<JourneyPage> journey,
        Instant now,
        PlanOptions options
    )
    {
        var pages = new List<RehearsedPage>();
        foreach (var page in journey)
        {
            visitor = visitor.Arrive(now).CameIn(page.CameBy with { EntryPage = page.Page.ToNote() });
            var rehearsed = PlayPage(site, page, visitor, facts, now, options);
            pages.Add(rehearsed);
            visitor = Remember(visitor, rehearsed.Armed, rehearsed.Outcome, now);
            now += Duration.FromMilliseconds(page.StayMs + page.AwayMs);
        }
        return (pages, visitor);
    }

    /// <summary>Plays one page view of a visitor whose record has counted it already.</summary>
    public static RehearsedPage PlayPage(
        SiteSnapshot site,
        JourneyPage page,
        VisitorRecord visitor,
        VisitorFacts facts,
        Instant now,
        PlanOptions options
    )
    {
        var plan = Planner.MakePlan(site, page.Page, visitor, facts, now, options);
        var cues = plan.Armed.Select((armed, order) => armed.ToEntry(order, site.Rules));
        var start = PageStart.Of(options.LiftLimits ? visitor.Unrestrained() : visitor, now) with
        {
            IsTouch = facts.Device != Device.Desktop,
            IsTeamAway = !site.IsTeamThere(plan.Stands),
            WithoutRoom = page.WithoutRoom,
            WithoutPlace = WithoutPlace(site, page.Page, plan.Armed),
        };
        var acts = InViewOnArrival(site, page.Page, plan.Armed).Concat(page.Acts);
        var outcome = DisplayQueue.Play(cues, site.Rules, start, acts, page.StayMs);
        return new RehearsedPage(page, plan.Armed, outcome, plan.LeftOut)
        {
            Stands = plan.Stands,
            IsOpen = plan.Stands?.At(now, site.Conditions.Team).IsOpen == true,
        };
    }

    private static Dictionary<Guid, string> WithoutPlace(
        SiteSnapshot site,
        PageAddress page,
        IReadOnlyList<ArmedCallout> armed
    ) =>
        armed
            .Where(a =>
                a.Callout.Class == CalloutClass.Inset
                && site.Conditions.PlaceOf(page.Path, a.Callout.Brief.Look.Anchor) is { Found: false }
            )
            .ToDictionary(a => a.Callout.Id, a => a.Callout.Brief.Look.Anchor);

    // What is in view as one arrives needs no scrolling; where nobody has said so, it is taken not to be.
    private static IEnumerable<Act> InViewOnArrival(
        SiteSnapshot site,
        PageAddress page,
        IReadOnlyList<ArmedCallout> armed
    ) =>
        armed
            .SelectMany(a => a.Triggers)
            .Where(t => t.Kind == TriggerKind.InView)
            .Select(t => t.Target)
            .Distinct()
            .Where(target => site.Conditions.PlaceOf(page.Path, target) is { InView: true })
            .Select(target => new Act(0, ActKind.See, Target: target));

    /// <summary>What the visitor's own browser would have noted of a page view.</summary>
    internal static VisitorRecord Remember(
        VisitorRecord visitor,
        IReadOnlyList<ArmedCallout> armedCallouts,
        PageOutcome outcome,
        Instant pageStart
    )
    {
        var armed = armedCallouts.ToDictionary(a => a.Callout.Id, a => a.Callout);
        foreach (var showing in outcome.Showings)
            visitor = Note(visitor, armed[showing.Callout], showing, pageStart);
        return visitor;
    }

    /// <summary>What the visitor's own browser would have noted of one showing.</summary>
    internal static VisitorRecord Note(VisitorRecord visitor, Callout callout, Showing showing, Instant pageStart)
    {
        var takesPlace = callout.Class is CalloutClass.Floating or CalloutClass.Dialog && !showing.IsAsked;
        var endedAt = pageStart + Duration.FromMilliseconds(showing.EndMs);
        if (showing.IsFirst)
            visitor = visitor.Started(callout.Id, pageStart + Duration.FromMilliseconds(showing.StartMs), takesPlace);
        if (takesPlace)
            visitor = visitor.Ended(endedAt);
        if (showing.EndedBy == EndedBy.Closed)
            visitor = visitor.Closed(callout.Id, endedAt, callout.Targeting.Hush, callout.Class == CalloutClass.Dialog);
        return showing.EndedBy == EndedBy.Clicked ? visitor.Clicked(callout.Id, endedAt) : visitor;
    }
}
