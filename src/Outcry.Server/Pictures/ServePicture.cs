using Microsoft.EntityFrameworkCore;
using Outcry.Server.Platform;

namespace Outcry.Server.Pictures;

/// <summary>GET /o/pictures/{id}: a kept picture, for whatever page shows it. It never changes under its id.</summary>
internal static class ServePicture
{
    public static async Task<IResult> HandleAsync(
        Guid pictureId,
        HttpContext http,
        SystemDb database,
        CancellationToken stop
    )
    {
        var tag = $"\"{pictureId:N}\"";
        var headers = http.Response.Headers;
        headers.ETag = tag;
        headers.CacheControl = "public, max-age=31536000, immutable";
        headers["Cross-Origin-Resource-Policy"] = "cross-origin";
        // Whatever it is taken for, it can do nothing.
        headers.ContentSecurityPolicy = "default-src 'none'; sandbox";
        if (http.Request.Headers.IfNoneMatch == tag)
            return Results.StatusCode(StatusCodes.Status304NotModified);
        await using var db = database.Open();
        var row = await db
            .Pictures.AsNoTracking()
            .Where(p => p.Id == pictureId)
            .Select(p => new { p.Bytes, p.MediaType })
            .FirstOrDefaultAsync(stop);
        if (row is null)
        {
            headers.CacheControl = "no-store";
            return Problems.NotFound("picture");
        }
        return Results.Bytes(row.Bytes, row.MediaType);
    }
}
