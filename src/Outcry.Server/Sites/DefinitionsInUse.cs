using Microsoft.EntityFrameworkCore;
using Outcry.Core.Publishing;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Sites;

/// <summary>A definition, archived or not, with the shared pieces that its draft names, or what is published of it.</summary>
internal sealed record DefinitionInUse(Guid Id, string Kind, string Name, DefinitionState State, References References);

/// <summary>Reads which definitions name segments, page groups, sources and pictures: what is put away may come back, so it counts.</summary>
internal sealed class DefinitionsInUse(OutcryDb db, LiveKinds kinds)
{
    public async Task<IReadOnlyList<DefinitionInUse>> ReadAsync(Guid siteId, CancellationToken stop)
    {
        var all = db.Definitions.Where(d => d.SiteId == siteId);
        var rows = await all.AsNoTracking().ToListAsync(stop);
        var live = await db.PublishedOf(all).ToDictionaryAsync(r => r.DefinitionId, r => r.Content, stop);
        return rows.ConvertAll(row =>
        {
            var contents = live.TryGetValue(row.Id, out var published) ? new[] { row.Draft, published } : [row.Draft];
            return new DefinitionInUse(
                row.Id,
                row.Kind,
                row.Name,
                row.State,
                References.Join(contents.Select(c => kinds.ReferencesOf(row.Kind, c)))
            );
        });
    }
}

/// <summary>Questions about definitions that many ask.</summary>
internal static class DefinitionQueries
{
    /// <summary>The newest revision of each of some definitions; none of those that were never published.</summary>
    public static IQueryable<RevisionRow> PublishedOf(this OutcryDb db, IQueryable<DefinitionRow> definitions) =>
        definitions.Join(
            db.Revisions.AsNoTracking(),
            d => new { d.Id, Number = d.Revision },
            r => new { Id = r.DefinitionId, r.Number },
            (d, r) => r
        );

    /// <summary>The site's definitions of one kind.</summary>
    public static IQueryable<DefinitionRow> DefinitionsOf(this OutcryDb db, Guid siteId, string kind) =>
        db.Definitions.Where(d => d.SiteId == siteId && d.Kind == kind);

    /// <summary>Finds a definition of a kind, which the scope has already narrowed to the member's workspace.</summary>
    public static Task<DefinitionRow?> FindDefinitionAsync(
        this OutcryDb db,
        Guid siteId,
        string kind,
        Guid id,
        CancellationToken stop
    ) => db.DefinitionsOf(siteId, kind).FirstOrDefaultAsync(d => d.Id == id, stop);
}
