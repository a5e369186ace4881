using NodaTime;
using Outcry.Core.Pages;
using Outcry.Server.Sites;
using Outcry.Store.Signals;

namespace Outcry.Server.Callouts;

/// <summary>Visitors counted on some pages.</summary>
/// <param name="Week">Distinct visitors in the last seven days.</param>
/// <param name="BusyMinute">Distinct visitors at each day's busiest minute: the middle one of the seven days' numbers.</param>
internal readonly record struct VisitorCounts(int Week, int BusyMinute);

/// <summary>Counts the visitors of a page group from what their browsers reported; nothing is estimated.</summary>
internal sealed class GroupVisitors(SignalFigures signals)
{
    private const int Days = 7;

    public async Task<VisitorCounts> CountAsync(LiveSite site, PageRule rule, Instant now, CancellationToken stop)
    {
        var from = now - Duration.FromDays(Days);
        var pages = (await signals.PagesAsync(site.Id, from, now, stop)).FindAll(p =>
            rule.Decide(site.PageAt(p.Host, p.Path, p.Query)).Shown
        );
        if (pages.Count == 0)
            return default;
        var (visitors, minutes) = await signals.VisitorsAsync(site.Id, pages, from, now, stop);
        // A day without a view had nobody at its busiest minute.
        var busiest = minutes.Concat(Enumerable.Repeat(0, Days)).Take(Days).Order().ToArray();
        return new VisitorCounts(visitors, busiest[Days / 2]);
    }
}
