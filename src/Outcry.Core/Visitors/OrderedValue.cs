using System.Globalization;
using NodaTime;
using NodaTime.Text;

namespace Outcry.Core.Visitors;

/// <summary>A text that has an order: a number, or a date. A number is never more or less than a date.</summary>
/// <remarks>
/// Numbers are written as in code: digits, a point before decimals, a sign in front. Dates are ISO 8601
/// ("2015-11-24"); of a date with a time the date counts. A number beyond <see cref="Most"/> either way is none.
/// </remarks>
public readonly record struct OrderedValue
{
    /// <summary>How a date is written, for those who are to write one.</summary>
    public const string ExampleDate = "2015-11-24";

    /// <summary>Numbers are at most so large, and at least as small below 0.</summary>
    public const decimal Most = 1_000_000_000_000_000;

    private static readonly LocalDatePattern Iso = LocalDatePattern.Iso;

    private readonly decimal? _number;
    private readonly LocalDate? _date;

    private OrderedValue(decimal? number, LocalDate? date) => (_number, _date) = (number, date);

    /// <summary>Reads a text; null when it is neither a number nor a date.</summary>
    public static OrderedValue? TryRead(string text)
    {
        var trimmed = text.Trim();
        if (
            decimal.TryParse(
                trimmed,
                NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint,
                CultureInfo.InvariantCulture,
                out var number
            )
        )
            return number is >= -Most and <= Most ? new OrderedValue(number, null) : null;
        const int DateLength = 10;
        var date = trimmed.Length > DateLength && trimmed[DateLength] is 'T' or ' ' ? trimmed[..DateLength] : trimmed;
        return Iso.Parse(date) is { Success: true, Value: var read } ? new OrderedValue(null, read) : null;
    }

    /// <summary>Below 0, 0 or above 0 as this is less than, equal to or more than another; null where the two have no order.</summary>
    public int? CompareTo(OrderedValue other) =>
        _number is { } number && other._number is { } its ? number.CompareTo(its)
        : _date is { } date && other._date is { } theirs ? date.CompareTo(theirs)
        : null;

    /// <summary>The value that comes just after, or before: a whole number further, or a day; the last date is its own next.</summary>
    /// <param name="by">1 for after, -1 for before.</param>
    public string Next(int by) =>
        _date is { } date
            ? Iso.Format(date == (by > 0 ? LocalDate.MaxIsoValue : LocalDate.MinIsoValue) ? date : date.PlusDays(by))
            : (_number.GetValueOrDefault() + by).ToString(CultureInfo.InvariantCulture);
}
