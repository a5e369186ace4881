using Npgsql;
using Outcry.Server.Care;
using Outcry.Server.Intake.Polls;
using Outcry.Server.Ledger;
using Outcry.Server.Platform;
using Outcry.Server.Team;
using Quartz;

namespace Outcry.Server.Background;

/// <summary>Scheduled work. Every node keeps the schedule; an advisory lock lets one at a time do the work.</summary>
internal static class BackgroundFeature
{
    public static void AddBackground(this WebApplicationBuilder builder)
    {
        builder.Services.AddSingleton<OneNode>();
        builder.Services.AddSingleton<RetentionSweep>();
        builder.Services.AddSingleton<WordScan>();
        if (PlatformFeature.IsDocumentBuild)
            return;
        builder.Services.AddQuartz(q =>
        {
            q.ScheduleJob<PollJob>(t =>
                t.StartNow().WithSimpleSchedule(s => s.WithInterval(TimeSpan.FromMinutes(1)).RepeatForever())
            );
            q.ScheduleJob<PurgeJob>(t =>
                t.StartNow().WithSimpleSchedule(s => s.WithInterval(TimeSpan.FromMinutes(1)).RepeatForever())
            );
            q.ScheduleJob<WordScanJob>(t =>
                t.StartNow().WithSimpleSchedule(s => s.WithInterval(TimeSpan.FromSeconds(2)).RepeatForever())
            );
            q.ScheduleJob<LimitJob>(t =>
                t.StartNow().WithSimpleSchedule(s => s.WithInterval(TimeSpan.FromMinutes(10)).RepeatForever())
            );
            // At a quiet hour, and off the full hour at which everybody else's work begins.
            q.ScheduleJob<RetentionJob>(t => t.WithCronSchedule("0 17 3 * * ?"));
        });
        builder.Services.AddQuartzHostedService(o => o.WaitForJobsToComplete = false);
    }
}

/// <summary>Lets go of deleted events once they cannot be taken back any more.</summary>
[DisallowConcurrentExecution]
internal sealed class PurgeJob(DeletedEvents deleted, OneNode oneNode, LoopWatch watch, ILogger<PurgeJob> log)
    : ScheduledWork(oneNode, watch, log, "purge", deleted.PurgeAsync);

/// <summary>Clears away once a day what is older than its site keeps it.</summary>
[DisallowConcurrentExecution]
internal sealed class RetentionJob(RetentionSweep sweep, OneNode oneNode, LoopWatch watch, ILogger<RetentionJob> log)
    : ScheduledWork(oneNode, watch, log, "retention", sweep.RunAsync);

/// <summary>Looks the ledger through for words that were added to the blocked ones.</summary>
[DisallowConcurrentExecution]
internal sealed class WordScanJob(WordScan scan, OneNode oneNode, LoopWatch watch, ILogger<WordScanJob> log)
    : ScheduledWork(oneNode, watch, log, "words", scan.RunAsync);

/// <summary>Looks whether workspaces come near their limits.</summary>
[DisallowConcurrentExecution]
internal sealed class LimitJob(LimitRound round, OneNode oneNode, LoopWatch watch, ILogger<LimitJob> log)
    : ScheduledWork(oneNode, watch, log, "limits", round.RunAsync);

/// <summary>Fetches whose turn it is.</summary>
[DisallowConcurrentExecution]
internal sealed class PollJob(PollRunner runner, OneNode oneNode, LoopWatch watch, ILogger<PollJob> log)
    : ScheduledWork(oneNode, watch, log, "polls", runner.BeginDueAsync);

/// <summary>A piece of scheduled work that one node does and that a database that is away puts off.</summary>
internal abstract partial class ScheduledWork(
    OneNode oneNode,
    LoopWatch watch,
    ILogger log,
    string name,
    Func<CancellationToken, Task> doAsync
) : IJob
{
    public async ValueTask Execute(IJobExecutionContext context, CancellationToken stop)
    {
        try
        {
            await oneNode.RunAsync(name, doAsync, stop);
        }
        catch (Exception away) when (!stop.IsCancellationRequested && Problems.IsDatabaseAway(away))
        {
            PutOff(log, name, away);
        }
        catch (Exception failure) when (!stop.IsCancellationRequested)
        {
            watch.PassedOver($"scheduled work \"{name}\"", failure);
        }
    }

    [LoggerMessage(1401, LogLevel.Warning, "{Work} was put off until its next turn")]
    private static partial void PutOff(ILogger log, string work, Exception away);
}
