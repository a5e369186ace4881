namespace Outcry.Server.RunSheet;

/// <summary>The home screen: what a visitor meets, page group by page group.</summary>
internal static class RunSheetFeature
{
    public static void MapRunSheet(this RouteGroupBuilder api)
    {
        var sheet = api.MapGroup("/sites/{siteId:guid}/run-sheet").WithTags("Run sheet");
        sheet.MapGet("", ShowRunSheet.HandleAsync).WithName("GetRunSheet");
        sheet.MapGet("/lanes/{groupId:guid}", ShowRunSheet.LaneAsync).WithName("GetLane");
    }
}
