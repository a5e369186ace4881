using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Outcry.Core.Briefs;
using Outcry.Core.Greetings;
using Outcry.Core.Publishing;
using Outcry.Server.Platform;
using Outcry.Server.Publishing;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.Launchers;

/// <summary>Begins a launcher with start values that are good enough to leave alone, and lists those there are.</summary>
internal static class StartLauncher
{
    public static async Task<Ok<List<LauncherView>>> ListAsync(
        Guid siteId,
        DefinitionDesk<LauncherBrief, Launcher> desk,
        CancellationToken stop,
        bool archived = false,
        bool deleted = false
    ) =>
        TypedResults.Ok(
            (await desk.ListAsync(siteId, DefinitionQueries.ShelfOf(archived, deleted), stop)).ConvertAll(
                LauncherView.Of
            )
        );

    public static async Task<Results<Created<LauncherView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        OutcryDb db,
        LiveSites sites,
        DefinitionDesk<LauncherBrief, Launcher> desk,
        CancellationToken stop
    )
    {
        var site = sites.GetById(siteId);
        // What went live last says best which colours the site speaks in.
        var look = site
            .Callouts.Where(c => c.State == DefinitionState.Live)
            .MaxBy(c => c.Targeting.Definition.CreatedAt)
            ?.Brief.Look;
        var brief = LauncherStarter.Launcher(
            site.Zone.Id,
            look?.Band ?? StarterBrief.Band,
            look?.Ground ?? StarterBrief.Ground
        );
        // One more looks like the one before: a visitor who meets both is on one site.
        if (
            site.Launchers.Where(l => l.Definition.State == DefinitionState.Live).MaxBy(l => l.Definition.CreatedAt) is
            { } before
        )
            brief = brief with { Look = before.Brief.Look };
        if (await db.Sites.Where(s => s.Id == siteId).Select(s => s.Kit).FirstAsync(stop) is { } kit)
            brief = LauncherKind.Instance.Dress(brief, kit);
        var taken = await db.DefinitionsOf(siteId, LauncherKind.Launcher).CountAsync(stop);
        var name = taken == 0 ? "A new launcher" : $"A new launcher {taken + 1}";
        var (made, refusal) = await desk.StartAsync(siteId, name, brief, stop);
        return made is null
            ? refusal!
            : TypedResults.Created($"/api/sites/{siteId}/launchers/{made.Row.Id}", LauncherView.Of(made));
    }
}

/// <summary>What somebody wants to greet for.</summary>
/// <param name="Purpose">The purpose.</param>
internal sealed record StartGreetingRequest(GreetingPurpose Purpose);

/// <summary>A greeting for a purpose, to be put on a ladder and changed in every part.</summary>
internal static class StartGreeting
{
    public static Results<Ok<Rung>, ProblemHttpResult> Handle(Guid siteId, StartGreetingRequest body, LiveSites sites)
    {
        _ = sites.GetById(siteId);
        // The JSON reader takes a number for a choice, too.
        return Enum.IsDefined(body.Purpose)
            ? TypedResults.Ok(LauncherStarter.Rung(body.Purpose))
            : Problems.BadField("purpose", "There is no such purpose.");
    }
}
