using Outcry.Core.Access;
using Outcry.Core.Greetings;
using Outcry.Server.Platform;
using Outcry.Server.Publishing;
using Outcry.Store.Rows;

namespace Outcry.Server.Launchers;

/// <summary>Launchers: begun, climbed, looked at. Drafting and publishing them is as with every definition.</summary>
internal static class LaunchersFeature
{
    public static void AddLaunchers(this WebApplicationBuilder builder) =>
        builder.Services.AddDefinitionKind(LauncherKind.Instance, LauncherView.Of, hasOwnList: true);

    public static void MapLaunchers(this RouteGroupBuilder api)
    {
        var launchers = api.MapGroup("/sites/{siteId:guid}/launchers").WithTags("Launchers");
        launchers.MapGet("", StartLauncher.ListAsync).WithName("ListLaunchers");
        launchers.MapPost("", StartLauncher.HandleAsync).For(Right.Draft).WithName("StartLauncher");
        launchers.MapPost("/greetings", StartGreeting.Handle).WithName("StartGreeting");
        launchers.MapPost("/calendar", ReadCalendar.Handle).For(Right.Draft).WithName("ReadCalendar");
        launchers.MapPost("/{id:guid}/climb", ClimbLadder.HandleAsync).WithName("ClimbLadder");
        launchers.MapGet("/{id:guid}/figures", CountLadder.HandleAsync).WithName("CountLadder");
        launchers.MapPost("/{id:guid}/stage", OpenLauncherStage.HandleAsync).WithName("OpenLauncherStage");
    }
}
