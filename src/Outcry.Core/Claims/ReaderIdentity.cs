using System.Collections.Frozen;
using Outcry.Core.Evidence;

namespace Outcry.Core.Claims;

/// <summary>Who reads a page, as far as evidence is concerned: nobody is ever told of their own doing.</summary>
/// <param name="VisitorId">The visitor.</param>
/// <param name="PersonKeys">The people this visitor is known to be.</param>
public sealed record ReaderIdentity(string VisitorId, FrozenSet<string> PersonKeys)
{
    /// <summary>Whether the event is the reader's own.</summary>
    public bool Did(LedgerEvent happened) =>
        happened.VisitorId == VisitorId
        || PersonKeys.Contains(happened.PersonKey)
        || (happened.PhoneKey is { } phone && PersonKeys.Contains(phone));
}
