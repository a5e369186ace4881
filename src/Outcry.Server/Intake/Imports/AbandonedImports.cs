using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Server.Platform;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake.Imports;

/// <summary>
/// Says at the start of imports that were under way when a node went down that they broke off. Of one that another node
/// still reads it is said again that it runs when its next lot is saved.
/// </summary>
internal sealed class AbandonedImports(SystemDb database, IClock clock) : IBeforeReady
{
    private const string WentDown =
        "The desk went down meanwhile. What was read so far is in the ledger; import the file again, nothing counts twice.";

    public async Task PrepareAsync(CancellationToken stop)
    {
        var now = clock.GetCurrentInstant();
        await using var db = database.Open();
        await db
            .Imports.Where(i => i.State == ImportState.Running)
            .ExecuteUpdateAsync(
                u =>
                    u.SetProperty(i => i.State, ImportState.Failed)
                        .SetProperty(i => i.EndedAt, now)
                        .SetProperty(i => i.Because, WentDown),
                stop
            );
    }
}
