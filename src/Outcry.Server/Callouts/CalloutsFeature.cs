using Outcry.Core.Access;
using Outcry.Core.Briefs;
using Outcry.Server.Platform;
using Outcry.Server.Publishing;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Callouts;

/// <summary>Briefs: begun, looked at, explained. Drafting and publishing them is as with every definition.</summary>
internal static class CalloutsFeature
{
    public static void AddCallouts(this WebApplicationBuilder builder)
    {
        builder.Services.AddSingleton<CalloutFigures>();
        builder.Services.AddSingleton<GroupVisitors>();
        builder.Services.AddDefinitionKind(BriefKind.Instance, CalloutView.Of, hasOwnList: true);
    }

    public static void MapCallouts(this RouteGroupBuilder api)
    {
        var callouts = api.MapGroup("/sites/{siteId:guid}/callouts").WithTags("Callouts");
        callouts.MapGet("", ListCallouts.HandleAsync).WithName("ListCallouts");
        callouts.MapPost("", StartCallout.HandleAsync).For(Right.Draft).WithName("StartCallout");
        callouts.MapGet("/ready", ListReady.Handle).WithName("ListReady");
        callouts.MapGet("/advice", AdviseKinds.HandleAsync).WithName("AdviseKinds");
        callouts.MapGet("/{id:guid}/evidence", ShowEvidence.HandleAsync).WithName("GetEvidence");
        callouts.MapGet("/{id:guid}/rehearsal", RehearseCallout.HandleAsync).WithName("RehearseCallout");
        callouts.MapGet("/{id:guid}/why", AskWhy.HandleAsync).WithName("AskWhy");
        callouts.MapGet("/{id:guid}/publication", PreviewPublication.HandleAsync).WithName("PreviewPublication");
        callouts.MapPost("/{id:guid}/stage", OpenStage.HandleAsync).WithName("OpenStage");
        api.MapGet("/sites/{siteId:guid}/sketch/{**path}", StageSketch.Handle).ExcludeFromDescription();
        api.MapPost("/sites/{siteId:guid}/pages/match", MatchPages.HandleAsync)
            .WithTags("Callouts")
            .WithName("MatchPages");
    }
}
