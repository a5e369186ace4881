using Outcry.Core.Explaining;

namespace Outcry.Core.Replaying;

/// <summary>What became of one page group on one day.</summary>
/// <param name="PageViews">Page views there.</param>
/// <param name="Starts">Of them, those on which the draft would have come on.</param>
/// <param name="Visits">Visits in which it would have come on there first.</param>
public readonly record struct ReplayCell(long PageViews, long Starts, long Visits)
{
    /// <summary>Both together.</summary>
    public static ReplayCell operator +(ReplayCell a, ReplayCell b) =>
        new(a.PageViews + b.PageViews, a.Starts + b.Starts, a.Visits + b.Visits);
}

/// <summary>How often another callout fares otherwise because of the draft.</summary>
/// <param name="Lost">Page views on which it would have come on and now does not.</param>
/// <param name="Gained">Page views on which it comes on now and would not have.</param>
public readonly record struct ReplayShift(long Lost, long Gained);

/// <summary>How often the draft did not come on, for one sort of reason.</summary>
/// <param name="Example">The first such reason, with its own figures.</param>
/// <param name="Other">The callout that stood in its way, where one did.</param>
/// <param name="PageViews">Page views.</param>
public sealed record ReplayReason(Reason Example, Guid? Other, long PageViews);

/// <summary>What a replay has counted so far. Of two parts of a replay, each with whole visitors, the sums are the whole's.</summary>
public sealed class ReplayTally
{
    /// <summary>Showings a visitor told one by one; the last place holds all that had more.</summary>
    public const int MostShowings = 20;

    /// <summary>Seconds on a page told one by one; the last place holds all later.</summary>
    public const int MostSeconds = 600;

    private readonly Dictionary<(string, Guid?), ReplayReason> _reasons = [];
    private readonly Dictionary<Guid, ReplayShift> _shifts = [];
    private readonly long[] _showings = new long[MostShowings + 1];
    private readonly long[] _firstSeconds = new long[MostSeconds + 1];
    private readonly ReplayCell[][] _cells;

    /// <summary>Nothing counted yet.</summary>
    public ReplayTally(ReplaySetting setting) =>
        _cells = [.. setting.Days.Select(_ => new ReplayCell[setting.Groups.Count + 1])];

    /// <summary>Visitors.</summary>
    public long Visitors { get; private set; }

    /// <summary>Visits.</summary>
    public long Visits { get; private set; }

    /// <summary>Page views.</summary>
    public long PageViews { get; private set; }

    /// <summary>Of them, those whose end was not recorded, which count as left at once.</summary>
    public long WithoutEnd { get; private set; }

    /// <summary>Page views on the draft's pages.</summary>
    public long OnItsPages { get; private set; }

    /// <summary>Page views on which the draft would have come on.</summary>
    public long Starts { get; private set; }

    /// <summary>Visitors who would have met it.</summary>
    public long VisitorsReached { get; private set; }

    /// <summary>Visits in which it would have come on.</summary>
    public long VisitsReached { get; private set; }

    /// <summary>Visitors by how often they would have met it, from 0 to <see cref="MostShowings"/> and more.</summary>
    public IReadOnlyList<long> ShowingsPerVisitor => _showings;

    /// <summary>Visitors reached, by the second on the page at which it would have come on for the first time.</summary>
    public IReadOnlyList<long> FirstSeconds => _firstSeconds;

    /// <summary>Why it did not come on on its own pages, the most frequent first.</summary>
    public IReadOnlyList<ReplayReason> Reasons => [.. _reasons.Values.OrderByDescending(r => r.PageViews)];

    /// <summary>What it changes for other callouts.</summary>
    public IReadOnlyDictionary<Guid, ReplayShift> Shifts => _shifts;

    /// <summary>The figures of a day and a page group, both by their place in the setting; of the whole site without a group.</summary>
    public ReplayCell Cell(int day, int? group = null) => _cells[day][group + 1 ?? 0];

    /// <summary>The second by which half of those reached have met it first; null when nobody was.</summary>
    public int? MedianFirstSecond
    {
        get
        {
            var half = (VisitorsReached + 1) / 2;
            for (var second = 0; second < _firstSeconds.Length; second++)
                if (half > 0 && (half -= _firstSeconds[second]) <= 0)
                    return second;
            return null;
        }
    }

    /// <summary>Adds another part of the same replay.</summary>
    public void Add(ReplayTally part)
    {
        Visitors += part.Visitors;
        Visits += part.Visits;
        PageViews += part.PageViews;
        WithoutEnd += part.WithoutEnd;
        OnItsPages += part.OnItsPages;
        Starts += part.Starts;
        VisitorsReached += part.VisitorsReached;
        VisitsReached += part.VisitsReached;
        for (var i = 0; i < _showings.Length; i++)
            _showings[i] += part._showings[i];
        for (var i = 0; i < _firstSeconds.Length; i++)
            _firstSeconds[i] += part._firstSeconds[i];
        for (var day = 0; day < _cells.Length; day++)
        for (var group = 0; group < _cells[day].Length; group++)
            _cells[day][group] += part._cells[day][group];
        foreach (var (key, reason) in part._reasons)
            Missed(key, reason.Example, reason.PageViews);
        foreach (var (id, shift) in part._shifts)
            Shift(id, shift.Lost, shift.Gained);
    }

    internal void Visitor(int showings, int? firstSecond)
    {
        Visitors++;
        _showings[Math.Min(showings, MostShowings)]++;
        if (firstSecond is not { } second)
            return;
        VisitorsReached++;
        _firstSeconds[Math.Min(second, MostSeconds)]++;
    }

    internal void Visit(int pages)
    {
        Visits++;
        PageViews += pages;
    }

    internal void EndUnknown() => WithoutEnd++;

    internal void Page(int day, int[] groups, bool started, bool reaches)
    {
        var here = new ReplayCell(1, started ? 1 : 0, reaches ? 1 : 0);
        _cells[day][0] += here;
        foreach (var group in groups)
            _cells[day][group + 1] += here;
        if (started)
            Starts++;
        if (reaches)
            VisitsReached++;
    }

    internal void OnPage() => OnItsPages++;

    internal void Missed(Reason reason)
    {
        var other = reason switch
        {
            NoFreeSlot slot => slot.Blocker,
            Replaced replaced => replaced.By,
            _ => null,
        };
        Missed((ReasonCatalogue.GistOf(reason), other), reason, 1);
    }

    internal void Shift(Guid other, long lost, long gained)
    {
        var before = _shifts.GetValueOrDefault(other);
        _shifts[other] = new ReplayShift(before.Lost + lost, before.Gained + gained);
    }

    private void Missed((string, Guid? Other) key, Reason example, long pageViews) =>
        _reasons[key] = _reasons.TryGetValue(key, out var known)
            ? known with
            {
                PageViews = known.PageViews + pageViews,
            }
            : new ReplayReason(example, key.Other, pageViews);
}
