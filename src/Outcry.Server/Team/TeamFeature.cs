using Outcry.Core.Access;
using Outcry.Server.Accounts;
using Outcry.Server.Platform;

namespace Outcry.Server.Team;

/// <summary>A workspace's people: who they are, what they may, what they did, and the machines that work for them.</summary>
internal static class TeamFeature
{
    public static void AddTeam(this WebApplicationBuilder builder) => builder.Services.AddSingleton<LimitRound>();

    public static void MapTeam(this RouteGroupBuilder api)
    {
        var team = api.MapGroup("/workspaces/{workspaceId:guid}/team").WithTags("Team");
        team.MapGet("", ShowTeam.HandleAsync).For(Right.Enter).WithName("GetTeam");
        team.MapPut("/name", ChangeTeam.RenameAsync).For(Right.Govern).WithName("RenameWorkspace");
        team.MapPut("/habits", ChangeTeam.SetHabitsAsync).For(Right.Govern).WithName("SetHabits");
        team.MapPut("/members/{memberId:guid}", ChangeTeam.SetRoleAsync).For(Right.Govern).WithName("SetRole");
        team.MapDelete("/members/{memberId:guid}", ChangeTeam.RemoveAsync).For(Right.Govern).WithName("RemoveMember");
        team.MapPut("/away", SayAway.HandleAsync).For(Right.Answer).WithName("SayAway");
        team.MapPost("/leave", ChangeTeam.LeaveAsync).ForOneself().WithName("LeaveWorkspace");
        team.MapGet("/limits", WorkspaceUse.ShowAsync).For(Right.Govern).WithName("GetLimits");
        team.MapPut("/limits", WorkspaceUse.SetAsync).For(Right.Govern).WithName("SetLimits");
        var invitations = team.MapGroup("/invitations");
        invitations.MapPost("", Invitations.InviteAsync).For(Right.Govern).WithName("Invite");
        invitations
            .MapPost("/{invitationId:guid}/again", Invitations.AgainAsync)
            .For(Right.Govern)
            .WithName("InviteAgain");
        invitations
            .MapDelete("/{invitationId:guid}", Invitations.WithdrawAsync)
            .For(Right.Govern)
            .WithName("WithdrawInvitation");
        var groups = team.MapGroup("/groups");
        groups.MapGet("", AnswerGroups.ListAsync).For(Right.Enter).WithName("ListGroups");
        groups.MapPost("", AnswerGroups.AddAsync).For(Right.Govern).WithName("AddGroup");
        groups.MapPut("/{groupId:guid}", AnswerGroups.ChangeAsync).For(Right.Govern).WithName("ChangeGroup");
        groups.MapDelete("/{groupId:guid}", AnswerGroups.RemoveAsync).For(Right.Govern).WithName("RemoveGroup");
        var tokens = team.MapGroup("/tokens");
        tokens.MapGet("", MachineTokens.ListAsync).For(Right.Govern).WithName("ListTokens");
        tokens.MapPost("", MachineTokens.MakeAsync).For(Right.Govern).WithName("MakeToken");
        tokens.MapDelete("/{tokenId:guid}", MachineTokens.EndAsync).For(Right.Govern).WithName("EndToken");
        var traces = team.MapGroup("/traces");
        traces.MapGet("", ListTraces.HandleAsync).For(Right.See).WithName("ListTraces");
        traces.MapGet("/export.csv", ListTraces.ExportAsync).For(Right.Govern).WithName("ExportTraces");

        var joining = api.MapGroup("/invitations").WithTags("Team").AllowAnonymous().ForOneself();
        joining.MapPost("/look", Joining.LookAsync).RequireRateLimiting(Limits.SignIn).WithName("LookAtInvitation");
        joining.MapPost("/accept", Joining.AcceptAsync).RequireRateLimiting(Limits.SignIn).WithName("AcceptInvitation");
    }
}
