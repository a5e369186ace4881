using Outcry.Core.Access;
using Outcry.Server.Platform;
using Outcry.Store.Rows;

namespace Outcry.Server.Ledger;

/// <summary>Events as they arrive, in the words visitors read.</summary>
internal static class LedgerFeature
{
    public static void AddLedger(this WebApplicationBuilder builder) => builder.Services.AddSingleton<DeletedEvents>();

    public static void MapLedger(this RouteGroupBuilder api)
    {
        var events = api.MapGroup("/sites/{siteId:guid}/events").WithTags("Ledger");
        events.MapGet("", ListEvents.HandleAsync).For(Right.Enter).WithName("ListEvents");
        events.MapGet("/{eventId:guid}", ShowEvent.HandleAsync).For(Right.Enter).WithName("GetEvent");
        events.MapPost("/{eventId:guid}/hide", ChangeEvents.HideAsync).For(Right.Publish).WithName("HideEvent");
        events
            .MapPost("/{eventId:guid}/release", ChangeEvents.ReleaseAsync)
            .For(Right.Publish)
            .WithName("ReleaseEvent");
        events.MapPost("/{eventId:guid}/correct", CorrectEvent.HandleAsync).For(Right.Publish).WithName("CorrectEvent");
        events.MapPost("/change", ChangeEvents.HandleAsync).For(Right.Publish).WithName("ChangeEvents");
        events
            .MapGet("/export.{format}", ExportEvents.HandleAsync)
            .WithName("ExportEvents")
            .Produces(200, contentType: "text/csv");

        var people = api.MapGroup("/sites/{siteId:guid}/people").WithTags("Ledger");
        people.MapPost("/find", ErasePerson.FindAsync).For(Right.Govern).WithName("FindPerson");
        people.MapPost("/erase", ErasePerson.EraseAsync).For(Right.Govern).WithName("ErasePerson");
        people.MapGet("/erasures", ErasePerson.ListAsync).WithName("ListErasures");

        var views = api.MapGroup("/sites/{siteId:guid}/views").WithTags("Ledger");
        views.MapGet("", SavedViews.ListAsync).For(Right.Enter).WithName("ListViews");
        views.MapPost("", SavedViews.SaveAsync).For(Right.Draft).WithName("SaveView");
        views.MapDelete("/{viewId:guid}", SavedViews.DeleteAsync).For(Right.Draft).WithName("DeleteView");
    }
}
