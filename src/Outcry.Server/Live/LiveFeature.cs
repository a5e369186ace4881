using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.SignalR;
using Outcry.Server.Platform;
using Outcry.Server.Sites;

namespace Outcry.Server.Live;

/// <summary>Tells open desks that something changed.</summary>
internal static class LiveFeature
{
    public static void AddLive(this WebApplicationBuilder builder) => builder.Services.AddSignalR();

    public static void MapLive(this WebApplication app) => app.MapHub<DeskHub>("/live");
}

/// <summary>A desk's line. It carries only the word that something changed; what changed is then asked for in the usual way.</summary>
[Authorize]
internal sealed class DeskHub(LiveSites sites, TeamPresence team) : Hub
{
    public static string GroupOf(Guid siteId) => $"site:{siteId}";

    /// <summary>Follows a site of the member's own workspace; any other is refused as if it did not exist.</summary>
    public async Task Follow(Guid siteId)
    {
        var member = Context.GetHttpContext()?.RequestServices.GetRequiredService<CurrentMember>();
        if (member is not { IsKnown: true } || sites.FindById(siteId)?.WorkspaceId != member.WorkspaceId)
            throw new HubException("There is no such site.");
        team.Came(Context.ConnectionId, member.WorkspaceId, siteId, member.Id, member.Name);
        await Groups.AddToGroupAsync(Context.ConnectionId, GroupOf(siteId));
        await TellAsync(siteId);
    }

    /// <summary>Says what the member is at, for colleagues to see; nothing else is read out of it.</summary>
    public Task Turn(string place) =>
        team.Turned(Context.ConnectionId, place.Length <= LongestPlace ? place : "") is { } siteId
            ? TellAsync(siteId)
            : Task.CompletedTask;

    public override Task OnDisconnectedAsync(Exception? exception) =>
        team.Went(Context.ConnectionId) is { } siteId ? TellAsync(siteId) : Task.CompletedTask;

    private const int LongestPlace = 80;

    private Task TellAsync(Guid siteId) => Clients.Group(GroupOf(siteId)).SendAsync("people", team.At(siteId));
}
