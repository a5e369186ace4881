using NodaTime;

namespace Outcry.Core.Saying;

/// <summary>Says a stretch of time in the largest unit that keeps the number at two or more.</summary>
public static class SpanPhrase
{
    /// <summary>"16 hours", "3 days", "2 weeks": rounded up to a whole unit, so that nothing counted lies outside what is said.</summary>
    public static string Say(Duration span)
    {
        foreach (var (unit, length) in Units)
            if (span >= length * 2)
                return $"{(long)Math.Ceiling(span / length)} {unit}s";
        return span > Duration.FromMinutes(1) ? "2 minutes" : "minute";
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
