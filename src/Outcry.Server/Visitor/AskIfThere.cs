using NodaTime;
using Outcry.Core.Greetings;
using Outcry.Server.Sites;

namespace Outcry.Server.Visitor;

/// <summary>POST /v/there: whether somebody of the team is there, asked at the moment a callout that needs it would start.</summary>
internal static class AskIfThere
{
    public static async Task<IResult> HandleAsync(HttpContext http, LiveSites sites, TeamPresence team, IClock clock)
    {
        var (request, unreadable) = await VisitorDoor.ReadAsync(http, VisitorJson.Default.ThereRequest);
        if (unreadable is not null)
            return unreadable;
        var (site, _, refused) = VisitorDoor.Check(http, sites, request!.Site, request.Page, clock.GetCurrentInstant());
        return refused
            ?? Results.Json(
                new ThereResponse(team.ThereOf(site!.WorkspaceId).IsThere(GroupAt(site, request.Launcher))),
                VisitorJson.Default.ThereResponse
            );
    }

    // Whoever would answer at the launcher that stands there.
    private static Guid? GroupAt(LiveSite site, Guid? launcher) =>
        launcher is { } id ? (site.Compiled.GetValueOrDefault(id) as Launcher)?.Brief.GroupId : null;
}
