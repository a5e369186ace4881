using NodaTime;
using NodaTime.Text;
using Outcry.Core.Explaining;
using Outcry.Core.Replaying;
using Outcry.Store.Rows;

namespace Outcry.Server.Replays;

/// <summary>One line of a replay as it runs; the last is the one that is done.</summary>
/// <param name="Read">Reports read so far.</param>
/// <param name="Of">Reports of the period.</param>
/// <param name="Done">Whether all is counted.</param>
/// <param name="Figures">What was counted so far.</param>
/// <param name="Failed">What went wrong; null for nothing. Figures are then not the period's.</param>
internal sealed record ReplayLine(long Read, long Of, bool Done, ReplayFigures Figures, string? Failed = null);

/// <summary>Another callout in a replay.</summary>
internal sealed record ReplayShiftView(Guid Id, string Name, long Lost, long Gained);

/// <summary>Why the draft did not come on, for so many page views.</summary>
/// <param name="Kind">Which sort of reason.</param>
/// <param name="Because">The reason in words.</param>
/// <param name="Other">Name of the callout that stood in its way, where one did.</param>
internal sealed record ReplayReasonView(string Kind, string Because, string? Other, long PageViews);

/// <summary>Figures of a day, or of a page group, or of both.</summary>
internal sealed record ReplayCellView(long PageViews, long Starts, long Visits);

/// <summary>One day.</summary>
/// <param name="Day">By the site's calendar, as 2026-11-24.</param>
/// <param name="All">The whole site's figures.</param>
internal sealed record ReplayDayView(string Day, ReplayCellView All);

/// <summary>One page group, as a whole and by day.</summary>
internal sealed record ReplayGroupView(Guid Id, string Name, ReplayCellView All, IReadOnlyList<ReplayCellView> ByDay);

/// <summary>What a replay has counted.</summary>
/// <param name="ShowingsPerVisitor">Visitors by how often they would have met it, from 0; the last place holds all that had more.</param>
/// <param name="FirstPer5s">Visitors reached by when it came on for the first time, in steps of 5 s; the last holds all later.</param>
/// <param name="Caveats">What was taken for granted.</param>
internal sealed record ReplayFigures(
    Instant From,
    Instant Until,
    long Visitors,
    long Visits,
    long PageViews,
    long WithoutEnd,
    long OnItsPages,
    long Starts,
    long VisitorsReached,
    long VisitsReached,
    IReadOnlyList<long> ShowingsPerVisitor,
    IReadOnlyList<long> FirstPer5s,
    int? MedianFirstSecond,
    IReadOnlyList<ReplayReasonView> NotShown,
    IReadOnlyList<ReplayShiftView> Others,
    IReadOnlyList<ReplayDayView> Days,
    IReadOnlyList<ReplayGroupView> Groups,
    IReadOnlyList<string> Caveats
)
{
    private const int SecondsInStep = 5;
    private const int Steps = 25;

    public static ReplayFigures Of(
        ReplayTally tally,
        ReplaySetting setting,
        IReadOnlyList<PageGroupRow> groups,
        Func<Guid, string?> nameOf,
        IReadOnlyList<string> caveats
    ) =>
        new(
            setting.From,
            setting.Until,
            tally.Visitors,
            tally.Visits,
            tally.PageViews,
            tally.WithoutEnd,
            tally.OnItsPages,
            tally.Starts,
            tally.VisitorsReached,
            tally.VisitsReached,
            tally.ShowingsPerVisitor,
            InSteps(tally.FirstSeconds),
            tally.MedianFirstSecond,
            [
                .. tally.Reasons.Select(r => new ReplayReasonView(
                    System.Text.Json.JsonNamingPolicy.CamelCase.ConvertName(r.Example.GetType().Name),
                    ReasonCatalogue.GistOf(r.Example),
                    r.Other is { } id ? nameOf(id) : null,
                    r.PageViews
                )),
            ],
            [
                .. tally
                    .Shifts.Select(s => new ReplayShiftView(s.Key, nameOf(s.Key) ?? "", s.Value.Lost, s.Value.Gained))
                    .OrderByDescending(s => s.Lost)
                    .ThenBy(s => s.Name, StringComparer.Ordinal),
            ],
            [
                .. setting.Days.Select(
                    (day, i) => new ReplayDayView(LocalDatePattern.Iso.Format(day), View(tally.Cell(i)))
                ),
            ],
            [
                .. groups.Select(
                    (g, place) =>
                        new ReplayGroupView(
                            g.Id,
                            g.Name,
                            View(setting.Days.Select((_, day) => tally.Cell(day, place)).Aggregate((a, b) => a + b)),
                            [.. setting.Days.Select((_, day) => View(tally.Cell(day, place)))]
                        )
                ),
            ],
            caveats
        );

    private static ReplayCellView View(ReplayCell cell) => new(cell.PageViews, cell.Starts, cell.Visits);

    private static long[] InSteps(IReadOnlyList<long> seconds)
    {
        var steps = new long[Steps];
        for (var second = 0; second < seconds.Count; second++)
            steps[Math.Min(second / SecondsInStep, Steps - 1)] += seconds[second];
        return steps;
    }
}
