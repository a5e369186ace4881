using NodaTime;
using Outcry.Core.Pages;
using Outcry.Core.Performing;
using Outcry.Core.Rehearsing;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Replaying;

/// <summary>One page view as it was recorded.</summary>
/// <param name="Page">The page.</param>
/// <param name="At">When it began.</param>
/// <param name="StayMs">Visible time until it was left, 0 to <see cref="LongestStayMs"/>; 0 when its end was not recorded.</param>
/// <param name="DepthPercent">How far it was scrolled, 0 to 100.</param>
public readonly record struct RecordedPage(PageAddress Page, Instant At, long StayMs, int DepthPercent)
{
    /// <summary>A page looked at for longer counts as this long: the stretch without activity that ends a visit.</summary>
    public const long LongestStayMs = 30 * 60 * 1000;
}

/// <summary>One visit as it was recorded.</summary>
/// <param name="VisitorId">By whom.</param>
/// <param name="Number">1 for that visitor's first visit.</param>
/// <param name="Facts">What was known of the visitor.</param>
/// <param name="CameBy">By which way the visit came in.</param>
/// <param name="Pages">Its page views in order, at least one.</param>
public sealed record RecordedVisit(
    string VisitorId,
    int Number,
    VisitorFacts Facts,
    WayIn CameBy,
    IReadOnlyList<RecordedPage> Pages
)
{
    /// <summary>A visitor as a replay meets them: what came before the first recorded visit is known by its number only.</summary>
    /// <remarks>The visit before is taken to have ended when a visit is over at the latest, without any callout met.</remarks>
    public VisitorRecord VisitorBefore()
    {
        var began = Pages[0].At;
        var visitor = VisitorRecord.New(VisitorId, began);
        if (Number <= 1)
            return visitor;
        var last = began - VisitorRecord.VisitGap;
        return visitor with
        {
            FirstSeenAt = last,
            PagesEver = Number - 1,
            Visit = new VisitFigures(Number - 1, 1, last, last, 0, null),
        };
    }

    /// <summary>Whoever made the visit, as far as it is recorded, for a rehearsal to play with.</summary>
    /// <param name="lastVisitAt">When the visit before it ended; null when there was none, or none is recorded.</param>
    /// <param name="deeds">What the visitor did on the site; what came after the visit is left out.</param>
    public ImaginedVisitor Imagine(Instant? lastVisitAt, IReadOnlyList<PastEvent> deeds)
    {
        var began = Pages[0].At;
        return new ImaginedVisitor
        {
            VisitNumber = Number,
            HoursSinceLastVisit = lastVisitAt is { } last
                ? (int)Math.Clamp((began - last).TotalHours, 1, ImaginedVisitor.MostHours)
                : 24,
            Device = Facts.Device,
            Languages = Facts.Languages,
            Country = Facts.Place.Country,
            Region = Facts.Place.Region,
            City = Facts.Place.City,
            IsKnown = Facts.IsKnown,
            Attributes = Facts.Attributes,
            Referrer = CameBy.Referrer,
            Campaign = CameBy.Campaign,
            PastEvents =
            [
                .. deeds
                    .Where(d => d.At <= began)
                    .Take(ImaginedVisitor.MostTexts)
                    .Select(d => new ImaginedEvent(
                        d.Kind,
                        d.SourceId,
                        d.Product,
                        d.Category,
                        (int)Math.Clamp((began - d.At).TotalDays, 0, 730)
                    )),
            ],
        };
    }

    /// <summary>The visit as a journey that a rehearsal can play.</summary>
    /// <param name="scrolls">The depths that matter, in percent, rising.</param>
    public IReadOnlyList<JourneyPage> ToJourney(IReadOnlyList<int> scrolls)
    {
        var journey = new List<JourneyPage>(Pages.Count);
        for (var i = 0; i < Pages.Count; i++)
        {
            var isLast = i == Pages.Count - 1;
            journey.Add(
                new JourneyPage(Pages[i].Page, Pages[i].StayMs, RecordedActs.Of(this, i, scrolls))
                {
                    AwayMs = isLast ? 0 : (long)(Pages[i + 1].At - Pages[i].At).TotalMilliseconds - Pages[i].StayMs,
                    CameBy = CameBy,
                }
            );
        }
        return journey;
    }
}

/// <summary>What a visitor must have done on a recorded page view, as far as its record tells.</summary>
/// <remarks>
/// Recorded are how long a page was looked at and how far it was scrolled, not when. So the scrolling is taken to go on
/// evenly until shortly before the page was left, and whoever ended the visit there to have shown it as shortly before.
/// What callouts wait for beyond that (clicks, elements in view, videos, page events) is not recorded and never happens.
/// </remarks>
internal static class RecordedActs
{
    /// <summary>How long before the end of a page view its last acts lie.</summary>
    public const long BeforeEndMs = 1_000;

    /// <summary>Whether anything recorded of a page view can bear on a trigger; time alone aside.</summary>
    public static bool Touch(Trigger trigger, RecordedVisit visit, int place) =>
        trigger.Kind switch
        {
            TriggerKind.Idle => true,
            TriggerKind.Scroll => trigger.Number <= visit.Pages[place].DepthPercent,
            TriggerKind.Leaving => place == visit.Pages.Count - 1,
            _ => false,
        };

    /// <summary>The acts of a page view.</summary>
    /// <param name="visit">The visit.</param>
    /// <param name="place">Which of its page views.</param>
    /// <param name="scrolls">The depths that matter, in percent, rising.</param>
    public static IReadOnlyList<Act> Of(RecordedVisit visit, int place, IReadOnlyList<int> scrolls)
    {
        var page = visit.Pages[place];
        var until = page.StayMs - BeforeEndMs;
        if (until < 0)
            return [];
        var acts = new List<Act>(scrolls.Count + 2);
        if (page.DepthPercent > 0)
            acts.Add(new Act(0, ActKind.Busy, Number: (int)until));
        foreach (var percent in scrolls)
            if (percent <= page.DepthPercent)
                acts.Add(new Act(until * percent / page.DepthPercent, ActKind.Scroll, Number: percent));
        if (place == visit.Pages.Count - 1)
            acts.Add(new Act(until, visit.Facts.Device == Device.Desktop ? ActKind.PointerOut : ActKind.FlickUp));
        return acts;
    }
}
