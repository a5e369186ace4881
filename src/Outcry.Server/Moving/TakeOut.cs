using System.Text.Json;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Moving;

/// <summary>Writes what a team made into one document.</summary>
internal static class TakeOut
{
    public static async Task<FileContentHttpResult> HandleAsync(
        Guid workspaceId,
        OutcryDb db,
        TraceBook traces,
        IClock clock,
        CancellationToken stop
    )
    {
        var workspace = await db.Workspaces.AsNoTracking().FirstAsync(w => w.Id == workspaceId, stop);
        var sites = await db
            .Sites.AsNoTracking()
            .Where(s => s.RemovedAt == null)
            .OrderBy(s => s.CreatedAt)
            .ToListAsync(stop);
        var bundled = new List<BundledSite>();
        foreach (var site in sites)
            bundled.Add(await ReadAsync(site, db, stop));
        traces.Add("took out", workspace.Name);
        await db.SaveChangesAsync(stop);
        var bundle = new Bundle(
            Bundle.Name,
            Bundle.Newest,
            clock.GetCurrentInstant(),
            workspace.Name,
            workspace.Habits,
            bundled
        );
        return TypedResults.File(
            JsonSerializer.SerializeToUtf8Bytes(bundle, JsonColumn.Options),
            "application/json",
            "outcry-bundle.json"
        );
    }

    /// <summary>One site as it goes into a bundle.</summary>
    public static async Task<BundledSite> ReadAsync(SiteRow site, OutcryDb db, CancellationToken stop)
    {
        var definitions = await db
            .Definitions.AsNoTracking()
            .Where(d => d.SiteId == site.Id && d.DeletedAt == null)
            .OrderBy(d => d.CreatedAt)
            .ToListAsync(stop);
        var ids = definitions.ConvertAll(d => d.Id);
        var revisions = (
            await db.Revisions.AsNoTracking().Where(r => ids.Contains(r.DefinitionId)).ToListAsync(stop)
        ).ToLookup(r => r.DefinitionId);
        var groups = await db.PageGroups.AsNoTracking().Where(g => g.SiteId == site.Id).ToListAsync(stop);
        var segments = await db.Segments.AsNoTracking().Where(s => s.SiteId == site.Id).ToListAsync(stop);
        var sources = await db
            .Sources.AsNoTracking()
            .Where(s => s.SiteId == site.Id && s.DeletedAt == null)
            .OrderBy(s => s.CreatedAt)
            .ToListAsync(stop);
        var pictures = await db.Pictures.AsNoTracking().Where(p => p.SiteId == site.Id).ToListAsync(stop);
        return new BundledSite(
            site.Id,
            site.Name,
            site.HomeAddress,
            site.TimeZone,
            site.Language,
            site.Rules,
            site.Nouns,
            site.OwnWords,
            site.Consent,
            site.Keeps,
            site.Words,
            site.Kit,
            groups.ConvertAll(g => new BundledGroup(g.Id, g.Name, g.Includes, g.Excludes, g.Position)),
            segments.ConvertAll(s => new BundledSegment(s.Id, s.Name, s.Rule)),
            sources.ConvertAll(s => new BundledSource(
                s.Id,
                s.Name,
                s.Kind,
                s.EventKind,
                s.Form,
                s.Map,
                s.Display,
                s.Rules,
                s.Poll,
                s.Script
            )),
            pictures.ConvertAll(p => new BundledPicture(p.Id, p.Name, p.Bytes)),
            [
                .. definitions
                    // What is damaged cannot be taken along.
                    .Where(d => d.Draft.ToNode() is not null)
                    .Select(d => new BundledDefinition(
                        d.Id,
                        d.Kind,
                        d.Name,
                        d.Group,
                        d.State,
                        d.Draft.ToNode()!,
                        [
                            .. revisions[d.Id]
                                .Where(r => r.Content.ToNode() is not null)
                                .OrderBy(r => r.Number)
                                .Select(r => new BundledRevision(
                                    r.Number,
                                    r.Content.ToNode()!,
                                    r.PublishedAt,
                                    r.PublishedBy
                                )),
                        ]
                    )),
            ]
        );
    }
}
