using Outcry.Core.Access;

namespace Outcry.Server.Platform;

/// <summary>What an endpoint asks of whoever calls it. Of several the last counts: an endpoint's own goes before its group's.</summary>
/// <param name="Right">The right in the workspace that the request is about.</param>
internal sealed record RightDemand(Right Right);

/// <summary>A scope with which a machine's token may call an endpoint that people call by their right.</summary>
internal sealed record TokenDemand(TokenScope Scope);

/// <summary>Marks what is about one's own account and no workspace; a machine has none.</summary>
internal sealed record OwnAccount;

/// <summary>How endpoints say what they ask for.</summary>
internal static class RightDemands
{
    /// <summary>Asks for a right; members without it are told who has it.</summary>
    public static RouteHandlerBuilder For(this RouteHandlerBuilder route, Right right) =>
        route.WithMetadata(new RightDemand(right)).ProducesProblem(StatusCodes.Status403Forbidden);

    /// <summary>Opens it to tokens with a scope as well.</summary>
    public static RouteHandlerBuilder ForTokens(this RouteHandlerBuilder route, TokenScope scope) =>
        route.WithMetadata(new TokenDemand(scope));

    /// <summary>Opens it to every member, about their own account.</summary>
    public static TBuilder ForOneself<TBuilder>(this TBuilder route)
        where TBuilder : IEndpointConventionBuilder => route.WithMetadata(new OwnAccount());
}

/// <summary>Holds every endpoint of the desk to <see cref="AccessTable"/>. Stands after authorisation, before anything is read of the body.</summary>
internal sealed class RightGuard(RequestDelegate next)
{
    public Task InvokeAsync(HttpContext http, CurrentMember current)
    {
        var asked = http.GetEndpoint()?.Metadata;
        if (asked?.GetMetadata<RightDemand>() is not { } demand || !current.IsKnown)
            return next(http);
        var isOwn = asked.GetMetadata<OwnAccount>() is not null;
        if (current.Scopes is not null)
            return MayMachine(http.Request.Method, asked, demand, isOwn, current) ? next(http) : RefuseToken(http);
        if (isOwn || current.WorkspaceId == Guid.Empty)
            return next(http);
        return current.LacksFactor ? RefuseFactor(http)
            : current.May(demand.Right) ? next(http)
            : Refuse(http, demand.Right);
    }

    private static bool MayMachine(
        string method,
        EndpointMetadataCollection asked,
        RightDemand demand,
        bool isOwn,
        CurrentMember current
    )
    {
        if (isOwn)
            return false;
        if (asked.GetMetadata<TokenDemand>() is { } named)
            return current.Scopes!.Contains(named.Scope);
        return HttpMethods.IsGet(method)
            && demand.Right is Right.Enter or Right.See
            && current.Scopes!.Contains(TokenScope.Read);
    }

    private static Task Refuse(HttpContext http, Right right) =>
        Problems
            .Of(StatusCodes.Status403Forbidden, "role", "Your role does not allow this", AccessTable.Refusal(right))
            .ExecuteAsync(http);

    private static Task RefuseToken(HttpContext http) =>
        Problems
            .Of(
                StatusCodes.Status403Forbidden,
                "scope",
                "This token is not for that",
                "Its scopes do not open this. Make one that has the scope, or sign in."
            )
            .ExecuteAsync(http);

    private static Task RefuseFactor(HttpContext http) =>
        Problems
            .Of(
                StatusCodes.Status403Forbidden,
                "factor-needed",
                "A second factor is needed here",
                "This workspace asks you to sign in with a second factor. Set one up under your account, then go on."
            )
            .ExecuteAsync(http);
}
