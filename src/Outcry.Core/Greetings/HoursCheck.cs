using NodaTime;
using Outcry.Core.Publishing;

namespace Outcry.Core.Greetings;

/// <summary>Checks opening hours.</summary>
internal static class HoursCheck
{
    private const int MostSpans = 50;

    /// <summary>Closed dates and extra openings kept at most; a calendar file may bring many.</summary>
    public const int MostDates = 500;

    public static IEnumerable<Problem> Problems(OpeningHours hours, CheckMoment moment)
    {
        if (DateTimeZoneProviders.Tzdb.GetZoneOrNull(hours.Zone) is null)
        {
            yield return new Problem(
                "hours.zone",
                $"There is no time zone called \"{hours.Zone}\". Choose one such as Europe/London."
            );
            yield break;
        }
        if (hours.Week.Count > MostSpans)
            yield return new Problem("hours.week", $"At most {MostSpans} stretches in a week.");
        foreach (var (field, spans) in new[] { ("hours.closed", hours.Closed), ("hours.extra", hours.Extra) })
        {
            if (spans.Count > MostDates)
                yield return new Problem(field, $"At most {MostDates} dates. Take those out that are over.");
            if (spans.FirstOrDefault(s => s.Until <= s.From) is { } empty)
                yield return new Problem(
                    field,
                    $"\"{empty.Name}\" would be over before it begins. Put its end after its beginning."
                );
        }
        var times = new OpeningTimes(hours);
        if (hours.Week.Count > 0 && !times.IsInside(moment.Now) && times.OpensAfter(moment.Now) is null)
            yield return Problem.Hint("hours.closed", "By these dates it is not open once in the next 60 days.");
    }
}
