using System.Collections.Frozen;
using Outcry.Core.Evidence;
using Outcry.Core.Visitors;

namespace Outcry.Core.Planning;

/// <summary>Which visitor did what, from the events whose visitor is known.</summary>
internal sealed class VisitorHistory
{
    private readonly FrozenDictionary<string, (FrozenSet<string> Keys, PastEvent[] PastEvents)> _byVisitor;

    public VisitorHistory(IReadOnlyList<LedgerEvent> newestFirst) =>
        _byVisitor = newestFirst
            .Where(e => e.VisitorId is not null)
            .GroupBy(e => e.VisitorId!)
            .ToFrozenDictionary(
                g => g.Key,
                g =>
                    (
                        g.SelectMany(e => e.PhoneKey is { } phone ? [e.PersonKey, phone] : (string[])[e.PersonKey])
                            .ToFrozenSet(),
                        g.Where(e => e.State is not (EventState.Duplicate or EventState.Deleted))
                            .Select(e => new PastEvent(
                                e.Kind,
                                e.SourceId,
                                e.At,
                                e.Product?.Name ?? "",
                                e.Product?.Category ?? ""
                            ))
                            .ToArray()
                    )
            );

    public FrozenSet<string> KeysOf(string visitorId) =>
        _byVisitor.TryGetValue(visitorId, out var known) ? known.Keys : FrozenSet<string>.Empty;

    public IReadOnlyList<PastEvent> PastEventsOf(string visitorId) =>
        _byVisitor.TryGetValue(visitorId, out var known) ? known.PastEvents : [];
}
