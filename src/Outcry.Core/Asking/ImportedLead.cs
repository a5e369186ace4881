using NodaTime;
using NodaTime.Text;
using Outcry.Core.Care;
using Outcry.Core.Saying;

namespace Outcry.Core.Asking;

/// <summary>A person of a file.</summary>
/// <param name="Email">The address; null for none.</param>
/// <param name="Phone">E.164; null for none.</param>
/// <param name="FirstName">The first, or the whole name; empty for none.</param>
/// <param name="Surname">The surname; empty for none.</param>
/// <param name="Language">BCP 47 tag; empty for the site's own.</param>
/// <param name="Tags">Tags.</param>
/// <param name="Promise">What they agreed to, word for word; empty where the file does not say.</param>
/// <param name="AgreedAt">When; null where the file does not say.</param>
/// <param name="Answers">Every other column that is not empty, by its name.</param>
public sealed record ImportedLead(
    string? Email,
    string? Phone,
    string FirstName,
    string Surname,
    string Language,
    IReadOnlyList<string> Tags,
    string Promise,
    Instant? AgreedAt,
    IReadOnlyDictionary<string, string> Answers
)
{
    /// <summary>Columns of answers that are kept at most.</summary>
    public const int MostAnswers = 20;

    private const int LongestName = 80;
    private const int LongestAnswer = 200;
    private const int LongestPromise = 600;
    private const int LongestTag = 30;
    private const int MostTags = 10;

    // What a heading may be called; written without regard to case, spaces and hyphens.
    private static readonly Dictionary<string, string> Columns = new(StringComparer.Ordinal)
    {
        ["email"] = "email",
        ["e_mail"] = "email",
        ["mail"] = "email",
        ["phone"] = "phone",
        ["telephone"] = "phone",
        ["mobile"] = "phone",
        ["first_name"] = "first_name",
        ["firstname"] = "first_name",
        ["name"] = "first_name",
        ["surname"] = "surname",
        ["last_name"] = "surname",
        ["lastname"] = "surname",
        ["language"] = "language",
        ["tags"] = "tags",
        ["promise"] = "promise",
        ["agreed_to"] = "promise",
        ["agreed_at"] = "agreed_at",
        ["promised_at"] = "agreed_at",
    };

    /// <summary>What a heading means: one of "email", "phone", "first_name", "surname", "language", "tags", "promise", "agreed_at"; null for an answer.</summary>
    public static string? MeaningOf(string heading) => Columns.GetValueOrDefault(KeyOf(heading));

    /// <summary>A heading as a key: small letters, digits and underscores.</summary>
    public static string KeyOf(string heading) =>
        string.Join(
            '_',
            heading.Trim().ToLowerInvariant().Split([' ', '-', '_', '.'], StringSplitOptions.RemoveEmptyEntries)
        );

    /// <summary>Reads a line; or why it is none.</summary>
    /// <param name="cells">Cells by heading.</param>
    /// <param name="region">Where numbers without a country code are dialled: ISO 3166-1, two letters.</param>
    /// <param name="now">Nobody agreed later than this.</param>
    public static (ImportedLead? Lead, string? Fault) Read(
        IReadOnlyDictionary<string, string> cells,
        string region,
        Instant now
    )
    {
        var known = new Dictionary<string, string>(StringComparer.Ordinal);
        var answers = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var (heading, cell) in cells)
            if (PlainText.OrNull(cell) is { } text)
            {
                if (MeaningOf(heading) is { } meaning)
                    known.TryAdd(meaning, text);
                else if (answers.Count < MostAnswers && KeyOf(heading) is { Length: > 0 and <= 40 } key)
                    answers.TryAdd(key, PlainText.Clip(text, LongestAnswer));
            }
        string? email = null;
        if (known.TryGetValue("email", out var address) && (email = AnswerSheet.ReadEmail(address)) is null)
            return (null, $"\"{PlainText.Clip(address, 60)}\" is no e-mail address.");
        string? phone = null;
        if (known.TryGetValue("phone", out var number) && (phone = PhoneNumber.ToE164(number, region)) is null)
            return (null, $"\"{PlainText.Clip(number, 60)}\" is no phone number.");
        if (email is null && phone is null)
            return (null, "There is neither an e-mail address nor a phone number.");
        var (promise, said) = (known.GetValueOrDefault("promise", ""), known.GetValueOrDefault("agreed_at", ""));
        if (promise.Length > LongestPromise)
            return (null, $"A promise has at most {LongestPromise} characters.");
        // A promise nobody can date proves nothing, and a date without words proves no promise.
        if ((promise.Length == 0) != (said.Length == 0))
            return (
                null,
                promise.Length == 0
                    ? "It says when, and not to what, they agreed."
                    : "It does not say when they agreed."
            );
        Instant? agreedAt = null;
        if (said.Length > 0 && (agreedAt = MomentIn(said)) is null)
            return (null, $"\"{PlainText.Clip(said, 40)}\" is no moment. Write 2015-11-20T14:05:00Z or 2015-11-20.");
        if (agreedAt > now)
            return (null, "They agreed in the future.");
        var language = known.GetValueOrDefault("language", "");
        if (language.Length > 0 && !LanguageTag.IsWellFormed(language))
            return (null, $"\"{PlainText.Clip(language, 20)}\" is no language. Write en, nl or pt-BR.");
        return (
            new ImportedLead(
                email,
                phone,
                PlainText.Clip(known.GetValueOrDefault("first_name", ""), LongestName),
                PlainText.Clip(known.GetValueOrDefault("surname", ""), LongestName),
                language,
                [
                    .. known
                        .GetValueOrDefault("tags", "")
                        .Split([',', ';', '|'], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
                        .Select(t => PlainText.Clip(t, LongestTag))
                        .Distinct(StringComparer.OrdinalIgnoreCase)
                        .Take(MostTags),
                ],
                promise,
                agreedAt,
                answers
            ),
            null
        );
    }

    private static Instant? MomentIn(string text) =>
        InstantPattern.ExtendedIso.Parse(text) is { Success: true, Value: var instant } ? instant
        : OffsetDateTimePattern.ExtendedIso.Parse(text) is { Success: true, Value: var offset } ? offset.ToInstant()
        : LocalDatePattern.Iso.Parse(text) is { Success: true, Value: var date } ? date.AtMidnight().InUtc().ToInstant()
        : null;
}
