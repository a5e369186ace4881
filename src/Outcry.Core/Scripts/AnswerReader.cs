using System.Globalization;
using System.Net.Mail;
using System.Text;
using System.Text.RegularExpressions;
using NodaTime;
using NodaTime.Text;
using Outcry.Core.Care;

namespace Outcry.Core.Scripts;

/// <summary>An answer that was understood.</summary>
/// <param name="Value">As it is kept: a number in invariant figures, a date as ISO 8601, a phone number as E.164.</param>
/// <param name="Reply">Which ready reply it was; null for own words.</param>
public readonly record struct ReadAnswer(string Value, int? Reply);

/// <summary>Reads what a visitor wrote as what a question asked for.</summary>
public static partial class AnswerReader
{
    /// <summary>Characters of a text that is kept.</summary>
    public const int LongestText = 1_000;

    /// <summary>The answer; null where it makes no sense to the question.</summary>
    /// <param name="question">What was asked.</param>
    /// <param name="words">The question's words, with its ready replies, in the talk's language.</param>
    /// <param name="said">What the visitor wrote or chose.</param>
    /// <param name="now">In which language, day and region it was said.</param>
    public static ReadAnswer? Read(Question question, StepWords words, string said, Circumstances now)
    {
        var text = PlainText.Clean(said).Trim();
        if (text.Length == 0)
            return null;
        if (ReplyOf(words.Replies, text) is { } reply)
            return question.Kind switch
            {
                AskKind.Consent => new ReadAnswer(reply == 0 ? "yes" : "no", reply),
                AskKind.Time => TimeOf(words, reply, now),
                // A ready reply such as "more than eight" answers any question as it stands.
                _ => new ReadAnswer(words.Replies[reply], reply),
            };
        var value = question.Kind switch
        {
            AskKind.Choice => question.OwnWords && text.Length <= LongestText ? text : null,
            AskKind.Text => text.Length <= LongestText ? text : null,
            AskKind.Number => NumberIn(text, now.Language) is { } number
            && !(number < question.Least)
            && !(number > question.Most)
                ? number.ToString(CultureInfo.InvariantCulture)
                : null,
            AskKind.Email => EmailIn(text),
            AskKind.Phone => PhoneNumber.ToE164(text, now.Region),
            AskKind.Date => DateIn(text, now) is { } date ? LocalDatePattern.Iso.Format(date) : null,
            _ => null,
        };
        return value is null ? null : new ReadAnswer(value, null);
    }

    private static ReadAnswer? TimeOf(StepWords words, int reply, Circumstances now) =>
        now.Times.Values.SelectMany(t => t).FirstOrDefault(t => t.Label == words.Replies[reply]) is { } time
            ? new ReadAnswer(time.Value, reply)
            : null;

    // Equal without regard to case, accents and final punctuation; or its number in the list.
    private static int? ReplyOf(IReadOnlyList<string> replies, string text)
    {
        var plain = Plain(text);
        for (var i = 0; i < replies.Count; i++)
            if (plain.Length > 0 && Plain(replies[i]) == plain)
                return i;
        return
            int.TryParse(plain, NumberStyles.None, CultureInfo.InvariantCulture, out var number)
            && number >= 1
            && number <= replies.Count
            ? number - 1
            : null;
    }

    private static string Plain(string text)
    {
        var kept = new StringBuilder(text.Length);
        foreach (var c in text.Trim().TrimEnd('.', '!', '?', '…', '。', '؟').Trim().Normalize(NormalizationForm.FormD))
            if (CharUnicodeInfo.GetUnicodeCategory(c) != UnicodeCategory.NonSpacingMark)
                kept.Append(char.ToUpperInvariant(c));
        return kept.ToString();
    }

    /// <summary>The first figure or number word of a language: "seven, two of them are twelve" is 7.</summary>
    /// <param name="text">The words.</param>
    /// <param name="language">BCP 47 tag.</param>
    public static decimal? NumberIn(string text, string language)
    {
        var figures = new StringBuilder(text.Length);
        // Figures of every script mean the same.
        foreach (var c in text)
            figures.Append(char.IsDigit(c) ? (char)('0' + CharUnicodeInfo.GetDecimalDigitValue(c)) : c);
        var (found, place) = ((decimal?)null, int.MaxValue);
        if (Figure().Match(figures.ToString()) is { Success: true } match)
            (found, place) = (FigureOf(match.Value, language), match.Index);
        if (NumberWords.First(text, language) is var (number, at) && at < place)
            found = number;
        return found;
    }

    private static decimal? FigureOf(string written, string language)
    {
        var culture = CultureOf(language);
        return
            decimal.TryParse(written, NumberStyles.Number, culture, out var number)
            || decimal.TryParse(written, NumberStyles.Number, CultureInfo.InvariantCulture, out number)
            ? number
            : null;
    }

    private static string? EmailIn(string text) =>
        Address().Match(text) is { Success: true } match
        && MailAddress.TryCreate(match.Value.TrimEnd('.', ','), out var address)
            ? address.Address
            : null;

    // ISO first; then the language's own short and named forms; without a year the next such day.
    private static LocalDate? DateIn(string text, Circumstances now)
    {
        if (LocalDatePattern.Iso.Parse(text) is { Success: true, Value: var iso })
            return iso;
        var culture = CultureOf(now.Language);
        foreach (var pattern in WithYear)
            if (DateOnly.TryParseExact(text, pattern, culture, DateTimeStyles.AllowWhiteSpaces, out var date))
                return LocalDate.FromDateOnly(date);
        if (
            DateOnly.TryParseExact(
                text,
                culture.DateTimeFormat.ShortDatePattern,
                culture,
                DateTimeStyles.AllowWhiteSpaces,
                out var own
            )
        )
            return LocalDate.FromDateOnly(own);
        foreach (var pattern in WithoutYear)
            if (
                DateTime.TryParseExact(
                    $"{text} {now.Today.Year.ToString(CultureInfo.InvariantCulture)}",
                    $"{pattern} yyyy",
                    culture,
                    DateTimeStyles.AllowWhiteSpaces,
                    out var day
                )
            )
            {
                var found = LocalDate.FromDateTime(day);
                return found < now.Today ? found.PlusYears(1) : found;
            }
        return null;
    }

    private static readonly string[] WithYear =
    [
        "d MMMM yyyy",
        "d MMM yyyy",
        "d. MMMM yyyy",
        "MMMM d, yyyy",
        "MMMM d yyyy",
        "d/M/yyyy",
        "d.M.yyyy",
        "d-M-yyyy",
    ];

    private static readonly string[] WithoutYear = ["d MMMM", "d MMM", "d. MMMM", "MMMM d", "MMM d"];

    private static CultureInfo CultureOf(string language)
    {
        try
        {
            return CultureInfo.GetCultureInfo(language);
        }
        catch (CultureNotFoundException)
        {
            return CultureInfo.InvariantCulture;
        }
    }

    [GeneratedRegex(@"\d+(?:[.,]\d+)*", RegexOptions.NonBacktracking)]
    private static partial Regex Figure();

    [GeneratedRegex(@"[^\s<>,;]+@[^\s<>,;]+\.[^\s<>,;]+", RegexOptions.NonBacktracking)]
    private static partial Regex Address();
}
