namespace Outcry.Server.RunSheet;

/// <summary>The home screen: what a visitor meets, page group by page group.</summary>
internal static class RunSheetFeature
{
    public static void AddRunSheet(this WebApplicationBuilder builder) =>
        builder.Services.AddSingleton<RunSheetMaker>();

    public static void MapRunSheet(this RouteGroupBuilder api) =>
        api.MapGet("/sites/{siteId:guid}/run-sheet", ShowRunSheet.HandleAsync)
            .WithTags("Run sheet")
            .WithName("GetRunSheet");
}
