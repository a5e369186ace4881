using System.Collections;
using NodaTime;

namespace Outcry.Core.Evidence;

/// <summary>Events in time that come in at the new end and go at the old one, a view of which never changes.</summary>
/// <remarks>
/// What comes in newest, as nearly everything does, is written behind the end of all views there are, so nothing is copied.
/// Not to be changed from two threads at once; views may be read from any.
/// </remarks>
public sealed class EventWindow
{
    private LedgerEvent[] _items = [];
    private int _start;
    private int _end;

    /// <summary>How many.</summary>
    public int Count => _end - _start;

    /// <summary>When the oldest happened; null for none.</summary>
    public Instant? OldestAt => Count == 0 ? null : _items[_start].At;

    /// <summary>The events as they are now, newest first.</summary>
    public IReadOnlyList<LedgerEvent> View => Count == 0 ? [] : new NewestFirst(_items, _start, _end);

    /// <summary>A window over events that are in order already.</summary>
    /// <param name="newestFirst">The events, newest first.</param>
    public static EventWindow Of(IEnumerable<LedgerEvent> newestFirst)
    {
        var items = newestFirst.ToArray();
        Array.Reverse(items);
        return new EventWindow { _items = items, _end = items.Length };
    }

    /// <summary>Takes an event in at its place in time; of the same instant, what comes later counts as newer.</summary>
    public void Add(LedgerEvent happened)
    {
        var place = _end;
        while (place > _start && _items[place - 1].At > happened.At)
            place--;
        // Within what a view may show nothing is moved; a new array is begun instead.
        if (place < _end || _end == _items.Length)
        {
            var items = new LedgerEvent[Math.Max(8, Count * 3 / 2 + 1)];
            Array.Copy(_items, _start, items, 0, place - _start);
            Array.Copy(_items, place, items, place - _start + 1, _end - place);
            (place, _end, _start, _items) = (place - _start, Count, 0, items);
        }
        _items[place] = happened;
        _end++;
    }

    /// <summary>Lets go of what happened before an instant.</summary>
    /// <returns>Whether anything went.</returns>
    public bool DropBefore(Instant at)
    {
        var start = _start;
        while (_start < _end && _items[_start].At < at)
            _start++;
        return _start != start;
    }

    /// <summary>Lets go of the oldest until no more than so many are left.</summary>
    /// <returns>Whether anything went.</returns>
    public bool KeepNewest(int most)
    {
        var start = _start;
        _start = Math.Max(_start, _end - most);
        return _start != start;
    }

    private sealed class NewestFirst(LedgerEvent[] items, int start, int end) : IReadOnlyList<LedgerEvent>
    {
        public int Count => end - start;

        public LedgerEvent this[int index] =>
            index >= 0 && index < Count ? items[end - 1 - index] : throw new ArgumentOutOfRangeException(nameof(index));

        public IEnumerator<LedgerEvent> GetEnumerator()
        {
            for (var i = end - 1; i >= start; i--)
                yield return items[i];
        }

        IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();
    }
}
