using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Sources;
using Outcry.Server.Passports;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake;

/// <summary>What became of a delivery that was understood.</summary>
/// <param name="Id">The event in the ledger; null when the source left it out.</param>
/// <param name="Verdict">Accepted, there already, or left out.</param>
/// <param name="Because">Why it was left out.</param>
internal sealed record AcceptedEvent(Guid? Id, DeliveryVerdict Verdict, string? Because);

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
        if (source is not { Kind: SourceKind.SignedWebhook, DeletedAt: null })
            return Problems.NotFound("source");
        if (await BodyLimits.TryReadAsync(http.Request, BodyLimits.IntakeBytes, http.RequestAborted) is not { } body)
            return Problems.TooLarge(BodyLimits.IntakeBytes);
        var headers = http.Request.Headers;
        var message = new WebhookMessage(
            IdOf(source, headers, body),
            headers[StandardWebhooks.TimestampHeader],
            headers[StandardWebhooks.SignatureHeader],
            http.Request.ContentType,
            body
        )
        {
            Secret = SecretOf(source, http.Request),
        };
        return await intake.AcceptAsync(source, message, clock.GetCurrentInstant(), http.RequestAborted);
    }

    // A plain connector numbers nothing: what it sends twice is known by saying the same.
    private static string? IdOf(SourceRow source, IHeaderDictionary headers, byte[] body) =>
        headers[StandardWebhooks.IdHeader].ToString() is { Length: > 0 } id ? id
        : source.Proof == PostingProof.Signature ? null
        : $"body-{Convert.ToHexStringLower(SHA256.HashData(body))[..40]}";

    private static string? SecretOf(SourceRow source, HttpRequest request) =>
        source.Proof switch
        {
            PostingProof.Bearer
                when request.Headers.Authorization.ToString() is var sent
                    && sent.StartsWith(BearerScheme, StringComparison.OrdinalIgnoreCase) => sent[BearerScheme.Length..]
                .Trim(),
            PostingProof.Address => request.Query["secret"],
            _ => null,
        };

    private const string BearerScheme = "Bearer ";
}

/// <summary>A message as it was sent.</summary>
/// <param name="ResendOf">The delivery that a member sends again; such a message was checked when it first came.</param>
internal sealed record WebhookMessage(
    string? Id,
    string? Timestamp,
    string? Signature,
    string? ContentType,
    byte[] Body,
    Guid? ResendOf = null
)
{
    /// <summary>The secret that came with it, where messages are not signed.</summary>
    public string? Secret { get; init; }
}

/// <summary>Checks a signed message and records its event.</summary>
internal sealed class WebhookIntake(EventRecorder recorder, DeliveryLog log, LiveSites sites)
{
    public async Task<IResult> AcceptAsync(
        SourceRow source,
        WebhookMessage message,
        Instant now,
        CancellationToken stop
    )
    {
        // What is not signed may be anybody's; its body is not kept.
        if (message.ResendOf is null && Objection(source, message, now) is { } objection)
        {
            await recorder.RefusedAsync(source, objection, now, stop);
            var unsigned = Problems.Of(
                StatusCodes.Status401Unauthorized,
                "signature",
                source.Proof == PostingProof.Signature
                    ? "The signature is missing or wrong"
                    : "The secret is missing or wrong",
                objection
            );
            await NoteAsync(source, message with { Body = [] }, unsigned, now, stop);
            return unsigned;
        }
        if (!IsJson(message.ContentType))
            return await RefuseAsync(
                source,
                message,
                Problems.Of(
                    StatusCodes.Status415UnsupportedMediaType,
                    "content-type",
                    "This content type is not taken",
                    source.Map is null
                        ? "Send a CloudEvents event in structured mode, as application/cloudevents+json."
                        : "Send JSON, as application/json."
                ),
                now,
                stop
            );
        var (arrival, fault) = Read(source, message, now);
        if (fault is not null)
            return await RefuseAsync(source, message, Problems.BadField(fault.Field, fault.Sentence), now, stop);
        // What a member's own browser did, or what happened on a test host, is a test, whoever reports it.
        var isOwn =
            (arrival!.VisitorId is { } visitor && Passport.IsMember(visitor))
            || sites.GetById(source.SiteId).IsTestPage(arrival.Page);
        var recorded = await recorder.RecordAsync(arrival, source, isOwn, now, stop);
        // The event is committed; that its delivery could not be noted is no reason to have it sent again.
        await log.TryNoteAsync(
            source,
            message,
            recorded.Verdict,
            StatusCodes.Status202Accepted,
            recorded.Because,
            recorded.EventId,
            now,
            stop
        );
        return TypedResults.Accepted(
            (string?)null,
            new AcceptedEvent(recorded.EventId, recorded.Verdict, recorded.Because)
        );
    }

    // Both secrets hold while one is being replaced by the other.
    private static string? Objection(SourceRow source, WebhookMessage message, Instant now)
    {
        if (source.Proof != PostingProof.Signature)
            return IsSecret(message.Secret, source.Secret)
                || (now < source.PreviousSecretUntil && IsSecret(message.Secret, source.PreviousSecret))
                    ? null
                : source.Proof == PostingProof.Bearer
                    ? "Send the source's secret in the header \"Authorization: Bearer …\"."
                : "Send to the address as the desk shows it, with its secret at the end.";
        var objection = StandardWebhooks.Objection(
            source.Secret!,
            message.Id,
            message.Timestamp,
            message.Signature,
            message.Body,
            now
        );
        if (objection is null || source.PreviousSecret is null || now >= source.PreviousSecretUntil)
            return objection;
        return
            StandardWebhooks.Objection(
                source.PreviousSecret,
                message.Id,
                message.Timestamp,
                message.Signature,
                message.Body,
                now
            )
                is null
            ? null
            : objection;
    }

    private static bool IsSecret(string? sent, string? secret) =>
        sent is not null
        && secret is not null
        && CryptographicOperations.FixedTimeEquals(Encoding.UTF8.GetBytes(sent), Encoding.UTF8.GetBytes(secret));

    private (IncomingEvent? Event, ArrivalFault? Fault) Read(SourceRow source, WebhookMessage message, Instant now)
    {
        if (source.Map is not { } map)
            return CloudEventReader.Read(JsonGate.Clean(message.Body), message.Id!, now);
        try
        {
            var json = JsonGate.Parse(message.Body);
            if (json.ValueKind != JsonValueKind.Object)
                return (null, new ArrivalFault("", "The body must be one JSON object."));
            var zone = sites.GetById(source.SiteId).Zone;
            var (arrival, fault) = MapReader.Read(
                map,
                place => JsonPlaces.Read(json, place),
                new ReadingContext(() => message.Id!, now, zone)
            );
            return (arrival is null ? null : arrival with { DeliveryId = message.Id }, fault);
        }
        catch (JsonException bad)
        {
            return (null, CloudEventReader.NotJson(bad));
        }
    }

    private async Task<IResult> RefuseAsync(
        SourceRow source,
        WebhookMessage message,
        ProblemHttpResult problem,
        Instant now,
        CancellationToken stop
    )
    {
        await recorder.RefusedAsync(source, problem.ProblemDetails.Detail ?? "", now, stop);
        await NoteAsync(source, message, problem, now, stop);
        return problem;
    }

    private Task NoteAsync(
        SourceRow source,
        WebhookMessage message,
        ProblemHttpResult problem,
        Instant now,
        CancellationToken stop
    ) =>
        log.NoteAsync(
            source,
            message,
            DeliveryVerdict.Refused,
            problem.StatusCode,
            problem.ProblemDetails.Detail,
            null,
            now,
            stop
        );

    private static bool IsJson(string? contentType) =>
        contentType?.Split(';')[0].Trim().ToLowerInvariant() is "application/cloudevents+json" or "application/json";
}
