using System.Security.Cryptography;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Pictures;

/// <summary>A picture of the site's or of the supplied set.</summary>
/// <param name="Id">Null for one of the supplied set, which cannot be removed.</param>
/// <param name="Address">From where visitors load it.</param>
/// <param name="UsedBy">What shows it.</param>
internal sealed record PictureView(
    Guid? Id,
    string Name,
    string Address,
    int Width,
    int Height,
    bool IsMoving,
    IReadOnlyList<UseView> UsedBy
);

/// <summary>An address to fetch a picture from, once, to be kept.</summary>
internal sealed record FetchPictureRequest(string Address);

/// <summary>Takes pictures in, by upload or from an address, and keeps them with the site.</summary>
internal static class KeepPicture
{
    private const int MostPictures = 500;
    private const int LongestName = 80;

    /// <summary>The picture is the body of the request; its name stands in the query.</summary>
    public static async Task<Results<Ok<PictureView>, ProblemHttpResult>> UploadAsync(
        Guid siteId,
        string? name,
        HttpRequest request,
        OutcryDb db,
        CurrentMember member,
        IClock clock,
        CancellationToken stop
    )
    {
        if (request.HttpContext.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } limit)
            limit.MaxRequestBodySize = PictureFile.MostBytes + 1;
        if (await BodyLimits.TryReadAsync(request, PictureFile.MostBytes, stop) is not { } bytes)
            return Problems.TooLarge(PictureFile.MostBytes);
        var (picture, fault) = await PictureFile.ReadAsync(bytes, stop);
        return picture is null
            ? Problems.BadField("file", fault)
            : await KeepAsync(siteId, bytes, picture, name ?? "A picture", null, request, db, member, clock, stop);
    }

    public static async Task<Results<Ok<PictureView>, ProblemHttpResult>> FetchAsync(
        Guid siteId,
        FetchPictureRequest body,
        HttpRequest request,
        OutcryDb db,
        SafeFetch fetch,
        CurrentMember member,
        IClock clock,
        CancellationToken stop
    )
    {
        var fetched = await fetch.GetAsync(body.Address, stop);
        if (fetched.Fault is { } unreachable)
            return Problems.BadField("address", unreachable);
        var (picture, fault) = await PictureFile.ReadAsync(fetched.Body, stop);
        if (picture is null)
            return Problems.BadField("address", fault);
        var name = Uri.UnescapeDataString(fetched.Address.Segments[^1]);
        return await KeepAsync(
            siteId,
            fetched.Body,
            picture,
            name.Trim('/').Length == 0 ? fetched.Address.Host : name,
            fetched.Address.ToString(),
            request,
            db,
            member,
            clock,
            stop
        );
    }

    public static async Task<Results<NoContent, ProblemHttpResult>> RemoveAsync(
        Guid siteId,
        Guid pictureId,
        OutcryDb db,
        DefinitionsInUse inUse,
        CancellationToken stop
    )
    {
        var row = await db
            .Pictures.Where(p => p.SiteId == siteId && p.Id == pictureId)
            .Select(p => new { p.Id, p.Name })
            .FirstOrDefaultAsync(stop);
        if (row is null)
            return Problems.NotFound("picture");
        var uses = (await UsesAsync(db, inUse, siteId, stop))
            .Where(u => u.Address.Contains(row.Id.ToString(), StringComparison.Ordinal))
            .ToList();
        if (uses.Count > 0)
            return Problems.Of(
                StatusCodes.Status409Conflict,
                "in-use",
                "The picture is in use",
                $"\"{row.Name}\" is shown by {string.Join(", ", uses.Select(u => u.Use.Name).Distinct())}. Take it out there first."
            );
        await db.Pictures.Where(p => p.Id == row.Id).ExecuteDeleteAsync(stop);
        return TypedResults.NoContent();
    }

    /// <summary>What shows which picture: definitions, in their draft or in what is live, and the brand kit.</summary>
    public static async Task<IReadOnlyList<(UseView Use, string Address)>> UsesAsync(
        OutcryDb db,
        DefinitionsInUse inUse,
        Guid siteId,
        CancellationToken stop
    )
    {
        var kit = await db.Sites.Where(s => s.Id == siteId).Select(s => s.Kit).FirstOrDefaultAsync(stop);
        var byKit = new[] { kit?.Logo, kit?.Picture }.OfType<string>().Where(a => a.Length > 0);
        return
        [
            .. (await inUse.ReadAsync(siteId, stop)).SelectMany(c =>
                c.References.Pictures.Select(a => (new UseView(c.Id, c.Name, c.Kind), a))
            ),
            .. byKit.Select(a => (new UseView(siteId, "the brand kit", "brand kit"), a)),
        ];
    }

    public static string AddressOf(HttpRequest request, Guid id) =>
        $"{request.Scheme}://{request.Host}/o/pictures/{id}";

    private static async Task<Results<Ok<PictureView>, ProblemHttpResult>> KeepAsync(
        Guid siteId,
        byte[] sent,
        PictureFile picture,
        string name,
        string? from,
        HttpRequest request,
        OutcryDb db,
        CurrentMember member,
        IClock clock,
        CancellationToken stop
    )
    {
        // What was sent, not what is kept: another version of the library may write other bytes of the same picture.
        var hash = SHA256.HashData(sent);
        var known = await db.Pictures.FirstOrDefaultAsync(p => p.SiteId == siteId && p.Hash == hash, stop);
        if (known is null)
        {
            if (await db.Pictures.CountAsync(p => p.SiteId == siteId, stop) >= MostPictures)
                return Problems.BadField("file", $"A site keeps at most {MostPictures} pictures. Remove some first.");
            known = new PictureRow
            {
                WorkspaceId = member.WorkspaceId,
                SiteId = siteId,
                Name = PlainText.Clip(PlainText.OrNull(name) ?? "A picture", LongestName),
                MediaType = picture.MediaType,
                Width = picture.Width,
                Height = picture.Height,
                IsMoving = picture.IsMoving,
                Bytes = picture.Bytes,
                Hash = hash,
                FetchedFrom = from is null ? null : PlainText.Clean(from),
                AddedAt = clock.GetCurrentInstant(),
                AddedBy = member.Name,
            };
            db.Pictures.Add(known);
            await db.SaveChangesAsync(stop);
        }
        return TypedResults.Ok(
            new PictureView(
                known.Id,
                known.Name,
                AddressOf(request, known.Id),
                known.Width,
                known.Height,
                known.IsMoving,
                []
            )
        );
    }
}
