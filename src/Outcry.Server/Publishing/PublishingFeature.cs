using Outcry.Core.Publishing;
using Outcry.Server.Sites;

namespace Outcry.Server.Publishing;

/// <summary>One way to draft, check, publish, revise and put away, for every kind of definition.</summary>
internal static class PublishingFeature
{
    /// <summary>Adds a kind: from then on it is drafted and published at the desk and loaded with its site.</summary>
    /// <param name="services">The host's services.</param>
    /// <param name="kind">What is its own about it.</param>
    /// <param name="view">How one of it is answered to the desk.</param>
    /// <param name="hasOwnList">Whether it is listed and begun in a way of its own.</param>
    public static void AddDefinitionKind<TContent, TCompiled, TView>(
        this IServiceCollection services,
        DefinitionKind<TContent, TCompiled> kind,
        Func<DeskDefinition<TContent>, TView> view,
        bool hasOwnList = false
    )
        where TContent : class
        where TCompiled : class
    {
        services.AddSingleton(kind);
        services.AddSingleton<ILiveKind>(new LiveKind<TContent, TCompiled>(kind));
        services.AddScoped<DefinitionDesk<TContent, TCompiled>>();
        services.AddSingleton<IDefinitionRoutes>(
            new DefinitionRoutes<TContent, TCompiled, TView>(kind.Noun, view, hasOwnList)
        );
    }

    public static void AddPublishing(this WebApplicationBuilder builder) => builder.Services.AddScoped<Reviews>();

    public static void MapPublishing(this RouteGroupBuilder api)
    {
        ReviewRoutes.Map(api);
        foreach (var routes in ((IEndpointRouteBuilder)api).ServiceProvider.GetServices<IDefinitionRoutes>())
            routes.Map(api);
    }
}
