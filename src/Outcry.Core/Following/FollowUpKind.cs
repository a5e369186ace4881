using Outcry.Core.Publishing;
using Outcry.Core.Saying;

namespace Outcry.Core.Following;

/// <summary>Follow-ups as a kind of definition: their check and what they name.</summary>
public sealed class FollowUpKind : DefinitionKind<FollowUp, LiveFollowUp>
{
    /// <summary>The word by which they are kept.</summary>
    public const string Name = "followup";

    /// <summary>Steps of one follow-up.</summary>
    public const int MostSteps = 30;

    /// <summary>The longest wait, in minutes: 90 days.</summary>
    public const int LongestWait = 90 * 1_440;

    private const int LongestSubject = 120;
    private const int LongestText = 2_000;
    private const int LongestMessage = 600;
    private const int LongestButton = 40;
    private const int LongestTag = 30;
    private const int MostHours = 50;

    /// <summary>The only one: it holds nothing.</summary>
    public static FollowUpKind Instance { get; } = new();

    /// <inheritdoc/>
    public override string Noun => Name;

    /// <inheritdoc/>
    public override IReadOnlyList<Problem> Check(FollowUp content, CheckSetting setting) =>
        content is { After: FollowsAfter.Yes, DefinitionId: { } named } && !setting.IsLive(named)
            ?
            [
                .. Problems(content),
                Problem.Hint("after", "What it follows is not live: nobody new comes in until it is."),
            ]
            : Problems(content);

    /// <summary>Everything wrong or noteworthy, each at its line: "steps[2].words".</summary>
    public static IReadOnlyList<Problem> Problems(FollowUp follow)
    {
        var problems = new List<Problem>();
        if (follow is { After: FollowsAfter.Yes, DefinitionId: null })
            problems.Add(new Problem("after", "Choose the prompt or the script whose yes it follows."));
        if (follow.After == FollowsAfter.Tag && follow.Tag.Trim().Length is 0 or > LongestTag)
            problems.Add(new Problem("after", $"Name the tag that it follows: 1 to {LongestTag} characters."));
        if (follow.Steps.Count is 0 or > MostSteps)
            problems.Add(new Problem("steps", $"A follow-up has 1 to {MostSteps} steps."));
        if (follow.Steps.DistinctBy(s => s.Id).Count() < follow.Steps.Count)
            problems.Add(new Problem("steps", "A step stands there twice."));
        if (follow.Hours.Count > MostHours)
            problems.Add(new Problem("hours", $"At most {MostHours} stretches of hours."));
        if (follow.Steps.Count > 0 && follow.Steps.All(s => s.Kind == FollowKind.Wait))
            problems.Add(new Problem("steps", "It waits and does nothing: write something, or give a tag."));
        var languages = follow
            .Steps.Where(s => s.Writes)
            .SelectMany(s => s.Words)
            .Select(w => w.Language)
            .Where(l => l.Length > 0)
            .Distinct(StringComparer.OrdinalIgnoreCase)
            .ToList();
        for (var i = 0; i < follow.Steps.Count; i++)
            problems.AddRange(OfStep(follow, i, languages));
        return problems;
    }

    private static IEnumerable<Problem> OfStep(FollowUp follow, int at, List<string> languages)
    {
        var (step, field) = (follow.Steps[at], $"steps[{at}]");
        switch (step.Kind)
        {
            case FollowKind.Wait when step.Minutes is < 1 or > LongestWait:
                yield return new Problem($"{field}.minutes", "It waits 1 minute to 90 days.");
                break;
            case FollowKind.Wait when at == follow.Steps.Count - 1:
                yield return Problem.Hint($"{field}.minutes", "Nothing comes after this wait.");
                break;
            case FollowKind.Tag when step.Tag.Trim().Length is 0 or > LongestTag:
                yield return new Problem($"{field}.tag", $"A tag has 1 to {LongestTag} characters.");
                break;
            case FollowKind.Tag
                when follow.After == FollowsAfter.Tag
                    && step.Tag.Trim().Equals(follow.Tag.Trim(), StringComparison.OrdinalIgnoreCase):
                yield return Problem.Hint($"{field}.tag", "They have this tag: it is what they came in by.");
                break;
            case FollowKind.Mail:
                foreach (var problem in OfMail(step, field, languages))
                    yield return problem;
                foreach (var problem in TooSoon(follow, at, field))
                    yield return problem;
                break;
            case FollowKind.Text:
                foreach (var problem in OfText(step, field, languages).Concat(TooSoon(follow, at, field)))
                    yield return problem;
                break;
            case FollowKind.Tell when step.WebhookId is null:
                yield return new Problem($"{field}.webhookId", "Choose the webhook that is told.");
                break;
            case FollowKind.Tell when step.Tag.Length > LongestTag:
                yield return new Problem($"{field}.tag", $"Its word has at most {LongestTag} characters.");
                break;
        }
    }

    private static IEnumerable<Problem> TooSoon(FollowUp follow, int at, string field)
    {
        if (at > 0 && follow.Steps[at - 1].Writes)
            yield return Problem.Hint(field, "It follows what was written at once, so it goes out a day later.");
    }

    private static IEnumerable<Problem> OfText(FollowStep step, string field, List<string> languages)
    {
        if (step.Words.FirstOrDefault(w => w.Language.Length == 0) is not { } own || own.Text.Trim().Length == 0)
            yield return new Problem($"{field}.words", "Write its text.");
        foreach (var problem in Missing(step, field, languages))
            yield return problem;
        foreach (var words in step.Words.Where(w => w.Text.Trim().Length > 0))
        {
            if (words.Text.Length > LongestMessage)
                yield return new Problem($"{field}.words", $"A text message has at most {LongestMessage} characters.");
            if (MessageTemplate.TryParse(words.Text, out var error) is null)
                yield return new Problem($"{field}.words", error);
        }
    }

    private static IEnumerable<Problem> Missing(FollowStep step, string field, List<string> languages) =>
        languages
            .Where(l =>
                !step.Words.Any(w =>
                    w.Language.Equals(l, StringComparison.OrdinalIgnoreCase) && FollowText.IsWhole(step.Kind, w)
                )
            )
            .Select(l =>
                Problem.Hint(
                    $"{field}.words",
                    $"There is nothing in {LanguageTag.NameOf(l)} yet, or not all of it."
                ) with
                {
                    Word = l,
                }
            );

    private static IEnumerable<Problem> OfMail(FollowStep step, string field, List<string> languages)
    {
        var own = step.Words.FirstOrDefault(w => w.Language.Length == 0);
        if (own is null || own.Subject.Trim().Length == 0 || own.Text.Trim().Length == 0)
            yield return new Problem($"{field}.words", "Write its subject and its text.");
        foreach (var problem in Missing(step, field, languages))
            yield return problem;
        foreach (var words in step.Words)
        {
            if (words.Subject.Length > LongestSubject)
                yield return new Problem($"{field}.words", $"A subject has at most {LongestSubject} characters.");
            if (words.Text.Length > LongestText)
                yield return new Problem($"{field}.words", $"A text has at most {LongestText} characters.");
            if (words.Button.Length > LongestButton)
                yield return new Problem($"{field}.words", $"A button has at most {LongestButton} characters.");
            if (words.Subject.AsSpan().ContainsAny('\r', '\n'))
                yield return new Problem($"{field}.words", "A subject is one line.");
            foreach (
                var text in FollowText.Paragraphs(words.Text).Append(words.Subject).Where(t => t.Trim().Length > 0)
            )
                if (MessageTemplate.TryParse(text, out var error) is null)
                    yield return new Problem($"{field}.words", error);
        }
        var hasButton = step.Words.Any(w => w.Button.Trim().Length > 0);
        if (hasButton && (SafeLink.TryPass(step.Link) is null || step.Link.StartsWith('/')))
            yield return new Problem($"{field}.link", "The button needs an address that begins with https://.");
    }

    /// <inheritdoc/>
    public override LiveFollowUp Compile(Definition definition, FollowUp content, SiteContext context) =>
        new(definition, content);

    /// <inheritdoc/>
    public override References ReferencesOf(FollowUp content) =>
        new(
            new HashSet<Guid>(),
            new HashSet<Guid>(),
            content.GoalSourceId is { } goal ? new HashSet<Guid> { goal } : new HashSet<Guid>(),
            new HashSet<string>()
        );

    /// <inheritdoc/>
    public override string? TooLarge(FollowUp content) =>
        content.Steps.Count > 2 * MostSteps
        || content.Hours.Count > 4 * MostHours
        || content.Steps.Any(s =>
            s.Words.Count > 60 || s.Tag.Length > 200 || s.Words.Any(w => w.Text.Length > 4 * LongestText)
        )
            ? "The follow-up is larger than any that could be published."
            : null;
}
