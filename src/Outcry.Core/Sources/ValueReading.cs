using System.Globalization;
using System.Text.RegularExpressions;
using NodaTime;
using NodaTime.Text;

namespace Outcry.Core.Sources;

/// <summary>Reads the values that other programs write: numbers, money, times.</summary>
public static partial class ValueReading
{
    /// <summary>Largest amount and count taken.</summary>
    public const decimal Most = 1_000_000_000m;

    private static readonly LocalDateTimePattern[] LocalTimes =
    [
        LocalDateTimePattern.CreateWithInvariantCulture("uuuu-MM-dd'T'HH:mm:ss.FFFFFFF"),
        LocalDateTimePattern.CreateWithInvariantCulture("uuuu-MM-dd HH:mm:ss.FFFFFFF"),
        LocalDateTimePattern.CreateWithInvariantCulture("uuuu-MM-dd'T'HH:mm"),
        LocalDateTimePattern.CreateWithInvariantCulture("uuuu-MM-dd HH:mm"),
    ];

    /// <summary>An amount as people and programs write it: "28.5", "1,234.50", "1.234,50", "£28", "EUR 1 200".</summary>
    /// <returns>The number; null when it is none, is negative, or is above 1,000,000,000.</returns>
    /// <remarks>The last of "." and "," is the decimal sign when one or two digits follow it; a sign alone before three digits groups thousands.</remarks>
    public static decimal? Amount(string text)
    {
        var digits = Spaces().Replace(text.Trim(), "");
        digits = CurrencyWords().Replace(digits, "");
        if (digits.Length == 0 || !digits.All(c => char.IsAsciiDigit(c) || c is '.' or ','))
            return null;
        var last = digits.LastIndexOfAny(['.', ',']);
        var isDecimal = last >= 0 && IsDecimalSign(digits, last);
        var plain = isDecimal
            ? $"{digits[..last].Replace(".", "", StringComparison.Ordinal).Replace(",", "", StringComparison.Ordinal)}.{digits[(last + 1)..]}"
            : digits.Replace(".", "", StringComparison.Ordinal).Replace(",", "", StringComparison.Ordinal);
        return
            decimal.TryParse(plain, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var amount)
            && amount <= Most
            ? amount
            : null;
    }

    /// <summary>A whole number from 0 to 1,000,000,000, thousands grouped or not; null for anything else.</summary>
    public static long? Count(string text)
    {
        var amount = Amount(text);
        return amount is { } a && a == decimal.Truncate(a) ? (long)a : null;
    }

    /// <summary>
    /// A time: ISO 8601 with an offset or "Z"; without one, or a date alone, in the given zone (a skipped hour moves on, a
    /// repeated one is its first); as people write it ("24/11/2015 14:05", "24 Nov 2015"); Unix seconds or milliseconds.
    /// </summary>
    /// <param name="text">What was written.</param>
    /// <param name="zone">Whose clock it means where it names none.</param>
    /// <param name="order">Which number is the day in a date of numbers; null when that is not known.</param>
    /// <returns>The instant; null when it cannot be read or lies before 2000.</returns>
    public static Instant? Time(string text, DateTimeZone zone, DateOrder? order = null)
    {
        var written = text.Trim();
        var read =
            Unix(written)
            ?? (
                OffsetDateTimePattern.ExtendedIso.Parse(written) is { Success: true } offset ? offset.Value.ToInstant()
                : LocalTimes.Select(p => p.Parse(written)).FirstOrDefault(p => p.Success) is { } local
                    ? local.Value.InZoneLeniently(zone).ToInstant()
                : LocalDatePattern.Iso.Parse(written) is { Success: true } date
                    ? date.Value.AtStartOfDayInZone(zone).ToInstant()
                : WrittenDate.Read(written, order) is { } people ? people.InZoneLeniently(zone).ToInstant()
                : Rfc5322(written)
            );
        return read is { } at && at >= Earliest ? at : null;
    }

    /// <summary>Whether a text says yes: true, 1, yes, in any case.</summary>
    public static bool IsYes(string text) => text.Trim().ToLowerInvariant() is "true" or "1" or "yes";

    private static readonly Instant Earliest = Instant.FromUtc(2000, 1, 1, 0, 0);

    // Ten digits are seconds until the year 2286, thirteen are milliseconds.
    private static Instant? Unix(string text) =>
        text.Length is 10 or 13 && long.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var number)
            ? (text.Length == 10 ? Instant.FromUnixTimeSeconds(number) : Instant.FromUnixTimeMilliseconds(number))
            : null;

    // "Tue, 24 Nov 2026 10:00:00 +0000", as mails and feeds have it.
    private static Instant? Rfc5322(string text) =>
        text.Length > 16
        && char.IsLetter(text[0])
        && DateTimeOffset.TryParse(text, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out var read)
            ? Instant.FromDateTimeOffset(read)
            : null;

    private static bool IsDecimalSign(string digits, int at)
    {
        var after = digits.Length - at - 1;
        if (digits.Count(c => c == digits[at]) > 1)
            return false;
        return after is 1 or 2 || (after > 2 && digits.AsSpan(0, at).ContainsAny('.', ',')) || after > 3;
    }

    [GeneratedRegex(@"[\s’']+")]
    private static partial Regex Spaces();

    [GeneratedRegex(@"^(?:[A-Za-z]{1,3}|\p{Sc})+|(?:[A-Za-z]{1,3}|\p{Sc})+$")]
    private static partial Regex CurrencyWords();
}
