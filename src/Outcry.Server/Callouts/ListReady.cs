using Microsoft.AspNetCore.Http.HttpResults;
using Outcry.Core.Briefs;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Callouts;

/// <summary>A ready brief.</summary>
/// <param name="Source">The source it would draw on; empty for none.</param>
/// <param name="Lacks">Whether it needs events that no source of the site brings yet.</param>
internal sealed record ReadyView(
    string Key,
    string Name,
    string Does,
    CalloutKind Kind,
    Shape Shape,
    string Source,
    bool Lacks
);

/// <summary>The ready briefs, those first that the site has events for.</summary>
internal static class ListReady
{
    public static Ok<List<ReadyView>> Handle(Guid siteId, LiveSites sites)
    {
        var site = sites.GetById(siteId);
        return TypedResults.Ok(
            ReadyBrief
                .All.Select(ready =>
                {
                    var source = SourceFor(site, ready);
                    return new ReadyView(
                        ready.Key,
                        ready.Name,
                        ready.Does,
                        ready.Kind,
                        ready.On(ready.Usual, []).Look.Shape,
                        source?.Name ?? "",
                        ready.Of.Count > 0 && source is null
                    );
                })
                .OrderBy(r => r.Lacks)
                .ToList()
        );
    }

    /// <summary>The source that suits it best: of the kind it would rather have, the oldest.</summary>
    public static SourceRow? SourceFor(LiveSite site, ReadyBrief ready) =>
        ready
            .Of.SelectMany(kind =>
                site.Sources.Values.Where(s => s.DeletedAt is null && s.EventKind == kind).OrderBy(s => s.Id)
            )
            .FirstOrDefault();
}
