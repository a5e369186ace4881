using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.SignalR;
using Outcry.Core.Access;
using Outcry.Core.Care;
using Outcry.Server.Platform;
using Outcry.Server.Sites;

namespace Outcry.Server.Live;

/// <summary>Tells open desks that something changed.</summary>
internal static class LiveFeature
{
    public static void AddLive(this WebApplicationBuilder builder)
    {
        builder.Services.AddSignalR(o => o.MaximumReceiveMessageSize = MostBytes);
        builder.Services.AddSingleton<DeskLines>();
        builder.Services.AddSingleton<IOpenDesks, OpenDesks>();
        builder.Services.AddSingleton<TeamNews>();
        builder.Services.AddSingleton<INewsTaker>(s => s.GetRequiredService<TeamNews>());
        if (PlatformFeature.IsDocumentBuild)
            return;
        builder.Services.AddHostedService<LineReview>();
        builder.Services.AddHostedService(s => s.GetRequiredService<TeamNews>());
    }

    // A desk says where it is and what it looks at, and nothing longer.
    private const int MostBytes = 4 * 1024;

    public static void MapLive(this WebApplication app) => app.MapHub<DeskHub>("/live");
}

/// <summary>A desk's line. It carries only the word that something changed; what changed is then asked for in the usual way.</summary>
[Authorize]
internal sealed class DeskHub(
    LiveSites sites,
    TeamPresence team,
    TeamNews people,
    DeskLines lines,
    MembershipCheck memberships
) : Hub
{
    public static string GroupOf(Guid siteId) => $"site:{siteId}";

    public override async Task OnConnectedAsync()
    {
        if (Member is { IsKnown: true } && Context.User is { } who && SessionClaim.Of(who) is { } session)
            lines.Opened(Context, session);
        else
            Context.Abort();
        await base.OnConnectedAsync();
    }

    /// <summary>Follows a site of one of the member's own workspaces; any other is refused as if it did not exist.</summary>
    public async Task Follow(Guid siteId)
    {
        if (
            Member is not { IsKnown: true } member
            || sites.FindById(siteId)?.WorkspaceId is not { } workspace
            || await SeatAsync(member, workspace) is not { } seat
        )
            throw new HubException("There is no such site.");
        lines.Follows(Context.ConnectionId, workspace, seat.Role);
        team.Came(
            Context.ConnectionId,
            workspace,
            siteId,
            member.Id,
            member.Name,
            AccessTable.Allows(seat.Role, Right.Answer),
            seat.IsAway
        );
        // Whoever went while it was asked who they are would stay for ever: their going has been noted already.
        if (Context.ConnectionAborted.IsCancellationRequested)
        {
            team.Went(Context.ConnectionId);
            return;
        }
        await Groups.AddToGroupAsync(Context.ConnectionId, GroupOf(siteId));
        await Turn("");
    }

    /// <summary>Says what the member is at, for colleagues to see; nothing else is read out of it.</summary>
    public Task Turn(string? place) =>
        TellAsync(
            team.Turned(Context.ConnectionId, place is { Length: <= LongestPlace } ? PlainText.Clean(place) : "")
        );

    /// <summary>Says whether anything moves at this desk: whoever has not moved for long is not there for visitors.</summary>
    public Task Idle(bool isIdle) => TellAsync(team.Moved(Context.ConnectionId, isIdle));

    public override Task OnDisconnectedAsync(Exception? exception)
    {
        lines.Closed(Context.ConnectionId);
        return team.Went(Context.ConnectionId) is { } siteId
            ? people.WentAsync(Context.ConnectionId, siteId)
            : Task.CompletedTask;
    }

    private const int LongestPlace = 80;

    private CurrentMember? Member => Context.GetHttpContext()?.RequestServices.GetRequiredService<CurrentMember>();

    // As of now: the line may have been opened by somebody who has been taken out of the workspace since.
    private async Task<(Role Role, bool IsAway)?> SeatAsync(CurrentMember member, Guid workspace) =>
        Context.User is { } who && await memberships.IsSessionOpenAsync(who, Context.ConnectionAborted)
            ? await memberships.SeatAsync(member.Id, workspace, Context.ConnectionAborted)
            : null;

    private Task TellAsync(DeskLine? line) =>
        line is null ? Task.CompletedTask : people.ToldAsync(Context.ConnectionId, line);
}

/// <summary>The desks that are open, as whoever has news of a site knows them.</summary>
internal sealed class OpenDesks(IHubContext<DeskHub> hub) : IOpenDesks
{
    public Task TellAsync(Guid siteId, string what, CancellationToken stop) =>
        hub.Clients.Group(DeskHub.GroupOf(siteId)).SendAsync("changed", what, stop);
}
