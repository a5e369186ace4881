using System.Globalization;
using NodaTime;
using Outcry.Core.Saying;

namespace Outcry.Core.Briefs;

/// <summary>Says how long it is until a moment; the browser goes on counting from there.</summary>
public static class Countdown
{
    /// <summary>The token that stands for it.</summary>
    public const string Token = "countdown";

    /// <summary>"3 d 04:05:06", without days when there are none; all zeros once it is over. Whole seconds, rounded up.</summary>
    public static string Say(Duration left, Voice voice)
    {
        var seconds = (long)Math.Ceiling(Math.Max(0, left.TotalSeconds));
        var clock = string.Create(
            CultureInfo.InvariantCulture,
            $"{seconds / 3600 % 24:00}:{seconds / 60 % 60:00}:{seconds % 60:00}"
        );
        var days = seconds / 86_400;
        return days == 0
            ? clock
            : $"{BuiltInWords.Say(voice, BuiltInWord.Days, Figures.Number(days, voice.Culture))} {clock}";
    }
}
