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
        sources.MapGet("", ListSources.HandleAsync).WithName("ListSources");
        sources.MapPost("", AddSource.HandleAsync).For(Role.Editor).WithName("AddSource");
        sources.MapPut("/{sourceId:guid}", ChangeSource.HandleAsync).For(Role.Editor).WithName("ChangeSource");
        sources.MapPost("/{sourceId:guid}/pause", ChangeSource.PauseAsync).For(Role.Editor).WithName("PauseSource");
        sources.MapPost("/{sourceId:guid}/resume", ChangeSource.ResumeAsync).For(Role.Editor).WithName("ResumeSource");
        sources.MapDelete("/{sourceId:guid}", ChangeSource.DeleteAsync).For(Role.Editor).WithName("DeleteSource");
        sources.MapPost("/{sourceId:guid}/secret", RotateSecret.HandleAsync).For(Role.Owner).WithName("RotateSecret");
        sources.MapPost("/{sourceId:guid}/test", SendTest.HandleAsync).For(Role.Editor).WithName("SendTest");
        sources.MapPost("/{sourceId:guid}/fetch", FetchNow.HandleAsync).For(Role.Editor).WithName("FetchNow");
        sources.MapPost("/{sourceId:guid}/entries", EnterByHand.HandleAsync).For(Role.Editor).WithName("EnterByHand");
        sources.MapPost("/preview-map", PreviewMap.OfJsonAsync).For(Role.Editor).WithName("PreviewMap");
        sources.MapPost("/preview-list", PreviewMap.OfListAsync).For(Role.Editor).WithName("PreviewList");
        // Bodies name people, so whoever may only look does not see them.
        var deliveries = sources.MapGroup("/{sourceId:guid}/deliveries");
        deliveries.MapGet("", Deliveries.ListAsync).WithName("ListDeliveries");
        deliveries.MapGet("/{deliveryId:guid}", Deliveries.ShowAsync).For(Role.Editor).WithName("GetDelivery");
        deliveries.MapPost("/{deliveryId:guid}/resend", Deliveries.ResendAsync).For(Role.Editor).WithName("Resend");

        var shop = api.MapGroup("/sites/{siteId:guid}/shop").WithTags("Sources");
        shop.MapGet("", ConnectShop.ShowAsync).WithName("GetShop");
        shop.MapPost("/key", ConnectShop.MakeKeyAsync).For(Role.Owner).WithName("MakeShopKey");
        shop.MapDelete("", ConnectShop.DisconnectAsync).For(Role.Owner).WithName("DisconnectShop");

        var forms = api.MapGroup("/sites/{siteId:guid}/forms").WithTags("Sources");
        forms.MapGet("", ListForms.HandleAsync).WithName("ListForms");
        forms.MapPost("/find", ListForms.FindAsync).For(Role.Editor).WithName("FindForms");
        api.MapImports();
    }
}
