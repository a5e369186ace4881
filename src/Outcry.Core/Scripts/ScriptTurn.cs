using NodaTime;
using Outcry.Core.Talks;

namespace Outcry.Core.Scripts;

/// <summary>Something that a script's turn adds to a talk.</summary>
/// <param name="Text">The words.</param>
/// <param name="ForVisitor">Whether the visitor reads it, too; else it tells the team what happened.</param>
/// <param name="Replies">Ready replies.</param>
/// <param name="Link">Address of an offer; empty for none.</param>
/// <param name="Pause">How long it is waited before the visitor sees it.</param>
public sealed record ScriptLine(
    string Text,
    bool ForVisitor,
    IReadOnlyList<string> Replies,
    string Link,
    Duration Pause
);

/// <summary>What a script makes of a talk in one go.</summary>
/// <param name="State">How the script stands then.</param>
/// <param name="Standing">How the talk stands then.</param>
/// <param name="Lines">What is added, in order.</param>
/// <param name="Email">An address at which they agreed to be written to; null for none.</param>
/// <param name="Name">How they said they are called; null for not.</param>
/// <param name="Group">The group that it was handed to; null for none in this turn.</param>
/// <param name="EndsAt">When silence ends it; null where it does not wait.</param>
public sealed record ScriptTurn(
    ScriptState State,
    TalkStanding Standing,
    IReadOnlyList<ScriptLine> Lines,
    string? Email,
    string? Name,
    Guid? Group,
    Instant? EndsAt
)
{
    private const int LongestName = 80;
    private static readonly Duration LongestPause = Duration.FromSeconds(3);

    // Somebody who types needs so long for a letter.
    private static readonly Duration Letter = Duration.FromMilliseconds(20);

    /// <summary>Goes on in a talk.</summary>
    /// <param name="script">The revision that the talk began with.</param>
    /// <param name="state">Where it stands.</param>
    /// <param name="standing">How the talk stands.</param>
    /// <param name="said">What the visitor said; null at the beginning.</param>
    /// <param name="lastAt">When the last word was said.</param>
    /// <param name="at">When this one was.</param>
    /// <param name="now">What can be known.</param>
    public static ScriptTurn GoOn(
        Script script,
        ScriptState state,
        TalkStanding standing,
        string? said,
        Instant lastAt,
        Instant at,
        Circumstances now
    )
    {
        List<ScriptLine> lines = [];
        // So long without a word ends it; what comes later begins at the top.
        if (said is not null && state.Waits is { } left && at - lastAt > Duration.FromMinutes(script.SilenceMinutes))
        {
            lines.Add(LeftAt(script, left));
            state = AtTheTop(state);
        }
        var result = new ScriptMachine(script).Run(state, state.Waits is null ? null : said, now);
        // While it asks, the visitor waits for nobody.
        standing = standing with
        {
            WaitingSince = null,
        };
        foreach (var output in result.Outputs)
            switch (output.Kind)
            {
                case OutputKind.HandOver:
                    lines.Add(Happened($"Handed over by the script. {Told(result.State)}".TrimEnd()));
                    standing = standing with
                    {
                        State = output.Member is null ? TalkState.Unclaimed : TalkState.Claimed,
                        MemberId = output.Member,
                        WaitingSince = at,
                    };
                    break;
                case OutputKind.NotOffered:
                    lines.Add(Happened(output.Text));
                    break;
                case OutputKind.Fault:
                    lines.Add(Happened($"The script could not go on: {output.Text}"));
                    standing = standing with { WaitingSince = at };
                    break;
                case OutputKind.End:
                    lines.Add(Happened($"The script has ended. {Told(result.State)}".TrimEnd()));
                    // Whoever left something waits for somebody to read it.
                    if (result.State.Kept.Count > 0)
                        standing = standing with { WaitingSince = at };
                    break;
                default:
                    lines.Add(
                        new ScriptLine(
                            output.Text,
                            ForVisitor: true,
                            output.Replies,
                            output.Address,
                            PauseBefore(script, output.Text)
                        )
                    );
                    break;
            }
        var (email, name) = ContactOf(script, result.State);
        return new ScriptTurn(
            result.State,
            standing,
            lines,
            email,
            name,
            result.Outputs.FirstOrDefault(o => o.Group is not null)?.Group,
            result.State is { IsOver: false, Waits: not null } ? at + Duration.FromMinutes(script.SilenceMinutes) : null
        );
    }

    /// <summary>Ends it because nothing was said for too long; whoever left an address waits for somebody to read it.</summary>
    public static ScriptTurn Leave(Script script, ScriptState state, TalkStanding standing, Instant at)
    {
        var (email, name) = ContactOf(script, state);
        return new ScriptTurn(
            AtTheTop(state),
            email is null || !standing.IsOpen ? standing : standing with { WaitingSince = standing.WaitingSince ?? at },
            state.Waits is { } left ? [LeftAt(script, left)] : [],
            email,
            name,
            Group: null,
            EndsAt: null
        );
    }

    /// <summary>How long a line waits as if somebody typed it: the script's own pace, and 20 ms a character, 3 s at most.</summary>
    public static Duration PauseBefore(Script script, string text) =>
        script.LineSeconds <= 0
            ? Duration.Zero
            : Duration.Min(
                LongestPause,
                Duration.FromMilliseconds((double)(script.LineSeconds * 1_000)) + (Letter * text.Length)
            );

    // Answers and steps that were passed stay: nothing that was said is lost.
    private static ScriptState AtTheTop(ScriptState state) => state with { Waits = null, Failed = 0 };

    private static ScriptLine LeftAt(Script script, Guid step) =>
        Happened($"Left at step {script.Steps.TakeWhile(s => s.Id != step).Count() + 1}.");

    private static ScriptLine Happened(string text) => new(text, ForVisitor: false, [], "", Duration.Zero);

    private static string Told(ScriptState state) =>
        string.Join(
            ", ",
            state.Kept.Where(k => k.Value.IsUnderstood).Select(k => $"{k.Key}: {FreeTimes.Say(k.Value.Value, "en")}")
        );

    // An address to which they agreed to be written, and the name they gave.
    private static (string? Email, string? Name) ContactOf(Script script, ScriptState state)
    {
        KeptAnswer? Of(AskKind kind) =>
            script
                .Steps.Where(s => s.Ask?.Kind == kind)
                .Select(s => state.Kept.GetValueOrDefault(s.Ask!.Field))
                .FirstOrDefault(k => k is { IsUnderstood: true });
        var email = Of(AskKind.Consent)?.Value == "yes" ? Of(AskKind.Email)?.Value : null;
        var name = state.Kept.GetValueOrDefault("name") is { IsUnderstood: true, Value.Length: <= LongestName } said
            ? said.Value
            : null;
        return (email, name);
    }
}
