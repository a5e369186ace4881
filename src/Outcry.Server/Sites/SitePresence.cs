using System.Collections.Concurrent;
using NodaTime;
using Outcry.Core.Pages;

namespace Outcry.Server.Sites;

/// <summary>Who of a site's visitors is there now, and on which page; only memory knows it.</summary>
internal sealed class SitePresence
{
    /// <summary>For so long after its last sign of life a visitor counts as being there.</summary>
    private static readonly Duration Lasts = Duration.FromSeconds(60);

    private readonly ConcurrentDictionary<string, Sighting> _seen = new();

    /// <summary>Signs of life closer together than this say nothing new.</summary>
    private static readonly Duration Fresh = Duration.FromSeconds(1);

    /// <summary>Notes a sign of life.</summary>
    public void Saw(string visitorId, PageAddress page, Instant now)
    {
        if (
            !_seen.TryGetValue(visitorId, out var last)
            || now - last.At > Fresh
            || last.Page.Path != page.Path
            || last.Page.Host != page.Host
        )
            _seen[visitorId] = new Sighting(now, page);
    }

    /// <summary>How many are there; forgets the others.</summary>
    public int Count(Instant now)
    {
        foreach (var (visitor, seen) in _seen)
            if (now - seen.At > Lasts)
                _seen.TryRemove(visitor, out _);
        return _seen.Count;
    }

    /// <summary>The page on which each visitor is.</summary>
    public IReadOnlyDictionary<string, PageAddress> At(Instant now) =>
        _seen.Where(s => now - s.Value.At <= Lasts).ToDictionary(s => s.Key, s => s.Value.Page);

    /// <summary>Pages on which visitors are, one for each visitor.</summary>
    public IEnumerable<PageAddress> Pages(Instant now) =>
        _seen.Values.Where(s => now - s.At <= Lasts).Select(s => s.Page);

    /// <summary>Takes over what a site knew that this one replaces.</summary>
    public void Inherit(SitePresence before)
    {
        foreach (var (visitor, seen) in before._seen)
            _seen[visitor] = seen;
    }

    private sealed record Sighting(Instant At, PageAddress Page);
}
