using System.Threading.Channels;
using NodaTime;
using Outcry.Core.Replaying;

namespace Outcry.Server.Replays;

/// <summary>How far a replay is, and what it has counted so far.</summary>
/// <param name="Read">Reports read.</param>
/// <param name="Of">Reports of the period.</param>
/// <param name="Tally">What was counted, of whole visitors.</param>
internal sealed record ReplayStep(long Read, long Of, ReplayTally Tally);

/// <summary>Plays recorded visits on several cores while they are still being read.</summary>
internal sealed class ReplayRunner(RecordedVisits record)
{
    /// <summary>Replays at once on this node; each keeps two cores busy.</summary>
    private const int MostAtOnce = 2;
    private const int Players = 2;
    private const int LotsAhead = 8;

    private readonly SemaphoreSlim _places = new(MostAtOnce);

    /// <summary>A place for one replay, to be given back; null when all are taken.</summary>
    public IDisposable? TryTakePlace() => _places.Wait(0) ? new Place(_places) : null;

    /// <summary>Plays a period; told about again and again, the last time when all is counted.</summary>
    /// <param name="siteId">The site.</param>
    /// <param name="host">Its host.</param>
    /// <param name="setting">What is played.</param>
    /// <param name="tellEvery">How often it is told how far it is.</param>
    /// <param name="tell">Is told; waited for.</param>
    /// <param name="stop">Ends it.</param>
    public async Task RunAsync(
        Guid siteId,
        string host,
        ReplaySetting setting,
        TimeSpan tellEvery,
        Func<ReplayStep, Task> tell,
        CancellationToken stop
    )
    {
        using var failed = CancellationTokenSource.CreateLinkedTokenSource(stop);
        var of = await record.CountAsync(siteId, setting.From, setting.Until, stop);
        var lots = record.ReadAsync(siteId, host, setting.Zone, setting.From, setting.Until, failed.Token);
        var run = new Run(setting, of, lots, failed);
        var works = run.WorkAsync();
        try
        {
            while (await Task.WhenAny(works, Task.Delay(tellEvery, stop)) != works)
                await tell(run.Step());
        }
        catch
        {
            await failed.CancelAsync();
            await works.ContinueWith(_ => { }, TaskScheduler.Default);
            throw;
        }
        await works;
        await tell(run.Step());
    }

    /// <summary>One replay: somebody who reads, and players who count what is read.</summary>
    private sealed class Run(
        ReplaySetting setting,
        long of,
        IAsyncEnumerable<VisitorLot> visits,
        CancellationTokenSource failed
    )
    {
        private readonly Channel<VisitorLot> _lots = Channel.CreateBounded<VisitorLot>(LotsAhead);
        private readonly Lock _counting = new();
        private readonly ReplayTally _total = new(setting);
        private long _read;

        public Task WorkAsync() =>
            Task.WhenAll(
                Enumerable
                    .Repeat<Func<Task>>(PlayAsync, Players)
                    .Prepend(ReadAsync)
                    .Select(work => Task.Run(() => WatchedAsync(work), CancellationToken.None))
            );

        public ReplayStep Step()
        {
            lock (_counting)
            {
                var copy = new ReplayTally(setting);
                copy.Add(_total);
                return new ReplayStep(_read, of, copy);
            }
        }

        private async Task ReadAsync()
        {
            try
            {
                await foreach (var lot in visits)
                    await _lots.Writer.WriteAsync(lot, failed.Token);
            }
            finally
            {
                _lots.Writer.Complete();
            }
        }

        private async Task PlayAsync()
        {
            var replayer = new Replayer(setting);
            await foreach (var lot in _lots.Reader.ReadAllAsync(failed.Token))
            {
                foreach (var visitor in lot.Visitors)
                    replayer.Play(visitor);
                lock (_counting)
                {
                    _total.Add(replayer.TakeTally());
                    _read += lot.Reports;
                }
            }
        }

        private async Task WatchedAsync(Func<Task> work)
        {
            try
            {
                await work();
            }
            catch
            {
                // What one of them cannot do, the others need not go on with.
                await failed.CancelAsync();
                throw;
            }
        }
    }

    private sealed class Place(SemaphoreSlim places) : IDisposable
    {
        private int _isGiven;

        public void Dispose()
        {
            if (Interlocked.Exchange(ref _isGiven, 1) == 0)
                places.Release();
        }
    }
}
