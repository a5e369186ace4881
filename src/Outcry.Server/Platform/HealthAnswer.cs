using Microsoft.Extensions.Diagnostics.HealthChecks;

namespace Outcry.Server.Platform;

/// <summary>Says in words how the house stands: "healthy", "degraded" or "unhealthy", and why. Nothing in it names a site or a person.</summary>
internal static class HealthAnswer
{
    public static Task WriteAsync(HttpContext http, HealthReport report) =>
        http.Response.WriteAsJsonAsync(
            new
            {
                status = report.Status.ToString().ToLowerInvariant(),
                troubles = report
                    .Entries.Where(e => e.Value.Status != HealthStatus.Healthy)
                    .Select(e => e.Value.Description ?? e.Key),
            },
            http.RequestAborted
        );
}
