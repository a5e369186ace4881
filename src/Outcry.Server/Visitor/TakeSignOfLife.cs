using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Publishing;
using Outcry.Core.Timing;
using Outcry.Server.Care;
using Outcry.Server.Passports;
using Outcry.Server.Platform;
using Outcry.Server.Sites;

namespace Outcry.Server.Visitor;

/// <summary>POST /v/alive: a page is still looked at; answered with those of its callouts that are no longer live.</summary>
/// <remarks>Sent every 25 seconds while the tab is in view, so that what was paused is off every open page within 30.</remarks>
internal static class TakeSignOfLife
{
    /// <summary>Callouts asked about in one request.</summary>
    private const int MostCallouts = 300;

    public static async Task<IResult> HandleAsync(HttpContext http, LiveSites sites, Robots robots, IClock clock)
    {
        var (request, unreadable) = await VisitorDoor.ReadAsync(http, VisitorJson.Default.AliveRequest);
        if (unreadable is not null)
            return unreadable;
        var now = clock.GetCurrentInstant();
        var (site, page, refused) = VisitorDoor.Check(http, sites, request!.Site, request.Page, now);
        if (refused is not null)
            return refused;
        page = page!.Keeping(site!.AskedQuery);
        if (Passport.TryRead(site, request.Passport, page, now) is not var (visitor, _))
            return Problems.BadField("passport", "The passport is not one that this site gave out.");
        if (request.On?.Count > MostCallouts)
            return Problems.BadField("on", $"At most {MostCallouts} callouts in one request.");
        if (!Passport.IsMember(visitor.VisitorId) && !robots.IsRobot(http.Request.Headers.UserAgent.ToString()))
            site.SawVisitor(visitor.VisitorId, page, now);
        return Results.Json(
            new AliveResponse([.. (request.On ?? []).Where(id => IsOver(site, id, now))]),
            VisitorJson.Default.AliveResponse
        );
    }

    private static bool IsOver(LiveSite site, Guid id, Instant now) =>
        site.Snapshot.OffAir
        || site.Snapshot.Callouts.FirstOrDefault(c => c.Id == id) is not { } callout
        || callout.State != DefinitionState.Live
        || callout.Brief.When.Schedule.Refuses(now, site.Zone) is not null;
}
