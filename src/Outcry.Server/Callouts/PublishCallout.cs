using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Callouts;

/// <summary>What is put live.</summary>
/// <param name="Version">The draft's version that was looked at; a newer one is not published unseen.</param>
internal sealed record PublishRequest(int Version);

/// <summary>Freezes the draft as a revision and puts it on air.</summary>
internal static class PublishCallout
{
    public static async Task<Results<Ok<CalloutView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid calloutId,
        PublishRequest request,
        OutcryDb db,
        LiveSites sites,
        SiteNews news,
        CurrentMember member,
        IClock clock,
        CancellationToken stop
    )
    {
        var row = await CalloutView.FindAsync(db, siteId, calloutId, stop);
        if (row is null)
            return Problems.NotFound("callout");
        var (to, refusal) = DefinitionLife.Decide(row.State, DefinitionMove.Publish, wasPublished: row.Revision > 0);
        if (refusal is not null)
            return Problems.Of(StatusCodes.Status409Conflict, "archived", "It is archived", refusal);
        if (row.DraftVersion != request.Version)
            return Problems.Of(
                StatusCodes.Status409Conflict,
                "draft-changed",
                "The draft has changed meanwhile",
                $"{row.ChangedBy} saved a newer version. Look at it before it goes live."
            );
        if (CalloutView.Objection(row.Draft, sites.GetById(siteId)) is { } objection)
            return objection;

        var now = clock.GetCurrentInstant();
        row.Revision++;
        row.State = to;
        row.ChangedAt = now;
        row.ChangedBy = member.Name;
        db.Revisions.Add(
            new RevisionRow
            {
                WorkspaceId = row.WorkspaceId,
                CalloutId = row.Id,
                Number = row.Revision,
                Brief = row.Draft,
                PublishedAt = now,
                PublishedBy = member.Name,
            }
        );
        try
        {
            await db.SaveChangesAsync(stop);
        }
        catch (DbUpdateException)
        {
            return Problems.Of(
                StatusCodes.Status409Conflict,
                "draft-changed",
                "Somebody was quicker",
                "A colleague published or saved at the same moment. Reload to see it."
            );
        }
        await news.TellAsync(siteId, SiteChange.Definition, row.Id);
        return TypedResults.Ok(await CalloutView.ReadAsync(db, row, sites.GetById(siteId), stop));
    }
}
