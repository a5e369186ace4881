using System.Collections.Concurrent;
using Outcry.Core.Asking;

namespace Outcry.Server.Sites;

/// <summary>What the people of a site's browsers have answered to prompts; whoever answered none is not kept.</summary>
internal sealed class AskedVisitors
{
    private readonly ConcurrentDictionary<string, AskedBefore> _all = new();

    public AskedVisitors() => Handover = new(n => Set(n.Visitor, n.Before));

    /// <summary>Brings what is noted to whoever takes this one's place.</summary>
    public Handover<(string Visitor, AskedBefore Before)> Handover { get; }

    public AskedBefore Of(string visitor) => _all.GetValueOrDefault(visitor) ?? AskedBefore.Nothing;

    public void Note(string visitor, AskedBefore before) => Handover.Take((visitor, before));

    private void Set(string visitor, AskedBefore before)
    {
        if (before.HasGiven || before.TookBack.Count > 0)
            _all[visitor] = before;
        else
            _all.TryRemove(visitor, out _);
    }
}
