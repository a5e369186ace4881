using Outcry.Core.Access;
using Outcry.Server.Platform;

namespace Outcry.Server.Moving;

/// <summary>Taking a workspace out as one document, taking one in, copying a site.</summary>
internal static class MovingFeature
{
    public static void AddMoving(this WebApplicationBuilder builder) => builder.Services.AddScoped<TakeIn>();

    public static void MapMoving(this RouteGroupBuilder api)
    {
        var bundle = api.MapGroup("/workspaces/{workspaceId:guid}/bundle").WithTags("Moving");
        bundle.MapGet("", TakeOut.HandleAsync).For(Right.Govern).WithName("TakeOut");
        bundle
            .MapPost(
                "",
                (Guid workspaceId, HttpRequest request, TakeIn take, CancellationToken stop, bool dryRun = true) =>
                    take.HandleAsync(workspaceId, request, dryRun, stop)
            )
            .For(Right.Govern)
            .WithName("TakeIn");
        api.MapPost(
                "/sites/{siteId:guid}/copy",
                (Guid siteId, CopySiteRequest request, TakeIn take, CancellationToken stop) =>
                    take.CopyAsync(siteId, request, stop)
            )
            .For(Right.Connect)
            .WithTags("Moving")
            .WithName("CopySite");
    }
}
