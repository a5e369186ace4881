using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Outcry.Server.Live;
using Outcry.Server.Platform;
using Outcry.Store;

namespace Outcry.Server.Team;

/// <param name="IsAway">Whether visitors are not to be promised that one is there.</param>
internal sealed record AwayRequest(bool IsAway);

/// <summary>A member says that they are away for visitors, or back; it stays until they say otherwise.</summary>
internal static class SayAway
{
    public static async Task<NoContent> HandleAsync(
        Guid workspaceId,
        AwayRequest request,
        OutcryDb db,
        CurrentMember member,
        TeamNews people,
        CancellationToken stop
    )
    {
        await db
            .Memberships.Where(m => m.WorkspaceId == workspaceId && m.MemberId == member.Id)
            .ExecuteUpdateAsync(u => u.SetProperty(m => m.IsAway, request.IsAway), stop);
        await people.SaidAwayAsync(workspaceId, member.Id, request.IsAway);
        return TypedResults.NoContent();
    }
}
