namespace Outcry.Core.Evidence;

/// <summary>Who is one person among some events: those who share an e-mail address or a phone number, however many steps lie between.</summary>
/// <remarks>
/// One order may name an address and a number, the next only the number: three records, one person. Keys that stand in one
/// event are joined (disjoint sets; Galler and Fischer 1964, with path halving).
/// </remarks>
public sealed class DistinctPeople
{
    // Only keys that some event joins to another; most people have one key, which stands for itself.
    private readonly Dictionary<string, string> _joined = [];

    /// <summary>Joins the people behind some events.</summary>
    public DistinctPeople(IEnumerable<LedgerEvent> events)
    {
        foreach (var happened in events)
            if (happened.PhoneKey is { } phone && phone != happened.PersonKey)
                _joined[Root(phone)] = Root(happened.PersonKey);
    }

    /// <summary>The key that stands for the person behind an event: the same for all events of one person.</summary>
    public string Of(LedgerEvent happened) => Root(happened.PersonKey);

    /// <summary>How many people are behind some events.</summary>
    public int Count(IEnumerable<LedgerEvent> events) => events.Select(Of).Distinct().Count();

    private string Root(string key)
    {
        while (_joined.TryGetValue(key, out var next) && next != key)
        {
            if (_joined.TryGetValue(next, out var further))
                _joined[key] = further;
            key = next;
        }
        return key;
    }
}
