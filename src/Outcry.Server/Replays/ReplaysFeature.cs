namespace Outcry.Server.Replays;

/// <summary>Drafts played against the visits that were recorded.</summary>
internal static class ReplaysFeature
{
    public static void AddReplays(this WebApplicationBuilder builder)
    {
        builder.Services.AddSingleton<RecordedVisits>();
        builder.Services.AddSingleton<ReplayRunner>();
    }

    public static void MapReplays(this RouteGroupBuilder api) =>
        api.MapGet("/sites/{siteId:guid}/callouts/{id:guid}/replay", ReplayCallout.HandleAsync)
            .WithTags("Replays")
            .WithName("ReplayCallout")
            .Produces<ReplayLine>(StatusCodes.Status200OK, "application/x-ndjson");
}
