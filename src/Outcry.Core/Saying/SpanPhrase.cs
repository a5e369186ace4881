using NodaTime;

namespace Outcry.Core.Saying;

/// <summary>Says a stretch of time in the largest unit that keeps the number at two or more.</summary>
public static class SpanPhrase
{
    /// <summary>"16 hours", "3 days", "2 weeks": rounded up to a whole unit, so that nothing counted lies outside what is said.</summary>
    public static string Say(Duration span)
    {
        var (unit, number) = Measure(span);
        return number == 1 ? unit : $"{number} {unit}s";
    }

    /// <summary>"in the last 16 hours", in the language of a voice.</summary>
    public static string SayWithin(Duration span, Voice voice)
    {
        var (unit, number) = Measure(span);
        return BuiltInWords.SaySpan(voice, unit, number);
    }

    private static (string Unit, long Number) Measure(Duration span)
    {
        foreach (var (unit, length) in Units)
            if (span >= length * 2)
                return (unit, (long)Math.Ceiling(span / length));
        return ("minute", span > Duration.FromMinutes(1) ? 2 : 1);
    }

    private static readonly (string Unit, Duration Length)[] Units =
    [
        ("month", Duration.FromDays(30)),
        ("week", Duration.FromDays(7)),
        ("day", Duration.FromDays(1)),
        ("hour", Duration.FromHours(1)),
        ("minute", Duration.FromMinutes(1)),
    ];
}
