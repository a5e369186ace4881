using Microsoft.Extensions.DependencyInjection.Extensions;
using Outcry.Server.Intake.Imports;
using Outcry.Server.Intake.Polls;
using Outcry.Server.Platform;

namespace Outcry.Server.Intake;

/// <summary>The ways in for events.</summary>
internal static class IntakeFeature
{
    public static void AddIntake(this WebApplicationBuilder builder)
    {
        builder.Services.AddSingleton<EventRecorder>();
        builder.Services.AddSingleton<WebhookIntake>();
        builder.Services.AddSingleton<VisitorQuota>();
        builder.Services.AddSingleton<Tombstones>();
        builder.Services.AddSingleton<BrowserIntake>();
        builder.Services.TryAddSingleton<ITakesLeads, NobodyTakesLeads>();
        builder.Services.AddSingleton<FormCapture>();
        builder.Services.AddSingleton<OwnSources>();
        builder.Services.AddSingleton<LauncherMessages>();
        builder.Services.AddSingleton<PageReports>();
        builder.Services.AddSingleton<KnownVisitors>();
        builder.Services.AddSingleton<FoundForms>();
        builder.Services.AddSingleton<FormSends>();
        builder.Services.AddSingleton<ShopBook>();
        builder.Services.AddSingleton<ShopIntake>();
        builder.Services.AddSingleton<DeliveryLog>();
        builder.Services.AddSingleton<Places>();
        builder.Services.AddSingleton<SafeFetch>();
        builder.Services.AddSingleton<PollRunner>();
        builder.Services.AddSingleton<UploadStore>();
        builder.Services.AddSingleton<ImportRunner>();
        builder.Services.AddMemoryCache();
        if (!PlatformFeature.IsDocumentBuild)
            builder.Services.AddSingleton<IBeforeReady, AbandonedImports>();
    }

    public static void MapIntake(this WebApplication app)
    {
        app.MapShopDoor();
        app.MapPost("/in/{sourceId:guid}", AcceptWebhook.HandleAsync)
            .WithTags("Intake")
            .WithName("AcceptWebhook")
            .WithDescription(
                "A CloudEvents 1.0 JSON event in structured mode, signed as Standard Webhooks (webhook-id, webhook-timestamp, webhook-signature). "
                    + "data: { customer: { firstName, lastName, email, phone, city, region, country }, product: { name, url, image, category }, "
                    + "amount, currency, page, visitor, fields, test; stars and words of a review; left of a stock level }. "
                    + "One word of the type says what happened: purchase, basket, booking, signup, enquiry, review, stock or own. "
                    + "A source with a map of its own takes JSON of any shape."
            )
            .RequireRateLimiting(Limits.Intake)
            .Produces<AcceptedEvent>(StatusCodes.Status202Accepted)
            .ProducesProblem(StatusCodes.Status400BadRequest)
            .ProducesProblem(StatusCodes.Status401Unauthorized)
            .ProducesProblem(StatusCodes.Status404NotFound)
            .ProducesProblem(StatusCodes.Status413PayloadTooLarge)
            .ProducesProblem(StatusCodes.Status415UnsupportedMediaType)
            .ProducesProblem(StatusCodes.Status429TooManyRequests);
    }
}
