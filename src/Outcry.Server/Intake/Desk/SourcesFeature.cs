using Outcry.Core.Access;
using Outcry.Server.Intake.Imports;
using Outcry.Server.Platform;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake.Desk;

/// <summary>Where events come from: added, mapped, tried, watched, paused.</summary>
internal static class SourcesFeature
{
    public static void MapSources(this RouteGroupBuilder api)
    {
        var sources = api.MapGroup("/sites/{siteId:guid}/sources").WithTags("Sources");
        sources.MapGet("", ListSources.HandleAsync).For(Right.Enter).WithName("ListSources");
        sources.MapPost("", AddSource.HandleAsync).For(Right.Connect).WithName("AddSource");
        sources.MapPut("/{sourceId:guid}", ChangeSource.HandleAsync).For(Right.Connect).WithName("ChangeSource");
        sources.MapPost("/{sourceId:guid}/pause", ChangeSource.PauseAsync).For(Right.Connect).WithName("PauseSource");
        sources
            .MapPost("/{sourceId:guid}/resume", ChangeSource.ResumeAsync)
            .For(Right.Connect)
            .WithName("ResumeSource");
        sources.MapDelete("/{sourceId:guid}", ChangeSource.DeleteAsync).For(Right.Connect).WithName("DeleteSource");
        sources
            .MapPost("/{sourceId:guid}/secret", RotateSecret.HandleAsync)
            .For(Right.Connect)
            .WithName("RotateSecret");
        sources.MapPost("/{sourceId:guid}/test", SendTest.HandleAsync).For(Right.Connect).WithName("SendTest");
        sources.MapPost("/{sourceId:guid}/fetch", FetchNow.HandleAsync).For(Right.Connect).WithName("FetchNow");
        sources
            .MapPost("/{sourceId:guid}/entries", EnterByHand.HandleAsync)
            .For(Right.Publish)
            .ForTokens(TokenScope.Events)
            .WithName("EnterByHand");
        sources.MapPost("/preview-map", PreviewMap.OfJsonAsync).For(Right.Connect).WithName("PreviewMap");
        sources.MapPost("/preview-list", PreviewMap.OfListAsync).For(Right.Connect).WithName("PreviewList");
        // Bodies name people, so whoever may only look does not see them.
        var deliveries = sources.MapGroup("/{sourceId:guid}/deliveries");
        deliveries.MapGet("", Deliveries.ListAsync).WithName("ListDeliveries");
        deliveries.MapGet("/{deliveryId:guid}", Deliveries.ShowAsync).For(Right.Connect).WithName("GetDelivery");
        deliveries.MapPost("/{deliveryId:guid}/resend", Deliveries.ResendAsync).For(Right.Connect).WithName("Resend");

        var shop = api.MapGroup("/sites/{siteId:guid}/shop").WithTags("Sources");
        shop.MapGet("", ConnectShop.ShowAsync).WithName("GetShop");
        shop.MapPost("/key", ConnectShop.MakeKeyAsync).For(Right.Connect).WithName("MakeShopKey");
        shop.MapDelete("", ConnectShop.DisconnectAsync).For(Right.Connect).WithName("DisconnectShop");

        var forms = api.MapGroup("/sites/{siteId:guid}/forms").WithTags("Sources");
        forms.MapGet("", ListForms.HandleAsync).WithName("ListForms");
        forms.MapPost("/find", ListForms.FindAsync).For(Right.Connect).WithName("FindForms");
        api.MapImports();
    }
}
