using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Publishing;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Publishing;

/// <summary>Something whose draft looks otherwise than the kit.</summary>
internal sealed record UndressedView(Guid Id, string Kind, string Name, bool IsLive);

/// <param name="IsSet">Whether the site has a kit; else these are the starting values.</param>
/// <param name="Others">What does not look like it, and can take it over.</param>
internal sealed record BrandKitView(
    BrandKit Kit,
    bool IsSet,
    IReadOnlyList<ColourPair> Pairs,
    IReadOnlyList<string> Hints,
    IReadOnlyList<UndressedView> Others
);

/// <summary>How a kit that is not kept would be met.</summary>
internal sealed record KitLookView(IReadOnlyList<ColourPair> Pairs, IReadOnlyList<string> Hints);

/// <param name="Ids">Whose drafts take the kit over; nothing goes live by it.</param>
internal sealed record TakeOverKitRequest(IReadOnlyList<Guid> Ids);

/// <summary>A site's brand kit: new things begin in it, old ones take it over one by one.</summary>
internal static class BrandKits
{
    private const int MostIds = 500;

    /// <summary>As a site without a kit begins.</summary>
    public static BrandKit Start { get; } =
        new(StarterBrief.Band, StarterBrief.Ground, OnRight: false, StaySeconds: 7, Typeface.Page);

    public static async Task<Ok<BrandKitView>> ShowAsync(
        Guid siteId,
        OutcryDb db,
        LiveKinds kinds,
        CancellationToken stop
    )
    {
        var kit = await db.Sites.Where(s => s.Id == siteId).Select(s => s.Kit).FirstAsync(stop);
        return TypedResults.Ok(await ViewAsync(siteId, kit, db, kinds, stop));
    }

    public static async Task<Results<Ok<BrandKitView>, ProblemHttpResult>> SetAsync(
        Guid siteId,
        BrandKit request,
        OutcryDb db,
        LiveKinds kinds,
        TraceBook traces,
        CancellationToken stop
    )
    {
        if (KitCheck.Problems(request).FirstOrDefault(p => p.Blocks) is { } problem)
            return Problems.BadField(problem.Field, problem.Message);
        var row = await db.Sites.FirstAsync(s => s.Id == siteId, stop);
        traces.Add("changed the brand kit of", row.Name, siteId, TraceBook.Between(row.Kit ?? Start, request));
        row.Kit = request;
        await db.SaveChangesAsync(stop);
        return TypedResults.Ok(await ViewAsync(siteId, request, db, kinds, stop));
    }

    /// <summary>Tells how a kit would be met, and keeps nothing.</summary>
    public static Results<Ok<KitLookView>, ProblemHttpResult> Try(Guid siteId, BrandKit request) =>
        KitCheck.Problems(request) is var problems && problems.FirstOrDefault(p => p.Blocks) is { } problem
            ? Problems.BadField(problem.Field, problem.Message)
            : TypedResults.Ok(new KitLookView(KitCheck.Pairs(request), [.. problems.Select(p => p.Message)]));

    public static async Task<Results<Ok<BrandKitView>, ProblemHttpResult>> TakeOverAsync(
        Guid siteId,
        TakeOverKitRequest request,
        OutcryDb db,
        LiveKinds kinds,
        Reviews reviews,
        CurrentMember member,
        SiteNews news,
        IClock clock,
        CancellationToken stop
    )
    {
        if (request.Ids.Count > MostIds)
            return Problems.BadField("ids", $"At most {MostIds} at a time.");
        var kit = await db.Sites.Where(s => s.Id == siteId).Select(s => s.Kit).FirstAsync(stop) ?? Start;
        var rows = await db
            .Definitions.Where(d => d.SiteId == siteId && d.DeletedAt == null && request.Ids.Contains(d.Id))
            .ToListAsync(stop);
        foreach (var row in rows)
        {
            if (kinds.Dress(row.Kind, row.Draft, kit) is not { } dressed)
                continue;
            (row.Draft, row.ChangedAt, row.ChangedBy) = (dressed, clock.GetCurrentInstant(), member.Name);
            row.DraftVersion++;
            await reviews.NoteEditAsync(row, stop);
        }
        try
        {
            await db.SaveChangesAsync(stop);
        }
        catch (DbUpdateConcurrencyException)
        {
            return Problems.Of(
                StatusCodes.Status409Conflict,
                "draft-changed",
                "Somebody was quicker",
                "A colleague saved one of them at the same moment. Nothing was changed; try again."
            );
        }
        await news.TellAsync(siteId, SiteChange.Definition);
        return TypedResults.Ok(await ViewAsync(siteId, kit, db, kinds, stop));
    }

    private static async Task<BrandKitView> ViewAsync(
        Guid siteId,
        BrandKit? set,
        OutcryDb db,
        LiveKinds kinds,
        CancellationToken stop
    )
    {
        var kit = set ?? Start;
        var rows = await db
            .Definitions.AsNoTracking()
            .Where(d => d.SiteId == siteId && d.DeletedAt == null && d.State != DefinitionState.Archived)
            .OrderBy(d => d.Name)
            .ToListAsync(stop);
        return new BrandKitView(
            kit,
            set is not null,
            KitCheck.Pairs(kit),
            [.. KitCheck.Problems(kit).Select(p => p.Message)],
            set is null
                ? []
                :
                [
                    .. rows.Where(r => kinds.Dress(r.Kind, r.Draft, kit) is not null)
                        .Select(r => new UndressedView(r.Id, r.Kind, r.Name, r.State == DefinitionState.Live)),
                ]
        );
    }
}
