using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Asking;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Leads;

/// <summary>One yes, word for word.</summary>
/// <param name="Promise">What they agreed to; empty where nothing was promised.</param>
/// <param name="PromiseNumber">Its number; 0 where there was none.</param>
/// <param name="Ticked">Whether they ticked a box; else they pressed the button under the words.</param>
/// <param name="AskedAt">When mails that ask to confirm went out.</param>
internal sealed record YesView(
    Guid Id,
    Guid CalloutId,
    string Name,
    int Revision,
    Instant At,
    string Page,
    string Language,
    string Promise,
    int PromiseNumber,
    bool Ticked,
    IReadOnlyList<Instant> AskedAt,
    Instant? ConfirmedAt,
    string Code,
    IReadOnlyDictionary<string, string> Answers
);

/// <summary>A lead with everything that is kept of it.</summary>
/// <param name="Yeses">The latest first.</param>
/// <param name="Talks">Talks of their browsers, and those in which they left the same address.</param>
/// <param name="Mails">What was written to them, the latest first.</param>
/// <param name="Events">How many events of theirs are in the ledger.</param>
internal sealed record LeadDetailView(
    LeadView Lead,
    Instant? ConfirmedAt,
    Instant? WithdrawnAt,
    Instant? UnreachableAt,
    IReadOnlyDictionary<string, string> Answers,
    IReadOnlyList<YesView> Yeses,
    IReadOnlyList<LeadTalkView> Talks,
    IReadOnlyList<LeadMailView> Mails,
    int Events
);

/// <summary>A mail or a text message to a lead.</summary>
/// <param name="Subject">The subject of a mail, the beginning of a text message.</param>
/// <param name="ChangedAt">When it came to stand so.</param>
internal sealed record LeadMailView(
    Guid Id,
    Instant At,
    string Subject,
    bool IsText,
    SentState State,
    Instant ChangedAt
);

internal sealed record LeadTalkView(Guid Id, string Glimpse, Instant LastAt);

/// <summary>One lead: answers and their history, promises word for word, what was sent, talks, events.</summary>
internal static class ShowLead
{
    private const int MostYeses = 100;
    private const int MostTalks = 10;
    private const int MostMails = 50;

    public static async Task<Results<Ok<LeadDetailView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid leadId,
        OutcryDb db,
        CancellationToken stop
    )
    {
        var row = await db
            .Leads.AsNoTracking()
            .FirstOrDefaultAsync(l => l.Id == leadId && l.Sites.Contains(siteId), stop);
        return row is null ? Problems.NotFound("lead") : TypedResults.Ok(await ViewAsync(db, siteId, row, stop));
    }

    public static async Task<LeadDetailView> ViewAsync(OutcryDb db, Guid siteId, LeadRow row, CancellationToken stop)
    {
        var yeses = await db
            .LeadYeses.AsNoTracking()
            .Where(y => y.LeadId == row.Id)
            .OrderByDescending(y => y.At)
            .Take(MostYeses)
            .ToListAsync(stop);
        var ids = yeses.Select(y => y.PromiseId).OfType<Guid>().ToList();
        var promises = await db.Promises.Where(p => ids.Contains(p.Id)).ToDictionaryAsync(p => p.Id, stop);
        var talks = await db
            .Talks.AsNoTracking()
            .Where(t =>
                t.SiteId == siteId
                && (row.Visitors.Contains(t.VisitorId) || (row.Email != null && t.Email == row.Email))
            )
            .OrderByDescending(t => t.LastAt)
            .Take(MostTalks)
            .Select(t => new LeadTalkView(t.Id, t.Glimpse, t.LastAt))
            .ToListAsync(stop);
        var mails = await db
            .LeadMails.Where(m => m.LeadId == row.Id)
            .OrderByDescending(m => m.At)
            .ThenByDescending(m => m.Id)
            .Take(MostMails)
            .Select(m => new LeadMailView(m.Id, m.At, m.Subject, m.IsText, m.State, m.ChangedAt))
            .ToListAsync(stop);
        return new LeadDetailView(
            LeadView.Of(row),
            row.ConfirmedAt,
            row.WithdrawnAt,
            row.UnreachableAt,
            row.Answers,
            yeses.ConvertAll(y => View(y, y.PromiseId is { } id ? promises.GetValueOrDefault(id) : null)),
            talks,
            mails,
            await db.Events.CountAsync(
                e => e.SiteId == siteId && e.VisitorId != null && row.Visitors.Contains(e.VisitorId),
                stop
            )
        );
    }

    private static YesView View(LeadYesRow yes, PromiseRow? promise) =>
        new(
            yes.Id,
            yes.CalloutId,
            yes.Name,
            yes.Revision,
            yes.At,
            yes.Page,
            yes.Language,
            promise?.Text ?? "",
            promise?.Number ?? 0,
            yes.Ticked,
            yes.AskedAt,
            yes.ConfirmedAt,
            yes.Code,
            yes.Answers
        );
}
