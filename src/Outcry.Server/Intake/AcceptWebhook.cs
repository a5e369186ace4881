using NodaTime;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake;

internal sealed record AcceptedEvent(Guid Id);

/// <summary>POST /in/{sourceId}: an event of another system, signed. Answered once it is committed.</summary>
internal static class AcceptWebhook
{
    public static async Task<IResult> HandleAsync(
        HttpContext http,
        Guid sourceId,
        LiveSites sites,
        WebhookIntake intake,
        IClock clock
    )
    {
        var source = sites.FindBySource(sourceId)?.Sources[sourceId];
        if (source is not { Kind: SourceKind.SignedWebhook })
            return Problems.NotFound("source");
        if (await BodyLimits.TryReadAsync(http.Request, BodyLimits.IntakeBytes, http.RequestAborted) is not { } body)
            return Problems.TooLarge(BodyLimits.IntakeBytes);
        var headers = http.Request.Headers;
        var message = new WebhookMessage(
            headers[StandardWebhooks.IdHeader],
            headers[StandardWebhooks.TimestampHeader],
            headers[StandardWebhooks.SignatureHeader],
            http.Request.ContentType,
            body
        );
        return await intake.AcceptAsync(source, message, clock.GetCurrentInstant(), http.RequestAborted);
    }
}

/// <summary>A message as it was sent.</summary>
internal sealed record WebhookMessage(
    string? Id,
    string? Timestamp,
    string? Signature,
    string? ContentType,
    byte[] Body
);

/// <summary>Checks a signed message and records its event.</summary>
internal sealed class WebhookIntake(EventRecorder recorder)
{
    public async Task<IResult> AcceptAsync(
        SourceRow source,
        WebhookMessage message,
        Instant now,
        CancellationToken stop
    )
    {
        if (
            StandardWebhooks.Objection(
                source.Secret!,
                message.Id,
                message.Timestamp,
                message.Signature,
                message.Body,
                now
            ) is
            { } objection
        )
            return await RefuseAsync(
                source,
                Problems.Of(
                    StatusCodes.Status401Unauthorized,
                    "signature",
                    "The signature is missing or wrong",
                    objection
                ),
                now,
                stop
            );
        if (!IsCloudEvent(message.ContentType))
            return await RefuseAsync(
                source,
                Problems.Of(
                    StatusCodes.Status415UnsupportedMediaType,
                    "content-type",
                    "This content type is not taken",
                    "Send a CloudEvents event in structured mode, as application/cloudevents+json."
                ),
                now,
                stop
            );
        var (incoming, fault) = CloudEventReader.Read(message.Body, message.Id!, now);
        if (fault is not null)
            return await RefuseAsync(source, Problems.BadField(fault.Field, fault.Detail), now, stop);
        // What a member's own browser did is a test, whoever reports it.
        if (incoming!.VisitorId is { } visitor && Visitor.Passport.IsMember(visitor))
            incoming = incoming with { IsTest = true };
        var id = await recorder.RecordAsync(incoming, source, now, stop);
        return TypedResults.Accepted((string?)null, new AcceptedEvent(id));
    }

    private async Task<IResult> RefuseAsync(
        SourceRow source,
        Microsoft.AspNetCore.Http.HttpResults.ProblemHttpResult problem,
        Instant now,
        CancellationToken stop
    )
    {
        await recorder.RefusedAsync(source, problem.ProblemDetails.Detail ?? "", now, stop);
        return problem;
    }

    private static bool IsCloudEvent(string? contentType) =>
        contentType?.Split(';')[0].Trim().ToLowerInvariant() is "application/cloudevents+json" or "application/json";
}
