using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Server.Platform;

namespace Outcry.Server.Ledger;

/// <summary>Deleted events are kept for ten minutes, so that a slip of the hand can be taken back; then they are gone.</summary>
internal sealed class DeletedEvents(SystemDb database, IClock clock)
{
    public static readonly Duration UndoFor = Duration.FromMinutes(10);

    public async Task PurgeAsync(CancellationToken stop)
    {
        var before = clock.GetCurrentInstant() - UndoFor;
        await using var db = database.Open();
        var gone = db.Events.Where(e => e.State == EventState.Deleted && e.DeletedAt < before);
        await db.Corrections.Where(c => gone.Any(e => e.Id == c.EventId)).ExecuteDeleteAsync(stop);
        await gone.ExecuteDeleteAsync(stop);
    }
}
