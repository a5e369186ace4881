using NodaTime;

namespace Outcry.Core.Saying;

/// <summary>Says how long ago something was, in words that stay true.</summary>
/// <remarks>Patterns and their plural forms: Unicode CLDR, date fields.</remarks>
public static class RelativeTime
{
    /// <summary>"just now" under a minute; then whole minutes to 59, hours to 23, days to 6, weeks to 4, months. Rounded down.</summary>
    /// <param name="age">Time since; a negative one (clocks differ) reads as just now.</param>
    /// <param name="voice">In which language.</param>
    /// <param name="capital">Whether to begin with a capital, as at the head of a line.</param>
    public static string Ago(Duration age, Voice voice, bool capital = false)
    {
        var minutes = (long)Math.Floor(age.TotalMinutes);
        var said = minutes switch
        {
            < 1 => BuiltInWords.Say(voice, BuiltInWord.JustNow),
            < 60 => Count(minutes, "minute", voice),
            < 24 * 60 => Count(minutes / 60, "hour", voice),
            < 7 * 24 * 60 => Count(minutes / (24 * 60), "day", voice),
            < 30 * 24 * 60 => Count(minutes / (7 * 24 * 60), "week", voice),
            _ => Count(minutes / (30 * 24 * 60), "month", voice),
        };
        return capital ? Capital(said, voice) : said;
    }

    /// <summary>The same in steps that give no pace away: "today" under a day old, "this week" under seven days, else "recently".</summary>
    public static string Rough(Duration age, Voice voice, bool capital = false)
    {
        var said = BuiltInWords.Say(
            voice,
            age < Duration.FromDays(1) ? BuiltInWord.LastDay
                : age < Duration.FromDays(7) ? BuiltInWord.LastWeek
                : BuiltInWord.Recently
        );
        return capital ? Capital(said, voice) : said;
    }

    private static string Capital(string said, Voice voice) =>
        said.Length == 0 ? said : char.ToUpper(said[0], voice.Culture) + said[1..];

    private static string Count(long number, string unit, Voice voice)
    {
        var spoken = BuiltInWords.SpokenOrEnglish(voice.Language);
        var patterns = LanguageData.Shipped.Ago[spoken][unit];
        var plural = PluralRule.For(spoken, number).ToString().ToLowerInvariant();
        var pattern = patterns.TryGetProperty(plural, out var own) ? own : patterns.GetProperty("other");
        return pattern.GetString()!.Replace("{0}", Figures.Number(number, voice.Culture), StringComparison.Ordinal);
    }
}
