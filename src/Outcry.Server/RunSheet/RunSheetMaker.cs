using NodaTime;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.RunSheet;

/// <summary>Computes the lanes of the run sheet with the planner.</summary>
internal sealed class RunSheetMaker(TrafficReader reader)
{
    public async Task<IReadOnlyList<LaneView>> MakeAsync(
        LiveSite site,
        IReadOnlyList<PageGroupRow> groups,
        Persona persona,
        Instant now,
        CancellationToken stop
    )
    {
        var traffic = await reader.ReadAsync(site.Id, stop);
        var host = new Uri(site.HomeAddress).Authority;
        return [.. groups.Select(g => Lane(site, g, traffic, host, persona, now))];
    }

    private static LaneView Lane(
        LiveSite site,
        PageGroupRow group,
        SiteTraffic traffic,
        string host,
        Persona persona,
        Instant now
    )
    {
        var rule = PageRule.Parse(group.Includes, group.Excludes);
        var pages = traffic.Pages.Where(p => rule.Decide(PageAddress.At(host, p.Path)).Shown).ToList();
        // The group's busiest page stands for it; before anything was heard, the first page its patterns mean.
        var page = PageAddress.At(host, pages.Count > 0 ? pages[0].Path : Imagine(group.Includes[0]));
        var rehearsed = PersonaRehearsal.Play(site.Snapshot, page, persona, now);
        return new LaneView(
            group.Id,
            group.Name,
            page.Path,
            Math.Round(pages.Sum(p => p.Views) / traffic.Days, 1),
            StillThere(pages),
            rehearsed.Outcome.Showings.Where(s => s.Turn == 0).DistinctBy(s => s.Callout).Count(),
            site.Rules.QuietBy(page)?.Text,
            ShowingView.Of(rehearsed, site.Snapshot),
            NotShownView.Of(rehearsed, site.Snapshot, site.Zone)
        );
    }

    // The share of page views still open after 0, 5, 10 ... 120 s of visible time.
    private static double[] StillThere(List<PageTraffic> pages)
    {
        var shares = new double[TrafficReader.Steps];
        var total = pages.Sum(p => p.StayedPer5s.Sum());
        var left = 0;
        for (var step = 0; step < shares.Length; step++)
        {
            shares[step] = total == 0 ? 0 : Math.Round(1 - (double)left / total, 4);
            left += pages.Sum(p => p.StayedPer5s[step]);
        }
        return shares;
    }

    private static string Imagine(string pattern)
    {
        var parsed = PagePattern.Parse(pattern);
        return "/"
            + string.Join(
                '/',
                parsed.Segments.Where(s => s != "**").Select(s => s.Replace("*", "any", StringComparison.Ordinal))
            );
    }
}
