using NodaTime;

namespace Outcry.Core.Evidence;

/// <summary>What of an event tells whether it is told a second time.</summary>
/// <param name="SourceId">Where it came from.</param>
/// <param name="Kind">What sort.</param>
/// <param name="PersonKey">Who.</param>
/// <param name="PhoneKey">Who, by phone number, beside an e-mail address; null for none.</param>
/// <param name="Product">About what; empty for nothing.</param>
/// <param name="At">When.</param>
/// <param name="SourceNamesEvents">Whether its source gives every happening an id of its own, as shops give orders.</param>
public sealed record ToldEvent(
    Guid SourceId,
    EventKind Kind,
    string PersonKey,
    string? PhoneKey,
    string Product,
    Instant At,
    bool SourceNamesEvents
);

/// <summary>Tells the same happening told twice from two happenings.</summary>
public static class Repetition
{
    /// <summary>Two tellings further apart than this are two happenings.</summary>
    public static Duration Window { get; } = Duration.FromMinutes(10);

    /// <summary>
    /// Whether a telling repeats an earlier one: same kind, same person known by e-mail or phone, same product, within ten
    /// minutes, and either from another source (a form and a webhook that report one order) or from a source whose events
    /// have no ids of their own (a form sent twice).
    /// </summary>
    /// <remarks>Two orders with different ids from one shop are two purchases, however close.</remarks>
    public static bool IsRepeat(ToldEvent told, ToldEvent before) =>
        told.Kind == before.Kind
        && IsSamePerson(told, before)
        && string.Equals(told.Product, before.Product, StringComparison.OrdinalIgnoreCase)
        && Apart(told.At, before.At) <= Window
        && (told.SourceId != before.SourceId || !told.SourceNamesEvents);

    // One may name an address and a number, the other only one of them.
    private static bool IsSamePerson(ToldEvent told, ToldEvent before) =>
        (IsIdentified(told.PersonKey) && (told.PersonKey == before.PersonKey || told.PersonKey == before.PhoneKey))
        || (told.PhoneKey is { } phone && (phone == before.PersonKey || phone == before.PhoneKey));

    private static bool IsIdentified(string personKey) =>
        personKey.StartsWith("e:", StringComparison.Ordinal) || personKey.StartsWith("p:", StringComparison.Ordinal);

    private static Duration Apart(Instant a, Instant b) => a > b ? a - b : b - a;
}
