namespace Outcry.Server.Platform;

/// <summary>Headers that keep the desk to itself: a strict Content-Security-Policy, no sniffing, no framing.</summary>
internal sealed class SecurityHeaders(RequestDelegate next)
{
    /// <summary>Set among a request's items by what only the desk itself may frame.</summary>
    public static readonly object FramedByDesk = new();

    public Task InvokeAsync(HttpContext http)
    {
        http.Response.OnStarting(() =>
        {
            var headers = http.Response.Headers;
            headers.XContentTypeOptions = "nosniff";
            headers["Referrer-Policy"] = "same-origin";
            var framed = http.Items.ContainsKey(FramedByDesk);
            headers.XFrameOptions = framed ? "SAMEORIGIN" : "DENY";
            headers["Cross-Origin-Opener-Policy"] = "same-origin";
            headers["Permissions-Policy"] = "camera=(), microphone=(), geolocation=()";
            headers.ContentSecurityPolicy = framed ? Framed : Policy(FrameHosts(http));
            return Task.CompletedTask;
        });
        return next(http);
    }

    // The composer's stage frames the site's own pages, so the hosts of the member's sites and no others may be framed.
    private static string FrameHosts(HttpContext http)
    {
        var member = http.RequestServices.GetService<CurrentMember>();
        if (member is not { IsKnown: true })
            return "'none'";
        var hosts = http
            .RequestServices.GetRequiredService<ISiteBook>()
            .HostsOf(member.Roles.Keys.ToHashSet())
            .ToList();
        return string.Join(' ', hosts.SelectMany(h => new[] { $"https://{h}", $"http://{h}" }).Prepend("'self'"));
    }

    // A sketch of a site's page shows that site's pictures, wherever they are, and may do nothing else that the desk may not.
    private const string Framed =
        "default-src 'self'; script-src 'self'; style-src 'self'; img-src * data:; connect-src 'self'; frame-src 'none'; "
        + "object-src 'none'; base-uri 'none'; form-action 'none'; frame-ancestors 'self'";

    private static string Policy(string frames) =>
        "default-src 'self'; script-src 'self'; style-src 'self'; img-src 'self' data:; "
        + $"font-src 'self'; connect-src 'self'; frame-src {frames}; object-src 'none'; base-uri 'none'; "
        + "form-action 'self'; frame-ancestors 'none'";
}
