using Outcry.Server.Platform;
using Outcry.Store.Rows;

namespace Outcry.Server.Callouts;

/// <summary>Briefs: drafted, looked at, put live, taken off.</summary>
internal static class CalloutsFeature
{
    public static void AddCallouts(this WebApplicationBuilder builder)
    {
        builder.Services.AddSingleton<CalloutFigures>();
        builder.Services.AddSingleton<GroupVisitors>();
    }

    public static void MapCallouts(this RouteGroupBuilder api)
    {
        var callouts = api.MapGroup("/sites/{siteId:guid}/callouts").WithTags("Callouts");
        callouts.MapGet("", ListCallouts.HandleAsync).WithName("ListCallouts");
        callouts.MapPost("", StartCallout.HandleAsync).For(Role.Editor).WithName("StartCallout");
        callouts.MapGet("/ready", ListReady.Handle).WithName("ListReady");
        callouts.MapGet("/advice", AdviseKinds.HandleAsync).WithName("AdviseKinds");
        callouts.MapGet("/{calloutId:guid}", ShowCallout.HandleAsync).WithName("GetCallout");
        callouts.MapPut("/{calloutId:guid}/draft", SaveDraft.HandleAsync).For(Role.Editor).WithName("SaveDraft");
        callouts
            .MapPost("/{calloutId:guid}/publish", PublishCallout.HandleAsync)
            .For(Role.Publisher)
            .WithName("PublishCallout");
        callouts
            .MapPost("/{calloutId:guid}/pause", PauseCallout.PauseAsync)
            .For(Role.Publisher)
            .WithName("PauseCallout");
        callouts
            .MapPost("/{calloutId:guid}/resume", PauseCallout.ResumeAsync)
            .For(Role.Publisher)
            .WithName("ResumeCallout");
        callouts
            .MapPost("/{calloutId:guid}/archive", PauseCallout.ArchiveAsync)
            .For(Role.Editor)
            .WithName("ArchiveCallout");
        callouts
            .MapPost("/{calloutId:guid}/restore", PauseCallout.RestoreAsync)
            .For(Role.Editor)
            .WithName("RestoreCallout");
        callouts.MapGet("/{calloutId:guid}/evidence", ShowEvidence.HandleAsync).WithName("GetEvidence");
        callouts.MapGet("/{calloutId:guid}/rehearsal", RehearseCallout.HandleAsync).WithName("RehearseCallout");
        callouts.MapPut("/{calloutId:guid}/group", GroupCallout.HandleAsync).For(Role.Editor).WithName("GroupCallout");
        callouts.MapGet("/{calloutId:guid}/why", AskWhy.HandleAsync).WithName("AskWhy");
        callouts.MapGet("/{calloutId:guid}/revisions", ListRevisions.HandleAsync).WithName("ListRevisions");
        callouts.MapGet("/{calloutId:guid}/publication", PreviewPublication.HandleAsync).WithName("PreviewPublication");
        callouts.MapPost("/{calloutId:guid}/stage", OpenStage.HandleAsync).WithName("OpenStage");
        api.MapPost("/sites/{siteId:guid}/pages/match", MatchPages.HandleAsync)
            .WithTags("Callouts")
            .WithName("MatchPages");
    }
}
