using System.Globalization;
using NodaTime;

namespace Outcry.Core.Saying;

/// <summary>Writes numbers, money and times of day as a reader is used to.</summary>
public static class Figures
{
    /// <summary>A whole number with the reader's thousands marks: "1,204" or "1.204".</summary>
    public static string Number(decimal number, CultureInfo culture) => number.ToString("N0", culture);

    /// <summary>A number with as many decimals as it has, at most two: "4.8".</summary>
    public static string Precise(decimal number, CultureInfo culture) => number.ToString("#,0.##", culture);

    /// <summary>An amount with its ISO 4217 code, or with the sign of the few currencies whose sign is theirs alone.</summary>
    /// <param name="amount">The amount.</param>
    /// <param name="currency">ISO 4217 code, or null for a bare number.</param>
    /// <param name="culture">The reader's.</param>
    /// <param name="whole">Without decimals, for rounded amounts.</param>
    public static string Money(decimal amount, string? currency, CultureInfo culture, bool whole = false)
    {
        var number = amount.ToString(whole ? "N0" : "N2", culture);
        var code = currency?.ToUpperInvariant();
        var sign = code switch
        {
            "GBP" => "£",
            "EUR" => "€",
            _ => null,
        };
        if (sign is null)
            return string.IsNullOrEmpty(code) ? number : $"{number}\u00A0{code}";
        // The culture's own pattern says on which side the sign stands: 0 "$n", 1 "n$", 2 "$ n", 3 "n $".
        return culture.NumberFormat.CurrencyPositivePattern switch
        {
            1 => number + sign,
            2 => $"{sign}\u00A0{number}",
            3 => $"{number}\u00A0{sign}",
            _ => sign + number,
        };
    }

    /// <summary>A time of day on a 12-hour or 24-hour clock, without seconds.</summary>
    public static string Clock(LocalTime time, bool twelveHours, CultureInfo culture) =>
        time.ToString(twelveHours ? "h:mm tt" : "HH:mm", culture);
}
