using Outcry.Core.Access;
using Outcry.Server.Platform;
using Outcry.Store.Rows;

namespace Outcry.Server.Pictures;

/// <summary>Pictures: the supplied set, and what a site keeps of its own.</summary>
internal static class PicturesFeature
{
    public static void AddPictures(this WebApplicationBuilder builder) =>
        builder.Services.AddSingleton<SuppliedPictures>();

    public static void MapPictureFiles(this WebApplication app) =>
        app.MapMethods("/o/pictures/{pictureId:guid}", ["GET", "HEAD"], ServePicture.HandleAsync)
            .WithTags("Visitor")
            .WithName("GetPicture")
            .RequireRateLimiting(Limits.Visitor);

    public static void MapPictures(this RouteGroupBuilder api)
    {
        var pictures = api.MapGroup("/sites/{siteId:guid}/pictures").WithTags("Pictures");
        pictures.MapGet("", ListPictures.HandleAsync).WithName("ListPictures");
        pictures.MapPost("", KeepPicture.UploadAsync).For(Right.Draft).WithName("UploadPicture");
        pictures.MapPost("/fetch", KeepPicture.FetchAsync).For(Right.Draft).WithName("FetchPicture");
        pictures.MapDelete("/{pictureId:guid}", KeepPicture.RemoveAsync).For(Right.Draft).WithName("RemovePicture");
    }
}
