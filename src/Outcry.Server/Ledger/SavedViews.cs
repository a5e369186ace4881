using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Ledger;

internal sealed record SavedViewView(Guid Id, string Name, string Query, string By);

/// <param name="Query">The filter as the ledger's address has it, without "?".</param>
internal sealed record SaveViewRequest(string Name, string Query);

/// <summary>Filters of the ledger under a name, shared by the team.</summary>
internal static class SavedViews
{
    private const int Most = 50;

    public static async Task<Ok<List<SavedViewView>>> ListAsync(Guid siteId, OutcryDb db, CancellationToken stop) =>
        TypedResults.Ok(
            await db
                .SavedViews.Where(v => v.SiteId == siteId)
                .OrderBy(v => v.Name)
                .Select(v => new SavedViewView(v.Id, v.Name, v.Query, v.By))
                .ToListAsync(stop)
        );

    public static async Task<Results<Ok<SavedViewView>, ProblemHttpResult>> SaveAsync(
        Guid siteId,
        SaveViewRequest request,
        OutcryDb db,
        CurrentMember member,
        CancellationToken stop
    )
    {
        var name = request.Name.Trim();
        if (name.Length is 0 or > 60)
            return Problems.BadField("name", "Give the view a name of 1 to 60 characters.");
        if (request.Query.Length > 1_000)
            return Problems.BadField("query", "The filter is too long to be kept.");
        if (await db.SavedViews.CountAsync(v => v.SiteId == siteId, stop) >= Most)
            return Problems.BadField("name", $"At most {Most} views. Delete one first.");
        await db.SavedViews.Where(v => v.SiteId == siteId && v.Name == name).ExecuteDeleteAsync(stop);
        var row = new SavedViewRow
        {
            WorkspaceId = member.WorkspaceId,
            SiteId = siteId,
            Name = name,
            Query = request.Query,
            By = member.Name,
        };
        db.SavedViews.Add(row);
        await db.SaveChangesAsync(stop);
        return TypedResults.Ok(new SavedViewView(row.Id, row.Name, row.Query, row.By));
    }

    public static async Task<Results<NoContent, ProblemHttpResult>> DeleteAsync(
        Guid siteId,
        Guid viewId,
        OutcryDb db,
        CancellationToken stop
    ) =>
        await db.SavedViews.Where(v => v.SiteId == siteId && v.Id == viewId).ExecuteDeleteAsync(stop) > 0
            ? TypedResults.NoContent()
            : Problems.NotFound("view");
}
