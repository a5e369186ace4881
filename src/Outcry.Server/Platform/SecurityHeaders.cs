namespace Outcry.Server.Platform;

/// <summary>Headers that keep the desk to itself: a strict Content-Security-Policy, no sniffing, no framing.</summary>
internal sealed class SecurityHeaders(RequestDelegate next)
{
    /// <summary>Set among a request's items by what only the desk itself may frame: to the policy under which it is framed.</summary>
    public static readonly object FramedByDesk = new();

    /// <summary>A sketch of a site's page shows that site's pictures, wherever they are, and may do nothing else that the desk may not.</summary>
    public const string Sketch =
        "default-src 'self'; script-src 'self'; style-src 'self'; img-src * data:; connect-src 'self'; frame-src 'none'; "
        + "object-src 'none'; base-uri 'none'; form-action 'none'; frame-ancestors 'self'";

    /// <summary>A mail has its styles at its elements, as mail programs want them, and does and fetches nothing.</summary>
    public const string Mail = "default-src 'none'; style-src-attr 'unsafe-inline'; sandbox; frame-ancestors 'self'";

    public Task InvokeAsync(HttpContext http)
    {
        http.Response.OnStarting(() =>
        {
            var headers = http.Response.Headers;
            headers.XContentTypeOptions = "nosniff";
            headers["Referrer-Policy"] = "same-origin";
            var framed = http.Items[FramedByDesk] as string;
            headers.XFrameOptions = framed is null ? "DENY" : "SAMEORIGIN";
            headers["Cross-Origin-Opener-Policy"] = "same-origin";
            headers["Permissions-Policy"] = "camera=(), microphone=(), geolocation=()";
            headers.ContentSecurityPolicy = framed ?? Policy(FrameHosts(http));
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

    private static string Policy(string frames) =>
        "default-src 'self'; script-src 'self'; style-src 'self'; img-src 'self' data:; "
        + $"font-src 'self'; connect-src 'self'; frame-src {frames}; object-src 'none'; base-uri 'none'; "
        + "form-action 'self'; frame-ancestors 'none'";
}
