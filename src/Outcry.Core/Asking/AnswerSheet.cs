using System.Globalization;
using System.Text.RegularExpressions;
using NodaTime.Text;
using Outcry.Core.Care;
using Outcry.Core.Pages;
using Outcry.Core.Saying;

namespace Outcry.Core.Asking;

/// <summary>Where and in which language answers were given.</summary>
/// <param name="Page">The page, for what is kept of its parameters; null where it is not known.</param>
/// <param name="Entry">The page by which the visit came in; null where it is not known.</param>
/// <param name="Region">Where numbers without a country code are dialled: ISO 3166-1, two letters.</param>
/// <param name="Language">BCP 47 tag in which was asked.</param>
/// <param name="OwnLanguage">BCP 47 tag of the site's own language.</param>
public sealed record AnsweredAt(
    PageAddress? Page,
    PageAddress? Entry,
    string Region,
    string Language,
    string OwnLanguage
);

/// <summary>Answers to a prompt, read.</summary>
/// <param name="Values">By key, as they are kept; what was left empty is not among them.</param>
/// <param name="Faults">By key, what is wrong: a built-in word that the visitor is told.</param>
/// <param name="Email">The address, its domain in small letters; null for none.</param>
/// <param name="Phone">The number as E.164; null for none.</param>
/// <param name="FirstName">The first name; null for none.</param>
/// <param name="Surname">The surname; null for none.</param>
public sealed partial record AnswerSheet(
    IReadOnlyDictionary<string, string> Values,
    IReadOnlyDictionary<string, BuiltInWord> Faults,
    string? Email,
    string? Phone,
    string? FirstName,
    string? Surname
)
{
    /// <summary>Under which a box that was not ticked is told.</summary>
    public const string Box = "promise";

    /// <summary>What is sent for a box among the fields that was ticked.</summary>
    public const string Ticked = "yes";

    private const int LongestText = 1_000;
    private const int LongestLine = 200;

    /// <summary>Reads what was filled in.</summary>
    /// <param name="ask">What was asked.</param>
    /// <param name="given">By key; several choices each on a line, "yes" for a box that was ticked.</param>
    /// <param name="agreed">Whether the box was ticked.</param>
    /// <param name="at">Where and in which language.</param>
    public static AnswerSheet Read(AskFacet ask, IReadOnlyDictionary<string, string> given, bool agreed, AnsweredAt at)
    {
        var values = new Dictionary<string, string>();
        var faults = new Dictionary<string, BuiltInWord>();
        string? email = null,
            phone = null,
            first = null,
            last = null;
        foreach (var field in ask.Fields)
        {
            if (PlainText.OrNull(given.GetValueOrDefault(field.Key)) is not { } text)
            {
                if (field.Required)
                    faults[field.Key] = field.Kind == FieldKind.Consent ? BuiltInWord.TickBox : BuiltInWord.FillIn;
                continue;
            }
            if (text.Length > (field.Kind == FieldKind.Text ? LongestText : LongestLine))
            {
                faults[field.Key] = BuiltInWord.TooLong;
                continue;
            }
            var (value, fault) = ReadOne(field, text, at);
            if (value is null)
                faults[field.Key] = fault;
            else
                values[field.Key] = value;
            switch (field.Kind)
            {
                case FieldKind.Email:
                    email = value;
                    break;
                case FieldKind.Phone:
                    phone = value;
                    break;
                case FieldKind.FirstName:
                    first = value;
                    break;
                case FieldKind.Surname:
                    last = value;
                    break;
            }
        }
        // Agreed to, or nothing is kept: a box that was left alone is a no.
        if (ask is { Ticks: true, TakesContact: true } && !agreed)
            faults[Box] = BuiltInWord.TickBox;
        foreach (var hidden in ask.Hidden)
            if (
                (
                    hidden.Value.Length > 0
                        ? hidden.Value
                        : ParameterOf(hidden.OfEntry ? at.Entry : at.Page, hidden.Parameter)
                ) is
                { } kept
            )
                values[hidden.Key] = kept;
        return new AnswerSheet(values, faults, email, phone, first, last);
    }

    /// <summary>What is the same for one person: the address without regard to case; null for none.</summary>
    public static string? EmailKey(string? email) => email?.ToLowerInvariant();

    private static (string? Value, BuiltInWord Fault) ReadOne(PromptField field, string text, AnsweredAt at)
    {
        switch (field.Kind)
        {
            case FieldKind.Email:
                return (ReadEmail(text), BuiltInWord.CheckEmail);
            case FieldKind.Phone:
                return (PhoneNumber.ToE164(text, at.Region), BuiltInWord.CheckPhone);
            case FieldKind.Number:
                return (
                    decimal.TryParse(
                        text.Replace(',', '.'),
                        NumberStyles.AllowDecimalPoint | NumberStyles.AllowLeadingSign,
                        CultureInfo.InvariantCulture,
                        out var number
                    )
                        ? number.ToString(CultureInfo.InvariantCulture)
                        : null,
                    BuiltInWord.CheckPhone
                );
            case FieldKind.Date:
                return (LocalDatePattern.Iso.Parse(text).Success ? text : null, BuiltInWord.CheckDate);
            case FieldKind.Consent:
                return (
                    text == Ticked ? AskFacet.WordsIn(field, at.Language, at.OwnLanguage).Label : null,
                    BuiltInWord.TickBox
                );
            case FieldKind.Choice:
                return (IsOffered(field, text) ? text : null, BuiltInWord.FillIn);
            case FieldKind.Choices:
                var chosen = text.Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
                    .Distinct()
                    .ToList();
                return (
                    chosen.TrueForAll(c => IsOffered(field, c)) ? string.Join("\n", chosen) : null,
                    BuiltInWord.FillIn
                );
            default:
                return (text, BuiltInWord.FillIn);
        }
    }

    private static bool IsOffered(PromptField field, string text) =>
        field.Words.Any(w => w.Choices.Contains(text, StringComparer.Ordinal));

    /// <summary>An address with its domain in small letters and as it goes over the wire (RFC 5890); null for what is none.</summary>
    public static string? ReadEmail(string text)
    {
        // Whoever looks like somebody else by a letter of another script is told apart by how the domain is written then.
        var at = text.LastIndexOf('@');
        if (at is < 1 or > 64 || at == text.Length - 1 || text.Any(c => char.IsControl(c) || char.IsWhiteSpace(c)))
            return null;
        string domain;
        try
        {
            domain = new IdnMapping { UseStd3AsciiRules = true }
                .GetAscii(text[(at + 1)..])
                .ToLowerInvariant();
        }
        catch (ArgumentException)
        {
            return null;
        }
        var whole = $"{text[..at]}@{domain}";
        return
            domain.Contains('.')
            && !text[..at].Contains('@')
            && System.Net.Mail.MailAddress.TryCreate(whole, out var parsed)
            && parsed.Address == whole
            && parsed.DisplayName.Length == 0
            ? whole
            : null;
    }

    // What looks like a card's number is kept of no address, however it is called there.
    private static string? ParameterOf(PageAddress? page, string name) =>
        page?.Query.GetValueOrDefault(name) is { Length: > 0 and <= AskCheck.LongestHidden } value
        && PlainText.OrNull(value) is { } kept
        && !CardNumber().IsMatch(kept)
            ? kept
            : null;

    [GeneratedRegex(@"(?:\d[ -]?){13,19}")]
    private static partial Regex CardNumber();
}
