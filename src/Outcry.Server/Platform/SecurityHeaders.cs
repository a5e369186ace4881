namespace Outcry.Server.Platform;

/// <summary>Headers that keep the desk to itself: a strict Content-Security-Policy, no sniffing, no framing.</summary>
internal sealed class SecurityHeaders(RequestDelegate next)
{
    public Task InvokeAsync(HttpContext http)
    {
        http.Response.OnStarting(() =>
        {
            var headers = http.Response.Headers;
            headers.XContentTypeOptions = "nosniff";
            headers["Referrer-Policy"] = "same-origin";
            headers.XFrameOptions = "DENY";
            headers["Cross-Origin-Opener-Policy"] = "same-origin";
            headers["Permissions-Policy"] = "camera=(), microphone=(), geolocation=()";
            headers.ContentSecurityPolicy = Policy(FrameHosts(http));
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
        var hosts = http.RequestServices.GetRequiredService<ISiteBook>().HostsOf(member.WorkspaceId).ToList();
        return hosts.Count == 0
            ? "'none'"
            : string.Join(' ', hosts.SelectMany(h => new[] { $"https://{h}", $"http://{h}" }));
    }

    private static string Policy(string frames) =>
        "default-src 'self'; script-src 'self'; style-src 'self'; img-src 'self' data:; "
        + $"font-src 'self'; connect-src 'self'; frame-src {frames}; object-src 'none'; base-uri 'none'; "
        + "form-action 'self'; frame-ancestors 'none'";
}
