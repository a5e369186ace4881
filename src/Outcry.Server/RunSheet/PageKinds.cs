using Outcry.Core.Briefs;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Server.Sites;

namespace Outcry.Server.RunSheet;

/// <summary>Pages on which the very same callouts could show, so that one of them stands for all.</summary>
/// <param name="Page">The busiest.</param>
/// <param name="Pages">All of them with their traffic; none for a page that a pattern means and nobody has looked at yet.</param>
internal sealed record PageKind(PageAddress Page, IReadOnlyList<PageTraffic> Pages)
{
    /// <summary>Kinds told apart, the busiest first; beyond these nobody reads on.</summary>
    public const int Most = 60;

    /// <summary>Sorts pages into kinds, the busiest first.</summary>
    /// <param name="pages">Pages by views, most first.</param>
    /// <param name="sites">Pages are of one kind when they are so on each of these sites.</param>
    public static List<PageKind> Of(IEnumerable<PageTraffic> pages, params SiteSnapshot[] sites)
    {
        var kinds = new Dictionary<string, (PageAddress Page, List<PageTraffic> Pages)>();
        foreach (var page in pages)
        {
            var key = string.Join('|', sites.Select(s => KeyOf(s, page.Page)));
            if (kinds.TryGetValue(key, out var known))
                known.Pages.Add(page);
            else
                kinds[key] = (page.Page, [page]);
        }
        return
        [
            .. kinds
                .Values.Select(k => new PageKind(k.Page, k.Pages))
                .OrderByDescending(k => k.Pages.Sum(p => p.Views))
                .Take(Most),
        ];
    }

    // Of what tells only of the page's own product, each page is its own.
    private static string KeyOf(SiteSnapshot site, PageAddress page)
    {
        var places = site.OnPage(page);
        var own = places.Any(p => site.Callouts[p].Brief.From.OfThisPage) ? page.Path : "";
        return $"{string.Join(',', places)};{site.Rules.QuietBy(page)?.Text};{own}";
    }
}
