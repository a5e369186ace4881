using System.Collections.Concurrent;
using NodaTime;
using Outcry.Core.Pages;
using Outcry.Store.Signals;

namespace Outcry.Server.Sites;

/// <summary>One page's traffic over the last 30 days.</summary>
/// <param name="Page">The page: with the query parameters that a rule asks for, where it has any.</param>
/// <param name="Views">Page views.</param>
/// <param name="StayedPer5s">Ended page views by visible time in steps of 5 s; the last step holds all from 2 minutes.</param>
internal sealed record PageTraffic(PageAddress Page, int Views, int[] StayedPer5s)
{
    public string Path => Page.Path;
}

/// <summary>A site's traffic over the last 30 days.</summary>
/// <param name="Pages">Pages by views, most first.</param>
/// <param name="Days">Days covered, 1 to 30.</param>
internal sealed record SiteTraffic(IReadOnlyList<PageTraffic> Pages, double Days)
{
    public double ViewsADay(Func<PageAddress, bool> means) => Pages.Where(p => means(p.Page)).Sum(p => p.Views) / Days;
}

/// <summary>Reads traffic from the signals, at most once a minute a site.</summary>
internal sealed class TrafficReader(SignalFigures signals, LiveSites sites, IClock clock)
{
    public const int Steps = 25;
    private const int StepMs = 5_000;

    private readonly ConcurrentDictionary<Guid, (Instant At, SiteTraffic Traffic)> _known = new();

    public async Task<SiteTraffic> ReadAsync(Guid siteId, CancellationToken stop)
    {
        var now = clock.GetCurrentInstant();
        if (_known.TryGetValue(siteId, out var known) && now - known.At < Duration.FromMinutes(1))
            return known.Traffic;
        var traffic = await QueryAsync(siteId, sites.FindById(siteId)?.HomeHost ?? "", now, stop);
        _known[siteId] = (now, traffic);
        return traffic;
    }

    private async Task<SiteTraffic> QueryAsync(Guid siteId, string homeHost, Instant now, CancellationToken stop)
    {
        var reports = await signals.ReportsAsync(
            siteId,
            (now - Duration.FromDays(30)).InUtc().Date,
            StepMs,
            Steps,
            stop
        );
        var pages = new Dictionary<string, (PageAddress Page, int Views, int[] Steps)>();
        var first = now;
        foreach (var (where, kind, step, count, since) in reports)
        {
            var page = PageAddress.Recorded(where.Host ?? homeHost, where.Path, where.Query ?? "");
            var (_, views, steps) = pages.GetValueOrDefault(page.ToNote(), (page, 0, new int[Steps]));
            if (kind == SignalKind.View)
                views += count;
            else
                steps[step] += count;
            pages[page.ToNote()] = (page, views, steps);
            first = Instant.Min(first, since);
        }
        return new SiteTraffic(
            [
                .. pages
                    .Values.Select(p => new PageTraffic(p.Page, p.Views, p.Steps))
                    .OrderByDescending(p => p.Views)
                    .ThenBy(p => p.Path),
            ],
            Math.Clamp((now - first).TotalDays, 1, 30)
        );
    }
}
