using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store.Signals;

namespace Outcry.Server.Visitor;

/// <summary>The hot path: the snippet's file, its plans and its signals.</summary>
internal static class VisitorFeature
{
    public static void AddVisitor(this WebApplicationBuilder builder)
    {
        builder.Services.AddSingleton<SignalCopy>();
        builder.Services.AddSingleton<SignalFigures>();
        builder.Services.AddSingleton<SignalRecord>();
        builder.Services.AddSingleton<SignalWriter>();
        builder.Services.AddSingleton<TakeSignals>();
        builder.Services.AddSingleton<FigureNews>();
        builder.Services.AddSingleton<SnippetFiles>();
        builder.Services.AddSingleton<StageDraft>();
        builder.Services.AddSingleton<StageLauncher>();
        builder.Services.AddSingleton<PlaceTaker>();
        builder.Services.AddSingleton<TrialWalk>();
        if (PlatformFeature.IsDocumentBuild)
            return;
        builder.Services.AddHostedService(p => p.GetRequiredService<FigureNews>());
    }

    // Proxies and people who look after a site ask for the head alone.
    private static readonly string[] Readers = ["GET", "HEAD"];

    public static void MapVisitor(this WebApplication app)
    {
        app.MapMethods(
                "/o/{siteKey}.js",
                Readers,
                (HttpContext http, SnippetFiles files, LiveSites sites, string siteKey) =>
                    files.Serve(http, sites, siteKey)
            )
            .WithTags("Visitor")
            .WithName("GetSnippet");
        app.MapMethods(
                "/o/more/{part}-{version}.js",
                Readers,
                (HttpContext http, SnippetFiles files, string part, string version) =>
                    files.ServeMore(http, part, version)
            )
            .WithTags("Visitor")
            .WithName("GetSnippetPart");
        var visitor = app.MapGroup("/v").WithTags("Visitor").RequireRateLimiting(Limits.Visitor);
        visitor
            .MapPost("/plan", PlanPage.HandleAsync)
            .WithName("PlanPage")
            .Accepts<PlanRequest>("text/plain", "application/json")
            .Produces<PlanResponse>()
            .ProducesProblem(StatusCodes.Status400BadRequest)
            .ProducesProblem(StatusCodes.Status403Forbidden)
            .ProducesProblem(StatusCodes.Status404NotFound);
        visitor
            .MapPost("/signals", (HttpContext http, TakeSignals take) => take.HandleAsync(http))
            .WithName("TakeSignals")
            .Accepts<SignalsRequest>("text/plain", "application/json")
            .Produces<SignalsResponse>(StatusCodes.Status202Accepted)
            .ProducesProblem(StatusCodes.Status400BadRequest)
            .ProducesProblem(StatusCodes.Status403Forbidden)
            .ProducesProblem(StatusCodes.Status404NotFound);
        visitor
            .MapPost("/there", AskIfThere.HandleAsync)
            .WithName("AskIfThere")
            .Accepts<ThereRequest>("text/plain", "application/json")
            .Produces<ThereResponse>()
            .ProducesProblem(StatusCodes.Status400BadRequest)
            .ProducesProblem(StatusCodes.Status403Forbidden)
            .ProducesProblem(StatusCodes.Status404NotFound);
        visitor
            .MapPost("/alive", TakeSignOfLife.HandleAsync)
            .WithName("TakeSignOfLife")
            .Accepts<AliveRequest>("text/plain", "application/json")
            .Produces<AliveResponse>()
            .ProducesProblem(StatusCodes.Status400BadRequest)
            .ProducesProblem(StatusCodes.Status403Forbidden)
            .ProducesProblem(StatusCodes.Status404NotFound);
        visitor
            .MapPost("/messages", TakeMessage.HandleAsync)
            .WithName("TakeMessage")
            .Accepts<MessageRequest>("text/plain", "application/json")
            .Produces<MessageResponse>(StatusCodes.Status202Accepted)
            .ProducesProblem(StatusCodes.Status400BadRequest)
            .ProducesProblem(StatusCodes.Status403Forbidden)
            .ProducesProblem(StatusCodes.Status404NotFound);
        visitor
            .MapPost("/points", TakePoint.HandleAsync)
            .WithName("TakePoint")
            .Accepts<PointRequest>("text/plain", "application/json")
            .Produces(StatusCodes.Status204NoContent)
            .ProducesProblem(StatusCodes.Status400BadRequest)
            .ProducesProblem(StatusCodes.Status403Forbidden)
            .ProducesProblem(StatusCodes.Status404NotFound);
        visitor.MapMethods("/{**any}", ["OPTIONS"], VisitorDoor.Preflight).ExcludeFromDescription();
    }
}
