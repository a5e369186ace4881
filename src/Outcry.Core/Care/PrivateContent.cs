using System.Text.RegularExpressions;

namespace Outcry.Core.Care;

/// <summary>Finds what is private by what it looks like, under whatever name it comes: addresses, numbers, cards, names.</summary>
/// <remarks>It errs towards hiding: a number that only looks like a phone number is masked too.</remarks>
public static partial class PrivateContent
{
    private const string Hidden = "•••••";

    // Folded beginnings or ends of field names under which people's names, homes and papers stand, in the shipped languages.
    private static readonly string[] NameFields =
    [
        "name",
        "surname",
        "customer",
        "recipient",
        "contact",
        "kunde",
        "vorname",
        "nachname",
        "nom",
        "prenom",
        "client",
        "nombre",
        "apellido",
        "cliente",
        "naam",
        "achternaam",
        "klant",
        "nome",
        "cognome",
        "imie",
        "nazwisko",
        "sobrenome",
    ];

    private static readonly string[] SecretFields =
    [
        "street",
        "address",
        "addr",
        "postcode",
        "zip",
        "strasse",
        "straße",
        "adresse",
        "anschrift",
        "plz",
        "hausnummer",
        "rue",
        "calle",
        "direccion",
        "straat",
        "adres",
        "indirizzo",
        "ulica",
        "endereco",
        "birth",
        "dob",
        "geburt",
        "password",
        "passwd",
        "token",
        "secret",
        "iban",
        "ssn",
        "card",
    ];

    /// <summary>A field's value as it may be kept: private parts masked by their look, the rest by the field's name.</summary>
    /// <param name="field">The field's name, in any spelling.</param>
    /// <param name="value">Its value.</param>
    public static string Mask(string field, string value)
    {
        var folded = Folded(field);
        if (folded.Contains("mail", StringComparison.Ordinal) && Care.Mask.Email(value) is { Length: > 0 } address)
            return address;
        if (IsPhoneField(folded) && Care.Mask.Phone(value) is { Length: > 0 } number)
            return number;
        if (
            SecretFields.Any(s => folded.Contains(s, StringComparison.Ordinal))
            && !folded.Contains("mail", StringComparison.Ordinal)
        )
            return value.Trim().Length == 0 ? "" : Hidden;
        if (IsNameField(folded))
            return Care.Mask.Name(PersonName.Shorten(Mask(value), null));
        return Mask(value);
    }

    /// <summary>Whether what stands under a name says who somebody is, as far as the name tells.</summary>
    /// <param name="field">The field's name, in any spelling.</param>
    public static bool TellsWho(string field)
    {
        var folded = Folded(field);
        return folded.Contains("mail", StringComparison.Ordinal)
            || IsPhoneField(folded)
            || SecretFields.Any(s => folded.Contains(s, StringComparison.Ordinal))
            || IsNameField(folded);
    }

    /// <summary>A text with every e-mail address, phone number, card and account number in it masked.</summary>
    public static string Mask(string text)
    {
        if (text.Contains('@', StringComparison.Ordinal))
            text = Address().Replace(text, m => Care.Mask.Email(m.Value));
        if (text.Count(char.IsAsciiDigit) < FewestDigits)
            return text;
        text = Account().Replace(text, Hidden);
        return Number().Replace(text, m => IsNumber(m.Value) ? Care.Mask.Phone(m.Value) : m.Value);
    }

    private const int FewestDigits = 7;

    // With a plus or a zero before it a number is dialled; as many digits as a card has, and its check digit, are a card.
    private static bool IsNumber(string found)
    {
        var digits = found.Where(char.IsAsciiDigit).Select(d => d - '0').ToArray();
        if (digits.Length < FewestDigits)
            return false;
        return found[0] == '+' || found.TrimStart('(').StartsWith('0')
            ? digits.Length <= 15
            : digits.Length is >= 13 and <= 19 && Luhn(digits);
    }

    // ISO/IEC 7812-1, annex B.
    private static bool Luhn(int[] digits)
    {
        var sum = 0;
        for (var i = 0; i < digits.Length; i++)
        {
            var digit = digits[^(i + 1)] * (i % 2 == 0 ? 1 : 2);
            sum += digit > 9 ? digit - 9 : digit;
        }
        return sum % 10 == 0;
    }

    private static bool IsPhoneField(string folded) =>
        folded.Contains("phone", StringComparison.Ordinal)
        || folded.Contains("mobile", StringComparison.Ordinal)
        || folded is "tel" or "telefon" or "telefono" or "handy";

    private static bool IsNameField(string folded) =>
        NameFields.Any(n => folded == n || folded.EndsWith(n, StringComparison.Ordinal))
        && !folded.StartsWith("product", StringComparison.Ordinal)
        && !folded.StartsWith("plan", StringComparison.Ordinal)
        && !folded.StartsWith("event", StringComparison.Ordinal);

    private static string Folded(string name) => new([.. name.ToLowerInvariant().Where(char.IsLetterOrDigit)]);

    [GeneratedRegex(@"[^\s@<>()\[\]"",;:]{1,64}@[^\s@<>()\[\]"",;:]{1,255}\.[^\s@<>()\[\]"",;:.]{2,24}")]
    private static partial Regex Address();

    // IBAN, ISO 13616: two letters, two digits, up to thirty letters and digits, perhaps in groups.
    [GeneratedRegex(@"\b[A-Z]{2}\d{2}(?: ?[A-Z0-9]{4}){3,7}(?: ?[A-Z0-9]{1,3})?\b")]
    private static partial Regex Account();

    [GeneratedRegex(@"(?<![\w.,-])[+(]?\(?\d[\d ().\-/]{5,24}\d(?!\w)")]
    private static partial Regex Number();
}
