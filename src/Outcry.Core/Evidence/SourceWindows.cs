using NodaTime;

namespace Outcry.Core.Evidence;

/// <summary>A site's events by the source they came from: the newest of each, every event once.</summary>
/// <remarks>Not to be changed from two threads at once; what <see cref="NewestFirst"/> gave may be read from any.</remarks>
public sealed class SourceWindows
{
    private readonly Dictionary<Guid, (EventWindow Window, HashSet<Guid> Ids)> _bySource = [];
    private readonly int _most;
    private IReadOnlyList<LedgerEvent>? _all;

    /// <summary>Begins with events.</summary>
    /// <param name="newestFirst">The events, newest first, each once.</param>
    /// <param name="most">How many are kept of each source: what comes by the thousand must not push out the reviews of years.</param>
    public SourceWindows(IReadOnlyList<LedgerEvent> newestFirst, int most)
    {
        _most = most;
        foreach (var source in newestFirst.GroupBy(e => e.SourceId))
        {
            var kept = source.Take(most).ToList();
            _bySource[source.Key] = (EventWindow.Of(kept), [.. kept.Select(e => e.Id)]);
        }
    }

    /// <summary>All events, newest first; made when it is asked for.</summary>
    public IReadOnlyList<LedgerEvent> NewestFirst =>
        _all ??= _bySource.Values.ToList() is [var only]
            ? only.Window.View
            : [.. _bySource.Values.SelectMany(s => s.Window.View).OrderByDescending(e => e.At)];

    /// <summary>The events of one source, newest first.</summary>
    public IReadOnlyList<LedgerEvent> Of(Guid source) =>
        _bySource.TryGetValue(source, out var known) ? known.Window.View : [];

    /// <summary>When the oldest event kept of a source happened, where older ones had to go; null where all are kept.</summary>
    public Instant? OldestKept(Guid source) =>
        _bySource.TryGetValue(source, out var known) && known.Window.Count >= _most ? known.Window.OldestAt : null;

    /// <summary>Takes an event in.</summary>
    /// <returns>Whether it is new; one that is there already, or older than all that are kept, changes nothing.</returns>
    public bool Add(LedgerEvent happened)
    {
        if (!_bySource.TryGetValue(happened.SourceId, out var known))
            _bySource[happened.SourceId] = known = (new EventWindow(), []);
        var (window, ids) = known;
        if (!ids.Add(happened.Id))
            return false;
        if (window.Count >= _most && window.OldestAt > happened.At)
        {
            ids.Remove(happened.Id);
            return false;
        }
        window.Add(happened);
        if (window.Count > _most)
        {
            ids.Remove(window.View[^1].Id);
            window.KeepNewest(_most);
        }
        _all = null;
        return true;
    }
}
