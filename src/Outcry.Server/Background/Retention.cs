using Microsoft.EntityFrameworkCore;
using NodaTime;
using Npgsql;
using Outcry.Core.Asking;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Signals;

namespace Outcry.Server.Background;

/// <summary>What a day's clearing took away.</summary>
/// <param name="Sites">Sites that were removed a day before, gone with all their data.</param>
internal sealed record Cleared(int Events, int Visits, int Deliveries, int Visitors, int Days, int Sites);

/// <summary>Deletes what is older than its site keeps it. Whole days of visits go as partitions, the rest in lots.</summary>
internal sealed class RetentionSweep(SystemDb database, NpgsqlDataSource source, SignalRecord signals, IClock clock)
{
    private const int Lot = 10_000;

    public async Task<Cleared> RunAsync(CancellationToken stop)
    {
        var now = clock.GetCurrentInstant();
        await using var db = database.Open();
        var sites = await db.Sites.AsNoTracking().Select(s => new { s.Id, s.Keeps }).ToListAsync(stop);
        var (events, visits, deliveries, visitors) = (0, 0, 0, 0);
        foreach (var site in sites)
        {
            var keeps = site.Keeps;
            var (oldEvents, oldDeliveries, oldVisitors) = (
                keeps.EventsFrom(now),
                keeps.DeliveriesFrom(now),
                keeps.VisitorsFrom(now)
            );
            events += await InLotsAsync(
                "delete from events where id in (select id from events where site_id = $1 and at < $2 limit $3)",
                site.Id,
                oldEvents,
                stop
            );
            visits += await signals.ClearAsync(site.Id, keeps.VisitsFrom(now), stop);
            deliveries += await db
                .Deliveries.Where(d => d.SiteId == site.Id && d.At < oldDeliveries)
                .ExecuteDeleteAsync(stop);
            await db
                .Rejects.Where(r =>
                    r.Original != ""
                    && db.Imports.Any(i => i.Id == r.ImportId && i.SiteId == site.Id && i.StartedAt < oldDeliveries)
                )
                .ExecuteUpdateAsync(u => u.SetProperty(r => r.Original, ""), stop);
            // Talks are kept as long as events are: what was said is what happened.
            await db.Talks.Where(t => t.SiteId == site.Id && t.LastAt < oldEvents).ExecuteDeleteAsync(stop);
            // What was counted of forms goes with events; and with the form, where nobody has met that any more.
            await db
                .FormSends.Where(f =>
                    f.SiteId == site.Id
                    && (f.At < oldEvents || !db.FoundForms.Any(m => m.SiteId == f.SiteId && m.Key == f.Key))
                )
                .ExecuteDeleteAsync(stop);
            await ThinSendsAsync(site.Id, stop);
            visitors += await db
                .Visitors.Where(v => v.SiteId == site.Id && v.LastAt < oldVisitors)
                .ExecuteDeleteAsync(stop);
        }
        // What no server has taken for a month reaches nobody any more; the ledger has what it was about.
        var late = db.Letters.Where(l => l.MadeAt < now - LettersFor);
        await db.NoteLettersAsync(await late.Select(l => l.Id).ToListAsync(stop), SentState.NotSent, now, stop);
        await late.ExecuteDeleteAsync(stop);
        await db.LeadMails.Where(m => m.At < now - LeadMailsFor).ExecuteDeleteAsync(stop);
        var undone = now - Sites.DefinitionQueries.Undo;
        await db.Definitions.Where(d => d.DeletedAt < undone).ExecuteDeleteAsync(stop);
        var orphans = db.Corrections.Where(c => !db.Events.Any(e => e.Id == c.EventId));
        await orphans.ExecuteDeleteAsync(stop);
        // A day before the longest that any site keeps is nobody's any more.
        var days = sites.Count == 0 ? 0 : await signals.DropDaysAsync(sites.Min(s => s.Keeps.VisitsFrom(now)), stop);
        return new Cleared(events, visits, deliveries, visitors, days, await ForgetSitesAsync(db, now, stop));
    }

    private async Task ThinSendsAsync(Guid siteId, CancellationToken stop)
    {
        await using var command = source.CreateCommand(
            $"""
            delete from form_sends where id in (
              select id from (select id, row_number() over (partition by key order by at desc) as place from form_sends where site_id = $1) ranked
              where place > {Intake.FormSends.MostOfForm})
            """
        );
        command.Parameters.AddWithValue(siteId);
        await command.ExecuteNonQueryAsync(stop);
    }

    // Everything that is a site's names it, or belongs to something that does.
    private async Task<int> ForgetSitesAsync(Store.OutcryDb db, Instant now, CancellationToken stop)
    {
        var before = now - Sites.RemoveSite.Undo;
        var gone = await db.Sites.Where(s => s.RemovedAt < before).Select(s => s.Id).ToListAsync(stop);
        foreach (var id in gone)
        {
            await signals.ClearAsync(id, now.InUtc().Date.PlusDays(2), stop);
            await using var transaction = await db.Database.BeginTransactionAsync(stop);
            await db
                .Corrections.Where(c => db.Events.Any(e => e.Id == c.EventId && e.SiteId == id))
                .ExecuteDeleteAsync(stop);
            await db
                .Rejects.Where(r => db.Imports.Any(i => i.Id == r.ImportId && i.SiteId == id))
                .ExecuteDeleteAsync(stop);
            foreach (var delete in DeletesOfSites(db))
                await db.Database.ExecuteSqlRawAsync(delete, [id], stop);
            await db.Sites.Where(s => s.Id == id).ExecuteDeleteAsync(stop);
            await transaction.CommitAsync(stop);
        }
        return gone.Count;
    }

    // The names are the model's own.
    private static readonly Duration LettersFor = Duration.FromDays(30);
    private static readonly Duration LeadMailsFor = Duration.FromDays(730);

    private static IEnumerable<string> DeletesOfSites(Store.OutcryDb db) =>
        db
            .Model.GetEntityTypes()
            .Where(e => e.FindProperty("SiteId") is not null)
            .Select(e => e.GetTableName()!)
            .Distinct()
            .Order(StringComparer.Ordinal)
            .Select(table => $"delete from {table} where site_id = {{0}}");

    // Lots keep each lock short, so that intake goes on meanwhile.
    private async Task<int> InLotsAsync(string sql, Guid site, object before, CancellationToken stop)
    {
        var all = 0;
        int gone;
        do
        {
            await using var command = source.CreateCommand(sql);
            command.Parameters.AddWithValue(site);
            command.Parameters.AddWithValue(before);
            command.Parameters.AddWithValue(Lot);
            gone = await command.ExecuteNonQueryAsync(stop);
            all += gone;
        } while (gone == Lot);
        return all;
    }
}
