using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.Pictures;

/// <summary>The site's own pictures, the newest first, then those of the supplied set, that fit the words.</summary>
internal static class ListPictures
{
    private const int MostListed = 120;

    public static async Task<Ok<List<PictureView>>> HandleAsync(
        Guid siteId,
        HttpRequest request,
        OutcryDb db,
        DefinitionsInUse inUse,
        SuppliedPictures supplied,
        CancellationToken stop,
        string? words = null
    )
    {
        var wanted = (words ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        var own = await db
            .Pictures.AsNoTracking()
            .Where(p => p.SiteId == siteId)
            .OrderByDescending(p => p.AddedAt)
            .Select(p => new
            {
                p.Id,
                p.Name,
                p.Width,
                p.Height,
                p.IsMoving,
            })
            .ToListAsync(stop);
        var uses = await KeepPicture.UsesAsync(db, inUse, siteId, stop);
        var home = $"{request.Scheme}://{request.Host}";
        return TypedResults.Ok(
            own.Where(p => wanted.All(w => Fits(w, p.Name, p.IsMoving)))
                .Select(p => new PictureView(
                    p.Id,
                    p.Name,
                    KeepPicture.AddressOf(request, p.Id),
                    p.Width,
                    p.Height,
                    p.IsMoving,
                    [
                        .. uses.Where(u => u.Address.Contains(p.Id.ToString(), StringComparison.Ordinal))
                            .Select(u => u.Use)
                            .Distinct(),
                    ]
                ))
                .Concat(
                    supplied
                        .All.Where(p => wanted.All(w => p.Words.Any(x => Fits(w, x, p.IsMoving))))
                        .Select(p => new PictureView(
                            null,
                            p.Name,
                            $"{home}/pictures/{p.File}",
                            SuppliedPictures.Side,
                            SuppliedPictures.Side,
                            p.IsMoving,
                            []
                        ))
                )
                .Take(MostListed)
                .ToList()
        );
    }

    private static bool Fits(string wanted, string text, bool isMoving) =>
        text.Contains(wanted, StringComparison.OrdinalIgnoreCase)
        || (isMoving && "moving".StartsWith(wanted, StringComparison.OrdinalIgnoreCase));
}
