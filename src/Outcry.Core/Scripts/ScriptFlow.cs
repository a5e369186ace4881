namespace Outcry.Core.Scripts;

/// <summary>How the steps of a script follow one another; the machine and the check read it alike.</summary>
internal sealed class ScriptFlow
{
    private readonly IReadOnlyList<Step> _steps;
    private readonly Dictionary<Guid, int> _at;

    public ScriptFlow(Script script)
    {
        _steps = script.Steps;
        _at = [];
        for (var i = 0; i < _steps.Count; i++)
            _at.TryAdd(_steps[i].Id, i);
    }

    /// <summary>Place of a step; null where there is none.</summary>
    public int? At(Guid id) => _at.TryGetValue(id, out var at) ? at : null;

    /// <summary>The first step after those that stand under one.</summary>
    public int After(int at)
    {
        var next = at + 1;
        while (next < _steps.Count && _steps[next].Indent > _steps[at].Indent)
            next++;
        return next;
    }

    /// <summary>Whether steps stand under one.</summary>
    public bool HasUnder(int at) => at + 1 < _steps.Count && _steps[at + 1].Indent > _steps[at].Indent;

    /// <summary>Whether a step goes on a chain that began before it.</summary>
    public bool GoesOnChain(int at) => at < _steps.Count && _steps[at].Kind is StepKind.ElseIf or StepKind.Else;

    /// <summary>Where it goes on in order: past the rest of a chain of which a branch was taken.</summary>
    public int InOrder(int at)
    {
        while (GoesOnChain(at))
            at = After(at);
        return at;
    }

    /// <summary>Where it may go on after a step, in whatever circumstances; the number of steps stands for the end.</summary>
    public IEnumerable<int> Next(int at)
    {
        var step = _steps[at];
        switch (step.Kind)
        {
            case StepKind.End:
                yield break;
            case StepKind.GoTo:
                yield return step.Target is { } to && At(to) is { } place ? place : InOrder(at + 1);
                yield break;
            case StepKind.If or StepKind.ElseIf:
                yield return HasUnder(at) ? at + 1 : InOrder(After(at));
                yield return After(at);
                yield break;
            case StepKind.Else:
                yield return HasUnder(at) ? at + 1 : InOrder(After(at));
                yield break;
            case StepKind.HandOver:
                yield return HasUnder(at) ? at + 1 : InOrder(at + 1);
                yield break;
            case StepKind.Ask:
                foreach (var lead in Leads(step))
                    yield return lead;
                yield return InOrder(at + 1);
                yield break;
            default:
                yield return InOrder(at + 1);
                yield break;
        }
    }

    private IEnumerable<int> Leads(Step step) =>
        (step.Ask?.Leads ?? []).Select(l => l is { } to ? At(to) : null).OfType<int>();
}
