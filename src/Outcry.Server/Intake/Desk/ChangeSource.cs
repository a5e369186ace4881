using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Core.Publishing;
using Outcry.Server.Intake;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake.Desk;

internal sealed record ChangeSourceRequest(string Name, SourceSettings Settings);

/// <summary>Sets a source anew, pauses it, takes it away.</summary>
internal static class ChangeSource
{
    public static async Task<Results<NoContent, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid sourceId,
        ChangeSourceRequest request,
        OutcryDb db,
        SiteNews news,
        LiveSites sites,
        FormSends sends,
        CurrentMember member,
        TraceBook traces,
        IClock clock,
        CancellationToken stop
    )
    {
        if (await FindAsync(db, siteId, sourceId, stop) is not { } row)
            return Problems.NotFound("source");
        var set = request.Settings;
        if (set.Proof is { } proof && proof != row.Proof && !member.May(Right.Govern))
            return Problems.Of(
                StatusCodes.Status403Forbidden,
                "role",
                "Owners choose this",
                "How a sender shows that it may post is the owner's to choose."
            );
        if (SourceCheck.Objection(request.Name, row.Kind, row.EventKind, set) is { } objection)
            return objection;
        var before = Told(row);
        row.Name = request.Name.Trim();
        row.Form = set.Form;
        row.Map = set.Map is { } map ? map with { Kind = row.EventKind } : null;
        row.Poll = set.Poll;
        row.Script = set.Script;
        row.Rules = set.Rules ?? row.Rules;
        row.Display = set.Display ?? row.Display;
        row.Proof = set.Proof ?? row.Proof;
        traces.Add("changed the source", row.Name, siteId, TraceBook.Between(before, Told(row)));
        await db.SaveChangesAsync(stop);
        await sends.TakeInAsync(row, sites.GetById(siteId), clock.GetCurrentInstant(), stop);
        return await SaveAsync(db, news, siteId, stop);
    }

    public static Task<Results<NoContent, ProblemHttpResult>> PauseAsync(
        Guid siteId,
        Guid sourceId,
        OutcryDb db,
        SiteNews news,
        TraceBook traces,
        IClock clock,
        CancellationToken stop
    ) => SetPausedAsync(siteId, sourceId, clock.GetCurrentInstant(), db, news, traces, stop);

    public static Task<Results<NoContent, ProblemHttpResult>> ResumeAsync(
        Guid siteId,
        Guid sourceId,
        OutcryDb db,
        SiteNews news,
        TraceBook traces,
        CancellationToken stop
    ) => SetPausedAsync(siteId, sourceId, null, db, news, traces, stop);

    /// <summary>Takes a source out of the list. Its events stay, as does the name of where they came from.</summary>
    public static async Task<Results<NoContent, ProblemHttpResult>> DeleteAsync(
        Guid siteId,
        Guid sourceId,
        OutcryDb db,
        DefinitionsInUse inUse,
        SiteNews news,
        TraceBook traces,
        IClock clock,
        CancellationToken stop
    )
    {
        if (await FindAsync(db, siteId, sourceId, stop) is not { } row)
            return Problems.NotFound("source");
        var names = (await inUse.ReadAsync(siteId, stop))
            .Where(c => c.References.Sources.Contains(sourceId))
            .Select(c => $"\"{c.Name}\"")
            .ToList();
        if (names.Count > 0)
            return Problems.Of(
                StatusCodes.Status409Conflict,
                "source-used",
                "Callouts draw on this source",
                $"Change first: {string.Join(", ", names)}. Or pause the source: then nothing more comes in."
            );
        traces.Add("deleted the source", row.Name, siteId);
        row.DeletedAt = clock.GetCurrentInstant();
        return await SaveAsync(db, news, siteId, stop);
    }

    // What of a source is told when it changes; never a secret.
    private static object Told(SourceRow row) =>
        new
        {
            row.Name,
            row.Form,
            row.Map,
            Poll = row.Poll?.Address,
            row.Script,
            row.Rules,
            row.Display,
            row.Proof,
        };

    public static Task<SourceRow?> FindAsync(OutcryDb db, Guid siteId, Guid sourceId, CancellationToken stop) =>
        db.Sources.FirstOrDefaultAsync(s => s.Id == sourceId && s.SiteId == siteId && s.DeletedAt == null, stop);

    private static async Task<Results<NoContent, ProblemHttpResult>> SetPausedAsync(
        Guid siteId,
        Guid sourceId,
        Instant? at,
        OutcryDb db,
        SiteNews news,
        TraceBook traces,
        CancellationToken stop
    )
    {
        if (await FindAsync(db, siteId, sourceId, stop) is not { } row)
            return Problems.NotFound("source");
        traces.Add(at is null ? "resumed the source" : "paused the source", row.Name, siteId);
        row.PausedAt = at;
        return await SaveAsync(db, news, siteId, stop);
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> SaveAsync(
        OutcryDb db,
        SiteNews news,
        Guid siteId,
        CancellationToken stop
    )
    {
        await db.SaveChangesAsync(stop);
        await news.TellAsync(siteId, SiteChange.Definition);
        return TypedResults.NoContent();
    }
}
