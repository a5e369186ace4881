using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Pages;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Signals;

namespace Outcry.Server.Sites;

/// <summary>What a group of pages met in one window.</summary>
/// <param name="Views">Page views.</param>
/// <param name="Visitors">Distinct visitors; reloading a page does not raise it.</param>
internal sealed record TrafficFigures(int Views, int Visitors);

/// <summary>A page group's traffic.</summary>
/// <param name="Now">Visitors with a sign of life in the last 60 seconds on its pages.</param>
internal sealed record GroupTrafficView(
    string Name,
    IReadOnlyList<string> Includes,
    int Now,
    TrafficFigures Hour,
    TrafficFigures Day,
    TrafficFigures Week,
    TrafficFigures Month
);

/// <param name="Since">First page view recorded; null when there is none yet.</param>
/// <param name="TestViews">Page views of the last 30 days on test hosts, which count nowhere else.</param>
internal sealed record TrafficView(
    Instant? Since,
    GroupTrafficView Site,
    IReadOnlyList<GroupTrafficView> Groups,
    int TestViews
);

/// <summary>Page views and presence by page group, recorded from the moment of install.</summary>
internal static class ShowTraffic
{
    // An hour, a day, a week, 30 days.
    private const int Windows = 4;

    public static async Task<Ok<TrafficView>> HandleAsync(
        Guid siteId,
        OutcryDb db,
        SignalFigures signals,
        LiveSites sites,
        IClock clock,
        CancellationToken stop
    )
    {
        var site = sites.GetById(siteId);
        var now = clock.GetCurrentInstant();
        var rows = await db
            .PageGroups.AsNoTracking()
            .Where(g => g.SiteId == siteId)
            .OrderBy(g => g.Position)
            .ToListAsync(stop);
        var groups = rows.ConvertAll(g => (g.Name, g.Includes, Rule: PageGroups.RuleOf(g)));
        var counts = new Counts(groups.Count + 1);
        var tests = 0;
        Instant? since = null;
        await foreach (var seen in signals.WindowsAsync(siteId, now, stop))
        {
            if (seen.IsTest)
            {
                tests += seen.Month;
                continue;
            }
            since = since is { } s && s < seen.First ? s : seen.First;
            var page = site.PageAt(seen.Page.Host, seen.Page.Path, seen.Page.Query);
            int[] views = [seen.Hour, seen.Day, seen.Week, seen.Month];
            counts.Add(0, seen.VisitorId, views);
            for (var i = 0; i < groups.Count; i++)
                if (groups[i].Rule.Decide(page).Shown)
                    counts.Add(i + 1, seen.VisitorId, views);
        }
        var present = site.Presence.Pages(now).ToList();
        return TypedResults.Ok(
            new TrafficView(
                since,
                counts.View(0, "The whole site", [], present.Count),
                [
                    .. groups.Select(
                        (g, i) => counts.View(i + 1, g.Name, g.Includes, present.Count(p => g.Rule.Decide(p).Shown))
                    ),
                ],
                tests
            )
        );
    }

    private sealed class Counts(int groups)
    {
        private readonly int[,] _views = new int[groups, Windows];

        private readonly HashSet<string>[] _visitors =
        [
            .. Enumerable.Range(0, groups * Windows).Select(_ => new HashSet<string>()),
        ];

        public void Add(int group, string visitor, int[] views)
        {
            for (var w = 0; w < Windows; w++)
                if (views[w] > 0)
                {
                    _views[group, w] += views[w];
                    _visitors[group * Windows + w].Add(visitor);
                }
        }

        public GroupTrafficView View(int group, string name, IReadOnlyList<string> includes, int now) =>
            new(name, includes, now, Figures(group, 0), Figures(group, 1), Figures(group, 2), Figures(group, 3));

        private TrafficFigures Figures(int group, int window) =>
            new(_views[group, window], _visitors[group * Windows + window].Count);
    }
}
