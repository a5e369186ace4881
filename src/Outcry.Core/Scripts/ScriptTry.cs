using System.Collections.Immutable;

namespace Outcry.Core.Scripts;

/// <summary>A try that is kept and run before publishing.</summary>
/// <param name="Name">What it tries: "Ten people, handed to Workshops".</param>
/// <param name="Said">What the visitor says, in order.</param>
/// <param name="Now">In what circumstances.</param>
/// <param name="Passed">Steps that were taken when it was kept.</param>
/// <param name="Kept">Answers that were kept then.</param>
public sealed record ScriptTry(
    string Name,
    IReadOnlyList<string> Said,
    Circumstances Now,
    ImmutableList<Guid> Passed,
    ImmutableSortedDictionary<string, KeptAnswer> Kept
);

/// <summary>What a try came to.</summary>
/// <param name="Held">Steps that were taken as when it was kept.</param>
/// <param name="Of">Steps that were taken then.</param>
/// <param name="DiffersAt">The first step that is taken otherwise; null where none is.</param>
/// <param name="Instead">What is taken in its place; null where it ends there.</param>
/// <param name="Fields">Fields that are kept otherwise.</param>
public sealed record TryResult(int Held, int Of, Guid? DiffersAt, Guid? Instead, IReadOnlyList<string> Fields)
{
    /// <summary>Whether it goes as it went.</summary>
    public bool IsSame => DiffersAt is null && Instead is null && Fields.Count == 0;
}

/// <summary>Runs tries again.</summary>
public static class ScriptTries
{
    /// <summary>Plays what was said through a script.</summary>
    public static ScriptResult Play(Script script, IEnumerable<string> said, Circumstances now)
    {
        var machine = new ScriptMachine(script);
        var result = machine.Run(ScriptState.Start, null, now);
        var outputs = result.Outputs.ToList();
        foreach (var words in said)
        {
            result = machine.Run(result.State, words, now);
            outputs.AddRange(result.Outputs);
        }
        return result with { Outputs = outputs };
    }

    /// <summary>Keeps a try as it goes now.</summary>
    public static ScriptTry Keep(string name, Script script, IReadOnlyList<string> said, Circumstances now)
    {
        var state = Play(script, said, now).State;
        return new ScriptTry(name, said, now, state.Passed, state.Kept);
    }

    /// <summary>Tells how a try goes now beside how it went.</summary>
    public static TryResult Again(ScriptTry kept, Script script)
    {
        var state = Play(script, kept.Said, kept.Now).State;
        var held = kept.Passed.Zip(state.Passed).TakeWhile(p => p.First == p.Second).Count();
        var fields = kept
            .Kept.Keys.Union(state.Kept.Keys)
            .Where(f => kept.Kept.GetValueOrDefault(f) != state.Kept.GetValueOrDefault(f))
            .Order(StringComparer.Ordinal)
            .ToList();
        return new TryResult(
            held,
            kept.Passed.Count,
            held < kept.Passed.Count ? kept.Passed[held] : null,
            held < state.Passed.Count ? state.Passed[held] : null,
            fields
        );
    }
}
