using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Claims;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Store.Signals;

namespace Outcry.Server.Sites;

/// <summary>Counts from the recorded page views what callouts draw on: views, and visitors each once, in rolling windows.</summary>
internal sealed class LookedCounter(SignalFigures signals)
{
    /// <summary>Pages of which a callout keeps figures of their own, the busiest first.</summary>
    private const int MostPaths = 2_000;

    /// <summary>The figures of every callout that draws on page views of a window; reads nothing when none does.</summary>
    public async Task<IReadOnlyDictionary<Guid, Looked>> CountAsync(
        Guid siteId,
        string homeHost,
        IReadOnlyCollection<Callout> callouts,
        Instant now,
        CancellationToken stop
    )
    {
        var counted = new Dictionary<Guid, Looked>();
        foreach (var window in callouts.Where(Draws).GroupBy(c => c.Evidence.Window))
        {
            var rows = await ReadAsync(siteId, homeHost, window.Key, now, stop);
            foreach (var callout in window)
                counted[callout.Id] = Sum(callout, rows, now);
        }
        return counted;
    }

    /// <summary>Whether a callout draws on page views of a window.</summary>
    public static bool Draws(Callout callout) =>
        callout.Brief switch
        {
            { Kind: CalloutKind.Headcount, From.WindowMinutes: not null } => true,
            { Kind: CalloutKind.Tally, From.Measure: Measure.PageViews or Measure.Visitors } => true,
            _ => false,
        };

    private static Looked Sum(Callout callout, List<Row> rows, Instant now)
    {
        var onPages = rows.GroupBy(r => r.Page)
            .Where(p => callout.CountsPage(p.Key))
            .GroupBy(p => p.Key.Path, p => (IEnumerable<Row>)p)
            .Select(p => (Path: p.Key, Rows: p.SelectMany(r => r).ToList()))
            .ToList();
        var all = Sum(onPages.SelectMany(p => p.Rows), now);
        return callout.Brief.From.OfThisPage
            ? all with
            {
                ByPath = onPages
                    .OrderByDescending(p => p.Rows.Sum(r => r.Views))
                    .Take(MostPaths)
                    .ToDictionary(p => p.Path, p => Sum(p.Rows, now)),
            }
            : all;
    }

    private static Looked Sum(IEnumerable<Row> rows, Instant now)
    {
        var (views, firsts) = (0, new Dictionary<string, Instant>());
        foreach (var row in rows)
        {
            views += row.Views;
            firsts[row.Visitor] = Instant.Min(row.First, firsts.GetValueOrDefault(row.Visitor, now));
        }
        if (firsts.Count == 0)
            return Looked.None;
        var oldest = firsts.MinBy(f => f.Value);
        var others = firsts.Where(f => f.Key != oldest.Key).Select(f => f.Value).DefaultIfEmpty(now).Min();
        return new Looked(views, firsts.Count, now - oldest.Value)
        {
            OldestVisitor = oldest.Key,
            OthersSpan = now - others,
        };
    }

    private async Task<List<Row>> ReadAsync(
        Guid siteId,
        string homeHost,
        Duration? window,
        Instant now,
        CancellationToken stop
    )
    {
        var from = window is { } w ? now - w : Instant.FromUnixTimeSeconds(0);
        var pages = new Dictionary<SignalPage, PageAddress>();
        return (await signals.LooksAsync(siteId, from, stop)).ConvertAll(l => new Row(
            PageOf(l.Page),
            l.VisitorId,
            l.Views,
            l.First
        ));

        PageAddress PageOf(SignalPage recorded) =>
            pages.TryGetValue(recorded, out var page)
                ? page
                : pages[recorded] = PageAddress.Recorded(
                    recorded.Host ?? homeHost,
                    recorded.Path,
                    recorded.Query ?? ""
                );
    }

    private sealed record Row(PageAddress Page, string Visitor, int Views, Instant First);
}
