using Outcry.Core.Publishing;

namespace Outcry.Core.Scripts;

/// <summary>A script that is live.</summary>
/// <param name="Definition">What it is known by.</param>
/// <param name="Script">As its author wrote it.</param>
public sealed record LiveScript(Definition Definition, Script Script);

/// <summary>Scripts as a kind of definition: their check and what they name.</summary>
public sealed class ScriptKind : DefinitionKind<Script, LiveScript>
{
    /// <summary>The word by which they are kept.</summary>
    public const string Name = "script";

    /// <summary>The only one: it holds nothing.</summary>
    public static ScriptKind Instance { get; } = new();

    /// <inheritdoc/>
    public override string Noun => Name;

    /// <inheritdoc/>
    public override IReadOnlyList<Problem> Check(Script content, CheckSetting setting) =>
        [
            .. ScriptCheck.Problems(content, setting.Context.Language, setting.Context.Segments.Keys.ToHashSet()),
            .. content
                .Steps.Index()
                .Where(s => s.Item is { Offers: OfferOf.Prompt, Offered: { } prompt } && !setting.IsLive(prompt))
                .Select(s =>
                    Problem.Hint(
                        $"steps[{s.Index}].offered",
                        "The prompt is not live. Until it is, these words stand without a button."
                    )
                ),
        ];

    /// <inheritdoc/>
    public override LiveScript Compile(Definition definition, Script content, SiteContext context) =>
        new(definition, content);

    /// <inheritdoc/>
    public override References ReferencesOf(Script content) =>
        new(
            content
                .Steps.Where(s => s.If is { On: ConditionOn.Segment })
                .Select(s => Guid.TryParse(s.If!.Value, out var id) ? id : Guid.Empty)
                .Where(id => id != Guid.Empty)
                .ToHashSet(),
            new HashSet<Guid>(),
            new HashSet<Guid>(),
            new HashSet<string>()
        );

    /// <inheritdoc/>
    public override string? TooLarge(Script content) =>
        content.Steps.Count > 2 * ScriptCheck.MostSteps
        || content.Tries.Count > 2 * ScriptCheck.MostTries
        || content.Tries.Any(t => t.Said.Count > 200 || t.Said.Any(w => w.Length > 4_000) || t.Passed.Count > 5_000)
        || content.Steps.Any(s =>
            s.Words.Count > 60 || s.Words.Any(w => w.Words.Length > 4_000 || w.Replies.Count > 50)
        )
            ? "The script is larger than any that could be published."
            : null;
}
