using Microsoft.AspNetCore.Http.HttpResults;
using Outcry.Server.Intake.Polls;
using Outcry.Server.Platform;
using Outcry.Store;

namespace Outcry.Server.Intake.Desk;

/// <summary>Fetches a source at once, whatever its turn, and says what came of it.</summary>
internal static class FetchNow
{
    public static async Task<Results<Ok<PollOutcome>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid sourceId,
        OutcryDb db,
        PollRunner runner,
        CancellationToken stop
    )
    {
        if (await ChangeSource.FindAsync(db, siteId, sourceId, stop) is not { Poll: not null } row)
            return Problems.NotFound("source that fetches");
        if (row.PausedAt is not null)
            return Problems.Of(StatusCodes.Status409Conflict, "paused", "The source is paused", "Resume it first.");
        return TypedResults.Ok(await runner.RunAsync(row, stop));
    }
}
