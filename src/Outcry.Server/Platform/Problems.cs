using System.Diagnostics;
using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace Outcry.Server.Platform;

/// <summary>Problem details (RFC 9457) with stable types and sentences a person can act on.</summary>
internal static class Problems
{
    public static ProblemHttpResult Of(int status, string type, string title, string detail, string? field = null)
    {
        var extensions = field is null ? null : new Dictionary<string, object?> { ["field"] = field };
        return TypedResults.Problem(detail, statusCode: status, title: title, type: Type(type), extensions: extensions);
    }

    public static ProblemHttpResult BadField(string field, string detail) =>
        Of(StatusCodes.Status400BadRequest, "bad-field", "Something in the request is not right", detail, field);

    public static ProblemHttpResult NotFound(string what) =>
        Of(StatusCodes.Status404NotFound, "not-found", "Not found", $"There is no such {what}.");

    public static ProblemHttpResult TooLarge(int limitBytes) =>
        Of(
            StatusCodes.Status413PayloadTooLarge,
            "too-large",
            "The body is too large",
            $"At most {limitBytes / 1024} KB are taken in one request."
        );

    /// <summary>Whether a failure comes of a database that is away, however it is wrapped.</summary>
    public static bool IsDatabaseAway(Exception? failure)
    {
        for (; failure is not null; failure = failure.InnerException)
            if (
                // More is asked than it can write: for the sender that is the same.
                failure is TooManyWaitException or Npgsql.NpgsqlException { IsTransient: true }
                || failure is Npgsql.PostgresException { SqlState: ['5', '7', ..] or ['0', '8', ..] }
            )
                return true;
        return false;
    }

    public static string Type(string name) => $"urn:outcry:problem:{name}";

    /// <summary>What a person is asked to pass on, and what the log calls the request: the trace, where traces are gathered.</summary>
    public static string TraceOf(HttpContext http) => Activity.Current?.Id ?? http.TraceIdentifier;

    public static void AddTrace(ProblemDetailsContext context)
    {
        context.ProblemDetails.Extensions["traceId"] = TraceOf(context.HttpContext);
        if (context.ProblemDetails.Type?.StartsWith("https://tools.ietf.org", StringComparison.Ordinal) == true)
            context.ProblemDetails.Type = Type($"http-{context.ProblemDetails.Status}");
    }
}

/// <summary>The one place where what nobody expected is logged and answered without internals.</summary>
internal sealed partial class UnexpectedFailure(IProblemDetailsService problems, ILogger<UnexpectedFailure> log)
    : IExceptionHandler
{
    public async ValueTask<bool> TryHandleAsync(HttpContext http, Exception failure, CancellationToken stop)
    {
        if (failure is OperationCanceledException && http.RequestAborted.IsCancellationRequested)
            return true;
        var details =
            Problems.IsDatabaseAway(failure) ? DatabaseAway
            : failure is Store.UnreadableContentException ? Damaged
            : failure is BadHttpRequestException bad
                ? new ProblemDetails
                {
                    Status = bad.StatusCode,
                    Title = "The request cannot be read",
                    Detail = bad.StatusCode switch
                    {
                        StatusCodes.Status408RequestTimeout => "The body came too slowly. Send it again.",
                        StatusCodes.Status413PayloadTooLarge => "The body is larger than is taken here.",
                        StatusCodes.Status415UnsupportedMediaType => "The body must be JSON (application/json).",
                        _ => bad.InnerException is System.Text.Json.JsonException json
                            ? $"The JSON is not as expected at {json.Path ?? "its beginning"}."
                            : "A part of the request is missing or malformed.",
                    },
                    Type = Problems.Type("unreadable"),
                }
            : new ProblemDetails
            {
                Status = StatusCodes.Status500InternalServerError,
                Title = "Something went wrong here",
                Detail = "The request was not carried out. Try again; if it stays so, pass the trace id on.",
                Type = Problems.Type("unexpected"),
            };
        if (details.Status >= 500)
            Unexpected(failure, http.Request.Method, http.Request.Path, Problems.TraceOf(http));
        // What was set before the failure went with it.
        QuietHeaders.Set(http.Response);
        http.Response.StatusCode = details.Status!.Value;
        return await problems.TryWriteAsync(new ProblemDetailsContext { HttpContext = http, ProblemDetails = details });
    }

    private static ProblemDetails Damaged =>
        new()
        {
            Status = StatusCodes.Status409Conflict,
            Title = "It cannot be read",
            Detail = "What is kept of it is damaged. Save one of its other revisions as the draft, or archive it.",
            Type = Problems.Type("unreadable"),
        };

    private static ProblemDetails DatabaseAway =>
        new()
        {
            Status = StatusCodes.Status503ServiceUnavailable,
            Title = "The database does not answer",
            Detail =
                "Nothing was changed. Visitors are still served from memory, and senders try again by themselves. Wait a moment and repeat it.",
            Type = Problems.Type("database-away"),
        };

    [LoggerMessage(1001, LogLevel.Error, "Unexpected failure in {Method} {Path}, trace id {Trace}")]
    private partial void Unexpected(Exception failure, string method, string path, string trace);
}
