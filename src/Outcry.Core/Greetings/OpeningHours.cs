using NodaTime;
using Outcry.Core.Timing;

namespace Outcry.Core.Greetings;

/// <summary>A stretch of certain dates that is closed, or open, whatever the week says.</summary>
/// <param name="From">From when on the wall clock, included.</param>
/// <param name="Until">Until when, not included; a whole day lasts until midnight, which is the next day's.</param>
/// <param name="Name">What it is: "Boxing Day".</param>
/// <param name="Uid">Which event of a calendar file it is from (RFC 5545 §3.8.4.7); empty for one made by hand.</param>
public sealed record DatedSpan(LocalDateTime From, LocalDateTime Until, string Name, string Uid = "")
{
    /// <summary>A whole day.</summary>
    public static DatedSpan Day(LocalDate date, string name) =>
        new(date.AtMidnight(), date.PlusDays(1).AtMidnight(), name);
}

/// <summary>When a team is there.</summary>
/// <param name="Zone">IANA time zone in which every time is meant.</param>
/// <param name="Week">The week's hours; none means always.</param>
/// <param name="Closed">Dates on which it is closed all the same.</param>
/// <param name="Extra">Openings beside, which win over closed dates as well.</param>
/// <param name="OnlyIfPresent">Whether open also takes somebody of the team at the desk.</param>
public sealed record OpeningHours(
    string Zone,
    IReadOnlyList<HoursSpan> Week,
    IReadOnlyList<DatedSpan> Closed,
    IReadOnlyList<DatedSpan> Extra,
    bool OnlyIfPresent
);
