using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Npgsql;
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
    private static readonly Duration[] Windows =
    [
        Duration.FromHours(1),
        Duration.FromDays(1),
        Duration.FromDays(7),
        Duration.FromDays(30),
    ];

    public static async Task<Ok<TrafficView>> HandleAsync(
        Guid siteId,
        OutcryDb db,
        NpgsqlDataSource source,
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
        await using var command = source.CreateCommand(
            $"""
            select host, path, query, visitor_id, is_test,
                   count(*) filter (where at > $2 - interval '1 hour')::int, count(*) filter (where at > $2 - interval '1 day')::int,
                   count(*) filter (where at > $2 - interval '7 days')::int, count(*)::int, min(at)
            from signals where site_id = $1 and day >= $3 and at > $2 - interval '30 days' and kind = {(short)
                SignalKind.View}
            group by 1, 2, 3, 4, 5
            """
        );
        command.Parameters.AddWithValue(siteId);
        command.Parameters.AddWithValue(now);
        command.Parameters.AddWithValue((now - Windows[^1]).InUtc().Date);
        Instant? since = null;
        await using var reader = await command.ExecuteReaderAsync(stop);
        while (await reader.ReadAsync(stop))
        {
            int[] views = [reader.GetInt32(5), reader.GetInt32(6), reader.GetInt32(7), reader.GetInt32(8)];
            if (reader.GetBoolean(4))
            {
                tests += views[^1];
                continue;
            }
            var first = await reader.GetFieldValueAsync<Instant>(9, stop);
            since = since is { } s && s < first ? s : first;
            var page = site.PageAt(TextOrNull(reader, 0), reader.GetString(1), TextOrNull(reader, 2));
            var visitor = reader.GetString(3);
            counts.Add(0, visitor, views);
            for (var i = 0; i < groups.Count; i++)
                if (groups[i].Rule.Decide(page).Shown)
                    counts.Add(i + 1, visitor, views);
        }
        var present = site.PagesNow(now).ToList();
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

    private static string? TextOrNull(NpgsqlDataReader reader, int column) =>
        reader.IsDBNull(column) ? null : reader.GetString(column);

    private sealed class Counts(int groups)
    {
        private readonly int[,] _views = new int[groups, Windows.Length];

        private readonly HashSet<string>[] _visitors =
        [
            .. Enumerable.Range(0, groups * Windows.Length).Select(_ => new HashSet<string>()),
        ];

        public void Add(int group, string visitor, int[] views)
        {
            for (var w = 0; w < Windows.Length; w++)
                if (views[w] > 0)
                {
                    _views[group, w] += views[w];
                    _visitors[group * Windows.Length + w].Add(visitor);
                }
        }

        public GroupTrafficView View(int group, string name, IReadOnlyList<string> includes, int now) =>
            new(name, includes, now, Figures(group, 0), Figures(group, 1), Figures(group, 2), Figures(group, 3));

        private TrafficFigures Figures(int group, int window) =>
            new(_views[group, window], _visitors[group * Windows.Length + window].Count);
    }
}
