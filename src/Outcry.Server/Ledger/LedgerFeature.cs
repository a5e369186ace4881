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
        events.MapGet("", ListEvents.HandleAsync).WithName("ListEvents");
        events.MapGet("/{eventId:guid}", ShowEvent.HandleAsync).WithName("GetEvent");
        events.MapPost("/{eventId:guid}/hide", ChangeEvents.HideAsync).For(Role.Editor).WithName("HideEvent");
        events.MapPost("/{eventId:guid}/release", ChangeEvents.ReleaseAsync).For(Role.Editor).WithName("ReleaseEvent");
        events.MapPost("/{eventId:guid}/correct", CorrectEvent.HandleAsync).For(Role.Editor).WithName("CorrectEvent");
        events.MapPost("/change", ChangeEvents.HandleAsync).For(Role.Editor).WithName("ChangeEvents");
        events
            .MapGet("/export.{format}", ExportEvents.HandleAsync)
            .WithName("ExportEvents")
            .Produces(200, contentType: "text/csv");

        var people = api.MapGroup("/sites/{siteId:guid}/people").WithTags("Ledger");
        people.MapPost("/find", ErasePerson.FindAsync).For(Role.Editor).WithName("FindPerson");
        people.MapPost("/erase", ErasePerson.EraseAsync).For(Role.Owner).WithName("ErasePerson");
        people.MapGet("/erasures", ErasePerson.ListAsync).WithName("ListErasures");

        var views = api.MapGroup("/sites/{siteId:guid}/views").WithTags("Ledger");
        views.MapGet("", SavedViews.ListAsync).WithName("ListViews");
        views.MapPost("", SavedViews.SaveAsync).For(Role.Editor).WithName("SaveView");
        views.MapDelete("/{viewId:guid}", SavedViews.DeleteAsync).For(Role.Editor).WithName("DeleteView");
    }
}
