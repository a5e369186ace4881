using NodaTime;

namespace Outcry.Core.Saying;

/// <summary>The stretch of time that a count covers.</summary>
/// <param name="Span">From the oldest event counted until now; zero for no stretch, as of people who are here now.</param>
/// <param name="Window">The window the events were counted in; null for all time.</param>
public readonly record struct Stretch(Duration Span, Duration? Window)
{
    /// <summary>No stretch.</summary>
    public static Stretch None { get; }

    /// <summary>"in the last 16 hours"; empty for no stretch.</summary>
    public string Say(Voice voice) => Span > Duration.Zero ? SpanPhrase.SayWithin(Span, Window, voice) : "";
}

/// <summary>Says the stretch of time that was truly counted: rounded up, and never said longer than what was asked for.</summary>
/// <remarks>
/// In minutes below two hours, in hours below two days, else in days; never in weeks or months, whose last part would be
/// claimed without an event in it. Within one unit of the window it is said as the window is: 6 days and 3 hours of a week
/// are "7 days", 15 hours and 10 minutes of it "16 hours".
/// </remarks>
public static class SpanPhrase
{
    /// <summary>"16 hours", "3 days", "14 days".</summary>
    /// <param name="span">The stretch from the oldest event counted until now; above zero.</param>
    /// <param name="window">The window the events were counted in; null for all time.</param>
    public static string Say(Duration span, Duration? window = null)
    {
        var (unit, number) = Measure(span, window);
        return number == 1 ? unit : $"{number} {unit}s";
    }

    /// <summary>A window as it was asked for: "7 days", "90 minutes".</summary>
    public static string SayWindow(Duration window) => Say(window, window);

    /// <summary>"in the last 16 hours", in the language of a voice.</summary>
    /// <param name="span">The stretch from the oldest event counted until now; above zero.</param>
    /// <param name="window">The window the events were counted in; null for all time.</param>
    /// <param name="voice">In whose language and figures.</param>
    public static string SayWithin(Duration span, Duration? window, Voice voice)
    {
        var (unit, number) = Measure(span, window);
        return BuiltInWords.SaySpan(voice, unit, number);
    }

    private static (string Unit, long Number) Measure(Duration span, Duration? window)
    {
        var (unit, length) = UnitOf(span);
        // As far as it is rounded up it could reach beyond the window; then the window itself is what is true.
        return window is { } w && w - span < length ? MeasureWindow(w) : (unit, Ceiling(span, length));
    }

    // A window that is no whole number of its unit is said in the next smaller one: 50 hours, not 3 days.
    private static (string Unit, long Number) MeasureWindow(Duration window)
    {
        foreach (var (unit, fewest, length) in Units)
            if (window >= fewest && Ceiling(window, length) * length == window)
                return (unit, Ceiling(window, length));
        var (last, _, shortest) = Units[^1];
        return (last, Math.Max(1, (long)Math.Floor(window / shortest)));
    }

    private static (string Unit, Duration Length) UnitOf(Duration span)
    {
        foreach (var (unit, fewest, length) in Units)
            if (span >= fewest)
                return (unit, length);
        throw new ArgumentOutOfRangeException(nameof(span), span, "A stretch cannot be negative.");
    }

    private static long Ceiling(Duration span, Duration length) => Math.Max(1, (long)Math.Ceiling(span / length));

    private static readonly (string Unit, Duration Fewest, Duration Length)[] Units =
    [
        ("day", Duration.FromDays(2), Duration.FromDays(1)),
        ("hour", Duration.FromHours(2), Duration.FromHours(1)),
        ("minute", Duration.Zero, Duration.FromMinutes(1)),
    ];
}
