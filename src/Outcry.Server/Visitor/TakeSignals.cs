using NodaTime;
using Outcry.Core.Pages;
using Outcry.Core.Visitors;
using Outcry.Server.Care;
using Outcry.Server.Intake;
using Outcry.Server.Passports;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store.Signals;

namespace Outcry.Server.Visitor;

/// <summary>POST /v/signals: what happened on a page view, and forms that were sent. Answered after the commit.</summary>
internal sealed class TakeSignals(
    LiveSites sites,
    SignalWriter writer,
    FormCapture forms,
    PageReports reports,
    Places places,
    Robots robots,
    FigureNews figures,
    PlaceTaker placeTaker,
    DeskAddress desk,
    IClock clock
)
{
    /// <summary>Signals taken in one request.</summary>
    private const int MostSignals = 100;

    public async Task<IResult> HandleAsync(HttpContext http)
    {
        var (request, unreadable) = await VisitorDoor.ReadAsync(http, VisitorJson.Default.SignalsRequest);
        if (unreadable is not null)
            return unreadable;
        var now = clock.GetCurrentInstant();
        var (site, page, refused) = VisitorDoor.Check(http, sites, request!.Site, request.Page, now);
        if (refused is not null)
            return refused;
        page = page!.Keeping(site!.AskedQuery);
        if (Passport.TryRead(site, request.Passport, page, now) is not var (visitor, isOfPage))
            return Problems.BadField("passport", "The passport is not one that this site gave out.");
        if (request.Signals?.Count > MostSignals)
            return Problems.BadField("signals", $"At most {MostSignals} signals in one request.");
        // Nothing that a robot does is anybody's doing, whatever it sends.
        if (robots.IsRobot(http.Request.Headers.UserAgent.ToString()))
            return Taken(0);
        var told = new Told(http, site, page, request, visitor, isOfPage, now);
        if (await TakeActsAsync(told) is { } unfit)
            return unfit;
        // Members are not counted, and take no part in who is here.
        return told.IsMember ? Taken(0) : await CountAsync(told);
    }

    // What happened on a page happened on a page view that was planned; a passport alone proves none.
    private async Task<IResult?> TakeActsAsync(Told told)
    {
        var (http, site, page, request, visitor, isOfPage, now) = told;
        if (!isOfPage && request.Acts)
            return VisitorDoor.UnknownPageView;
        // What stands on a page that nobody planned is not believed; the signals beside it are still counted.
        if (!isOfPage || !(request.Acts || request.Found is not null))
            return null;
        var actor = new PageActor(
            visitor.VisitorId,
            told.IsMember || told.IsTest,
            request.Gpc,
            places.Find(http.Connection.RemoteIpAddress),
            AddressBlock.Of(http)
        );
        if (
            request.Form is { } form
            && await forms.TakeAsync(site, form, request.Page, actor, desk.Of(http.Request), now, http.RequestAborted)
                is { } bad
        )
            return bad;
        return await reports.TakeAsync(site, request.Report, page, actor, now, http.RequestAborted);
    }

    private async Task<IResult> CountAsync(Told told)
    {
        var (http, site, page, request, visitor, isOfPage, now) = told;
        site.SawVisitor(visitor.VisitorId, page, now);
        if (request.Places is { } said && isOfPage && !told.IsTest)
            await placeTaker.TakeAsync(site, page, said, now, http.RequestAborted);
        var signals = Read(told);
        if (!await writer.WriteAsync(signals))
            return Problems.Of(
                StatusCodes.Status503ServiceUnavailable,
                "busy",
                "Signals cannot be stored right now",
                "Nothing was stored. Send them again in a moment; ids keep them from counting twice."
            );
        if (signals.Exists(s => s.CalloutId is not null))
            figures.Moved(site.Id);
        return Taken(signals.Count);
    }

    /// <summary>What was told, by whom and where.</summary>
    /// <param name="IsOfPage">Whether the passport was given out for this page.</param>
    private sealed record Told(
        HttpContext Http,
        LiveSite Site,
        PageAddress Page,
        SignalsRequest Request,
        VisitorRecord Visitor,
        bool IsOfPage,
        Instant Now
    )
    {
        public bool IsMember => Passport.IsMember(Visitor.VisitorId);
        public bool IsTest => Site.IsTestHost(Page.Host);
    }

    private static IResult Taken(int signals) =>
        Results.Json(
            new SignalsResponse(signals),
            VisitorJson.Default.SignalsResponse,
            statusCode: StatusCodes.Status202Accepted
        );

    private List<Signal> Read(Told told)
    {
        var (http, site, page, request, visitor, _, now) = told;
        var device = (short)DeviceReader.FromViewWidth(request.Width);
        var host = page.Host == site.HomeHost ? null : page.Host;
        var query = page.Query.Keys.Any(site.AskedQuery.Contains) ? page.RecordedQuery : null;
        var signals = new List<Signal>();
        foreach (var part in request.Signals ?? [])
            if (KindOf(part) is { } kind)
                signals.Add(
                    new Signal(
                        part.Id,
                        site.Id,
                        now,
                        kind,
                        visitor.VisitorId,
                        visitor.Visit.Number,
                        page.RecordedPath,
                        kind is SignalKind.Shown or SignalKind.Clicked or SignalKind.Closed ? part.Callout : null,
                        Math.Clamp(part.Value, 0, kind == SignalKind.Depth ? 100 : int.MaxValue),
                        device,
                        told.IsTest
                    )
                    {
                        Host = host,
                        Query = query,
                        // Whoever asks not to be tracked is counted, and nothing else is kept of them.
                        Traits =
                            kind == SignalKind.View && visitor.Visit.Pages == 1 && !request.Gpc
                                ? ReadFacts.Traits(
                                    visitor,
                                    http.Request.GetTypedHeaders().AcceptLanguage,
                                    places.Find(http.Connection.RemoteIpAddress)
                                )
                                : null,
                    }
                );
        return signals;
    }

    private static SignalKind? KindOf(SignalPart part) =>
        part.Kind switch
        {
            "view" => SignalKind.View,
            "left" => SignalKind.Left,
            "depth" => SignalKind.Depth,
            "shown" when part.Callout is not null => SignalKind.Shown,
            "clicked" when part.Callout is not null => SignalKind.Clicked,
            "closed" when part.Callout is not null => SignalKind.Closed,
            // A mere sign of life is noted by presence and not stored.
            _ => null,
        };
}
