using Outcry.Core.Pages;
using Outcry.Core.Visitors;

namespace Outcry.Server.Sites;

/// <summary>
/// Collects what a site's rules ask for by name: query parameters and visitors' attributes. What nobody asks for is kept
/// of no page and of no visitor.
/// </summary>
internal static class AskedNames
{
    /// <summary>Query parameters.</summary>
    public static IReadOnlySet<string> Query(LiveSite site)
    {
        var rules = site
            .Callouts.SelectMany(c => c.Targeting.Pages.Rules)
            .Concat(site.Callouts.Select(c => c.Evidence.Pages).OfType<PageRule>())
            .Concat(site.Launchers.SelectMany(l => l.Targeting.Pages.Rules))
            .Concat(site.Context.Groups.Values.Select(g => g.Rule))
            .Concat(site.Forms.Select(f => f.Pages));
        var entries = Tests(site).Where(t => t.Fact == VisitorFact.EntryPage).Select(t => t.Value);
        return rules
            .SelectMany(r => r.Includes.Concat(r.Excludes))
            .Concat(
                entries.Concat(site.Rules.QuietPages).Select(p => PagePattern.TryParse(p, out _)).OfType<PagePattern>()
            )
            .SelectMany(p => p.Query)
            .Select(q => q.Key)
            // What a prompt keeps of the page by which a visit came in has to be known from that page on.
            .Concat(
                site.Callouts.SelectMany(c => c.Brief.Ask?.Hidden ?? [])
                    .Where(h => h is { OfEntry: true, Parameter.Length: > 0 })
                    .Select(h => h.Parameter)
            )
            .ToHashSet(StringComparer.OrdinalIgnoreCase);
    }

    /// <summary>Attributes of visitors.</summary>
    public static IReadOnlySet<string> Attributes(LiveSite site) =>
        Tests(site)
            .Where(t => t.Fact == VisitorFact.Attribute)
            .Select(t => t.Key)
            .ToHashSet(StringComparer.OrdinalIgnoreCase);

    private static IEnumerable<FactTest> Tests(LiveSite site) =>
        site
            .Context.Segments.Values.Select(s => s.Rule)
            .Concat(site.Callouts.Select(c => c.Brief.Who.Rule))
            .Concat(site.Launchers.Select(l => l.Brief.Who.Rule))
            .SelectMany(RuleParts.Tests);
}
