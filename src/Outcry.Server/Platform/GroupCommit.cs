using System.Collections.Concurrent;

namespace Outcry.Server.Platform;

/// <summary>Commits together what many ask for at once: whoever asks is answered once its own part is on disk.</summary>
/// <remarks>
/// While groups are being written the next gather, so groups grow by themselves under load, and nobody waits for company
/// where there is none. What fails as a group is tried one by one, so that nobody's fault is anybody else's.
/// </remarks>
/// <param name="commit">Writes a group in one transaction; answers in the order asked.</param>
/// <param name="mostInGroup">Most of what one commit takes, by weight.</param>
/// <param name="lanes">Groups written at once: while one waits for the disk another is being sent.</param>
internal sealed class GroupCommit<TItem, TAnswer>(
    Func<IReadOnlyList<TItem>, Task<IReadOnlyList<TAnswer>>> commit,
    int mostInGroup,
    int lanes = 2
)
{
    /// <summary>Those waiting at most; beyond that new ones are refused rather than kept in memory.</summary>
    private const int MostWaiting = 20_000;

    private readonly ConcurrentQueue<Asked> _waiting = new();
    private int _busy;

    /// <summary>How many wait for their group.</summary>
    public int Waiting => _waiting.Count;

    /// <summary>Writes one item with whatever else is asked for meanwhile.</summary>
    /// <param name="weight">What it counts for in a group.</param>
    /// <exception cref="TooManyWaitException">More ask than can be written; nothing was written.</exception>
    public Task<TAnswer> AskAsync(TItem item, int weight = 1)
    {
        if (_waiting.Count >= MostWaiting)
            return Task.FromException<TAnswer>(new TooManyWaitException());
        var waiting = new Asked(item, weight);
        _waiting.Enqueue(waiting);
        if (TryEnter())
            _ = Task.Run(WriteAsync);
        return waiting.Done.Task;
    }

    private bool TryEnter()
    {
        for (var busy = Volatile.Read(ref _busy); busy < lanes; )
        {
            var seen = Interlocked.CompareExchange(ref _busy, busy + 1, busy);
            if (seen == busy)
                return true;
            busy = seen;
        }
        return false;
    }

    // Whoever came while this lane was on its way out is seen after it, so nobody is left waiting.
    private async Task WriteAsync()
    {
        do
        {
            while (Take() is { Count: > 0 } group)
                await CommitAsync(group);
            Interlocked.Decrement(ref _busy);
        } while (!_waiting.IsEmpty && TryEnter());
    }

    private List<Asked> Take()
    {
        var group = new List<Asked>();
        for (var weight = 0; weight < mostInGroup && _waiting.TryDequeue(out var next); weight += next.Weight)
            group.Add(next);
        return group;
    }

    private async Task CommitAsync(List<Asked> group)
    {
        try
        {
            var answers = await commit(group.ConvertAll(w => w.Item));
            for (var i = 0; i < group.Count; i++)
                group[i].Done.TrySetResult(answers[i]);
        }
        catch (Exception failure) when (group.Count == 1 || Problems.IsDatabaseAway(failure))
        {
            foreach (var waiting in group)
                waiting.Done.TrySetException(failure);
        }
        catch (Exception)
        {
            foreach (var waiting in group)
                await CommitAsync([waiting]);
        }
    }

    private sealed record Asked(TItem Item, int Weight)
    {
        public TaskCompletionSource<TAnswer> Done { get; } = new(TaskCreationOptions.RunContinuationsAsynchronously);
    }
}

/// <summary>More is asked for than can be written.</summary>
internal sealed class TooManyWaitException() : Exception("More is waiting to be written than can be kept.");
