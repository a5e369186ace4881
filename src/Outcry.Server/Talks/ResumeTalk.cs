using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Server.Visitor;

namespace Outcry.Server.Talks;

/// <summary>POST /v/talks/resume: a visitor comes back to a talk by the link of a mail, and gets a key to it.</summary>
internal static class ResumeTalk
{
    public static async Task<IResult> HandleAsync(HttpContext http, LiveSites sites, SystemDb database, IClock clock)
    {
        var (request, unreadable) = await VisitorDoor.ReadAsync(http, TalkJson.Default.ResumeTalkRequest);
        if (unreadable is not null)
            return unreadable;
        var now = clock.GetCurrentInstant();
        var (site, _, refused) = VisitorDoor.Check(http, sites, request!.Site, request.Page, now);
        if (refused is not null)
            return refused;
        if (TalkLink.TryRead(site!, request.Token, now) is not { } id)
            return Problems.NotFound("talk");
        await using var db = database.Open();
        var talk = await db.Talks.FirstOrDefaultAsync(t => t.Id == id && t.SiteId == site!.Id, http.RequestAborted);
        if (talk is null || now - talk.LastAt > TalkKey.Lives)
            return Problems.NotFound("talk");
        var key = await TalkKey.GiveAsync(db, talk.Id, http.RequestAborted);
        return Results.Json(new BegunTalk(talk.Id, key, talk.Last), TalkJson.Default.BegunTalk);
    }
}
