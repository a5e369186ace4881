using Outcry.Server.Platform;

namespace Outcry.Server.Intake;

/// <summary>The ways in for events.</summary>
internal static class IntakeFeature
{
    public static void AddIntake(this WebApplicationBuilder builder)
    {
        builder.Services.AddSingleton<EventRecorder>();
        builder.Services.AddSingleton<WebhookIntake>();
        builder.Services.AddSingleton<FormCapture>();
    }

    public static void MapIntake(this WebApplication app) =>
        app.MapPost("/in/{sourceId:guid}", AcceptWebhook.HandleAsync)
            .WithTags("Intake")
            .WithName("AcceptWebhook")
            .WithDescription(
                "A CloudEvents 1.0 JSON event in structured mode, signed as Standard Webhooks (webhook-id, webhook-timestamp, webhook-signature). "
                    + "data: { customer: { firstName, lastName, email, city, region, country }, product: { name, url, image, category }, "
                    + "amount, currency, page, visitor, fields, test }. One word of the type says what happened: purchase, booking, signup or enquiry."
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
