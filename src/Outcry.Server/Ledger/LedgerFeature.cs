using Outcry.Server.Platform;
using Outcry.Store.Rows;

namespace Outcry.Server.Ledger;

/// <summary>Events as they arrive, in the words visitors read.</summary>
internal static class LedgerFeature
{
    public static void MapLedger(this RouteGroupBuilder api)
    {
        var events = api.MapGroup("/sites/{siteId:guid}/events").WithTags("Ledger");
        events.MapGet("", ListEvents.HandleAsync).WithName("ListEvents");
        events.MapGet("/{eventId:guid}", ShowEvent.HandleAsync).WithName("GetEvent");
        events.MapPost("/{eventId:guid}/hide", HideEvent.HideAsync).For(Role.Editor).WithName("HideEvent");
        events.MapPost("/{eventId:guid}/release", HideEvent.ReleaseAsync).For(Role.Editor).WithName("ReleaseEvent");
    }
}
