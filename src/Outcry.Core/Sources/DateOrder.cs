using System.Globalization;
using System.Text.RegularExpressions;
using NodaTime;
using Outcry.Core.Saying;

namespace Outcry.Core.Sources;

/// <summary>How dates are written whose month is a number behind or before the day.</summary>
public enum DateOrder
{
    /// <summary>"24/11/2015", as most of the world writes.</summary>
    DayFirst,

    /// <summary>"11/24/2015", as in the United States.</summary>
    MonthFirst,
}

/// <summary>Reads dates as people write them: numbers in either order, or the month by its name in a shipped language.</summary>
public static partial class WrittenDate
{
    /// <summary>Values of a column looked at for its order; a file that hides it for longer is asked about.</summary>
    public const int MostLookedAt = 500;

    private static readonly Dictionary<string, int> Months = MonthNames();

    /// <summary>A date with or without a time of day; null when the text is none, or when its order is needed and not known.</summary>
    /// <param name="text">What was written.</param>
    /// <param name="order">Which number is the day, where both could be.</param>
    public static LocalDateTime? Read(string text, DateOrder? order)
    {
        var written = text.Trim();
        if (Numbers().Match(written) is { Success: true } numbers)
            return Date(
                Number(numbers, "first"),
                Number(numbers, "second"),
                numbers,
                // A date with full stops is written day first wherever such dates are written.
                numbers.Groups["sign"].Value == "."
                    ? DateOrder.DayFirst
                    : order
            );
        if (DayName().Match(written) is { Success: true } named && Months.TryGetValue(Folded(named), out var month))
            return At(Number(named, "year"), month, Number(named, "day"), named);
        if (NameDay().Match(written) is { Success: true } other && Months.TryGetValue(Folded(other), out month))
            return At(Number(other, "year"), month, Number(other, "day"), other);
        return null;
    }

    /// <summary>The order that a column shows by a number above twelve; null when no value has one, or when values contradict each other.</summary>
    public static DateOrder? Guess(IEnumerable<string?> column)
    {
        DateOrder? found = null;
        foreach (var value in column.Take(MostLookedAt))
        {
            if (value is null || Numbers().Match(value.Trim()) is not { Success: true } numbers)
                continue;
            var (first, second) = (Number(numbers, "first"), Number(numbers, "second"));
            DateOrder? shows =
                first > 12 && second <= 12 ? DateOrder.DayFirst
                : second > 12 && first <= 12 ? DateOrder.MonthFirst
                : null;
            if (shows is null)
                continue;
            if (found is not null && found != shows)
                return null;
            found = shows;
        }
        return found;
    }

    /// <summary>Whether a text is a date whose two numbers could each be the day.</summary>
    public static bool IsAmbiguous(string text) =>
        Numbers().Match(text.Trim()) is { Success: true } numbers
        && numbers.Groups["sign"].Value != "."
        && Number(numbers, "first") is var first
        && Number(numbers, "second") is var second
        && first <= 12
        && second <= 12
        && first != second;

    private static LocalDateTime? Date(int first, int second, Match match, DateOrder? order)
    {
        var (day, month) =
            first > 12 ? (first, second)
            : second > 12 || order == DateOrder.MonthFirst ? (second, first)
            : (first, second);
        if (order is null && first <= 12 && second <= 12 && first != second)
            return null;
        return At(Number(match, "year"), month, day, match);
    }

    private static LocalDateTime? At(int year, int month, int day, Match match)
    {
        var full = match.Groups["year"].Length == 2 ? 2000 + year : year;
        var hour = Number(match, "hour");
        var half = match.Groups["half"].Value.ToLowerInvariant();
        if (half.Length > 0)
        {
            if (hour is < 1 or > 12)
                return null;
            hour = hour % 12 + (half[0] == 'p' ? 12 : 0);
        }
        var (minute, second) = (Number(match, "minute"), Number(match, "sec"));
        return
            full is >= 1900 and <= 9000
            && month is >= 1 and <= 12
            && day >= 1
            && day <= CalendarSystem.Iso.GetDaysInMonth(full, month)
            && hour < 24
            && minute < 60
            && second < 60
            ? new LocalDateTime(full, month, day, hour, minute, second)
            : null;
    }

    private static int Number(Match match, string group) =>
        match.Groups[group] is { Success: true, Length: > 0 } found
            ? int.Parse(found.ValueSpan, CultureInfo.InvariantCulture)
            : 0;

    private static string Folded(Match match) => match.Groups["month"].Value.TrimEnd('.').ToLowerInvariant();

    // Full names and abbreviations of all shipped languages; where two languages share one they mean the same month.
    private static Dictionary<string, int> MonthNames()
    {
        var names = new Dictionary<string, int>();
        foreach (var language in BuiltInWords.Languages)
        {
            var format = CultureInfo.GetCultureInfo(language).DateTimeFormat;
            foreach (
                var list in (string[][])
                    [
                        format.MonthNames,
                        format.MonthGenitiveNames,
                        format.AbbreviatedMonthNames,
                        format.AbbreviatedMonthGenitiveNames,
                    ]
            )
                for (var month = 0; month < 12; month++)
                    if (list[month].TrimEnd('.').ToLowerInvariant() is { Length: > 1 } name && name.Any(char.IsLetter))
                        names.TryAdd(name, month + 1);
        }
        names.TryAdd("sept", 9);
        return names;
    }

    private const string Time =
        @"(?:[ ,T]+(?:at +|um +|à +)?(?<hour>\d{1,2})[:.](?<minute>\d{2})(?::(?<sec>\d{2})(?:\.\d+)?)? *(?<half>[AaPp]\.?[Mm]\.?)?)?";

    [GeneratedRegex(@"^(?<first>\d{1,2})(?<sign>[/.\-])(?<second>\d{1,2})\k<sign>(?<year>\d{4}|\d{2})" + Time + "$")]
    private static partial Regex Numbers();

    [GeneratedRegex(
        @"^(?:\p{L}+\.?,? +)?(?<day>\d{1,2})(?:\.|st|nd|rd|th|er)? +(?:de +)?(?<month>\p{L}+\.?),? +(?:de +)?(?<year>\d{4})"
            + Time
            + "$"
    )]
    private static partial Regex DayName();

    [GeneratedRegex(
        @"^(?:\p{L}+\.?,? +)?(?<month>\p{L}+\.?) +(?<day>\d{1,2})(?:st|nd|rd|th)?,? +(?<year>\d{4})" + Time + "$"
    )]
    private static partial Regex NameDay();
}
