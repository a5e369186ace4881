using Microsoft.EntityFrameworkCore;
using NodaTime;
using Npgsql;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake;

/// <summary>Puts events into the ledger, each once, and tells whoever must know.</summary>
internal sealed class EventRecorder(SystemDb database, LiveSites sites, SiteNews news)
{
    /// <summary>Commits the event; one that is already there is left as it is.</summary>
    /// <returns>The id of the event in the ledger, new or not.</returns>
    public async Task<Guid> RecordAsync(IncomingEvent incoming, SourceRow source, Instant now, CancellationToken stop)
    {
        var site = sites.GetById(source.SiteId);
        var row = incoming.ToRow(source, site.SigningKey, now);
        await using var db = database.Open();
        db.Events.Add(row);
        try
        {
            await db.SaveChangesAsync(stop);
        }
        catch (DbUpdateException clash)
            when (clash.InnerException is PostgresException { SqlState: PostgresErrorCodes.UniqueViolation })
        {
            await using var fresh = database.Open();
            return await fresh
                .Events.Where(e => e.SourceId == source.Id)
                .Where(e =>
                    e.ExternalId == row.ExternalId || (row.DeliveryId != null && e.DeliveryId == row.DeliveryId)
                )
                .Select(e => e.Id)
                .FirstAsync(stop);
        }
        site.Add(row.ToEvent());
        await news.TellAsync(site.Id, SiteChange.Event, row.Id, stop);
        return row.Id;
    }

    /// <summary>Notes that something was refused at a source, for its health.</summary>
    public async Task RefusedAsync(SourceRow source, string because, Instant now, CancellationToken stop)
    {
        await using var db = database.Open();
        await db
            .Sources.Where(s => s.Id == source.Id)
            .ExecuteUpdateAsync(
                u => u.SetProperty(s => s.RefusedAt, now).SetProperty(s => s.RefusedBecause, because),
                stop
            );
    }
}
