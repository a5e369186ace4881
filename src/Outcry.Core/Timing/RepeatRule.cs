using System.Text.Json.Serialization;
using NodaTime;
using Outcry.Core.Visitors;

namespace Outcry.Core.Timing;

/// <summary>The unit in which a callout may come back.</summary>
public enum RepeatUnit
{
    /// <summary>At every page view.</summary>
    PageView,

    /// <summary>Once in a visit.</summary>
    Visit,

    /// <summary>Once in a number of days, counted in elapsed hours from the last start.</summary>
    Days,

    /// <summary>Once in a number of hours.</summary>
    Hours,

    /// <summary>Once in a number of weeks.</summary>
    Weeks,

    /// <summary>Once in a number of months of 30 days.</summary>
    Months,

    /// <summary>Once and never again.</summary>
    Ever,
}

/// <summary>How long a callout stays away after something.</summary>
/// <param name="Unit">Hours, days, weeks or months; "ever" for good; "page view" and "visit" for no time at all.</param>
/// <param name="Number">How many of them, 1 to 1,000; ignored for units without a number.</param>
public sealed record Pause(RepeatUnit Unit, int Number)
{
    /// <summary>No pause of its own.</summary>
    public static Pause None { get; } = new(RepeatUnit.PageView, 1);

    /// <summary>For good.</summary>
    public static Pause ForEver { get; } = new(RepeatUnit.Ever, 1);

    /// <summary>When it is over, counted from <paramref name="at"/>; null for never.</summary>
    public Instant? Over(Instant at) => Unit == RepeatUnit.Ever ? null : at + Length;

    /// <summary>Its length in elapsed time, not by the calendar; zero for units without a length.</summary>
    [JsonIgnore]
    public Duration Length =>
        Unit switch
        {
            RepeatUnit.Hours => Duration.FromHours(Number),
            RepeatUnit.Days => Duration.FromDays(Number),
            RepeatUnit.Weeks => Duration.FromDays(7 * Number),
            RepeatUnit.Months => Duration.FromDays(30 * Number),
            _ => Duration.Zero,
        };
}

/// <summary>How often one visitor may meet one callout.</summary>
/// <param name="Unit">The unit.</param>
/// <param name="Every">Of how many of the unit one start is allowed, 1 to 1,000; ignored for units without a number.</param>
/// <param name="MostVisits">Most visits in which it may ever start, 1 to 1,000; null for no such limit.</param>
/// <param name="UntilClicked">Whether a click on it ends it for good.</param>
/// <param name="MostPerWeek">Most visits of the last seven days in which it may start; null for no such limit.</param>
public sealed record RepeatRule(
    RepeatUnit Unit,
    int Every = 1,
    int? MostVisits = null,
    bool UntilClicked = false,
    int? MostPerWeek = null
)
{
    /// <summary>Decides whether it may start now.</summary>
    /// <returns>
    /// Null when it may; else how often it was seen, how often is allowed, and when it is next possible
    /// (null when never, or with the next visit, whose time nobody knows).
    /// </returns>
    public RepeatLimit? Refuses(Exposure? met, VisitFigures visit, Instant now)
    {
        if (met is null)
            return null;
        if (UntilClicked && met.LastClickAt is not null)
            return new RepeatLimit(met.Visits, met.Visits, RepeatSpan.Clicked, null);
        if (MostVisits is { } most && met.Visits >= most && met.LastStartVisit != visit.Number)
            return new RepeatLimit(met.Visits, most, RepeatSpan.Ever, null);
        if (Unit == RepeatUnit.Visit && met.LastStartVisit == visit.Number)
            return new RepeatLimit(1, 1, RepeatSpan.Visit, null);
        var pause = new Pause(Unit, Every);
        if (pause.Over(met.LastStartAt) is not { } over)
            return new RepeatLimit(met.Visits, 1, RepeatSpan.Ever, null);
        var week = MostPerWeek is { } weekly && met.LastStartVisit != visit.Number ? OfWeek(met, weekly, now) : null;
        if (now < over && !(week?.NextAt > over))
            return new RepeatLimit(1, 1, RepeatSpan.Days, over, Unit, Every);
        return week;
    }

    private static RepeatLimit? OfWeek(Exposure met, int weekly, Instant now)
    {
        var recent = met.RecentStarts.Where(s => now - s < Week).Order().ToList();
        return recent.Count >= weekly
            ? new RepeatLimit(recent.Count, weekly, RepeatSpan.Week, recent[^weekly] + Week)
            : null;
    }

    private static Duration Week { get; } = Duration.FromDays(7);
}

/// <summary>The stretch over which a limit counts.</summary>
public enum RepeatSpan
{
    /// <summary>One visit.</summary>
    Visit,

    /// <summary>A number of hours, days, weeks or months.</summary>
    Days,

    /// <summary>All time.</summary>
    Ever,

    /// <summary>The last seven days.</summary>
    Week,

    /// <summary>Until the visitor clicked it.</summary>
    Clicked,
}

/// <summary>A limit that was reached.</summary>
/// <param name="Seen">Starts counted, at most one a visit.</param>
/// <param name="Allowed">Starts allowed.</param>
/// <param name="Span">Over what.</param>
/// <param name="NextAt">When it may start again; null when that is never or with the next visit.</param>
/// <param name="Unit">The unit of the gap when the span is one.</param>
/// <param name="Every">How many of it.</param>
public sealed record RepeatLimit(
    int Seen,
    int Allowed,
    RepeatSpan Span,
    Instant? NextAt,
    RepeatUnit Unit = RepeatUnit.PageView,
    int Every = 1
)
{
    /// <summary>Whether it never may start again.</summary>
    [JsonIgnore]
    public bool IsForGood => Span is RepeatSpan.Ever or RepeatSpan.Clicked;
}
