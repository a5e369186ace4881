using NodaTime;

namespace Outcry.Core.Saying;

/// <summary>Says how long ago something was, in words that stay true.</summary>
public static class RelativeTime
{
    /// <summary>"just now" under a minute; then whole minutes to 59, hours to 23, days to 6, weeks to 4, months. Rounded down.</summary>
    /// <param name="age">Time since; a negative one (clocks differ) reads as just now.</param>
    /// <param name="capital">Whether to begin with a capital, as at the head of a line.</param>
    public static string Ago(Duration age, bool capital = false)
    {
        var minutes = (long)Math.Floor(age.TotalMinutes);
        var said = minutes switch
        {
            < 1 => "just now",
            < 60 => Count(minutes, "minute"),
            < 24 * 60 => Count(minutes / 60, "hour"),
            < 7 * 24 * 60 => Count(minutes / (24 * 60), "day"),
            < 30 * 24 * 60 => Count(minutes / (7 * 24 * 60), "week"),
            _ => Count(minutes / (30 * 24 * 60), "month"),
        };
        return capital ? char.ToUpperInvariant(said[0]) + said[1..] : said;
    }

    private static string Count(long number, string unit) => number == 1 ? $"1 {unit} ago" : $"{number} {unit}s ago";
}
