using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Outcry.Core.Briefs;
using Outcry.Core.Publishing;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Publishing;

/// <summary>Holds a workspace to its limit of callouts live at once.</summary>
internal static class LimitGate
{
    /// <summary>Why one more may not go live; null when it may, or is live already.</summary>
    public static async Task<ProblemHttpResult?> RefusalAsync(DefinitionRow row, OutcryDb db, CancellationToken stop)
    {
        if (row.Kind != BriefKind.Callout || row.State == DefinitionState.Live)
            return null;
        var limits = await db.Workspaces.Where(w => w.Id == row.WorkspaceId).Select(w => w.Limits).FirstAsync(stop);
        if (limits.CalloutsLive is not { } most)
            return null;
        var live = await db.Definitions.CountAsync(
            d => d.Kind == BriefKind.Callout && d.State == DefinitionState.Live && d.DeletedAt == null,
            stop
        );
        return live < most
            ? null
            : Problems.Of(
                StatusCodes.Status409Conflict,
                "limit",
                "The limit of callouts is reached",
                $"{live} callouts are live, and {most} is the workspace's limit. Pause one first, or ask an owner to raise it."
            );
    }
}
