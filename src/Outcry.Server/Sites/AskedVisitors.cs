using System.Collections.Concurrent;
using Outcry.Core.Asking;

namespace Outcry.Server.Sites;

/// <summary>What the people of a site's browsers have answered to prompts; whoever answered none is not kept.</summary>
internal sealed class AskedVisitors
{
    private readonly ConcurrentDictionary<string, AskedBefore> _all = new();
    private readonly Lock _gate = new();
    private Dictionary<string, AskedBefore>? _whileLoading;

    public AskedBefore Of(string visitor) => _all.GetValueOrDefault(visitor) ?? AskedBefore.Nothing;

    public void Note(string visitor, AskedBefore before)
    {
        lock (_gate)
        {
            Set(visitor, before);
            if (_whileLoading is { } noted)
                noted[visitor] = before;
        }
    }

    private void Set(string visitor, AskedBefore before)
    {
        if (before.HasGiven || before.TookBack.Count > 0)
            _all[visitor] = before;
        else
            _all.TryRemove(visitor, out _);
    }

    /// <summary>Another will take this one's place: what is noted from now on it may not have read.</summary>
    public void ExpectSuccessor()
    {
        lock (_gate)
            _whileLoading = [];
    }

    /// <summary>Nothing replaces this one now, or it has been replaced.</summary>
    public void ExpectNoSuccessor()
    {
        lock (_gate)
            _whileLoading = null;
    }

    /// <summary>Takes over what was noted while this one was read.</summary>
    public void Follow(AskedVisitors before)
    {
        lock (before._gate)
            foreach (var (visitor, noted) in before._whileLoading ?? [])
                Set(visitor, noted);
    }
}
