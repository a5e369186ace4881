using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Asking;
using Outcry.Core.Care;
using Outcry.Server.Intake;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Leads;

/// <summary>An address that is told of leads.</summary>
/// <param name="Secret">What its messages are signed with.</param>
/// <param name="OffBecause">Why it is told nothing; empty while it is told.</param>
internal sealed record WebhookView(
    Guid Id,
    string Name,
    string Address,
    string Secret,
    IReadOnlyList<LeadWord> Words,
    string OffBecause,
    IReadOnlyList<HookMessageView> Messages
);

/// <param name="NextAt">When it is tried next; null once it was taken or given up.</param>
/// <param name="Says">The beginning of the answer, or why there was none.</param>
internal sealed record HookMessageView(
    Guid Id,
    LeadWord Word,
    string Body,
    Instant MadeAt,
    int Tries,
    Instant? NextAt,
    Instant? TakenAt,
    int? Status,
    string Says
);

/// <param name="Address">https, or http where it is one of this machine's own.</param>
/// <param name="Words">What it is told, at least one.</param>
internal sealed record WebhookRequest(string Name, string Address, IReadOnlyList<LeadWord> Words);

/// <summary>Addresses that are told of leads, kept at the desk.</summary>
internal static class WebhookDesk
{
    private const int Most = 20;
    private const int LongestName = 80;
    private const int LongestAddress = 1_000;

    public static async Task<Ok<List<WebhookView>>> ListAsync(Guid siteId, OutcryDb db, CancellationToken stop)
    {
        var hooks = await db
            .Webhooks.AsNoTracking()
            .Where(w => w.SiteId == siteId)
            .OrderBy(w => w.Name)
            .ToListAsync(stop);
        var ids = hooks.ConvertAll(w => w.Id);
        var messages = await db
            .WebhookMessages.AsNoTracking()
            .Where(m => ids.Contains(m.WebhookId))
            .OrderByDescending(m => m.MadeAt)
            .Take(Most * HookRound.MostKept)
            .ToListAsync(stop);
        return TypedResults.Ok(
            hooks.ConvertAll(w => View(w, messages.Where(m => m.WebhookId == w.Id).Take(HookRound.MostKept)))
        );
    }

    public static async Task<Results<Ok<WebhookView>, ProblemHttpResult>> AddAsync(
        Guid siteId,
        WebhookRequest request,
        OutcryDb db,
        CurrentMember member,
        TraceBook traces,
        IClock clock,
        CancellationToken stop
    )
    {
        if (Objection(request) is { } objection)
            return objection;
        if (await db.Webhooks.CountAsync(w => w.SiteId == siteId, stop) >= Most)
            return Problems.BadField("name", $"A site has at most {Most} webhooks.");
        var row = new WebhookRow
        {
            WorkspaceId = member.WorkspaceId,
            SiteId = siteId,
            Name = PlainText.Clean(request.Name).Trim(),
            Address = request.Address.Trim(),
            Secret = StandardWebhooks.NewSecret(),
            Words = [.. request.Words.Distinct()],
            ChangedBy = member.Name,
            ChangedAt = clock.GetCurrentInstant(),
        };
        db.Webhooks.Add(row);
        traces.Add("added the webhook", row.Name, siteId);
        await db.SaveChangesAsync(stop);
        return TypedResults.Ok(View(row, []));
    }

    /// <summary>Changes it; one that was switched off is told again.</summary>
    public static async Task<Results<Ok<WebhookView>, ProblemHttpResult>> ChangeAsync(
        Guid siteId,
        Guid hookId,
        WebhookRequest request,
        OutcryDb db,
        CurrentMember member,
        TraceBook traces,
        IClock clock,
        CancellationToken stop
    )
    {
        if (Objection(request) is { } objection)
            return objection;
        var row = await db.Webhooks.AsTracking().FirstOrDefaultAsync(w => w.Id == hookId && w.SiteId == siteId, stop);
        if (row is null)
            return Problems.NotFound("webhook");
        (row.Name, row.Address, row.Words) = (
            PlainText.Clean(request.Name).Trim(),
            request.Address.Trim(),
            [.. request.Words.Distinct()]
        );
        (row.OffBecause, row.ChangedBy, row.ChangedAt) = ("", member.Name, clock.GetCurrentInstant());
        traces.Add("changed the webhook", row.Name, siteId);
        await db.SaveChangesAsync(stop);
        return TypedResults.Ok(View(row, []));
    }

    public static async Task<Results<NoContent, ProblemHttpResult>> RemoveAsync(
        Guid siteId,
        Guid hookId,
        OutcryDb db,
        TraceBook traces,
        CancellationToken stop
    )
    {
        var row = await db.Webhooks.AsTracking().FirstOrDefaultAsync(w => w.Id == hookId && w.SiteId == siteId, stop);
        if (row is null)
            return Problems.NotFound("webhook");
        db.Webhooks.Remove(row);
        traces.Add("removed the webhook", row.Name, siteId);
        await db.SaveChangesAsync(stop);
        return TypedResults.NoContent();
    }

    /// <summary>Tells it of somebody made up, as it would be told of a lead.</summary>
    public static async Task<Results<NoContent, ProblemHttpResult>> TestAsync(
        Guid siteId,
        Guid hookId,
        OutcryDb db,
        CurrentMember member,
        IClock clock,
        CancellationToken stop
    )
    {
        if (!await db.Webhooks.AnyAsync(w => w.Id == hookId && w.SiteId == siteId, stop))
            return Problems.NotFound("webhook");
        var now = clock.GetCurrentInstant();
        var nobody = new LeadRow
        {
            WorkspaceId = member.WorkspaceId,
            Email = "nobody@post.example",
            FirstName = "Nobody",
            Life = LeadLife.Begin(null, confirms: true, now),
            Language = "en",
            From = "A test",
        };
        db.WebhookMessages.Add(
            new WebhookMessageRow
            {
                WorkspaceId = member.WorkspaceId,
                WebhookId = hookId,
                Word = LeadWord.New,
                Body = LeadHooks.BodyOf(nobody, LeadWord.New, now),
                MadeAt = now,
                NextAt = now,
            }
        );
        await db.SaveChangesAsync(stop);
        return TypedResults.NoContent();
    }

    /// <summary>Sends a message once more, with the id it had: whoever has it already knows it again.</summary>
    public static async Task<Results<NoContent, ProblemHttpResult>> AgainAsync(
        Guid siteId,
        Guid hookId,
        Guid messageId,
        OutcryDb db,
        IClock clock,
        CancellationToken stop
    )
    {
        var now = clock.GetCurrentInstant();
        var sent = await db
            .WebhookMessages.Where(m =>
                m.Id == messageId
                && m.WebhookId == hookId
                && db.Webhooks.Any(w => w.Id == m.WebhookId && w.SiteId == siteId)
            )
            .ExecuteUpdateAsync(u => u.SetProperty(m => m.NextAt, now).SetProperty(m => m.Tries, 0), stop);
        return sent == 0 ? Problems.NotFound("message") : TypedResults.NoContent();
    }

    private static ProblemHttpResult? Objection(WebhookRequest request)
    {
        if (PlainText.OrNull(request.Name) is not { Length: <= LongestName })
            return Problems.BadField("name", $"A webhook's name has 1 to {LongestName} characters.");
        if (
            request.Address.Length > LongestAddress
            || !Uri.TryCreate(request.Address.Trim(), UriKind.Absolute, out var at)
            || at.Scheme is not ("https" or "http")
            || at.UserInfo.Length > 0
            || (at.Scheme == "http" && !at.IsLoopback)
        )
            return Problems.BadField(
                "address",
                "Write an address that begins with https:// and has no name or password in it."
            );
        return request.Words.Count == 0 || request.Words.Any(w => !Enum.IsDefined(w))
            ? Problems.BadField("words", "Choose what it is told.")
            : null;
    }

    private static WebhookView View(WebhookRow row, IEnumerable<WebhookMessageRow> messages) =>
        new(
            row.Id,
            row.Name,
            row.Address,
            row.Secret,
            row.Words,
            row.OffBecause,
            [
                .. messages.Select(m => new HookMessageView(
                    m.Id,
                    m.Word,
                    m.Body,
                    m.MadeAt,
                    m.Tries,
                    m.NextAt,
                    m.TakenAt,
                    m.Status,
                    m.Says
                )),
            ]
        );
}
