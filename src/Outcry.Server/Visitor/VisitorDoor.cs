using System.Text.Json;
using System.Text.Json.Serialization.Metadata;
using Microsoft.AspNetCore.Http.HttpResults;
using Outcry.Core.Care;
using Outcry.Core.Pages;
using Outcry.Core.Visitors;
using Outcry.Server.Passports;
using Outcry.Server.Platform;
using Outcry.Server.Sites;

namespace Outcry.Server.Visitor;

/// <summary>A page view that was planned for a visitor.</summary>
/// <param name="Page">With what of its query is asked for.</param>
internal sealed record SeenPage(LiveSite Site, PageAddress Page, VisitorRecord Visitor);

/// <summary>Lets the snippet's requests in: readable, of a known site, from one of its allowed hosts.</summary>
internal static class VisitorDoor
{
    /// <summary>Reads a body whatever its content type: beacons are sent as plain text so that no preflight is needed.</summary>
    public static async ValueTask<(T? Body, ProblemHttpResult? Problem)> ReadAsync<T>(
        HttpContext http,
        JsonTypeInfo<T> type
    )
        where T : class, IVisitorRequest
    {
        // Also a refusal is read by the page that caused it, as far as it is one of ours.
        AllowReading(http);
        if (await BodyLimits.TryReadAsync(http.Request, BodyLimits.VisitorBytes, http.RequestAborted) is not { } bytes)
            return (null, Problems.TooLarge(BodyLimits.VisitorBytes));
        try
        {
            return JsonSerializer.Deserialize(JsonGate.Clean(bytes).Span, type) is not { } body
                    ? (null, Problems.BadField("", "The body must be a JSON object."))
                : body.EmptyPart is { } part ? (null, Problems.BadField(part, "An entry of this list is empty."))
                : (body, null);
        }
        catch (JsonException bad)
        {
            return (null, Problems.BadField(bad.Path ?? "", "The body is not the JSON that is expected here."));
        }
    }

    /// <summary>Finds the site and checks where the request comes from; allows the answer to be read there and nowhere else.</summary>
    public static (LiveSite? Site, PageAddress? Page, ProblemHttpResult? Problem) Check(
        HttpContext http,
        LiveSites sites,
        string key,
        string address,
        NodaTime.Instant now
    )
    {
        if (sites.FindByKey(key) is not { } site)
            return (null, null, Problems.NotFound("site key"));
        if (PageAddress.TryParse(address) is not { } page)
            return (null, null, Problems.BadField("page", "The page must be a full http or https address."));
        var origin = http.Request.Headers.Origin.ToString();
        var from = origin.Length > 0 ? OriginHost(origin) : page.Host;
        if (from is null || !site.Allows(from) || !site.Allows(HostOf(address)!))
        {
            if (from is not null)
                site.Hearing.Refused(from, now);
            return (
                null,
                null,
                Problems.Of(
                    StatusCodes.Status403Forbidden,
                    "host",
                    "This host is not allowed",
                    $"{from ?? "The sender"} is not among the site's allowed hosts. Add it at the desk under Install."
                )
            );
        }
        return (site, page, null);
    }

    /// <summary>The same, and whose page view it is: of a page that was planned for this visitor and no other.</summary>
    public static (SeenPage? View, ProblemHttpResult? Problem) CheckView(
        HttpContext http,
        LiveSites sites,
        string key,
        string address,
        string passport,
        NodaTime.Instant now
    )
    {
        var (site, page, refused) = Check(http, sites, key, address, now);
        if (refused is not null)
            return (null, refused);
        page = page!.Keeping(site!.AskedQuery);
        return Passport.TryRead(site, passport, page, now) is var (visitor, isOfPage) && isOfPage
            ? (new SeenPage(site, page, visitor), null)
            : (null, UnknownPageView);
    }

    /// <summary>Said where a passport is of no page view that was planned.</summary>
    public static ProblemHttpResult UnknownPageView =>
        Problems.Of(
            StatusCodes.Status403Forbidden,
            "page-view",
            "This page view is not known",
            "The passport was given out for another page, or too long ago. Ask for a plan of this page first."
        );

    /// <summary>Lets the page that asks read the answer, where it is one of ours.</summary>
    public static void AllowReading(HttpContext http)
    {
        var origin = http.Request.Headers.Origin.ToString();
        if (
            origin.Length == 0
            || OriginHost(origin) is not { } host
            || !http.RequestServices.GetRequiredService<LiveSites>().AnyAllows(host)
        )
            return;
        http.Response.Headers.AccessControlAllowOrigin = origin;
        http.Response.Headers.Vary = "Origin";
    }

    /// <summary>Answers a preflight, which names no site: any site's allowed host may go on to ask.</summary>
    public static IResult Preflight(HttpContext http, LiveSites sites)
    {
        var origin = http.Request.Headers.Origin.ToString();
        if (HostOf(origin) is not { } host || !sites.AnyAllows(host))
            return Results.StatusCode(StatusCodes.Status403Forbidden);
        var headers = http.Response.Headers;
        headers.AccessControlAllowOrigin = origin;
        headers.AccessControlAllowMethods = "POST";
        headers.AccessControlAllowHeaders = "content-type";
        headers.AccessControlMaxAge = "600";
        headers.Vary = "Origin";
        return Results.NoContent();
    }

    // A request asks twice, and a busy site's requests come from one origin.
    [ThreadStatic]
    private static (string Origin, string? Host) t_known;

    private static string? OriginHost(string origin)
    {
        if (t_known.Origin != origin)
            t_known = (origin, HostOf(origin));
        return t_known.Host;
    }

    public static string? HostOf(string address) =>
        Uri.TryCreate(address, UriKind.Absolute, out var uri) && uri.Scheme is ("http" or "https")
            ? (uri.IsDefaultPort ? uri.Host : $"{uri.Host}:{uri.Port}")
            : null;
}
