using Microsoft.AspNetCore.Antiforgery;

namespace Outcry.Server.Platform;

/// <summary>Asks every request that changes something for the antiforgery token that only our own page can read.</summary>
internal sealed class AntiforgeryOnWrites(IAntiforgery antiforgery) : IEndpointFilter
{
    public async ValueTask<object?> InvokeAsync(EndpointFilterInvocationContext context, EndpointFilterDelegate next)
    {
        var http = context.HttpContext;
        // No page can make a browser send somebody's token along.
        if (
            HttpMethods.IsGet(http.Request.Method)
            || http.RequestServices.GetRequiredService<CurrentMember>().Scopes is not null
            || await antiforgery.IsRequestValidAsync(http)
        )
            return await next(context);
        return Problems.Of(
            StatusCodes.Status400BadRequest,
            "antiforgery",
            "The page is out of date",
            "Reload the page and try again: its security token is missing or belongs to an earlier session."
        );
    }
}
