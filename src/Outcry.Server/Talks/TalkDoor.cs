using System.Text.Json.Serialization.Metadata;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Pages;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Server.Visitor;
using Outcry.Store.Rows;

namespace Outcry.Server.Talks;

/// <summary>A request about a talk that was let in.</summary>
internal sealed record AtTalk<T>(T Request, LiveSite Site, PageAddress Page, TalkRow Talk, Instant Now);

/// <summary>Lets a visitor to their own talk: by its key, on the site where it began, and to no other.</summary>
internal sealed class TalkDoor(LiveSites sites, SystemDb database, IClock clock)
{
    public async ValueTask<(AtTalk<T>? At, ProblemHttpResult? Problem)> OpenAsync<T>(
        HttpContext http,
        JsonTypeInfo<T> type
    )
        where T : class, ITalkRequest
    {
        var (request, unreadable) = await VisitorDoor.ReadAsync(http, type);
        return unreadable is null ? await LetInAsync(http, request!) : (null, unreadable);
    }

    /// <summary>The same for a request that was read already.</summary>
    public async ValueTask<(AtTalk<T>? At, ProblemHttpResult? Problem)> LetInAsync<T>(HttpContext http, T request)
        where T : class, ITalkRequest
    {
        var now = clock.GetCurrentInstant();
        var (site, page, refused) = VisitorDoor.Check(http, sites, request.Site, request.Page, now);
        if (refused is not null)
            return (null, refused);
        await using var db = database.Open();
        var talk = await db
            .Talks.AsNoTracking()
            .FirstOrDefaultAsync(t => t.Id == request.Talk && t.SiteId == site!.Id, http.RequestAborted);
        // One answer for no talk, a wrong key and one that has run out: nothing is learnt from it.
        return talk is null || !TalkKey.Opens(talk, request.Key, now)
            ? (null, Problems.NotFound("talk"))
            : (new AtTalk<T>(request, site!, page!.Keeping(site!.AskedQuery), talk, now), null);
    }
}
