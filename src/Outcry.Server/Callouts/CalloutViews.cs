using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Callouts;

/// <param name="Group">The team's own group for it; empty for none.</param>
/// <param name="Notes">What of a live callout wants looking at, with the reason where one is known.</param>
internal sealed record CalloutListView(
    Guid Id,
    string Name,
    string Group,
    DefinitionState State,
    CalloutStanding Stands,
    int Revision,
    bool HasChanges,
    Brief Brief,
    FiguresView Figures,
    IReadOnlyList<CalloutNoteView> Notes,
    Instant ChangedAt,
    string ChangedBy
);

/// <summary>What of a live callout wants looking at.</summary>
internal enum CalloutNote
{
    /// <summary>It still has its starter wording.</summary>
    StarterWording,

    /// <summary>What is live of it cannot be shown: something it names is gone, or its words cannot be said.</summary>
    CannotBeShown,

    /// <summary>The snippet has not been heard since it went live.</summary>
    NotHeard,

    /// <summary>It went live less than a day ago and has not been shown yet.</summary>
    WaitingForFirst,

    /// <summary>It was not shown in the last 24 hours.</summary>
    NotShownLately,
}

/// <param name="Why">The likeliest reason, as a sentence; empty where the note says all.</param>
internal sealed record CalloutNoteView(CalloutNote Note, string Why, ControlPlace? Control);

/// <summary>A callout with its draft and what is live of it.</summary>
internal sealed record CalloutView(
    Guid Id,
    string Name,
    DefinitionState State,
    CalloutStanding Stands,
    int Revision,
    int DraftVersion,
    Brief Draft,
    Brief? Live,
    IReadOnlyList<BriefProblem> Problems,
    bool UntouchedWording,
    Instant ChangedAt,
    string ChangedBy
)
{
    public static async Task<CalloutView> ReadAsync(OutcryDb db, CalloutRow row, LiveSite site, CancellationToken stop)
    {
        var live =
            row.Revision == 0
                ? null
                : await db
                    .Revisions.AsNoTracking()
                    .FirstAsync(r => r.CalloutId == row.Id && r.Number == row.Revision, stop);
        return new CalloutView(
            row.Id,
            row.Name,
            row.State,
            CalloutStandings.Of(row.State, live?.Brief, SystemClock.Instance.GetCurrentInstant(), site.Zone),
            row.Revision,
            row.DraftVersion,
            row.Draft,
            live?.Brief,
            Check(row.Draft, site),
            StarterWording.IsUntouched(row.Draft.Say.Message),
            row.ChangedAt,
            row.ChangedBy
        );
    }

    /// <summary>What stands in the way of putting a brief on air, as a problem for whoever tried; null for nothing.</summary>
    public static Microsoft.AspNetCore.Http.HttpResults.ProblemHttpResult? Objection(Brief brief, LiveSite site) =>
        Check(brief, site).Where(p => p.Blocks).ToList() is [var first, ..] blocking
            ? Platform.Problems.BadField(first.Field, string.Join(" ", blocking.Select(p => p.Message)))
            : null;

    public static IReadOnlyList<BriefProblem> Check(Brief brief, LiveSite site) =>
        BriefCheck.Problems(
            brief,
            [.. site.Sources.Values.Select(SitesFeature.Offer)],
            site.Shared,
            new BriefSetting(SystemClock.Instance.GetCurrentInstant(), site.Zone, site.Rules)
        );

    /// <summary>Finds a callout of the site, which the scope has already narrowed to the member's workspace.</summary>
    public static Task<CalloutRow?> FindAsync(OutcryDb db, Guid siteId, Guid calloutId, CancellationToken stop) =>
        db.Callouts.FirstOrDefaultAsync(c => c.Id == calloutId && c.SiteId == siteId, stop);
}
