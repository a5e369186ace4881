using Microsoft.EntityFrameworkCore;
using Outcry.Core.Evidence;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Care;

/// <summary>Holds what is in the ledger already when words are added to the blocked ones: a lot at a time, from where it stopped.</summary>
/// <remarks>Only the words that are new are looked for, so what somebody let pass under the old ones stays let through.</remarks>
internal sealed class WordScan(SystemDb database, SuppliedWords supplied, SiteNews news)
{
    /// <summary>Events looked at in one go, so that each lock is short and progress is seen.</summary>
    private const int Lot = 2_000;

    /// <summary>Goes on with every scan that is due, to its end.</summary>
    public async Task RunAsync(CancellationToken stop)
    {
        List<Guid> due;
        await using (var db = database.Open())
            due = await db
                .Sites.Where(s => s.WordsDue.Count > 0 && s.RemovedAt == null)
                .Select(s => s.Id)
                .ToListAsync(stop);
        foreach (var siteId in due)
            while (await LotAsync(siteId, stop))
                stop.ThrowIfCancellationRequested();
    }

    private async Task<bool> LotAsync(Guid siteId, CancellationToken stop)
    {
        await using var db = database.Open();
        var site = await db.Sites.FirstOrDefaultAsync(s => s.Id == siteId, stop);
        if (site is null || site.WordsDue.Count == 0)
            return false;
        var words = supplied.CompileOnly(site.WordsDue);
        var after = site.WordsDueAfter ?? Guid.Empty;
        var rows = await db
            .Events.Where(e => e.SiteId == siteId && e.Id > after && e.State == EventState.Usable)
            .OrderBy(e => e.Id)
            .Take(Lot)
            .ToListAsync(stop);
        var held = 0;
        foreach (var row in rows)
            if (words.FindIn(TextsOf(row)) is { } found)
            {
                (row.State, row.HeldBecause) = (EventState.Held, found);
                held++;
            }
        var isDone = rows.Count < Lot;
        site.WordsDueAfter = isDone ? null : rows[^1].Id;
        if (isDone)
            site.WordsDue = [];
        await db.SaveChangesAsync(stop);
        if (held > 0 || isDone)
            await news.TellAsync(siteId, SiteChange.Definition);
        return !isDone;
    }

    /// <summary>How far a scan is.</summary>
    /// <returns>Events still to be looked at; null when none is due.</returns>
    public static async Task<int?> LeftAsync(OutcryDb db, SiteRow site, CancellationToken stop)
    {
        if (site.WordsDue.Count == 0)
            return null;
        var after = site.WordsDueAfter ?? Guid.Empty;
        return await db.Events.CountAsync(
            e => e.SiteId == site.Id && e.Id > after && e.State == EventState.Usable,
            stop
        );
    }

    // What visitors could read of it: the same as is looked at on arrival.
    private static IEnumerable<string?> TextsOf(EventRow row) =>
        [row.FirstName, row.City, row.Region, row.Country, row.ProductName, row.ProductCategory, .. row.Fields.Values];
}
