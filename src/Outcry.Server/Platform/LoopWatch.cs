using System.Collections.Concurrent;
using Microsoft.Extensions.Diagnostics.HealthChecks;
using NodaTime;

namespace Outcry.Server.Platform;

/// <summary>
/// Keeps background loops going whatever befalls them, and knows how they stand: one that broke is begun again, and what
/// went wrong is in the log and in /health/ready.
/// </summary>
internal sealed partial class LoopWatch(IClock clock, Readiness readiness, ILogger<LoopWatch> log)
{
    private static readonly TimeSpan FirstWait = TimeSpan.FromSeconds(1);
    private static readonly TimeSpan LongestWait = TimeSpan.FromSeconds(30);

    /// <summary>A loop that has not gone round for so long stands still, whatever it waits for.</summary>
    private static readonly Duration StandsStillAfter = Duration.FromMinutes(2);

    /// <summary>Trouble with a single thing is spoken of for so long after it was last met.</summary>
    private static readonly Duration TroubleLasts = Duration.FromMinutes(5);

    private readonly ConcurrentDictionary<string, Loop> _loops = new();

    /// <summary>Runs a loop from when the house is ready until the host stops; when it breaks it is begun again after a wait that grows.</summary>
    /// <param name="name">What it does, in a word or two.</param>
    /// <param name="goRound">The loop; it calls <see cref="WentRound"/> each time it has gone round well.</param>
    /// <param name="stop">Ends it.</param>
    public async Task KeepAsync(string name, Func<CancellationToken, Task> goRound, CancellationToken stop)
    {
        var wait = FirstWait;
        await readiness.WaitAsync(stop).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        WentRound(name);
        while (!stop.IsCancellationRequested)
        {
            try
            {
                await goRound(stop);
                return;
            }
            catch (OperationCanceledException) when (stop.IsCancellationRequested)
            {
                return;
            }
            catch (Exception broken)
            {
                Broke(broken, name, wait.TotalSeconds);
                _loops[name] = new Loop(clock.GetCurrentInstant(), broken.Message);
            }
            await Task.Delay(wait, stop).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
            wait = wait * 2 < LongestWait ? wait * 2 : LongestWait;
        }
    }

    /// <summary>Notes that a loop has gone round well.</summary>
    public void WentRound(string name) => _loops[name] = new Loop(clock.GetCurrentInstant(), null);

    /// <summary>Notes trouble with a single thing, which the loop passed over.</summary>
    /// <param name="what">Which thing, for the log and for whoever looks after the house.</param>
    /// <param name="cause">What befell it.</param>
    public void PassedOver(string what, Exception cause)
    {
        Trouble(cause, what);
        _troubles[what] = clock.GetCurrentInstant();
        if (_troubles.Count > MostTroubles)
            _troubles.Clear();
    }

    private const int MostTroubles = 200;
    private readonly ConcurrentDictionary<string, Instant> _troubles = new();

    /// <summary>How the loops stand: a loop that broke or stands still is ill, things passed over are a degradation.</summary>
    public HealthCheckResult Health()
    {
        var now = clock.GetCurrentInstant();
        var ill = _loops
            .Select(l =>
                l.Value.Failure is { } failure ? $"\"{l.Key}\" broke: {failure}"
                : now - l.Value.At > StandsStillAfter ? $"\"{l.Key}\" has stood still since {l.Value.At}."
                : null
            )
            .OfType<string>()
            .ToList();
        var troubles = _troubles.Where(t => now - t.Value <= TroubleLasts).Select(t => t.Key).Order().ToList();
        return ill.Count > 0 ? HealthCheckResult.Unhealthy(string.Join(" ", ill))
            : troubles.Count > 0 ? HealthCheckResult.Degraded($"Passed over: {string.Join("; ", troubles)}.")
            : HealthCheckResult.Healthy();
    }

    private sealed record Loop(Instant At, string? Failure);

    [LoggerMessage(1010, LogLevel.Error, "The loop \"{Loop}\" broke; it begins again in {Seconds} s")]
    private partial void Broke(Exception broken, string loop, double seconds);

    [LoggerMessage(1011, LogLevel.Warning, "Passed over: {What}")]
    private partial void Trouble(Exception cause, string what);
}

/// <summary>Ready means, too, that everything in the background goes on.</summary>
internal sealed class LoopsGoOn(LoopWatch watch) : IHealthCheck
{
    public Task<HealthCheckResult> CheckHealthAsync(
        HealthCheckContext context,
        CancellationToken cancellationToken = default
    ) => Task.FromResult(watch.Health());
}
