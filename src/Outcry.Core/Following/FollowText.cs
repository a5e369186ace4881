using Outcry.Core.Saying;

namespace Outcry.Core.Following;

/// <summary>A mail or a text message of a follow-up as somebody reads it.</summary>
/// <param name="Subject">One line; empty of a text message.</param>
/// <param name="Paragraphs">Its text.</param>
/// <param name="Button">Words on its button; empty for none.</param>
public sealed record FollowMail(string Subject, IReadOnlyList<string> Paragraphs, string Button);

/// <summary>Fills the words of a follow-up's mails and text messages.</summary>
public static class FollowText
{
    /// <summary>Whether a language has all that such a step says.</summary>
    public static bool IsWhole(FollowKind kind, FollowWords words) =>
        words.Text.Trim().Length > 0 && (kind == FollowKind.Text || words.Subject.Trim().Length > 0);

    /// <summary>A text by its empty lines.</summary>
    public static IEnumerable<string> Paragraphs(string text) =>
        text.ReplaceLineEndings("\n")
            .Split("\n\n", StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);

    /// <summary>The mail in somebody's language, else the site's own.</summary>
    /// <param name="step">The step that writes it.</param>
    /// <param name="language">BCP 47 tag of whoever reads it.</param>
    /// <param name="siteLanguage">BCP 47 tag of the site's own language.</param>
    /// <param name="values">First name and answers, by token.</param>
    public static FollowMail Write(
        FollowStep step,
        string language,
        string siteLanguage,
        IReadOnlyDictionary<string, string> values
    )
    {
        // What is not there in a language is said in the site's own.
        var whole = step.Words.Where(w => IsWhole(step.Kind, w)).ToList();
        if (whole.Count == 0)
            return new FollowMail("", [], "");
        var languages = whole.Select(w => w.Language.Length > 0 ? w.Language : siteLanguage).ToList();
        var chosen = LanguageTag.Choose([language], languages);
        var place = chosen is null ? 0 : languages.FindIndex(l => l.Equals(chosen, StringComparison.OrdinalIgnoreCase));
        var words = whole[Math.Max(0, place)];
        return new FollowMail(
            step.Kind == FollowKind.Text ? "" : Fill(words.Subject, values),
            [.. Paragraphs(words.Text).Select(p => Fill(p, values))],
            step.Kind == FollowKind.Text ? "" : words.Button.Trim()
        );
    }

    private static string Fill(string text, IReadOnlyDictionary<string, string> values)
    {
        if (!text.Contains('{', StringComparison.Ordinal) || MessageTemplate.TryParse(text, out _) is not { } template)
            return text;
        var tokens = new TokenValues();
        foreach (var (key, value) in values)
            tokens[key] = value;
        try
        {
            return string.Concat(template.Render(tokens).Select(s => s.Text));
        }
        catch (WordingException)
        {
            return text;
        }
    }
}
