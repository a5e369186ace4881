using NodaTime;
using Outcry.Core.Greetings;
using Outcry.Server.Care;
using Outcry.Server.Intake;
using Outcry.Server.Passports;
using Outcry.Server.Platform;
using Outcry.Server.Sites;

namespace Outcry.Server.Visitor;

/// <summary>POST /v/messages: what a visitor wrote in a launcher's panel. Answered after the commit.</summary>
internal static class TakeMessage
{
    public static async Task<IResult> HandleAsync(
        HttpContext http,
        LiveSites sites,
        LauncherMessages messages,
        Places places,
        Robots robots,
        IClock clock
    )
    {
        var (request, unreadable) = await VisitorDoor.ReadAsync(http, VisitorJson.Default.MessageRequest);
        if (unreadable is not null)
            return unreadable;
        var now = clock.GetCurrentInstant();
        var (view, refused) = VisitorDoor.CheckView(http, sites, request!.Site, request.Page, request.Passport, now);
        if (view is not var (site, page, visitor))
            return refused!;
        if (robots.IsRobot(http.Request.Headers.UserAgent.ToString()))
            return Taken();
        if (site.Compiled.GetValueOrDefault(request.Launcher) is not Launcher launcher)
            return Problems.NotFound("launcher");
        if (launcher.Brief.Channels.FirstOrDefault(c => c.Id == request.Channel) is not { IsWritten: true } channel)
            return Problems.BadField("channel", "This launcher has no such way to write.");
        var greeting = launcher.Greetings.FirstOrDefault(g => g.Id == request.Greeting)?.Brief.Say.Message ?? "";
        var actor = new PageActor(
            visitor.VisitorId,
            Passport.IsMember(visitor.VisitorId) || site.IsTestHost(page.Host),
            request.Gpc,
            places.Find(http.Connection.RemoteIpAddress),
            AddressBlock.Of(http)
        );
        var written = new WrittenMessage(request.Id, launcher, channel, request.Fields, greeting, request.Page);
        return await messages.TakeAsync(site, written, actor, now, http.RequestAborted) is { } problem
            ? problem
            : Taken();
    }

    private static IResult Taken() =>
        Results.Json(
            new MessageResponse(true),
            VisitorJson.Default.MessageResponse,
            statusCode: StatusCodes.Status202Accepted
        );
}
