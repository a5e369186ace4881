using Microsoft.EntityFrameworkCore;
using NodaTime;
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
        var all = db.Definitions.Where(d => d.SiteId == siteId && d.DeletedAt == null);
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

/// <summary>Where in a list definitions are looked for.</summary>
internal enum Shelf
{
    /// <summary>Those in use or in work.</summary>
    Current,

    /// <summary>Those put away.</summary>
    Archived,

    /// <summary>Those deleted within the last 30 days.</summary>
    Deleted,
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

    /// <summary>The site's definitions of one kind, without those that were deleted.</summary>
    public static IQueryable<DefinitionRow> DefinitionsOf(this OutcryDb db, Guid siteId, string kind) =>
        db.Definitions.Where(d => d.SiteId == siteId && d.Kind == kind && d.DeletedAt == null);

    /// <summary>For so long a deleted one can be taken back.</summary>
    public static Duration Undo { get; } = Duration.FromDays(30);

    /// <summary>What a list was asked for.</summary>
    public static Shelf ShelfOf(bool archived, bool deleted) =>
        deleted ? Shelf.Deleted
        : archived ? Shelf.Archived
        : Shelf.Current;

    /// <summary>Those that are put away in one way or the other, or those that are not.</summary>
    public static IQueryable<DefinitionRow> On(this OutcryDb db, Shelf shelf, Guid siteId, string kind) =>
        shelf == Shelf.Deleted
            ? db.Definitions.Where(d => d.SiteId == siteId && d.Kind == kind && d.DeletedAt != null)
            : db.DefinitionsOf(siteId, kind)
                .Where(d => (d.State == DefinitionState.Archived) == (shelf == Shelf.Archived));

    /// <summary>Finds a definition of a kind, which the scope has already narrowed to the member's workspace.</summary>
    public static Task<DefinitionRow?> FindDefinitionAsync(
        this OutcryDb db,
        Guid siteId,
        string kind,
        Guid id,
        CancellationToken stop
    ) => db.DefinitionsOf(siteId, kind).FirstOrDefaultAsync(d => d.Id == id, stop);
}
