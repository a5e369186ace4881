using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Pages;
using Outcry.Core.Rehearsing;
using Outcry.Server.Platform;
using Outcry.Server.RunSheet;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.Callouts;

/// <summary>A visitor's two minutes on one page, with the draft on air.</summary>
/// <param name="Who">Who it is, to go on with in a longer rehearsal.</param>
/// <param name="Assumed">What was taken for granted so that the visitor is in the segment.</param>
/// <param name="Does">What the visitor does so that the draft becomes due, each after "to".</param>
internal sealed record RehearsalView(
    string Path,
    IReadOnlyList<ShowingView> Showings,
    IReadOnlyList<NotShownView> NotShown,
    ImaginedVisitor Who,
    IReadOnlyList<string> Assumed,
    IReadOnlyList<string> Does
);

/// <summary>Rehearses a draft among everything that is live.</summary>
internal static class RehearseCallout
{
    public static async Task<Results<Ok<RehearsalView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid id,
        string path,
        [AsParameters] SheetQuery query,
        OutcryDb db,
        LiveSites sites,
        LookedCounter counter,
        IClock clock,
        CancellationToken stop
    )
    {
        var row = await db.FindDefinitionAsync(siteId, BriefKind.Callout, id, stop);
        if (row is null)
            return Problems.NotFound("callout");
        var site = sites.GetById(siteId);
        if (
            !path.StartsWith('/')
            || PageAddress.TryParse(new Uri(new Uri(site.HomeAddress), path).ToString()) is not { } page
        )
            return Problems.BadField("path", "The page must be a path of the site, such as /shop.");
        var now = clock.GetCurrentInstant();
        var (setting, problem) = query.Read(site, now);
        if (setting is null)
            return problem!;
        var snapshot = (await DraftSnapshot.TryMakeAsync(site, row, counter, now, stop))?.Site ?? site.Snapshot;
        var own = snapshot.Callouts.FirstOrDefault(c => c.Id == id)?.Targeting;
        var does = own is null ? TriggerActs.None : TriggerActs.For(own.Triggers, own.Facets.When.Join);
        var who = setting.Who with { PagesBefore = Math.Max(setting.Who.PagesBefore, does.PagesBefore) };
        var reading = Reading.TwoMinutes with { Acts = does.Acts };
        var played = reading.Play(snapshot.OnAir(), page, who, setting.At);
        var rehearsed = played.Read with { Outcome = played.Read.Outcome with { Showings = [.. played.Showings] } };
        return TypedResults.Ok(
            new RehearsalView(
                page.Path,
                ShowingView.Of(rehearsed, snapshot),
                NotShownView.Of(rehearsed, snapshot),
                who,
                setting.Assumed,
                does.Words
            )
        );
    }
}
