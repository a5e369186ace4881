using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Outcry.Core.Visitors;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.Audience;

/// <summary>Values that were seen of a fact, the most frequent first.</summary>
/// <param name="Key">The campaign parameter or the attribute; empty where the fact has no key.</param>
internal sealed record SeenFactView(VisitorFact Fact, string Key, IReadOnlyList<string> Values);

/// <summary>What visitors of the last 30 days were like, so that nobody has to guess how a rule's value is spelt.</summary>
internal static class ListSeenFacts
{
    private const int MostValues = 50;
    private const int MostAttributes = 40;
    private const int MostVisitors = 2_000;

    private static readonly VisitorFact[] OfVisits =
    [
        VisitorFact.Country,
        VisitorFact.Region,
        VisitorFact.City,
        VisitorFact.Language,
        VisitorFact.Referrer,
        VisitorFact.EntryPage,
    ];

    public static async Task<Ok<List<SeenFactView>>> HandleAsync(
        Guid siteId,
        OutcryDb db,
        LiveSites sites,
        CensusTaker taker,
        CancellationToken stop
    )
    {
        var site = sites.GetById(siteId);
        var census = await taker.ReadAsync(site, stop);
        var readers = census.Visits.Select(v => Census.ReaderOf(v, site.Snapshot)).ToList();
        var seen = OfVisits
            .Select(f => new SeenFactView(f, "", Frequent(readers.Select(r => Said(r.Text(f, ""), f)))))
            .ToList();
        seen.AddRange(ByKey(VisitorFact.Campaign, readers.SelectMany(r => r.Record.Visit.WayIn.Campaign)));
        var said = await db
            .Visitors.AsNoTracking()
            .Where(v => v.SiteId == siteId)
            .OrderByDescending(v => v.LastAt)
            .Take(MostVisitors)
            .Select(v => v.Attributes)
            .ToListAsync(stop);
        var open = said.SelectMany(a => a).Where(a => VisitorFacts.MayBeAsked(a.Key)).ToList();
        seen.AddRange(ByKey(VisitorFact.Attribute, open.Where(a => a.Key != VisitorFacts.TagsAttribute)));
        seen.Add(
            new SeenFactView(
                VisitorFact.Tag,
                "",
                Frequent(
                    open.Where(a => a.Key == VisitorFacts.TagsAttribute)
                        .SelectMany(a => a.Value.Split(',', StringSplitOptions.TrimEntries))
                )
            )
        );
        return TypedResults.Ok(seen.FindAll(s => s.Values.Count > 0));
    }

    // A page is recorded with its host, and asked for by its path.
    private static string Said(string text, VisitorFact fact) =>
        fact == VisitorFact.EntryPage && text.IndexOf('/', StringComparison.Ordinal) is > 0 and var path
            ? text[path..]
            : text;

    private static IEnumerable<SeenFactView> ByKey(
        VisitorFact fact,
        IEnumerable<KeyValuePair<string, string>> values
    ) =>
        values
            .GroupBy(v => v.Key, v => v.Value)
            .OrderByDescending(g => g.Count())
            .Take(MostAttributes)
            .Select(g => new SeenFactView(fact, g.Key, Frequent(g)));

    private static List<string> Frequent(IEnumerable<string> values) =>
        [
            .. values
                .Where(v => v.Length > 0)
                .GroupBy(v => v)
                .OrderByDescending(g => g.Count())
                .ThenBy(g => g.Key, StringComparer.Ordinal)
                .Take(MostValues)
                .Select(g => g.Key),
        ];
}
