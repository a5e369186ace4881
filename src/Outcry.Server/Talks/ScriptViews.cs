using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Greetings;
using Outcry.Core.Publishing;
using Outcry.Core.Scripts;
using Outcry.Server.Platform;
using Outcry.Server.Publishing;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Talks;

/// <summary>A script with its draft and what is live of it.</summary>
internal sealed record ScriptView(
    Guid Id,
    string Name,
    DefinitionState State,
    int Revision,
    int DraftVersion,
    Script Draft,
    Script? Live,
    IReadOnlyList<ScriptProblemView> Problems,
    Instant ChangedAt,
    string ChangedBy,
    Instant? GoneAt
)
{
    public static ScriptView Of(DeskDefinition<Script> script)
    {
        var row = script.Row;
        return new ScriptView(
            row.Id,
            row.Name,
            row.State,
            row.Revision,
            row.DraftVersion,
            script.Draft,
            script.Live?.Content,
            [.. script.Problems.Select(p => new ScriptProblemView(p.Field, p.Message, p.Blocks))],
            row.ChangedAt,
            row.ChangedBy,
            row.DeletedAt + DefinitionQueries.Undo
        );
    }
}

/// <summary>Something in a script that cannot go live, or that its author should know; its field names the line.</summary>
internal sealed record ScriptProblemView(string Field, string Message, bool Blocks);

/// <param name="Purpose">What it is begun for.</param>
internal sealed record StartScriptRequest(ScriptPurpose Purpose);

/// <summary>A script to try, as an imagined visitor.</summary>
/// <param name="Script">As it is on the screen.</param>
/// <param name="Said">What the visitor says, in order.</param>
/// <param name="Language">BCP 47 tag.</param>
/// <param name="Path">Path of the page they are on.</param>
/// <param name="IsOpen">Whether the launcher is open.</param>
/// <param name="SomebodyHere">Whether somebody could take the talk.</param>
/// <param name="Segments">Segments they are in.</param>
/// <param name="IsKnown">Whether the site knows who they are.</param>
/// <param name="Today">The day at theirs; null for today.</param>
/// <param name="Region">Where they dial; empty for the site's.</param>
/// <param name="Tokens">What words can name; null for what they can name now.</param>
internal sealed record TryScriptRequest(
    Script Script,
    IReadOnlyList<string> Said,
    string Language,
    string Path,
    bool IsOpen,
    bool SomebodyHere,
    IReadOnlyList<Guid> Segments,
    bool IsKnown,
    LocalDate? Today = null,
    string Region = "",
    IReadOnlyDictionary<string, string>? Tokens = null
);

/// <param name="Said">Both sides in order: the visitor's words have no step.</param>
/// <param name="Waits">The step that waits for an answer.</param>
/// <param name="Passed">Steps that were taken, in order.</param>
/// <param name="As">As whom and when it was tried, to be tried so again.</param>
internal sealed record TriedScriptView(
    IReadOnlyList<TriedWordView> Said,
    IReadOnlyDictionary<string, KeptAnswer> Kept,
    Guid? Waits,
    bool IsOver,
    IReadOnlyList<Guid> Passed,
    TryAs As
);

/// <param name="Kind">What the script does; null for what the visitor says.</param>
internal sealed record TriedWordView(
    Guid? Step,
    OutputKind? Kind,
    string Text,
    IReadOnlyList<string> Replies,
    string Address
);

/// <param name="Talks">How many talks were counted: the latest thousand at most.</param>
/// <param name="Steps">How many of them came to each step.</param>
internal sealed record ScriptReachView(int Talks, IReadOnlyDictionary<Guid, int> Steps);

/// <summary>Begins scripts and tries them; drafting and publishing them is as with every definition.</summary>
internal static class ScriptDesk
{
    private const int MostSaid = 100;

    public static async Task<Ok<List<ScriptView>>> ListAsync(
        Guid siteId,
        DefinitionDesk<Script, LiveScript> desk,
        CancellationToken stop,
        bool archived = false,
        bool deleted = false
    ) =>
        TypedResults.Ok(
            (await desk.ListAsync(siteId, DefinitionQueries.ShelfOf(archived, deleted), stop)).ConvertAll(ScriptView.Of)
        );

    public static async Task<Results<Created<ScriptView>, ProblemHttpResult>> StartAsync(
        Guid siteId,
        StartScriptRequest request,
        DefinitionDesk<Script, LiveScript> desk,
        CancellationToken stop
    )
    {
        if (!Enum.IsDefined(request.Purpose))
            return Problems.BadField("purpose", "There is no such purpose.");
        var (made, refusal) = await desk.StartAsync(
            siteId,
            ScriptStarter.NameFor(request.Purpose),
            ScriptStarter.For(request.Purpose),
            stop
        );
        return made is null
            ? refusal!
            : TypedResults.Created($"/api/sites/{siteId}/scripts/{made.Row.Id}", ScriptView.Of(made));
    }

    /// <summary>Plays a script as it is on the screen; nothing is kept and nobody is told.</summary>
    public static Results<Ok<TriedScriptView>, ProblemHttpResult> Try(
        Guid siteId,
        TryScriptRequest request,
        LiveSites sites,
        IClock clock
    )
    {
        var site = sites.GetById(siteId);
        if (request.Said.Count > MostSaid)
            return Problems.BadField("said", $"At most {MostSaid} answers.");
        if (ScriptKind.Instance.TooLarge(request.Script) is { } large)
            return Problems.BadField("script", large);
        if (
            request.Script.Steps.Any(s =>
                s is null or { Kind: StepKind.Ask, Ask: null } or { Kind: StepKind.If or StepKind.ElseIf, If: null }
            )
        )
            return Problems.BadField("script", "A step is not written to its end yet.");
        var at = new TryAs(
            request.Language,
            request.Path,
            request.IsOpen,
            request.SomebodyHere,
            request.Segments,
            request.IsKnown,
            request.Today ?? clock.GetCurrentInstant().InZone(site.Zone).Date,
            request.Region.Length > 0 ? request.Region : site.Region,
            request.Tokens
                ?? TalkScripts.TokensAt(
                    site.Compiled.Values.OfType<Launcher>().FirstOrDefault(),
                    site.Zone,
                    request.Language,
                    request.IsOpen ? null : clock.GetCurrentInstant()
                )
        );
        if (at.In(request.Script, site.Context.Language) is not { } now)
            return Problems.BadField("path", "The path must begin with /.");
        var machine = new ScriptMachine(request.Script);
        var result = machine.Run(ScriptState.Start, null, now);
        var said = result.Outputs.Select(View).ToList();
        foreach (var words in request.Said)
        {
            if (result.State.IsOver)
                break;
            said.Add(new TriedWordView(null, null, words, [], ""));
            result = machine.Run(result.State, words, now);
            said.AddRange(result.Outputs.Select(View));
        }
        return TypedResults.Ok(
            new TriedScriptView(
                said,
                result.State.Kept,
                result.State.Waits,
                result.State.IsOver,
                result.State.Passed,
                at
            )
        );
    }

    /// <summary>How many of the latest talks came to each step.</summary>
    public static async Task<Ok<ScriptReachView>> ReachAsync(
        Guid siteId,
        Guid scriptId,
        OutcryDb db,
        CancellationToken stop
    )
    {
        var passed = await db
            .Talks.AsNoTracking()
            .Where(t => t.SiteId == siteId && t.ScriptId == scriptId && !t.IsTest && !t.IsBlocked)
            .OrderByDescending(t => t.BegunAt)
            .Take(MostCounted)
            .Select(t => t.Script)
            .ToListAsync(stop);
        return TypedResults.Ok(
            new ScriptReachView(
                passed.Count,
                passed.SelectMany(s => s!.Passed.Distinct()).CountBy(id => id).ToDictionary()
            )
        );
    }

    private const int MostCounted = 1_000;

    private static TriedWordView View(ScriptOutput output) =>
        new(output.Step, output.Kind, output.Text, output.Replies, output.Address);
}
