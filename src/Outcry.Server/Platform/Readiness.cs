using System.Diagnostics;
using Microsoft.Extensions.Diagnostics.HealthChecks;

namespace Outcry.Server.Platform;

/// <summary>
/// Whether the house serves yet. Its door is there while what it serves from is still being read, so that both go on at once;
/// who comes meanwhile waits inside and is not turned away.
/// </summary>
internal sealed class Readiness
{
    private static readonly PathString Health = "/health";
    private readonly TaskCompletionSource _ready = new(TaskCreationOptions.RunContinuationsAsynchronously);

    public bool IsReady => _ready.Task.IsCompleted;

    public void Reach() => _ready.TrySetResult();

    public Task WaitAsync(CancellationToken stop) => _ready.Task.WaitAsync(stop);

    /// <summary>Lets a request on once the house is ready; whether it is may be asked at any time.</summary>
    public Task EnterAsync(HttpContext http, RequestDelegate next) =>
        IsReady || http.Request.Path.StartsWithSegments(Health) ? next(http) : WaitAndEnterAsync(http, next);

    private async Task WaitAndEnterAsync(HttpContext http, RequestDelegate next)
    {
        await WaitAsync(http.RequestAborted);
        await next(http);
    }
}

/// <summary>Something that has to be done at each start before anybody is served.</summary>
internal interface IBeforeReady
{
    Task PrepareAsync(CancellationToken stop);
}

/// <summary>Does what has to be done first. A house that cannot be made ready ends, and whoever runs it sees why.</summary>
internal sealed class GettingReady(
    IEnumerable<IBeforeReady> tasks,
    Readiness readiness,
    IHostApplicationLifetime lifetime
) : BackgroundService
{
    // A database that comes up beside the house is there within moments as a rule.
    private static readonly TimeSpan WaitsForDatabase = TimeSpan.FromMinutes(1);
    private static readonly TimeSpan BetweenTries = TimeSpan.FromSeconds(1);
    private Task? _begun;

    /// <summary>Begins at once, before the host's own services, some of which keep the others waiting.</summary>
    public void Begin() => _begun ??= Task.Run(() => PrepareAsync(lifetime.ApplicationStopping));

    protected override Task ExecuteAsync(CancellationToken stoppingToken)
    {
        Begin();
        return _begun!;
    }

    private async Task PrepareAsync(CancellationToken stop)
    {
        try
        {
            await Task.WhenAll(tasks.Select(t => PrepareAsync(t, stop)));
            readiness.Reach();
        }
        catch (Exception) when (!stop.IsCancellationRequested)
        {
            // The host ends by itself then, in good order, and would call that a success.
            Environment.ExitCode = 1;
            throw;
        }
    }

    private static async Task PrepareAsync(IBeforeReady task, CancellationToken stop)
    {
        var began = Stopwatch.GetTimestamp();
        while (true)
            try
            {
                await task.PrepareAsync(stop);
                return;
            }
            catch (Exception away)
                when (Problems.IsDatabaseAway(away) && Stopwatch.GetElapsedTime(began) < WaitsForDatabase)
            {
                await Task.Delay(BetweenTries, stop);
            }
    }
}

/// <summary>Health's first question.</summary>
internal sealed class IsReady(Readiness readiness) : IHealthCheck
{
    public Task<HealthCheckResult> CheckHealthAsync(
        HealthCheckContext context,
        CancellationToken cancellationToken = default
    ) =>
        Task.FromResult(
            readiness.IsReady
                ? HealthCheckResult.Healthy()
                : HealthCheckResult.Unhealthy("The sites are still being read.")
        );
}
