using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Server.Intake;
using Outcry.Server.Platform;
using Outcry.Store;

namespace Outcry.Server.Ledger;

/// <summary>Deleted events are kept for ten minutes, so that a slip of the hand can be taken back; then they are gone.</summary>
internal sealed class DeletedEvents(SystemDb database, IClock clock)
{
    public static readonly Duration UndoFor = Duration.FromMinutes(10);

    public async Task PurgeAsync(CancellationToken stop)
    {
        var before = clock.GetCurrentInstant() - UndoFor;
        await using var db = database.Open();
        while (await PurgeLotAsync(db, before, stop) == Lot)
            db.ChangeTracker.Clear();
    }

    private const int Lot = 1_000;

    private async Task<int> PurgeLotAsync(OutcryDb db, Instant before, CancellationToken stop)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        var gone = await db
            .Events.Where(e => e.State == EventState.Deleted && e.DeletedAt < before)
            .OrderBy(e => e.Id)
            .Take(Lot)
            .AsNoTracking()
            .ToListAsync(stop);
        var ids = gone.ConvertAll(e => e.Id);
        var sites = await db
            .Sites.Where(s => gone.Select(e => e.SiteId).Contains(s.Id))
            .ToDictionaryAsync(s => s.Id, s => s.PersonKey, stop);
        foreach (var ofSite in gone.GroupBy(e => e.SiteId))
            if (sites.TryGetValue(ofSite.Key, out var key))
                Tombstones.Set(db, key, ofSite, clock.GetCurrentInstant());
        await db.Corrections.Where(c => ids.Contains(c.EventId)).ExecuteDeleteAsync(stop);
        await db.Events.Where(e => ids.Contains(e.Id)).ExecuteDeleteAsync(stop);
        await db.SaveChangesAsync(stop);
        await transaction.CommitAsync(stop);
        return gone.Count;
    }
}
