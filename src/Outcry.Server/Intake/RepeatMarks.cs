using Outcry.Core.Evidence;
using Outcry.Store.Events;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake;

/// <summary>An event on its way into the ledger, with the source that brought it.</summary>
internal sealed record Arriving(EventRow Row, SourceRow Source)
{
    private readonly (EventState State, string? Because) _first = (Row.State, Row.HeldBecause);

    /// <summary>Takes back what an attempt that failed had found out of it.</summary>
    public void BeginAnew() => (Row.State, Row.HeldBecause) = _first;

    /// <summary>The e-mail address and the phone number that it names, as hashes; none where nobody is told apart by it.</summary>
    public IEnumerable<string> Keys => Row.State == EventState.OwnTest ? [] : KeysOf(Row);

    public static IEnumerable<string> KeysOf(EventRow row) =>
        new[] { row.PersonKey, row.PhoneKey }.OfType<string>().Where(k => k[0] is 'e' or 'p').Distinct();
}

/// <summary>Marks events that tell what somebody told before.</summary>
internal static class RepeatMarks
{
    /// <summary>What has to be asked of all of them at once.</summary>
    /// <param name="hold">Whether nobody else may write of these people until the transaction ends: between asking and writing nobody may.</param>
    public static EventQuestion QuestionOf(IReadOnlyList<Arriving> arriving, Func<EventRow, string> stone, bool hold)
    {
        var people = arriving.Where(a => a.Keys.Any()).ToList();
        return new EventQuestion(
            hold ? [.. people.SelectMany(a => a.Keys.Select(k => $"{a.Row.SiteId:N}{k}"))] : [],
            [.. arriving.Select(a => a.Row.SiteId).Distinct()],
            [.. arriving.Select(a => stone(a.Row))],
            [.. people.SelectMany(a => a.Keys).Distinct()],
            people.Count == 0 ? default : people.Min(a => a.Row.At) - Repetition.Window,
            people.Count == 0 ? default : people.Max(a => a.Row.At) + Repetition.Window
        );
    }

    /// <summary>Marks those that tell what one of these people told a short while before or after.</summary>
    public static void Mark(IEnumerable<Arriving> arriving, IEnumerable<EventRow> told)
    {
        var before = told.SelectMany(t => Arriving.KeysOf(t).Select(k => (Key: (t.SiteId, k), Row: t)))
            .GroupBy(t => t.Key, t => t.Row)
            .ToDictionary(g => g.Key, g => g.ToList());
        foreach (var (row, source) in arriving.Where(a => a.Keys.Any()))
        {
            var like = Arriving.KeysOf(row).SelectMany(k => before.GetValueOrDefault((row.SiteId, k)) ?? []);
            if (like.Any(t => IsTwice(row, source, t)))
            {
                (row.State, row.HeldBecause) = (EventState.Duplicate, null);
                continue;
            }
            // Of those that arrive together the later ones repeat the first.
            foreach (var key in Arriving.KeysOf(row))
                if (before.TryGetValue((row.SiteId, key), out var known))
                    known.Add(row);
                else
                    before[(row.SiteId, key)] = [row];
        }
    }

    private static bool IsTwice(EventRow row, SourceRow source, EventRow told) =>
        !(told.SourceId == row.SourceId && told.ExternalId == row.ExternalId)
        && Repetition.IsRepeat(EventRows.ToldEvent(row, source), EventRows.ToldEvent(told));
}
