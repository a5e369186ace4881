using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Claims;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Timing;

namespace Outcry.Core.Replaying;

/// <summary>A page group by which a replay tells its figures apart.</summary>
/// <param name="Id">The group.</param>
/// <param name="Rule">Its pages.</param>
public sealed record ReplayGroup(Guid Id, PageRule Rule);

/// <summary>What a replay plays: a site with a draft on air and without it, over a stretch of the past.</summary>
/// <remarks>
/// Evidence is drawn as it stood when the stretch of six hours began in which a visit fell, from the events as they are
/// today: what was hidden since stays hidden. House rules, other callouts, traffic counts and the team's presence are today's.
/// </remarks>
public sealed class ReplaySetting
{
    /// <summary>How long evidence is taken to stand still.</summary>
    public static Duration Slice { get; } = Duration.FromHours(6);

    /// <summary>Longest period, in days.</summary>
    public const int MostDays = 90;

    private readonly Lazy<ReplayMoment>[] _moments;
    private readonly Instant[] _dayStarts;

    /// <summary>Prepares a replay.</summary>
    /// <param name="site">The site as it is now.</param>
    /// <param name="draft">The draft, compiled as if it were live.</param>
    /// <param name="newestFirst">The site's events, newest first.</param>
    /// <param name="displayOf">What each source allows to be read.</param>
    /// <param name="traffic">Recorded traffic, with what the draft counts.</param>
    /// <param name="from">The period's beginning.</param>
    /// <param name="until">Its end: later than its beginning, by <see cref="MostDays"/> days at most.</param>
    /// <param name="groups">Page groups to tell apart.</param>
    /// <exception cref="ArgumentOutOfRangeException">The period is empty or too long.</exception>
    public ReplaySetting(
        SiteSnapshot site,
        Callout draft,
        IReadOnlyList<LedgerEvent> newestFirst,
        Func<Guid, DisplayPolicy> displayOf,
        Traffic traffic,
        Instant from,
        Instant until,
        IReadOnlyList<ReplayGroup> groups
    )
    {
        ArgumentOutOfRangeException.ThrowIfLessThanOrEqual(until, from);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(until - from, Duration.FromDays(MostDays));
        (Draft, From, Until, Zone, Rules, Groups) = (draft, from, until, site.Zone, site.Rules, groups);
        var live = site.Callouts.Where(c => c.State == DefinitionState.Live).ToList();
        List<Callout> proposed = [.. live.Where(c => c.Id != draft.Id), draft];
        var events = newestFirst.ToArray();
        ReplayMoment At(Instant at)
        {
            var known = new ArraySegment<LedgerEvent>(events)[NewerThan(events, at)..];
            var with = site.AsOf(at, proposed, known, displayOf, traffic);
            return new ReplayMoment(with, with.With(live, known, displayOf, at, traffic));
        }
        var count = (int)Math.Ceiling((until - from) / Slice);
        _moments = [.. Enumerable.Range(0, count).Select(i => new Lazy<ReplayMoment>(() => At(from + Slice * i)))];
        Scrolls =
        [
            .. live.Append(draft)
                .SelectMany(c => c.Targeting.Triggers)
                .Where(t => t.Kind == TriggerKind.Scroll)
                .Select(t => t.Number)
                .Distinct()
                .Order(),
        ];
        var (first, last) = (from.InZone(Zone).Date, (until - Duration.Epsilon).InZone(Zone).Date);
        Days = [.. Enumerable.Range(0, Period.DaysBetween(first, last) + 1).Select(first.PlusDays)];
        _dayStarts = [.. Days.Select(d => Zone.AtStartOfDay(d).ToInstant())];
    }

    /// <summary>The draft.</summary>
    public Callout Draft { get; }

    /// <summary>The period's beginning.</summary>
    public Instant From { get; }

    /// <summary>The period's end.</summary>
    public Instant Until { get; }

    /// <summary>The site's time zone, by which days are told.</summary>
    public DateTimeZone Zone { get; }

    /// <summary>The house rules.</summary>
    public HouseRules Rules { get; }

    /// <summary>Page groups told apart.</summary>
    public IReadOnlyList<ReplayGroup> Groups { get; }

    /// <summary>The days of the period by the site's calendar.</summary>
    public IReadOnlyList<LocalDate> Days { get; }

    /// <summary>Depths in percent at which a callout is due.</summary>
    public IReadOnlyList<int> Scrolls { get; }

    /// <summary>The two sites as they stood at a moment of the period; outside it, at its nearer end.</summary>
    public ReplayMoment AsOf(Instant at) =>
        _moments[Math.Clamp((int)((at - From) / Slice), 0, _moments.Length - 1)].Value;

    internal int DayOf(Instant at)
    {
        // A day has about 24 hours; where clocks change the guess is off by one at most.
        var day = Math.Clamp((int)(at - _dayStarts[0]).TotalDays, 0, _dayStarts.Length - 1);
        if (at < _dayStarts[day] && day > 0)
            return day - 1;
        return day + 1 < _dayStarts.Length && at >= _dayStarts[day + 1] ? day + 1 : day;
    }

    private static int NewerThan(LedgerEvent[] newestFirst, Instant at)
    {
        var (low, high) = (0, newestFirst.Length);
        while (low < high)
        {
            var middle = (low + high) / 2;
            if (newestFirst[middle].At > at)
                low = middle + 1;
            else
                high = middle;
        }
        return low;
    }
}

/// <summary>A site at one moment of the past, twice.</summary>
/// <param name="With">With the draft on air.</param>
/// <param name="Without">As it is without it.</param>
public sealed record ReplayMoment(SiteSnapshot With, SiteSnapshot Without);
