using System.Text.RegularExpressions;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;

namespace Outcry.Core.Scripts;

/// <summary>Finds what is wrong with a script while it is written, each at its line: "steps[4].ask.leads[1]".</summary>
public static partial class ScriptCheck
{
    /// <summary>Steps of one script.</summary>
    public const int MostSteps = 200;

    /// <summary>Ready replies of one question.</summary>
    public const int MostReplies = 8;

    /// <summary>Tries that are kept with one script.</summary>
    public const int MostTries = 30;

    private const int DeepestIndent = 8;
    private const int LongestWords = 1_000;
    private const int LongestReply = 80;
    private const int LongestField = 40;

    /// <summary>Everything wrong or noteworthy, in the order of the steps.</summary>
    /// <param name="script">The script.</param>
    /// <param name="language">BCP 47 tag of the site's own language.</param>
    /// <param name="segments">Segments that conditions may name.</param>
    public static IReadOnlyList<Problem> Problems(Script script, string language, IReadOnlySet<Guid> segments)
    {
        var problems = new List<Problem>();
        if (script.Steps.Count == 0)
            problems.Add(new Problem("steps", "A script needs a first step."));
        if (script.Steps.Count > MostSteps)
            problems.Add(new Problem("steps", $"At most {MostSteps} steps."));
        if (script.LineSeconds is < 0 or > 4)
            problems.Add(new Problem("lineSeconds", "Between 0 and 4 seconds before each line."));
        if (script.SilenceMinutes is < 1 or > 1_440)
            problems.Add(new Problem("silenceMinutes", "Between 1 minute and 24 hours of silence."));
        if (script.Steps.DistinctBy(s => s.Id).Count() < script.Steps.Count)
            problems.Add(new Problem("steps", "A step stands there twice."));
        if (problems.Any(p => p.Blocks))
            return problems;
        var languages = script
            .Steps.SelectMany(s => s.Words)
            .Select(w => w.Language)
            .Where(l => l.Length > 0)
            .Distinct(StringComparer.OrdinalIgnoreCase)
            .ToList();
        for (var i = 0; i < script.Steps.Count; i++)
            problems.AddRange(OfStep(script, i, languages, segments));
        problems.AddRange(OfFlow(script));
        // A script with faults cannot be run to its end; what it would do is told once they are mended.
        if (!problems.Any(p => p.Blocks))
            problems.AddRange(OfTries(script, language));
        return [.. problems.OrderBy(p => LineOf(p.Field))];
    }

    private static IEnumerable<Problem> OfTries(Script script, string language)
    {
        if (script.Tries.Count > MostTries)
            yield return new Problem("tries", $"At most {MostTries} tries are kept.");
        for (var i = 0; i < script.Tries.Count; i++)
        {
            var kept = script.Tries[i];
            if (kept.Name.Trim().Length is 0 or > LongestReply)
                yield return new Problem($"tries[{i}]", $"A try has a name of 1 to {LongestReply} characters.");
            else if (ScriptTries.Again(kept, script, language) is { IsSame: false } otherwise)
                yield return new Problem($"tries[{i}]", $"\"{kept.Name}\" {Otherwise(script, otherwise)}");
        }
    }

    private static string Otherwise(Script script, TryResult result)
    {
        if (result is { DiffersAt: null, Instead: null })
            return $"keeps {string.Join(", ", result.Fields)} otherwise than it did.";
        var went = result.DiffersAt is { } before ? NameOf(script, before) : "its end";
        var goes = result.Instead is { } now ? NameOf(script, now) : "it ends there";
        return $"goes {result.Held} of {result.Of} steps as it went, and then otherwise: {goes} in place of {went}.";
    }

    private static string NameOf(Script script, Guid id)
    {
        var at = script.Steps.TakeWhile(s => s.Id != id).Count();
        return at == script.Steps.Count ? "a step that is gone" : $"step {at + 1}";
    }

    // Problems stand in the order of their lines; those of the whole stand first.
    private static int LineOf(string field) =>
        LineForm().Match(field) is { Success: true } match
            ? int.Parse(match.Groups[1].Value, System.Globalization.CultureInfo.InvariantCulture)
            : -1;

    private static IEnumerable<Problem> OfStep(
        Script script,
        int at,
        List<string> languages,
        IReadOnlySet<Guid> segments
    )
    {
        var step = script.Steps[at];
        var field = $"steps[{at}]";
        var above = at == 0 ? null : script.Steps[at - 1];
        var deepest = above is null ? 0 : above.Indent + (TakesSteps(above) ? 1 : 0);
        if (step.Indent < 0 || step.Indent > Math.Min(deepest, DeepestIndent))
            yield return new Problem(field, "It stands deeper than anything it could belong to.");
        if (step.Kind is StepKind.ElseIf or StepKind.Else && !FollowsIf(script, at))
            yield return new Problem(field, "There is no If before it that this could go on.");
        foreach (var problem in OfWords(step, field, languages))
            yield return problem;
        foreach (var problem in step.Kind == StepKind.Ask ? OfQuestion(script, step, field) : [])
            yield return problem;
        if (step.Kind is StepKind.If or StepKind.ElseIf)
            foreach (var problem in OfCondition(script, at, segments))
                yield return problem;
        if (step.Kind == StepKind.Keep && step.Field.Trim().Length is 0 or > LongestField)
            yield return new Problem($"{field}.field", $"Name the field: 1 to {LongestField} characters.");
        if (step is { Kind: StepKind.Offer, Offers: not OfferOf.Address, Offered: null })
            yield return new Problem(
                $"{field}.offered",
                step.Offers == OfferOf.Prompt ? "Choose the prompt it offers." : "Choose the channel it offers."
            );
        if (step is { Kind: StepKind.Offer, Offers: OfferOf.Address } && SafeLink.TryPass(step.Value) is null)
            yield return new Problem(
                $"{field}.value",
                "An offer needs an address that begins with https:// or with /."
            );
        if (step.Kind == StepKind.GoTo && !Has(script, step.Target))
            yield return new Problem($"{field}.target", "Choose the step to go to.");
        if (step is { Kind: StepKind.HandOver, To: HandTo.Member, MemberId: null })
            yield return new Problem($"{field}.memberId", "Choose whom it goes to.");
        if (step is { Kind: StepKind.HandOver, To: HandTo.Group, GroupId: null })
            yield return new Problem($"{field}.groupId", "Choose the group it goes to.");
    }

    private static bool TakesSteps(Step step) =>
        step.Kind is StepKind.If or StepKind.ElseIf or StepKind.Else or StepKind.HandOver;

    private static bool Has(Script script, Guid? step) => script.Steps.Any(s => s.Id == step);

    private static bool FollowsIf(Script script, int at)
    {
        var indent = script.Steps[at].Indent;
        for (var i = at - 1; i >= 0 && script.Steps[i].Indent >= indent; i--)
            if (script.Steps[i].Indent == indent)
                return script.Steps[i].Kind is StepKind.If or StepKind.ElseIf;
        return false;
    }

    private static IEnumerable<Problem> OfWords(Step step, string field, List<string> languages)
    {
        if (step.Kind is not (StepKind.Say or StepKind.Ask or StepKind.Offer))
            yield break;
        var own = step.Words.FirstOrDefault(w => w.Language.Length == 0);
        if (own is null || own.Words.Trim().Length == 0)
            yield return new Problem($"{field}.words", "Write what it says.");
        foreach (var language in languages)
            if (
                !step.Words.Any(w => w.Language.Equals(language, StringComparison.OrdinalIgnoreCase) && IsWhole(w, own))
            )
                yield return Problem.Hint(
                    $"{field}.words",
                    $"There is nothing in {LanguageTag.NameOf(language)} yet, or not all of it."
                ) with
                {
                    Word = language,
                };
        foreach (var words in step.Words)
        {
            if (words.Words.Length > LongestWords || words.Retry.Length > LongestWords)
                yield return new Problem($"{field}.words", $"At most {LongestWords} characters.");
            else if (MessageTemplate.TryParse(words.Words, out var error) is null)
                yield return new Problem($"{field}.words", error);
            if (TimeInWords().Match(words.Words) is { Success: true } time)
                yield return Problem.Hint(
                    $"{field}.words",
                    $"\"{time.Value}\" stays so for ever. The next opening is a token: {{{{ next_opening }}}}."
                ) with
                {
                    Word = time.Value,
                };
        }
    }

    private static bool IsWhole(StepWords words, StepWords? own) =>
        words.Words.Trim().Length > 0
        && words.Replies.Count == (own?.Replies.Count ?? 0)
        && words.Replies.All(r => r.Trim().Length > 0);

    private static bool AsksForAddress(Script script) =>
        script.Steps.Any(s => s.Ask?.Kind == AskKind.Email) && script.Steps.Any(s => s.Ask?.Kind == AskKind.Consent);

    private static string? OfTimes(TimeOffer? times) =>
        times is null ? "Say which times are offered."
        : times.Title.Trim().Length is 0 or > LongestReply
            ? $"Name what is booked, in 1 to {LongestReply} characters: the invitation is called so."
        : times.Minutes is < 5 or > 480 ? "It takes 5 minutes to 8 hours."
        : times.NoticeHours is < 0 or > 336 ? "It is chosen at least 0 to 336 hours before."
        : times.DaysAhead is < 1 or > 60 ? "It is chosen 1 to 60 days ahead."
        : null;

    private static IEnumerable<Problem> OfQuestion(Script script, Step step, string field)
    {
        if (step.Ask is not { } ask)
        {
            yield return new Problem($"{field}.ask", "Choose what it asks for.");
            yield break;
        }
        var replies = step.Words.Count > 0 ? step.Words[0].Replies : [];
        if (replies.Count > MostReplies)
            yield return new Problem($"{field}.words", $"At most {MostReplies} ready replies.");
        if (replies.Any(r => r.Trim().Length is 0 or > LongestReply))
            yield return new Problem($"{field}.words", $"A ready reply has 1 to {LongestReply} characters.");
        if (ask.Kind == AskKind.Choice && replies.Count == 0)
            yield return new Problem($"{field}.words", "A choice needs ready replies.");
        if (ask.Kind == AskKind.Consent && replies.Count != 2)
            yield return new Problem($"{field}.words", "Consent needs two ready replies: a yes, then a no.");
        if (ask.Kind == AskKind.Time && OfTimes(ask.Times) is { } objection)
            yield return new Problem($"{field}.ask.times", objection);
        if (ask.Kind == AskKind.Time && !AsksForAddress(script))
            yield return Problem.Hint(
                $"{field}.ask",
                "Without an e-mail address and consent, no invitation can be sent: ask for both as well."
            );
        if (ask.Field.Length > LongestField)
            yield return new Problem($"{field}.ask.field", $"At most {LongestField} characters.");
        if (ask.Field.Trim().Length == 0)
            yield return Problem.Hint($"{field}.ask.field", "The answer is kept nowhere.");
        if (ask.Least > ask.Most)
            yield return new Problem($"{field}.ask.least", "The least is more than the most.");
        for (var i = 0; i < ask.Leads.Count; i++)
            if (ask.Leads[i] is not null && !Has(script, ask.Leads[i]))
                yield return new Problem($"{field}.ask.leads[{i}]", "This reply leads to a step that is not there.");
    }

    private static IEnumerable<Problem> OfCondition(Script script, int at, IReadOnlySet<Guid> segments)
    {
        var (step, field) = (script.Steps[at], $"steps[{at}].if");
        if (step.If is not { } condition)
        {
            yield return new Problem(field, "Choose when the steps under it are taken.");
            yield break;
        }
        if (condition.On == ConditionOn.Answer && !IsKeptOnTheWay(script, at, condition.Field))
            yield return new Problem(
                $"{field}.field",
                $"\"{condition.Field}\" is never asked or kept on the way here."
            );
        if (
            condition.On == ConditionOn.Segment
            && !(Guid.TryParse(condition.Value, out var id) && segments.Contains(id))
        )
            yield return new Problem($"{field}.value", "The segment is not there.");
        if (condition.On == ConditionOn.Page && Pages.PagePattern.TryParse(condition.Value, out var error) is null)
            yield return new Problem($"{field}.value", error);
    }

    // Whether some way from the first step passes one that keeps the field.
    private static bool IsKeptOnTheWay(Script script, int at, string field)
    {
        var flow = new ScriptFlow(script);
        for (var i = 0; i < script.Steps.Count; i++)
        {
            var step = script.Steps[i];
            var keeps =
                (step.Kind == StepKind.Ask && step.Ask?.Field == field)
                || (step.Kind == StepKind.Keep && step.Field == field);
            if (keeps && Reached(script, flow, i).Contains(at))
                return true;
        }
        return false;
    }

    private static IEnumerable<Problem> OfFlow(Script script)
    {
        var flow = new ScriptFlow(script);
        var reached = Reached(script, flow, 0);
        for (var i = 0; i < script.Steps.Count; i++)
            if (!reached.Contains(i))
                yield return Problem.Hint($"steps[{i}]", "No way leads here.");
        if (CircleAt(script, flow) is { } at)
            yield return new Problem($"steps[{at}]", "It would go round for ever: nothing is asked on the way.");
        // An address that is kept before anybody agreed to be written to.
        var asked = script.Steps.ToList();
        var consent = asked.FindIndex(s => s.Ask?.Kind == AskKind.Consent);
        for (var i = 0; i < asked.Count; i++)
            if (asked[i].Ask?.Kind is AskKind.Email or AskKind.Phone && (consent < 0 || consent > i))
                yield return Problem.Hint(
                    $"steps[{i}].ask",
                    "It keeps an address before it is asked whether the team may write there."
                );
    }

    private static HashSet<int> Reached(Script script, ScriptFlow flow, int from)
    {
        var reached = new HashSet<int>();
        var open = new Stack<int>([from]);
        while (open.TryPop(out var at))
            if (at < script.Steps.Count && reached.Add(at))
                foreach (var next in flow.Next(at))
                    open.Push(next);
        return reached;
    }

    // A step from which one comes back to it without a question.
    private static int? CircleAt(Script script, ScriptFlow flow)
    {
        for (var from = 0; from < script.Steps.Count; from++)
        {
            if (script.Steps[from].Kind != StepKind.GoTo)
                continue;
            var seen = new HashSet<int>();
            var open = new Stack<int>(flow.Next(from));
            while (open.TryPop(out var at))
            {
                if (at == from)
                    return from;
                if (at < script.Steps.Count && script.Steps[at].Kind != StepKind.Ask && seen.Add(at))
                    foreach (var next in flow.Next(at))
                        open.Push(next);
            }
        }
        return null;
    }

    [GeneratedRegex(@"^steps\[(\d+)\]")]
    private static partial Regex LineForm();

    [GeneratedRegex(
        @"\b(?:mon|tues|wednes|thurs|fri|satur|sun)day\b|\b\d{1,2}[:.]\d{2}\b|\b\d{1,2}\s?(?:am|pm)\b",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex TimeInWords();
}
