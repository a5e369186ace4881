using System.Threading.Channels;
using Outcry.Server.Platform;
using Outcry.Store.Signals;

namespace Outcry.Server.Visitor;

/// <summary>Commits signals in groups: whoever waits is answered once its own signals are on disk.</summary>
/// <remarks>While groups are being written the next gather, so groups grow by themselves under load.</remarks>
internal sealed partial class SignalWriter(SignalCopy copy, LoopWatch watch, ILogger<SignalWriter> log)
    : BackgroundService
{
    /// <summary>Signals in one commit at most.</summary>
    private const int MostInGroup = 5_000;

    /// <summary>Groups written at once: while one waits for the disk another is being sent.</summary>
    private const int Lanes = 2;

    /// <summary>Requests waiting at most; beyond that new ones are refused rather than kept in memory.</summary>
    private const int MostWaiting = 20_000;

    private readonly Channel<Waiting> _waiting = Channel.CreateBounded<Waiting>(new BoundedChannelOptions(MostWaiting));

    /// <summary>Writes the signals; returns once they are committed.</summary>
    /// <returns>False when they could not be written; the sender may try again.</returns>
    public async Task<bool> WriteAsync(IReadOnlyList<Signal> signals)
    {
        if (signals.Count == 0)
            return true;
        var waiting = new Waiting(signals);
        return _waiting.Writer.TryWrite(waiting) && await waiting.Done.Task;
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await Task.WhenAll(
            Enumerable
                .Range(0, Lanes)
                .Select(lane => $"commit of signals {lane + 1}")
                .Select(name => watch.KeepAsync(name, stop => CommitGroupsAsync(name, stop), stoppingToken))
        );
        _waiting.Writer.TryComplete();
        while (_waiting.Reader.TryRead(out var left))
            left.Done.TrySetResult(false);
    }

    private async Task CommitGroupsAsync(string name, CancellationToken stoppingToken)
    {
        await Task.Yield();
        var group = new List<Waiting>();
        try
        {
            while (await AnyWaitAsync(name, stoppingToken))
            {
                var count = 0;
                while (count < MostInGroup && _waiting.Reader.TryRead(out var next))
                {
                    group.Add(next);
                    count += next.Signals.Count;
                }
                await CommitAsync(group, stoppingToken);
                group.Clear();
            }
        }
        finally
        {
            Refuse(group);
        }
    }

    // Where nothing comes for a while the lane is well all the same.
    private async Task<bool> AnyWaitAsync(string name, CancellationToken stop)
    {
        watch.WentRound(name);
        var next = _waiting.Reader.WaitToReadAsync(stop).AsTask();
        while (!next.IsCompleted && await Task.WhenAny(next, Task.Delay(Quiet, stop)) != next)
            watch.WentRound(name);
        return await next;
    }

    private static readonly TimeSpan Quiet = TimeSpan.FromSeconds(30);

    private async Task CommitAsync(List<Waiting> group, CancellationToken stop)
    {
        try
        {
            List<Signal> signals = [.. group.SelectMany(w => w.Signals).DistinctBy(s => s.Id)];
            await copy.WriteAsync(signals, stop);
            Telemetry.Took(signals.Count);
            foreach (var waiting in group)
                waiting.Done.TrySetResult(true);
        }
        catch (Exception failure) when (Problems.IsDatabaseAway(failure) || group.Count == 1)
        {
            NotWritten(failure, group.Count);
            Refuse(group);
        }
        catch (Exception failure)
        {
            // Something in one request cannot be stored; the others are not its doing and are written one by one.
            NotWritten(failure, 1);
            foreach (var waiting in group)
                await CommitAsync([waiting], stop);
        }
    }

    private static void Refuse(List<Waiting> group)
    {
        foreach (var waiting in group)
            waiting.Done.TrySetResult(false);
    }

    [LoggerMessage(1201, LogLevel.Warning, "Signals of {Requests} requests were not written")]
    private partial void NotWritten(Exception failure, int requests);

    private sealed record Waiting(IReadOnlyList<Signal> Signals)
    {
        public TaskCompletionSource<bool> Done { get; } = new(TaskCreationOptions.RunContinuationsAsynchronously);
    }
}
