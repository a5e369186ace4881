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
}

/// <summary>How often one visitor may meet one callout.</summary>
/// <param name="Unit">The unit.</param>
/// <param name="EveryDays">Days between two starts when the unit is days, 1 to 365; ignored otherwise.</param>
/// <param name="MostVisits">Most visits in which it may ever start, 1 to 1,000; null for no such limit.</param>
public sealed record RepeatRule(RepeatUnit Unit, int EveryDays = 1, int? MostVisits = null)
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
        if (MostVisits is { } most && met.Visits >= most && met.LastStartVisit != visit.Number)
            return new RepeatLimit(met.Visits, most, RepeatSpan.Ever, null);
        switch (Unit)
        {
            case RepeatUnit.Visit when met.LastStartVisit == visit.Number:
                return new RepeatLimit(1, 1, RepeatSpan.Visit, null);
            case RepeatUnit.Days when now < met.LastStartAt + Duration.FromDays(EveryDays):
                return new RepeatLimit(
                    1,
                    1,
                    RepeatSpan.Days,
                    met.LastStartAt + Duration.FromDays(EveryDays),
                    EveryDays
                );
            default:
                return null;
        }
    }
}

/// <summary>The stretch over which a limit counts.</summary>
public enum RepeatSpan
{
    /// <summary>One visit.</summary>
    Visit,

    /// <summary>A number of days.</summary>
    Days,

    /// <summary>All time.</summary>
    Ever,
}

/// <summary>A limit that was reached.</summary>
/// <param name="Seen">Starts counted, at most one a visit.</param>
/// <param name="Allowed">Starts allowed.</param>
/// <param name="Span">Over what.</param>
/// <param name="NextAt">When it may start again; null when that is never or with the next visit.</param>
/// <param name="Days">The number of days when the span is days.</param>
public sealed record RepeatLimit(int Seen, int Allowed, RepeatSpan Span, Instant? NextAt, int? Days = null);
