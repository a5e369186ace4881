using System.Text.Json.Serialization;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Server.Passports;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Server.Visitor;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Talks;

/// <summary>Asks for the talk that a person has in another browser.</summary>
/// <param name="Talk">The talk that this browser has already; null for none.</param>
/// <param name="Key">The key to it.</param>
internal sealed record MyTalkRequest(string Site, string Page, string Passport, Guid? Talk = null, string Key = "")
    : IVisitorRequest
{
    [JsonIgnore]
    public string? EmptyPart => null;
}

/// <summary>
/// POST /v/talks/mine: whom the site signed for is let to their talk from whatever browser they come. Nobody else ever is: an unsigned name, or a
/// signature for another, opens nothing, and is answered as if there were no talk.
/// </summary>
internal sealed class MyTalk(LiveSites sites, SystemDb database, IClock clock)
{
    // What a page says as it loads may be on its way a little before its plan.
    private static readonly Duration Ahead = Duration.FromMinutes(1);

    /// <summary>Who a site says, signed and on this very page view, that a browser is; null where it does not.</summary>
    /// <remarks>Who signed out at a browser that others use is not who sits there next: what was signed on a page view before says nothing.</remarks>
    /// <param name="passport">Of the page view.</param>
    public static async Task<byte[]?> PersonOfAsync(
        OutcryDb db,
        LiveSite site,
        string visitor,
        string passport,
        CancellationToken stop
    )
    {
        if (Passport.GivenAt(site, passport) is not { } given)
            return null;
        var since = given - Ahead;
        // Nothing unsigned moves the moment of one who was signed.
        return await db
            .Visitors.Where(v => v.SiteId == site.Id && v.VisitorId == visitor && v.IsSigned && v.LastAt >= since)
            .Select(v => v.Person)
            .FirstOrDefaultAsync(stop);
    }

    public async Task<IResult> HandleAsync(HttpContext http)
    {
        var (request, unreadable) = await VisitorDoor.ReadAsync(http, TalkJson.Default.MyTalkRequest);
        if (unreadable is not null)
            return unreadable;
        var now = clock.GetCurrentInstant();
        var (view, refused) = VisitorDoor.CheckView(http, sites, request!.Site, request.Page, request.Passport, now);
        if (view is not var (site, _, visitor))
            return refused!;
        var stop = http.RequestAborted;
        await using var db = database.Open();
        // Most visitors are nobody's: that is no fault, and is not told as one.
        if (await PersonOfAsync(db, site, visitor.VisitorId, request.Passport, stop) is not { } person)
            return Results.NoContent();
        // What was begun here before they were known goes with them from now on.
        if (await KeptHereAsync(db, site, request, now, stop) is { } kept)
        {
            if (kept.Person is null)
                await db
                    .Talks.Where(t => t.Id == kept.Id && t.Person == null)
                    .ExecuteUpdateAsync(u => u.SetProperty(t => t.Person, person), stop);
            return Results.Json(new BegunTalk(kept.Id, request.Key, kept.Last), TalkJson.Default.BegunTalk);
        }
        var from = now - TalkKey.Lives;
        var theirs = await db
            .Talks.AsNoTracking()
            .Where(t => t.SiteId == site.Id && t.Person == person && t.LastAt > from && t.MergedIntoId == null)
            .OrderByDescending(t => t.LastAt)
            .FirstOrDefaultAsync(stop);
        return theirs is null
            ? Results.NoContent()
            : Results.Json(
                new BegunTalk(theirs.Id, await TalkKey.GiveAsync(db, theirs.Id, stop), theirs.Last),
                TalkJson.Default.BegunTalk
            );
    }

    private static async Task<TalkRow?> KeptHereAsync(
        OutcryDb db,
        LiveSite site,
        MyTalkRequest request,
        Instant now,
        CancellationToken stop
    ) =>
        request.Talk is { } id
        && await db.Talks.AsNoTracking().FirstOrDefaultAsync(t => t.Id == id && t.SiteId == site.Id, stop) is { } talk
        && TalkKey.Opens(talk, request.Key, now)
            ? talk
            : null;
}
