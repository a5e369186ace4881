namespace Outcry.Server.Platform;

/// <summary>Lets only the desk's own pages open its live line: browsers send cookies along with a socket that any page opens.</summary>
internal sealed class SameOriginLine(RequestDelegate next)
{
    public async Task InvokeAsync(HttpContext http)
    {
        var origin = http.Request.Headers.Origin.ToString();
        if (
            http.Request.Path.StartsWithSegments("/live")
            && origin.Length > 0
            && !(
                Uri.TryCreate(origin, UriKind.Absolute, out var from)
                && string.Equals(from.Authority, Own(http.Request), StringComparison.OrdinalIgnoreCase)
            )
        )
        {
            await Problems
                .Of(
                    StatusCodes.Status403Forbidden,
                    "origin",
                    "This page may not listen",
                    "Only the desk's own pages open its live line."
                )
                .ExecuteAsync(http);
            return;
        }
        await next(http);
    }

    // The usual port of a scheme is left out of an origin, whether the Host header names it or not.
    private static string Own(HttpRequest request) =>
        Uri.TryCreate($"{request.Scheme}://{request.Host}", UriKind.Absolute, out var own) ? own.Authority : "";
}
