using System.Collections.Immutable;
using NodaTime;
using Outcry.Core.Greetings;
using Outcry.Core.Pages;

namespace Outcry.Core.Scripts;

/// <summary>As whom and when a script is tried.</summary>
/// <param name="Language">BCP 47 tag in which the talk is held.</param>
/// <param name="Path">Path of the page they are on.</param>
/// <param name="IsOpen">Whether the launcher is open.</param>
/// <param name="SomebodyHere">Whether somebody could take the talk: whoever the script hands to, and others.</param>
/// <param name="Segments">Segments they are in.</param>
/// <param name="IsKnown">Whether the site knows who they are.</param>
/// <param name="Today">The day at theirs.</param>
/// <param name="Region">Where numbers without a country code are dialled: ISO 3166-1, two letters.</param>
/// <param name="Tokens">What words can name besides kept answers.</param>
public sealed record TryAs(
    string Language,
    string Path,
    bool IsOpen,
    bool SomebodyHere,
    IReadOnlyList<Guid> Segments,
    bool IsKnown,
    LocalDate Today,
    string Region,
    IReadOnlyDictionary<string, string> Tokens
)
{
    // Somebody who is there and is named by nobody.
    private static readonly Guid Anybody = new("0198a000-0000-7000-8000-000000000001");

    /// <summary>What a script can know then; null where the path is none.</summary>
    /// <param name="script">The script: whoever it hands to by name is there with the others.</param>
    /// <param name="siteLanguage">BCP 47 tag of the site's own language.</param>
    public Circumstances? In(Script script, string siteLanguage) =>
        Path.StartsWith('/') && PageAddress.TryParse($"https://site.example{Path}") is { } page
            ? new Circumstances(
                Language,
                siteLanguage,
                page,
                Segments.ToHashSet(),
                IsKnown,
                IsOpen,
                SomebodyHere ? [.. script.Steps.Select(s => s.MemberId).OfType<Guid>().Distinct(), Anybody] : [],
                SomebodyHere ? script.Steps.Select(s => s.GroupId).OfType<Guid>().ToHashSet() : new HashSet<Guid>(),
                Today,
                Region,
                Tokens
            )
            {
                Times = script
                    .Steps.Where(s => s.Ask is { Kind: AskKind.Time, Times: not null })
                    .ToDictionary(
                        s => s.Id,
                        s =>
                            FreeTimes.Find(
                                AnyWeek,
                                s.Ask!.Times!,
                                Today.AtMidnight().InUtc().ToInstant(),
                                [],
                                DateTimeZone.Utc,
                                Language
                            )
                    ),
                // In a try everything that is offered is there.
                Offers = script
                    .Steps.Where(s => s is { Kind: StepKind.Offer, Offered: not null })
                    .ToDictionary(s => s.Id, _ => "channel"),
            }
            : null;

    // Imagined hours: which times are free is another matter on another day.
    private static OpeningHours AnyWeek { get; } = new("Etc/UTC", [], [], [], OnlyIfPresent: false);
}

/// <summary>A try that is kept and run before publishing.</summary>
/// <param name="Name">What it tries: "Ten people, handed to Workshops".</param>
/// <param name="Said">What the visitor says, in order.</param>
/// <param name="As">As whom, and when.</param>
/// <param name="Passed">Steps that were taken when it was kept.</param>
/// <param name="Kept">Answers that were kept then.</param>
public sealed record ScriptTry(
    string Name,
    IReadOnlyList<string> Said,
    TryAs As,
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
    public static ScriptTry Keep(string name, Script script, IReadOnlyList<string> said, TryAs at, string siteLanguage)
    {
        var state = At(script, said, at, siteLanguage);
        return new ScriptTry(name, said, at, state.Passed, state.Kept);
    }

    private static ScriptState At(Script script, IReadOnlyList<string> said, TryAs at, string siteLanguage) =>
        at.In(script, siteLanguage) is { } now ? Play(script, said, now).State : ScriptState.Start;

    /// <summary>Tells how a try goes now beside how it went.</summary>
    public static TryResult Again(ScriptTry kept, Script script, string siteLanguage)
    {
        var state = At(script, kept.Said, kept.As, siteLanguage);
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
