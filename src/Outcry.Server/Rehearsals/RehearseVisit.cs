using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using NodaTime.Text;
using Outcry.Core.Briefs;
using Outcry.Core.Planning;
using Outcry.Core.Rehearsing;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;
using Outcry.Server.Callouts;
using Outcry.Server.Platform;
using Outcry.Server.RunSheet;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.Rehearsals;

/// <summary>A visit to be played.</summary>
/// <param name="Visitor">Who visits.</param>
/// <param name="Pages">The pages in order, 1 to 40.</param>
/// <param name="At">Local date and time in the site's time zone at which it begins; null for now.</param>
/// <param name="Before">The visitor before one fact was changed: what that changes is told then.</param>
/// <param name="Draft">A callout whose draft is on air in place of what is live of it.</param>
internal sealed record RehearsalRequest(
    ImaginedVisitor Visitor,
    IReadOnlyList<PlannedPage> Pages,
    string? At = null,
    ImaginedVisitor? Before = null,
    Guid? Draft = null
);

/// <param name="StartsMs">Milliseconds since the visit began.</param>
/// <param name="Changes">What the changed fact changes here, clause by clause.</param>
internal sealed record PlayedPageView(
    string Path,
    long StartsMs,
    long StayMs,
    IReadOnlyList<ShowingView> Showings,
    IReadOnlyList<NotShownView> NotShown,
    IReadOnlyList<string> Changes,
    StandsView? Launcher
);

/// <summary>The launcher that stands on a page.</summary>
internal sealed record StandsView(Guid Id, string Name, bool IsOpen);

/// <param name="At">When the visit begins.</param>
/// <param name="Segments">Segments the visitor belongs to on the first page.</param>
internal sealed record PlayedVisitView(Instant At, IReadOnlyList<string> Segments, IReadOnlyList<PlayedPageView> Pages);

/// <summary>Plays a visit from page to page and tells everything that is shown, and why the rest is not.</summary>
internal static class RehearseVisit
{
    public static async Task<Results<Ok<PlayedVisitView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        RehearsalRequest request,
        OutcryDb db,
        LiveSites sites,
        LookedCounter counter,
        IClock clock,
        CancellationToken stop
    )
    {
        if (request.Pages.Count is 0 or > PlannedPage.Most)
            return Problems.BadField("pages", $"A visit has 1 to {PlannedPage.Most} pages.");
        if ((request.Visitor.Problem ?? request.Before?.Problem) is { } odd)
            return Problems.BadField("visitor", odd);
        if (request.Pages.Select(p => p.Problem).FirstOrDefault(p => p is not null) is { } wrong)
            return Problems.BadField("pages", wrong);
        var site = sites.GetById(siteId);
        var now = clock.GetCurrentInstant();
        if (TimeOf(request.At, now, site) is not { } at)
            return Problems.BadField("at", "The time is a local date and time such as 2026-11-24T14:00.");
        var snapshot = at < now ? PastSnapshots.Get(site, at) : site.Snapshot;
        if (request.Draft is { } draft)
        {
            if (await db.FindDefinitionAsync(siteId, BriefKind.Callout, draft, stop) is not { } row)
                return Problems.NotFound("callout");
            snapshot = (await DraftSnapshot.TryMakeAsync(site, row, counter, now, stop))?.Site ?? snapshot;
        }
        var host = new Uri(site.HomeAddress).Authority;
        var played = PlannedVisit.Play(snapshot, host, request.Visitor, request.Pages, at);
        var before = request.Before is { } other ? PlannedVisit.Play(snapshot, host, other, request.Pages, at) : null;
        return TypedResults.Ok(
            new PlayedVisitView(at, SegmentsOf(site, request.Visitor, at), PagesOf(played, before, snapshot))
        );
    }

    private static Instant? TimeOf(string? text, Instant now, LiveSite site) =>
        string.IsNullOrEmpty(text) ? now
        : LocalDateTimePattern.GeneralIso.Parse(text.Length == 16 ? $"{text}:00" : text) is { Success: true } read
            ? WallClock.Opening(read.Value, site.Zone)
        : null;

    private static List<PlayedPageView> PagesOf(
        IReadOnlyList<RehearsedPage> played,
        IReadOnlyList<RehearsedPage>? before,
        SiteSnapshot snapshot
    )
    {
        var names = NotShownView.Names(snapshot);
        var pages = new List<PlayedPageView>();
        var starts = 0L;
        foreach (var (i, page) in played.Index())
        {
            var changes = before is null ? [] : Difference.Between(before[i], page);
            pages.Add(
                new PlayedPageView(
                    page.Page.Page.Path,
                    starts,
                    page.Page.StayMs,
                    ShowingView.Of(page, snapshot),
                    NotShownView.Of(page, snapshot),
                    [.. changes.Select(d => RehearsalWords.Say(d, id => names.GetValueOrDefault(id)))],
                    page.Stands is { } stands ? new StandsView(stands.Id, stands.Definition.Name, page.IsOpen) : null
                )
            );
            starts += page.Page.StayMs;
        }
        return pages;
    }

    private static IReadOnlyList<string> SegmentsOf(LiveSite site, ImaginedVisitor who, Instant at)
    {
        var reader = new FactReader(
            who.RecordAt("rehearsal", at, site.Snapshot.Callouts).Arrive(at).CameIn(who.CameBy),
            who.FactsAt(at, site.Zone),
            who.PastEventsAt(at),
            at
        );
        return
        [
            .. site
                .Context.Segments.Values.Where(s =>
                    CompiledRule.TryCompile(s.Rule, site.Context.Segments, out _)?.Holds(reader) == true
                )
                .Select(s => s.Name)
                .Order(),
        ];
    }
}
