using NodaTime;
using Outcry.Core.Planning;
using Outcry.Core.Visitors;

namespace Outcry.Core.Rehearsing;

/// <summary>Plays an imagined visit, with the planner that serves live traffic and the queue that the browser runs.</summary>
public static class Rehearsal
{
    /// <summary>Plays a journey.</summary>
    /// <param name="site">The site.</param>
    /// <param name="visitor">Who walks it; a new visitor is <see cref="VisitorRecord.New"/>.</param>
    /// <param name="journey">The pages in order.</param>
    /// <param name="now">When it begins.</param>
    /// <param name="options">How plans are made.</param>
    /// <returns>Each page with what was shown and why the rest was not, and the visitor as the journey leaves them.</returns>
    public static (IReadOnlyList<RehearsedPage> Pages, VisitorRecord Visitor) Play(
        SiteSnapshot site,
        VisitorRecord visitor,
        IEnumerable<JourneyPage> journey,
        Instant now,
        PlanOptions options
    )
    {
        var pages = new List<RehearsedPage>();
        foreach (var page in journey)
        {
            visitor = visitor.Arrive(now);
            var plan = Planner.MakePlan(site, page.Page, visitor, now, options);
            var cues = plan.Armed.Select((armed, order) => Cue.Of(armed, order, site.Rules));
            var outcome = Performance.Play(cues, site.Rules, PageStart.Of(visitor, now), page.Acts, page.StayMs);
            pages.Add(new RehearsedPage(page, plan.Armed, outcome, plan.LeftOut));
            visitor = Remember(visitor, plan, outcome, now);
            now += Duration.FromMilliseconds(page.StayMs);
        }
        return (pages, visitor);
    }

    private static VisitorRecord Remember(VisitorRecord visitor, Plan plan, PageOutcome outcome, Instant pageStart)
    {
        var armed = plan.Armed.ToDictionary(a => a.Callout.Id, a => a.Callout);
        foreach (var showing in outcome.Showings)
        {
            var callout = armed[showing.Callout];
            var takesPlace = callout.Class is CalloutClass.Floating or CalloutClass.Dialog;
            var endedAt = pageStart + Duration.FromMilliseconds(showing.EndMs);
            if (showing.Turn == 0)
                visitor = visitor.Started(
                    callout.Id,
                    pageStart + Duration.FromMilliseconds(showing.StartMs),
                    takesPlace
                );
            if (takesPlace)
                visitor = visitor.Ended(endedAt);
            if (showing.EndedBy == EndedBy.Closed)
                visitor = visitor.Closed(callout.Id, endedAt, callout.Hush, callout.Class == CalloutClass.Dialog);
            if (showing.EndedBy == EndedBy.Clicked)
                visitor = visitor.Clicked(callout.Id, endedAt);
        }
        return visitor;
    }
}
