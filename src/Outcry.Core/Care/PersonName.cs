using System.Globalization;

namespace Outcry.Core.Care;

/// <summary>How much of a person's name visitors may read.</summary>
public enum NameStyle
{
    /// <summary>First name and the last name's initial: "Saoirse M.".</summary>
    FirstAndInitial,

    /// <summary>First name alone.</summary>
    FirstOnly,

    /// <summary>The first name's initial: "S.".</summary>
    InitialOnly,

    /// <summary>Both initials: "S. M."</summary>
    Initials,

    /// <summary>No name at all.</summary>
    Hidden,
}

/// <summary>A person's name as far as it is ever kept for showing: first name and one letter of the last.</summary>
/// <param name="First">First name with surrounding signs trimmed; empty when unknown.</param>
/// <param name="LastInitial">One upper-case letter, or empty.</param>
public sealed record PersonName(string First, string LastInitial)
{
    /// <summary>Longest first name kept, in characters; names are not sentences.</summary>
    public const int MaxFirstLength = 60;

    /// <summary>Nobody is named.</summary>
    public static PersonName Unknown { get; } = new("", "");

    /// <summary>Whether nobody is named.</summary>
    public bool IsUnknown => First.Length == 0;

    /// <summary>Shortens a name given in two fields.</summary>
    /// <param name="first">First name; when <paramref name="last"/> is empty it may hold the whole name and is split at its last space.</param>
    /// <param name="last">Last name, of any number of parts; only the first letter of it is kept.</param>
    public static PersonName Shorten(string? first, string? last)
    {
        var given = Tidy(first);
        var family = Tidy(last);
        if (family.Length == 0)
        {
            var space = given.LastIndexOf(' ');
            if (space > 0)
                (given, family) = (given[..space], given[(space + 1)..]);
        }
        var initial = Initial(family);
        return given.Length == 0 ? Unknown : new PersonName(Clip(given), initial);
    }

    /// <summary>The name in a style; empty when nothing of it may be read.</summary>
    public string Shown(NameStyle style) =>
        style switch
        {
            _ when IsUnknown => "",
            NameStyle.FirstAndInitial => LastInitial.Length == 0 ? First : $"{First} {LastInitial}.",
            NameStyle.FirstOnly => First,
            NameStyle.InitialOnly => Initial(First) is { Length: > 0 } initial ? $"{initial}." : "",
            NameStyle.Initials when Initial(First) is { Length: > 0 } initial => LastInitial.Length == 0
                ? $"{initial}."
                : $"{initial}. {LastInitial}.",
            _ => "",
        };

    /// <summary>One or two letters for a picture made of initials; empty when nobody is named.</summary>
    public string Initials => Initial(First) + LastInitial;

    private static string Initial(string text)
    {
        var elements = StringInfo.GetTextElementEnumerator(text);
        while (elements.MoveNext())
            if (char.IsLetter(elements.GetTextElement(), 0))
                return elements.GetTextElement().ToUpper(CultureInfo.InvariantCulture);
        return "";
    }

    // People type their address or their number into the field of the name; neither is one.
    private static string Tidy(string? text) =>
        string.Join(
                ' ',
                PlainText.Clean(text).Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries).Where(IsName)
            )
            .Trim(',', '.', ';', '-', ' ');

    private static bool IsName(string word) =>
        !word.Contains('@', StringComparison.Ordinal)
        && !word.All(c => char.IsDigit(c) || c is '+' or '-' or '(' or ')' or '.' or '/');

    private static string Clip(string text) => PlainText.Clip(text, MaxFirstLength).TrimEnd();
}
