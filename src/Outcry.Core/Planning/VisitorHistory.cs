using System.Collections.Frozen;
using System.Collections.Immutable;
using Outcry.Core.Evidence;
using Outcry.Core.Visitors;

namespace Outcry.Core.Planning;

/// <summary>Which visitor did what, from the events whose visitor is known; never changed, so that adding to it makes another.</summary>
public sealed class VisitorHistory
{
    private readonly ImmutableDictionary<string, Known> _byVisitor;

    private VisitorHistory(ImmutableDictionary<string, Known> byVisitor) => _byVisitor = byVisitor;

    /// <summary>Reads it from events.</summary>
    public static VisitorHistory Of(IReadOnlyList<LedgerEvent> newestFirst) =>
        new(
            newestFirst
                .Where(e => e.VisitorId is not null)
                .GroupBy(e => e.VisitorId!)
                .ToImmutableDictionary(
                    g => g.Key,
                    g => new Known(g.SelectMany(KeysOf).ToFrozenSet(), [.. g.Where(Counts).Select(Read)])
                )
        );

    /// <summary>The same with one more event; itself when that tells of no visitor.</summary>
    public VisitorHistory With(LedgerEvent happened)
    {
        if (happened.VisitorId is not { } visitor)
            return this;
        var known = _byVisitor.GetValueOrDefault(visitor, Known.Nothing);
        var keys = KeysOf(happened).All(known.Keys.Contains)
            ? known.Keys
            : known.Keys.Concat(KeysOf(happened)).ToFrozenSet();
        var events = known.Events;
        if (Counts(happened))
        {
            var place = events.TakeWhile(e => e.At > happened.At).Count();
            events = events.Insert(place, Read(happened));
        }
        return new VisitorHistory(_byVisitor.SetItem(visitor, new Known(keys, events)));
    }

    /// <summary>Every person that a visitor is known to be.</summary>
    public FrozenSet<string> KeysOf(string visitorId) =>
        _byVisitor.TryGetValue(visitorId, out var known) ? known.Keys : FrozenSet<string>.Empty;

    /// <summary>What a visitor did, newest first.</summary>
    public IReadOnlyList<PastEvent> PastEventsOf(string visitorId) =>
        _byVisitor.TryGetValue(visitorId, out var known) ? known.Events : [];

    private static IEnumerable<string> KeysOf(LedgerEvent happened) =>
        happened.PhoneKey is { } phone ? [happened.PersonKey, phone] : [happened.PersonKey];

    private static bool Counts(LedgerEvent happened) =>
        happened.State is not (EventState.Duplicate or EventState.Deleted);

    private static PastEvent Read(LedgerEvent happened) =>
        new(
            happened.Kind,
            happened.SourceId,
            happened.At,
            happened.Product?.Name ?? "",
            happened.Product?.Category ?? ""
        );

    private sealed record Known(FrozenSet<string> Keys, ImmutableArray<PastEvent> Events)
    {
        public static Known Nothing { get; } = new(FrozenSet<string>.Empty, []);
    }
}
