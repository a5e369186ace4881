using System.Collections.Concurrent;
using NodaTime;
using Outcry.Core.Planning;

namespace Outcry.Server.Sites;

/// <summary>What visitors' browsers said of the elements that a site's callouts ask for, page by page.</summary>
internal sealed class PlaceBook
{
    /// <summary>Entries at most; addresses that somebody made up by the thousand crowd nothing out, they are just not taken.</summary>
    public const int Most = 20_000;

    private static readonly Duration SaidAgainAfter = Duration.FromDays(1);

    private readonly ConcurrentDictionary<(string Path, string Selector), (SeenPlace Seen, Instant At)> _known = new();

    /// <summary>What is known of an element on a page; null for nothing.</summary>
    public SeenPlace? Find(string path, string selector) =>
        _known.TryGetValue((path, selector), out var known) ? known.Seen : null;

    /// <summary>Takes in what was said.</summary>
    /// <returns>Whether that is news, to be kept.</returns>
    public bool Take(string path, string selector, SeenPlace seen, Instant at)
    {
        var key = (path, selector);
        var isKnown = _known.TryGetValue(key, out var before);
        if (isKnown && before.Seen == seen && at - before.At < SaidAgainAfter)
            return false;
        if (!isKnown && _known.Count >= Most)
            return false;
        _known[key] = (seen, at);
        return true;
    }
}
