using System.Text.RegularExpressions;
using Outcry.Core.Care;
using Outcry.Core.Pages;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;

namespace Outcry.Core.Asking;

/// <summary>Checks what a prompt asks for, promises and gives.</summary>
public static partial class AskCheck
{
    /// <summary>Fields of one prompt.</summary>
    public const int MostFields = 12;

    /// <summary>Characters of one hidden value.</summary>
    public const int LongestHidden = 200;

    private const int MostHidden = 10;
    private const int MostTags = 10;
    private const int MostChoices = 20;
    private const int LongestLabel = 80;
    private const int LongestConsent = 300;
    private const int LongestButton = 40;
    private const int LongestPromise = 500;
    private const int LongestThanks = 200;
    private const int LongestMail = 600;
    private const int CalmMailWords = 120;
    private const int LongestTag = 30;
    private const int LongestCode = 40;

    /// <summary>Everything wrong or noteworthy.</summary>
    /// <param name="ask">What is asked; null for a prompt of which nothing is written yet.</param>
    /// <param name="languages">BCP 47 tags in which the callout speaks besides the site's own.</param>
    /// <param name="allows">Whether a host is the site's; every host is where nobody can say.</param>
    public static IEnumerable<Problem> Problems(
        AskFacet? ask,
        IReadOnlyList<string> languages,
        Func<string, bool>? allows = null
    )
    {
        if (ask is null || ask.Fields.Count == 0)
        {
            yield return new Problem("ask.fields", "It asks for nothing yet. Choose what visitors are asked for.");
            yield break;
        }
        if (ask.Fields.Count > MostFields)
            yield return new Problem("ask.fields", $"At most {MostFields} fields.");
        foreach (var problem in ask.Fields.SelectMany(OfField))
            yield return problem;
        if (ask.Fields.Concat<object>(ask.Hidden).Select(KeyOf).GroupBy(k => k).Any(g => g.Count() > 1))
            yield return new Problem("ask.fields", "Two fields are kept under one name.");
        if (
            ask.Fields.Count(f => f.Kind == FieldKind.Email) > 1
            || ask.Fields.Count(f => f.Kind == FieldKind.Phone) > 1
        )
            yield return new Problem("ask.fields", "One e-mail address and one phone number are asked for at most.");
        if (!ask.TakesContact)
            yield return Problem.Hint(
                "ask.fields",
                "Without an address or a number nobody can be written to; what they answer stands alone."
            );
        if (ask.Fields.Count(f => f.Required) > 3)
            yield return Problem.Hint("ask.fields", "Each field that must be filled in costs answers. Ask for less.");
        foreach (var problem in OfBlocks(ask))
            yield return problem;
        foreach (var problem in OfHidden(ask.Hidden))
            yield return problem;
        foreach (var language in languages.Prepend(""))
        foreach (var problem in OfWords(ask, language))
            yield return problem;
        foreach (var problem in OfThen(ask, allows ?? (static _ => true)))
            yield return problem;
    }

    private static IEnumerable<Problem> OfBlocks(AskFacet ask)
    {
        if (ask.Blocks.Distinct().Count() < ask.Blocks.Count || !ask.Blocks.All(Enum.IsDefined))
        {
            yield return new Problem("ask.blocks", "Each part of the face stands in one place.");
            yield break;
        }
        var order = ask.Order.ToList();
        // What is agreed to is read before it is agreed to.
        if (ask.TakesContact && order.IndexOf(FaceBlock.Promise) > order.IndexOf(FaceBlock.Button))
            yield return new Problem(
                "ask.blocks",
                "The promise stands below the button: whoever presses has not read what they agree to. Move it above."
            );
        if (order.IndexOf(FaceBlock.Fields) > order.IndexOf(FaceBlock.Button))
            yield return Problem.Hint("ask.blocks", "The button stands above what it sends.");
    }

    private static string KeyOf(object field) => field is PromptField asked ? asked.Key : ((HiddenField)field).Key;

    private static IEnumerable<Problem> OfField(PromptField field)
    {
        if (!KeyForm().IsMatch(field.Key))
            yield return new Problem(
                "ask.fields",
                $"\"{field.Key}\" cannot be a field's name: small letters, digits and _, 40 characters at most."
            );
        foreach (var words in field.Words)
        {
            var longest = field.Kind == FieldKind.Consent ? LongestConsent : LongestLabel;
            if (words.Label.Length > longest)
                yield return new Problem(
                    "ask.fields",
                    field.Kind == FieldKind.Consent
                        ? $"What stands beside a box has at most {longest} characters."
                        : $"A field's label has at most {longest} characters."
                );
            if (
                field.Kind is FieldKind.Choice or FieldKind.Choices
                && (
                    words.Choices.Count is < 2 or > MostChoices
                    || words.Choices.Any(c => c.Trim().Length is 0 or > LongestLabel)
                    || words.Choices.Distinct(StringComparer.OrdinalIgnoreCase).Count() < words.Choices.Count
                )
            )
                yield return new Problem(
                    "ask.fields",
                    $"\"{field.Key}\" needs 2 to {MostChoices} different things to choose from."
                );
        }
        if (field.Kind >= FieldKind.Choice && !field.Words.Any(w => w is { Language: "", Label.Length: > 0 }))
            yield return new Problem("ask.fields", $"\"{field.Key}\" needs a label that says what is asked.");
    }

    private static IEnumerable<Problem> OfHidden(IReadOnlyList<HiddenField> hidden)
    {
        if (hidden.Count > MostHidden)
            yield return new Problem("ask.hidden", $"At most {MostHidden} values are kept besides.");
        foreach (var field in hidden)
        {
            if (field.Key.Length == 0)
            {
                yield return new Problem("ask.hidden", "What is kept besides needs a name, such as magazine.");
                continue;
            }
            if (!KeyForm().IsMatch(field.Key))
                yield return new Problem(
                    "ask.hidden",
                    $"\"{field.Key}\" cannot be a name: small letters, digits and _."
                );
            if (field.Value.Length == 0 && field.Parameter.Length == 0)
                yield return new Problem("ask.hidden", $"\"{field.Key}\" has no value and no parameter it comes from.");
            if (field.Value.Length > LongestHidden || field.Parameter.Length > LongestLabel)
                yield return new Problem("ask.hidden", $"A value has at most {LongestHidden} characters.");
            // It leaves the browser on every first page then, of whoever comes in by it, whether or not they say yes.
            if (field.OfEntry && PrivateContent.TellsWho(field.Parameter))
                yield return new Problem(
                    "ask.hidden",
                    $"\"{field.Parameter}\" may say who somebody is, and of the page they came in by it would be known of those who never say yes. Take it from the page they are on."
                );
            if (Secret().IsMatch(field.Parameter) || Secret().IsMatch(field.Key))
                yield return new Problem(
                    "ask.hidden",
                    "Passwords, tokens and card numbers are never kept with answers."
                );
        }
    }

    private static IEnumerable<Problem> OfWords(AskFacet ask, string language)
    {
        var where = language.Length == 0 ? "" : $"{language}: ";
        if (
            ask.Words.FirstOrDefault(w => w.Language.Equals(language, StringComparison.OrdinalIgnoreCase))
            is not { } words
        )
        {
            yield return new Problem("ask.words", $"{where}The button, the promise and the thanks have no words yet.");
            yield break;
        }
        if (words.Button.Trim().Length is 0 or > LongestButton)
            yield return new Problem("ask.words", $"{where}The button needs 1 to {LongestButton} characters.");
        if (words.Thanks.Trim().Length is 0 or > LongestThanks)
            yield return new Problem("ask.thanks", $"{where}Say thanks in 1 to {LongestThanks} characters.");
        if (words.ThanksDetail.Length > LongestPromise || words.SmallPrint.Length > LongestPromise)
            yield return new Problem("ask.words", $"{where}This is too long to be read.");
        if (ask.TakesContact && words.Promise.Trim().Length == 0)
            yield return new Problem(
                "ask.promise",
                $"{where}Whoever gives an address has to know what for. Write what they agree to."
            );
        if (words.Promise.Length > LongestPromise)
            yield return new Problem("ask.promise", $"{where}A promise has at most {LongestPromise} characters.");
        if (words.Confirmed.Length > LongestThanks)
            yield return new Problem(
                "ask.confirms",
                $"{where}The page behind the mail says at most {LongestThanks} characters."
            );
        if (words.Mail.Length > LongestMail)
            yield return new Problem("ask.confirms", $"{where}The mail has at most {LongestMail} characters.");
        else if (words.Mail.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries).Length > CalmMailWords)
            yield return Problem.Hint("ask.confirms", $"{where}A mail with one button needs few words.");
        // What somebody ticks they have read in their own language.
        foreach (var field in ask.Fields.Where(f => f.Kind == FieldKind.Consent && language.Length > 0))
            if (
                !field.Words.Any(w =>
                    w.Language.Equals(language, StringComparison.OrdinalIgnoreCase) && w.Label.Length > 0
                )
            )
                yield return new Problem("ask.fields", $"{where}\"{field.Key}\" has no words beside its box.");
        foreach (var field in ask.Fields.Where(f => f.Kind is FieldKind.Choice or FieldKind.Choices))
            if (
                AskFacet.WordsIn(field, language, "").Choices.Count
                != (field.Words.FirstOrDefault(w => w.Language == "")?.Choices.Count ?? 0)
            )
                yield return new Problem(
                    "ask.fields",
                    $"{where}\"{field.Key}\" has not as many choices as in the site's own language."
                );
    }

    private static IEnumerable<Problem> OfLanding(AskFacet ask, Func<string, bool> allows)
    {
        if (!ask.Confirms)
            yield return Problem.Hint("ask.confirms", "Nobody is led to that page: nothing is confirmed by mail.");
        if (LandingOf(ask.Landing, Somewhere, allows) is null)
            yield return new Problem(
                "ask.confirms",
                $"\"{ask.Landing}\" is no page of this site: a path, or an address on one of its hosts."
            );
        else if (ask is { Confirms: true, Reward.Kind: not RewardKind.None })
            yield return Problem.Hint(
                "ask.confirms",
                "On a page of your own nobody sees what they get: it comes by mail only."
            );
    }

    private static readonly Uri Somewhere = new("https://page.example/");

    /// <summary>Where a press that confirms leads.</summary>
    /// <param name="landing">A path of the site, or an address.</param>
    /// <param name="home">The site's own address, http or https.</param>
    /// <param name="allows">Whether a host, with its port where it is not the scheme's own, is the site's.</param>
    /// <returns>An absolute address; null for none, or where it is no page of the site.</returns>
    public static Uri? LandingOf(string landing, Uri home, Func<string, bool> allows) =>
        SafeLink.TryPassPage(landing) is not { } page ? null
        : page[0] == '/' ? WebHost.OnTheWire(new Uri(home, page))
        : WebHost.OnTheWire(new Uri(page)) is var there && allows(there.Authority) ? there
        : null;

    private static IEnumerable<Problem> OfThen(AskFacet ask, Func<string, bool> allows)
    {
        if (ask.Confirms && !ask.Fields.Any(f => f is { Kind: FieldKind.Email, Required: true }))
            yield return new Problem(
                "ask.confirms",
                "Only an e-mail address that must be given can be confirmed by mail. Ask for one, or confirm nothing."
            );
        if (!ask.Confirms && ask.Fields.Any(f => f.Kind == FieldKind.Email))
            yield return Problem.Hint(
                "ask.confirms",
                "Without a confirmation anybody can give anybody's address, and in many countries none of them may be written to."
            );
        if (ask.Landing.Length > 0)
            foreach (var problem in OfLanding(ask, allows))
                yield return problem;
        if (ask.Tags.Count > MostTags || ask.Tags.Any(t => t.Trim().Length is 0 or > LongestTag))
            yield return new Problem("ask.tags", $"At most {MostTags} tags of {LongestTag} characters.");
        switch (ask.Reward.Kind)
        {
            case RewardKind.Code when ask.Reward.Code.Trim().Length is 0 or > LongestCode:
                yield return new Problem("ask.reward", $"A code has 1 to {LongestCode} characters.");
                break;
            case RewardKind.Pool or RewardKind.File when ask.Reward.SourceId is null:
                yield return new Problem(
                    "ask.reward",
                    ask.Reward.Kind == RewardKind.Pool ? "Choose the pool that codes come from." : "Choose the file."
                );
                break;
        }
    }

    [GeneratedRegex("^[a-z][a-z0-9_]{0,39}$")]
    private static partial Regex KeyForm();

    [GeneratedRegex("pass|secret|token|card|cvc|cvv|iban|api_?key", RegexOptions.IgnoreCase)]
    private static partial Regex Secret();
}
