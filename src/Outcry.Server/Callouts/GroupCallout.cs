using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Outcry.Server.Platform;
using Outcry.Store;

namespace Outcry.Server.Callouts;

/// <param name="Group">The group's name, at most 40 characters; empty to take it out of any.</param>
internal sealed record GroupRequest(string Group);

/// <summary>Puts a callout into one of the team's own groups in the list. Nothing about what visitors see changes.</summary>
internal static class GroupCallout
{
    private const int LongestName = 40;

    public static async Task<Results<NoContent, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid calloutId,
        GroupRequest request,
        OutcryDb db,
        CancellationToken stop
    )
    {
        var name = request.Group.Trim();
        if (name.Length > LongestName)
            return Problems.BadField("group", $"A group's name has at most {LongestName} characters.");
        var changed = await db
            .Callouts.Where(c => c.SiteId == siteId && c.Id == calloutId)
            .ExecuteUpdateAsync(c => c.SetProperty(x => x.Group, name), stop);
        return changed == 1 ? TypedResults.NoContent() : Problems.NotFound("callout");
    }
}
