using System.Text.RegularExpressions;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;

namespace Outcry.Core.Briefs;

/// <summary>Checks what a brief says, in each of its languages.</summary>
internal static partial class SayCheck
{
    public static IEnumerable<Problem> Problems(
        Brief brief,
        IReadOnlyCollection<SourceOffer> chosen,
        SiteContext shared
    )
    {
        var say = brief.Say;
        var own = new Wording(shared.Language, say.Message, say.Detail, say.Button);
        foreach (var problem in OfWording(brief, own, chosen, "say.message", "say.detail"))
            yield return problem;
        foreach (var other in say.Translations)
        {
            if (!LanguageTag.IsWellFormed(other.Language))
                yield return Blocking(
                    "say.translations",
                    $"\"{other.Language}\" is not a language tag such as de or pt-BR."
                );
            else
                foreach (var problem in OfWording(brief, other, chosen, "say.translations", "say.translations"))
                    yield return problem with
                    {
                        Message = $"{other.Language}: {problem.Message}",
                    };
            if (IsCopy(say, other, shared.Language))
                yield return Blocking(
                    "say.translations",
                    $"{other.Language} still says what {shared.Language} says. Write it in that language, or take the language out."
                );
        }
        var tags = say.Translations.Select(t => t.Language).Append(shared.Language);
        if (tags.Distinct(StringComparer.OrdinalIgnoreCase).Count() <= say.Translations.Count)
            yield return Blocking("say.translations", "A language stands there twice.");
        foreach (var problem in OfRest(brief))
            yield return problem;
    }

    // Words of one language under the name of another; figures and tokens alone are the same in all.
    private static bool IsCopy(SayFacet say, Wording other, string own) =>
        LanguageTag.Main(other.Language) != LanguageTag.Main(own)
        && other.Message == say.Message
        && WordsOutsideTokens().IsMatch(Token().Replace(say.Message, ""));

    [GeneratedRegex(@"\{\{.*?\}\}")]
    private static partial Regex Token();

    [GeneratedRegex(@"\p{L}{3}")]
    private static partial Regex WordsOutsideTokens();

    private static IEnumerable<Problem> OfWording(
        Brief brief,
        Wording wording,
        IReadOnlyCollection<SourceOffer> chosen,
        string field,
        string detailField
    )
    {
        foreach (var problem in OfText(brief, wording.Message, wording.Language, chosen, field))
            yield return problem;
        if (wording.Detail.Length > 0)
            foreach (var problem in OfText(brief, wording.Detail, wording.Language, chosen, detailField))
                yield return problem;
        if (wording.Button.Length > LongestButton)
            yield return Blocking(field, $"A button has at most {LongestButton} characters.");
    }

    private const int LongestButton = 40;

    private static IEnumerable<Problem> OfText(
        Brief brief,
        string text,
        string language,
        IReadOnlyCollection<SourceOffer> chosen,
        string field
    )
    {
        if (MessageTemplate.TryParse(text, out var error) is not { } template)
        {
            yield return Blocking(field, error);
            yield break;
        }
        if (template.Failure is { } failure)
        {
            yield return Blocking(field, failure);
            yield break;
        }
        if (StarterWording.IsPlaceholder(text))
            yield return Blocking(field, "These are placeholder words. Write your own before it goes live.") with
            {
                MayBeStaged = true,
            };
        var offered = KindTokens.Offered(brief.Kind, chosen);
        foreach (var token in template.Tokens.Where(t => !offered.Contains(t)))
            yield return Blocking(field, NotOffered(token, chosen, offered)) with
            {
                Word = token,
            };
        foreach (var source in chosen.Where(c => !c.HasNames && template.Tokens.Any(t => t is "name" or "first_name")))
            yield return Hint(
                field,
                $"{source.Name} has no field for a name, so the fallback will stand in its place."
            ) with
            {
                Word = template.Tokens.First(t => t is "name" or "first_name"),
            };
        foreach (
            var token in template.WithoutFallback.Where(t =>
                offered.Contains(t) && KindTokens.MayBeEmpty(t) && !GoesWithItsWord(text, t, language)
            )
        )
            yield return Hint(
                field,
                $"\"{token.Replace('_', ' ')}\" is empty for some events. Choose it in the message and say what stands there then."
            ) with
            {
                Word = token,
            };
        if (UncountedNoun(brief, text) is { } noun)
            yield return Hint(
                field,
                $"\"{noun}\" is wrong for some numbers. Let it follow the number: {{{{ number | plural: one: \"person\", other: \"people\" }}}}."
            ) with
            {
                Word = noun,
            };
        foreach (var forms in template.PluralForms)
        foreach (var missing in PluralRule.ClassesOf(language).Select(c => c.ToString().ToLowerInvariant()))
            if (!forms.Contains(missing) && missing is not ("zero" or "many"))
                yield return Hint(
                    field,
                    $"The language {language} has a form \"{missing}\" that the plural does not give."
                );
        if (
            TypedTimeWord(text) is { } typed
            && brief.Kind is not (CalloutKind.Notice or CalloutKind.Prompt or CalloutKind.Headcount)
        )
            yield return Hint(
                field,
                $"\"{typed}\" is typed, but events may be days old when they are told. Put in the field \"time ago\" instead, or leave the time to the line below."
            ) with
            {
                Word = typed,
            };
        if (Contradiction(brief, text, language, chosen) is { } contradiction)
            yield return contradiction with
            {
                Field = field,
            };
    }

    // A singular behind a number is wrong for all numbers but one, a plural for one, in languages that have both.
    private static string? UncountedNoun(Brief brief, string text)
    {
        if (NounAfterNumber().Match(text) is not { Success: true } found)
            return null;
        var noun = found.Groups[1].Value;
        var mayBeOne = brief.From.LeastNumber <= 1;
        return Singular().IsMatch(noun) || (mayBeOne && Plural().IsMatch(noun)) ? noun : null;
    }

    [GeneratedRegex(@"\{\{\s*(?:number|left|total)\s*(?:\|\s*default[^}]*)?\}\}[*_+ ]+(\p{L}+)")]
    private static partial Regex NounAfterNumber();

    [GeneratedRegex(
        "^(?:person|visitor|customer|buyer|order|view|member|subscriber|piece|place|guest|Person|Kunde|Bestellung|personne|visiteur|client|persona|visitante|cliente|persoon|bezoeker|klant|pessoa)$",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Singular();

    [GeneratedRegex(
        "^(?:people|persons|visitors|customers|buyers|orders|views|members|subscribers|pieces|places|guests|Personen|Kunden|Bestellungen|personnes|visiteurs|clients|personas|visitantes|clientes|mensen|bezoekers|klanten|persone|visitatori|clienti|pessoas)$",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Plural();

    // "for {{ product }}": where there is none, the joining word goes with it, and the sentence still stands.
    private static bool GoesWithItsWord(string text, string token, string language)
    {
        var words = JoiningWords.Of(language);
        var places = Regex.Matches(
            text,
            $@"\{{\{{\s*{Regex.Escape(token)}\s*\}}\}}",
            RegexOptions.None,
            TimeSpan.FromSeconds(1)
        );
        return places.Count > 0
            && places.All(m =>
                words.LengthAtEnd(text.AsSpan(0, m.Index)) > 0
                || words.LengthAtStart(text.AsSpan(m.Index + m.Length)) > 0
            );
    }

    private static IEnumerable<Problem> OfRest(Brief brief)
    {
        var say = brief.Say;
        if (say.Link == LinkTarget.Address && SafeLink.TryPass(say.LinkAddress) is null)
            yield return Blocking(
                "say.linkAddress",
                "The link is not an address. Write one that starts with https://, or a path such as /shop."
            );
        if (say.Picture == SayPicture.Image && SafeLink.TryPassPicture(say.PictureAddress) is null)
            yield return Blocking(
                "say.pictureAddress",
                say.PictureAddress.Length == 0
                    ? "No picture is chosen yet. Find one, upload one, or paste an address."
                    : "The picture is not an address. Write one that starts with https://, or a path such as /pictures/kiln.jpg."
            );
        if (say.Campaign.Length > 100)
            yield return Blocking("say.campaign", "A campaign name has at most 100 characters.");
        if (say.Code.Length > 40)
            yield return Blocking("say.code", "A code has at most 40 characters.");
        if (
            brief.When.Schedule.Target is null
            && brief.SaysItself
            && new[] { say.Message, say.Detail }
                .Concat(say.Translations.SelectMany(t => new[] { t.Message, t.Detail }))
                .Any(t => MessageTemplate.TryParse(t, out _)?.Tokens.Contains(Countdown.Token) == true)
        )
            yield return Blocking(
                "say.message",
                "The countdown has nothing to count to. Set an event date or a target under When."
            );
        if (
            say.Number == NumberStyle.Hidden
            && MessageTemplate.TryParse(say.Message, out _) is { } template
            && template.WithoutFallback.Contains(CountTokens.Number)
        )
            yield return Hint("say.number", "The number is hidden, so {{ number }} needs a fallback such as \"Many\".");
    }

    // A count of looks that is worded as purchases would be a lie, whoever meant it.
    private static Problem? Contradiction(
        Brief brief,
        string text,
        string language,
        IReadOnlyCollection<SourceOffer> chosen
    )
    {
        IReadOnlyCollection<Claim> counted = BriefEvidence.CountsTraffic(brief)
            ? [Claim.Looked]
            : [.. chosen.SelectMany(c => VerbCheck.ClaimsOf(c.Kind, brief.From.Conditions)).Distinct()];
        if (
            counted.Count == 0
            || brief.Kind
                is CalloutKind.Quote
                    or CalloutKind.Notice
                    or CalloutKind.Prompt
                    or CalloutKind.Standing
                    or CalloutKind.Remainder
        )
            return null;
        if (VerbCheck.Contradiction(text, language, counted) is not { } found)
            return null;
        var honest = BriefEvidence.CountsTraffic(brief)
            ? "page views: say that people looked"
            : string.Join(" and ", chosen.Select(c => c.Name));
        return Hint("", $"\"{found.Word}\" is not what is counted here. Counted are {honest}.") with
        {
            Word = found.Word,
        };
    }

    private static Problem Blocking(string field, string message) => new(field, message);

    private static Problem Hint(string field, string message) => Problem.Hint(field, message);

    private static readonly string[] TimeWords =
    [
        "just",
        "now",
        "today",
        "yesterday",
        "minutes ago",
        "hours ago",
        "this week",
    ];

    private static string? TypedTimeWord(string message) =>
        TimeWords.FirstOrDefault(w =>
            Regex.IsMatch(message, $@"\b{w}\b(?![^{{]*}}}})", RegexOptions.IgnoreCase, TimeSpan.FromSeconds(1))
        );

    // What is there and may not be shown is another thing than what is not there: the one is allowed at its source.
    private static string NotOffered(
        string token,
        IReadOnlyCollection<SourceOffer> chosen,
        IReadOnlyList<string> offered
    )
    {
        var keeping = chosen.FirstOrDefault(c =>
            token == EventTokens.Amount
                ? !c.Display.ShowAmount
                : c.Fields.Contains(token) && !c.Display.ShownFields.Contains(token)
        );
        return keeping is null
            ? $"Nothing is called \"{token}\" in these events. Offered are: {string.Join(", ", offered)}."
            : $"\"{token.Replace('_', ' ')}\" may not be shown yet. Allow it in the ledger: open the source \"{keeping.Name}\", then What visitors can see.";
    }
}
