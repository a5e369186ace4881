using System.Globalization;
using Outcry.Core.Pages;
using Outcry.Core.Saying;

namespace Outcry.Core.Scripts;

/// <summary>
/// Runs a script: from where it stands, with what the visitor said, to the next question, hand-over or end. Pure: the same in gives the same out; it never blocks
/// and never takes more than <see cref="MostSteps"/> steps.
/// </summary>
public sealed class ScriptMachine
{
    /// <summary>Steps without a question after which something is wrong with the script.</summary>
    public const int MostSteps = 100;

    /// <summary>So often an answer may make no sense before the question is given up.</summary>
    public const int MostRetries = 2;

    private readonly Script _script;
    private readonly ScriptFlow _flow;

    /// <summary>Makes a script ready to run.</summary>
    public ScriptMachine(Script script) => (_script, _flow) = (script, new ScriptFlow(script));

    /// <summary>Goes on.</summary>
    /// <param name="state">Where it stands.</param>
    /// <param name="said">What the visitor said; null at the beginning.</param>
    /// <param name="now">What can be known.</param>
    public ScriptResult Run(ScriptState state, string? said, Circumstances now)
    {
        if (state.IsOver)
            return new ScriptResult(state, []);
        var walk = new Walk(this, state, now);
        if (state.Waits is not { } waits)
            walk.From(_flow.InOrder(0));
        // A script that was changed under a talk keeps its revision, so the step is there; if not, it begins anew.
        else if (_flow.At(waits) is not { } at)
            walk.From(_flow.InOrder(0));
        else if (said is not null)
            walk.Answer(at, said);
        return walk.Result;
    }

    /// <summary>A step's words in the talk's language, else the site's own.</summary>
    public static StepWords WordsOf(IReadOnlyList<StepWords> words, Circumstances now)
    {
        if (words.Count == 0)
            return new StepWords("", "", [], "");
        var languages = words.Select(w => w.Language.Length > 0 ? w.Language : now.SiteLanguage).ToList();
        var chosen = LanguageTag.Choose([now.Language], languages);
        var place = chosen is null ? 0 : languages.FindIndex(l => l.Equals(chosen, StringComparison.OrdinalIgnoreCase));
        return words[Math.Max(0, place)];
    }

    /// <summary>A question's words in the talk's language; the replies of one for a time are the times that are free.</summary>
    public static StepWords WordsAt(Step step, Circumstances now)
    {
        var words = WordsOf(step.Words, now);
        return step.Ask is { Kind: AskKind.Time }
            ? words with
            {
                Replies = [.. (now.Times.GetValueOrDefault(step.Id) ?? []).Select(t => t.Label)],
            }
            : words;
    }

    private sealed class Walk(ScriptMachine machine, ScriptState state, Circumstances now)
    {
        private readonly List<ScriptOutput> _outputs = [];
        private ScriptState _state = state;

        public ScriptResult Result => new(_state, _outputs);

        public void Answer(int at, string said)
        {
            var step = machine._script.Steps[at];
            var question = step.Ask!;
            var words = WordsAt(step, now);
            if (AnswerReader.Read(question, words, said, now) is { } read)
            {
                Keep(question.Field, new KeptAnswer(read.Value, said, IsUnderstood: true));
                var lead = read.Reply is { } reply && reply < question.Leads.Count ? question.Leads[reply] : null;
                From(lead is { } to && machine._flow.At(to) is { } place ? place : machine._flow.InOrder(at + 1));
            }
            else if (_state.Failed < MostRetries)
            {
                _state = _state with { Failed = _state.Failed + 1 };
                Ask(step, words.Retry.Length > 0 ? words.Retry : words.Words, words);
            }
            else
            {
                // Nobody is ever trapped: the field stays empty, and it goes on.
                Keep(question.Field, new KeptAnswer("", said, IsUnderstood: false));
                From(machine._flow.InOrder(at + 1));
            }
        }

        public void From(int at)
        {
            _state = _state with { Waits = null, Failed = 0 };
            for (var taken = 0; at < machine._script.Steps.Count; taken++)
            {
                if (taken == MostSteps)
                {
                    Fault(machine._script.Steps[at]);
                    return;
                }
                var step = machine._script.Steps[at];
                _state = _state with { Passed = _state.Passed.Add(step.Id) };
                if (Take(step, at) is not { } next)
                    return;
                at = next;
            }
            End(null);
        }

        // Where it goes on; null where it waits or is over.
        private int? Take(Step step, int at)
        {
            var flow = machine._flow;
            switch (step.Kind)
            {
                case StepKind.Say:
                    Say(step.Id, WordsOf(step.Words, now).Words);
                    return flow.InOrder(at + 1);
                case StepKind.Ask:
                    var words = WordsAt(step, now);
                    if (step.Ask is { Kind: AskKind.Time } time && words.Replies.Count == 0)
                    {
                        // Nothing is free: nobody is asked to choose from nothing.
                        Keep(time.Field, new KeptAnswer("", "", IsUnderstood: false));
                        return flow.InOrder(at + 1);
                    }
                    Ask(step, words.Words, words);
                    return null;
                case StepKind.If or StepKind.ElseIf:
                    return !Holds(step.If!) ? flow.After(at)
                        : flow.HasUnder(at) ? at + 1
                        : flow.InOrder(flow.After(at));
                case StepKind.Else:
                    return flow.HasUnder(at) ? at + 1 : flow.InOrder(flow.After(at));
                case StepKind.Keep:
                    var value = Fill(step.Value);
                    Keep(step.Field, new KeptAnswer(value, value, IsUnderstood: true));
                    return flow.InOrder(at + 1);
                case StepKind.HandOver:
                    return HandOver(step, at);
                case StepKind.Offer:
                    Offer(step, at);
                    return flow.InOrder(at + 1);
                case StepKind.GoTo:
                    return step.Target is { } to && flow.At(to) is { } place ? place : flow.InOrder(at + 1);
                default:
                    End(step);
                    return null;
            }
        }

        // What cannot be pressed is not offered: the script goes on, and the team reads why.
        private void Offer(Step step, int at)
        {
            var leads = step.Offers == OfferOf.Address ? step.Value : now.Offers.GetValueOrDefault(step.Id, "");
            _outputs.Add(
                leads.Length > 0
                    ? new ScriptOutput(step.Id, OutputKind.Offer, Fill(WordsOf(step.Words, now).Words), [], leads)
                    : new ScriptOutput(
                        step.Id,
                        OutputKind.NotOffered,
                        $"Step {at + 1} offered nothing: {WhyNothing(step.Offers)}",
                        []
                    )
            );
        }

        private static string WhyNothing(OfferOf offers) =>
            offers == OfferOf.Prompt
                ? "its prompt is not live, not for this page, or they have said yes to one already."
                : "its channel is not there any more, or closed now.";

        private int? HandOver(Step step, int at)
        {
            var flow = machine._flow;
            Guid? to = step.To switch
            {
                HandTo.Member => now.Here.Contains(step.MemberId ?? Guid.Empty) ? step.MemberId : null,
                HandTo.FewestTalks => now.Here.Count > 0 ? now.Here[0] : null,
                _ => null,
            };
            var isSomebodyHere = step.To switch
            {
                HandTo.WhoeverIsHere => now.Here.Count > 0,
                HandTo.Group => step.GroupId is { } group && now.GroupsHere.Contains(group),
                _ => to is not null,
            };
            if (!isSomebodyHere)
                return flow.HasUnder(at) ? at + 1 : flow.InOrder(at + 1);
            Say(step.Id, WordsOf(step.Words, now).Words);
            _outputs.Add(
                new ScriptOutput(
                    step.Id,
                    OutputKind.HandOver,
                    "",
                    [],
                    Member: to,
                    Group: step.To == HandTo.Group ? step.GroupId : null
                )
            );
            _state = _state with { IsOver = true };
            return null;
        }

        private void Ask(Step step, string text, StepWords words)
        {
            _outputs.Add(new ScriptOutput(step.Id, OutputKind.Ask, Fill(text), words.Replies));
            _state = _state with { Waits = step.Id };
        }

        private void Say(Guid step, string text)
        {
            if (text.Length > 0)
                _outputs.Add(new ScriptOutput(step, OutputKind.Say, Fill(text), []));
        }

        private void End(Step? step)
        {
            if (step is not null)
                Say(step.Id, WordsOf(step.Words, now).Words);
            _outputs.Add(new ScriptOutput(step?.Id ?? Guid.Empty, OutputKind.End, "", []));
            _state = _state with { IsOver = true };
        }

        private void Fault(Step step)
        {
            Say(step.Id, WordsOf(machine._script.Fault, now).Words);
            _outputs.Add(
                new ScriptOutput(step.Id, OutputKind.Fault, $"It took {MostSteps} steps without a question.", [])
            );
            if (now.Here.Count > 0)
                _outputs.Add(new ScriptOutput(step.Id, OutputKind.HandOver, "", []));
            _state = _state with { IsOver = true };
        }

        private void Keep(string field, KeptAnswer answer)
        {
            if (field.Length > 0)
                _state = _state with { Kept = _state.Kept.SetItem(field, answer) };
        }

        private bool Holds(ScriptCondition condition)
        {
            var kept = condition.On == ConditionOn.Answer ? _state.Kept.GetValueOrDefault(condition.Field) : null;
            if (condition.Comparison == ConditionTest.IsKept)
                return kept is { IsUnderstood: true };
            if (condition.On == ConditionOn.Page)
                return (PagePattern.TryParse(condition.Value, out _)?.Matches(now.Page) == true)
                    == (condition.Comparison != ConditionTest.IsNot);
            var value = condition.On switch
            {
                ConditionOn.Answer => kept?.Value ?? "",
                ConditionOn.Open => YesNo(now.IsOpen),
                ConditionOn.SomebodyHere => YesNo(now.Here.Count > 0),
                ConditionOn.Language => now.Language.Split('-')[0],
                ConditionOn.Segment => Guid.TryParse(condition.Value, out var id) && now.Segments.Contains(id)
                    ? condition.Value
                    : "",
                _ => YesNo(now.IsKnown),
            };
            return condition.Comparison switch
            {
                ConditionTest.Is => value.Equals(condition.Value, StringComparison.OrdinalIgnoreCase),
                ConditionTest.IsNot => !value.Equals(condition.Value, StringComparison.OrdinalIgnoreCase),
                ConditionTest.Contains => value.Contains(condition.Value, StringComparison.OrdinalIgnoreCase),
                _ => Compare(value, condition),
            };
        }

        private bool Compare(string value, ScriptCondition condition)
        {
            // A kept number is in invariant figures; "more than eight", a ready reply, is read as it is written.
            var number = decimal.TryParse(value, NumberStyles.Number, CultureInfo.InvariantCulture, out var figure)
                ? figure
                : AnswerReader.NumberIn(value, now.Language);
            return decimal.TryParse(condition.Value, NumberStyles.Number, CultureInfo.InvariantCulture, out var than)
                && (condition.Comparison == ConditionTest.MoreThan ? number > than : number < than);
        }

        private static string YesNo(bool holds) => holds ? "yes" : "no";

        private string Fill(string text)
        {
            if (
                !text.Contains('{', StringComparison.Ordinal)
                || MessageTemplate.TryParse(text, out _) is not { } template
            )
                return text;
            var values = new TokenValues();
            foreach (var (token, value) in now.Tokens)
                values[token] = value;
            foreach (var (field, answer) in _state.Kept)
                values[field] = FreeTimes.Say(answer.Value, now.Language);
            try
            {
                return string.Concat(template.Render(values).Select(s => s.Text));
            }
            catch (WordingException)
            {
                return text;
            }
        }
    }
}
