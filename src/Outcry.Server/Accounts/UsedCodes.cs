using System.Collections.Concurrent;
using NodaTime;

namespace Outcry.Server.Accounts;

/// <summary>Codes of authenticators that were used: each opens the door once (RFC 6238, section 5.2).</summary>
/// <remarks>In this node's memory, for as long as a code can be right at all.</remarks>
internal sealed class UsedCodes(IClock clock)
{
    // Two steps of 30 s before and after are allowed for clocks that are off.
    private static readonly Duration Memory = Duration.FromMinutes(3);
    private readonly ConcurrentDictionary<(Guid, string), Instant> _used = new();

    /// <summary>Uses a code; false when it was used before.</summary>
    public bool TryUse(Guid member, string code)
    {
        var now = clock.GetCurrentInstant();
        foreach (var (key, at) in _used)
            if (now - at > Memory)
                _used.TryRemove(key, out _);
        return _used.TryAdd((member, code), now);
    }
}
