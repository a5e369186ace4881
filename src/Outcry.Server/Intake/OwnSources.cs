using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Saying;
using Outcry.Core.Sources;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake;

/// <summary>A source that Outcry itself brings events by.</summary>
/// <param name="Kind">The sort, of which a site has one.</param>
/// <param name="Name">As it is called to begin with.</param>
/// <param name="Events">What it brings.</param>
/// <param name="Fields">Fields that are kept.</param>
internal sealed record OwnSource(SourceKind Kind, string Name, EventKind Events, IReadOnlyList<string> Fields);

/// <summary>Makes such a source with its first event: it is there where it is needed, and nowhere else.</summary>
internal sealed class OwnSources(SystemDb database, SiteNews news, LiveSites sites)
{
    public async Task<SourceRow> FindAsync(LiveSite site, OwnSource own, Instant now, CancellationToken stop)
    {
        if (site.Sources.Values.FirstOrDefault(s => s.Kind == own.Kind && s.DeletedAt is null) is { } known)
            return known;
        await using var db = database.Open();
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        // Two first events at once make one source.
        await db.Database.ExecuteSqlAsync($"select 1 from sites where id = {site.Id} for update", stop);
        var row = await db
            .Sources.AsNoTracking()
            .FirstOrDefaultAsync(s => s.SiteId == site.Id && s.Kind == own.Kind && s.DeletedAt == null, stop);
        if (row is null)
        {
            row = new SourceRow
            {
                WorkspaceId = site.WorkspaceId,
                SiteId = site.Id,
                Name = own.Name,
                Kind = own.Kind,
                EventKind = own.Events,
                Display = DisplayPolicy.Start,
                Map = new EventMap(
                    own.Events,
                    new Dictionary<FieldMeaning, string>(),
                    own.Fields.ToDictionary(f => f, f => f)
                ),
                CreatedAt = now,
            };
            db.Sources.Add(row);
            await db.SaveChangesAsync(stop);
        }
        await transaction.CommitAsync(stop);
        await news.TellAsync(site.Id, SiteChange.Definition);
        return sites.GetById(site.Id).Sources.GetValueOrDefault(row.Id) ?? row;
    }
}
