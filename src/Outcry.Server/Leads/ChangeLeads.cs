using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.Leads;

/// <param name="Leads">Which, at most 500.</param>
/// <param name="Tag">The tag.</param>
/// <param name="Takes">Whether it is taken off; else it is put on.</param>
internal sealed record TagLeadsRequest(IReadOnlyList<Guid> Leads, string Tag, bool Takes = false);

/// <summary>What the team does with leads.</summary>
internal static class ChangeLeads
{
    private const int MostAtOnce = 500;
    private const int MostTags = 30;
    private const int LongestTag = 30;

    public static async Task<Results<NoContent, ProblemHttpResult>> TagAsync(
        Guid siteId,
        TagLeadsRequest request,
        OutcryDb db,
        LiveSites sites,
        SiteNews news,
        DeskAddress desk,
        HttpContext http,
        IClock clock,
        CancellationToken stop
    )
    {
        if (request.Leads.Count is 0 or > MostAtOnce)
            return Problems.BadField("leads", $"Choose 1 to {MostAtOnce} leads.");
        if (PlainText.OrNull(request.Tag) is not { Length: <= LongestTag } tag)
            return Problems.BadField("tag", $"A tag has 1 to {LongestTag} characters.");
        var rows = await db
            .Leads.AsTracking()
            .Where(l => request.Leads.Contains(l.Id) && l.Sites.Contains(siteId))
            .ToListAsync(stop);
        foreach (var row in rows)
            row.Tags = request.Takes
                ? [.. row.Tags.Where(t => !t.Equals(tag, StringComparison.OrdinalIgnoreCase))]
                : [.. row.Tags.Append(tag).Distinct(StringComparer.OrdinalIgnoreCase).Take(MostTags)];
        await db.SaveChangesAsync(stop);
        foreach (var row in request.Takes ? [] : rows)
            await FollowUps.EnterAsync(
                db,
                sites.GetById(siteId),
                row,
                null,
                [tag],
                desk.Of(http.Request),
                clock.GetCurrentInstant(),
                stop
            );
        await news.TellAsync(siteId, SiteChange.Gave);
        return TypedResults.NoContent();
    }

    /// <summary>Takes back for a person what they agreed to, as they asked the team to.</summary>
    public static async Task<Results<Ok<LeadDetailView>, ProblemHttpResult>> WithdrawAsync(
        Guid siteId,
        Guid leadId,
        OutcryDb db,
        LiveSites sites,
        LeadBook book,
        TraceBook traces,
        CancellationToken stop
    )
    {
        if (!await db.Leads.AnyAsync(l => l.Id == leadId && l.Sites.Contains(siteId), stop))
            return Problems.NotFound("lead");
        await book.WithdrawAsync(sites.GetById(siteId), leadId, stop);
        traces.Add("withdrew a lead", "by the team", siteId);
        await db.SaveChangesAsync(stop);
        var row = await db.Leads.AsNoTracking().FirstAsync(l => l.Id == leadId, stop);
        return TypedResults.Ok(await ShowLead.ViewAsync(db, siteId, row, stop));
    }

    /// <summary>Erases a lead with every yes for good; the events of theirs are erased under the ledger.</summary>
    public static async Task<Results<NoContent, ProblemHttpResult>> EraseAsync(
        Guid siteId,
        Guid leadId,
        OutcryDb db,
        SiteNews news,
        TraceBook traces,
        IClock clock,
        CancellationToken stop
    )
    {
        var row = await db
            .Leads.AsTracking()
            .FirstOrDefaultAsync(l => l.Id == leadId && l.Sites.Contains(siteId), stop);
        if (row is null)
            return Problems.NotFound("lead");
        // What is still to be sent to them is not, whatever it tells of.
        await db
            .Letters.Where(l => l.SiteId == siteId && (l.To == row.Email || l.To == row.Phone))
            .ExecuteDeleteAsync(stop);
        await db.ForgetLettersAsync([row.Id], clock.GetCurrentInstant(), stop);
        db.Leads.Remove(row);
        traces.Add("erased a lead", "a person", siteId);
        await db.SaveChangesAsync(stop);
        // Their browsers are to be asked again, at whatever node.
        await news.TellAsync(siteId, SiteChange.Erased);
        return TypedResults.NoContent();
    }
}
