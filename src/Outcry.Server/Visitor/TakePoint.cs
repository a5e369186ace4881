using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Timing;
using Outcry.Server.Passports;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Visitor;

/// <summary>POST /v/points: an element that a member points at on a trial visit, for the desk to use.</summary>
internal static class TakePoint
{
    private const int LongestLabel = 80;
    private const int MostKept = 200;

    public static async Task<IResult> HandleAsync(
        HttpContext http,
        LiveSites sites,
        SystemDb database,
        SiteNews news,
        IClock clock
    )
    {
        var (request, unreadable) = await VisitorDoor.ReadAsync(http, VisitorJson.Default.PointRequest);
        if (unreadable is not null)
            return unreadable;
        var now = clock.GetCurrentInstant();
        var (site, page, refused) = VisitorDoor.Check(http, sites, request!.Site, request.Page, now);
        if (refused is not null)
            return refused;
        if (PrivateToken.TryRead(site!, request.Token, now) is not { T: PrivateToken.Trial })
            return Problems.Of(
                StatusCodes.Status403Forbidden,
                "trial-over",
                "This trial visit is over",
                "Open a new one at the desk, then point again."
            );
        if (request.Selector is not { Length: > 0 and <= Trigger.MaxTargetLength })
            return Problems.BadField("selector", $"A selector has 1 to {Trigger.MaxTargetLength} characters.");
        await using var db = database.Open();
        await db
            .Points.Where(p => p.SiteId == site!.Id && p.At < now - Duration.FromDays(1))
            .ExecuteDeleteAsync(http.RequestAborted);
        if (await db.Points.CountAsync(p => p.SiteId == site!.Id, http.RequestAborted) >= MostKept)
            return Problems.BadField("selector", $"At most {MostKept} elements are pointed at in a day.");
        var label = PlainText.Clean(request.Label).Trim();
        db.Points.Add(
            new PointRow
            {
                WorkspaceId = site!.WorkspaceId,
                SiteId = site.Id,
                Selector = PlainText.Clean(request.Selector),
                Label = PlainText.Clip(label, LongestLabel),
                Path = page!.RecordedPath,
                Matches = Math.Clamp(request.Matches, 0, 10_000),
                At = now,
            }
        );
        await db.SaveChangesAsync(http.RequestAborted);
        await news.TellAsync(site.Id, SiteChange.Pointed);
        return Results.NoContent();
    }
}
