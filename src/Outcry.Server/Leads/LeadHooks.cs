using System.Text.Json;
using System.Text.Json.Serialization;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Asking;
using Outcry.Core.Following;
using Outcry.Server.Intake;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Leads;

/// <summary>A message to a webhook, as it is sent.</summary>
/// <param name="Type">"lead.new", "lead.confirmed", "lead.withdrawn" or "lead.reached".</param>
/// <param name="Timestamp">When it happened.</param>
/// <param name="Data">The lead as it stood then.</param>
/// <param name="Reached">Of "lead.reached": where in which follow-up.</param>
internal sealed record HookBody(
    string Type,
    string Timestamp,
    HookLead Data,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)] HookStep? Reached
);

/// <param name="FollowUp">Its id.</param>
/// <param name="Step">The step's id.</param>
/// <param name="Word">The word that its author gave the step; may be empty.</param>
internal sealed record HookStep(Guid FollowUp, Guid Step, string Word);

/// <param name="State">"waiting", "confirmed", "withdrawn" or "unreachable".</param>
/// <param name="Prompt">What they said yes to.</param>
internal sealed record HookLead(
    Guid Id,
    string State,
    string? Email,
    string? Phone,
    string FirstName,
    string Surname,
    string Prompt,
    string Page,
    string Language,
    IReadOnlyList<string> Tags,
    IReadOnlyDictionary<string, string> Answers
);

[JsonSourceGenerationOptions(PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase)]
[JsonSerializable(typeof(HookBody))]
internal sealed partial class HookJson : JsonSerializerContext;

/// <summary>Puts messages about leads beside what they tell of, in the same transaction: what is committed is told, and nothing else.</summary>
internal static class LeadHooks
{
    public static async Task TellAsync(
        OutcryDb db,
        LiveSite site,
        LeadRow lead,
        LeadWord word,
        Instant now,
        CancellationToken stop
    )
    {
        // A member's own try is told to nobody.
        if (lead.IsTest)
            return;
        var hooks = await db
            .Webhooks.Where(w => w.SiteId == site.Id && w.OffBecause == "" && w.Words.Contains(word))
            .Select(w => w.Id)
            .ToListAsync(stop);
        foreach (var hook in hooks)
            db.WebhookMessages.Add(
                new WebhookMessageRow
                {
                    WorkspaceId = site.WorkspaceId,
                    WebhookId = hook,
                    Word = word,
                    Body = BodyOf(lead, word, now),
                    MadeAt = now,
                    NextAt = now,
                }
            );
    }

    /// <summary>Tells the webhook that a step of a follow-up names, while that is told anything.</summary>
    public static async Task TellStepAsync(
        OutcryDb db,
        LiveSite site,
        LeadRow lead,
        Guid followUp,
        FollowStep step,
        Instant now,
        CancellationToken stop
    )
    {
        if (
            lead.IsTest
            || !await db.Webhooks.AnyAsync(
                w => w.Id == step.WebhookId && w.SiteId == site.Id && w.OffBecause == "",
                stop
            )
        )
            return;
        db.WebhookMessages.Add(
            new WebhookMessageRow
            {
                WorkspaceId = site.WorkspaceId,
                WebhookId = step.WebhookId!.Value,
                Word = LeadWord.Reached,
                Body = BodyOf(lead, LeadWord.Reached, now, new HookStep(followUp, step.Id, step.Tag.Trim())),
                MadeAt = now,
                NextAt = now,
            }
        );
    }

    public static string BodyOf(LeadRow lead, LeadWord word, Instant now, HookStep? reached = null) =>
        JsonSerializer.Serialize(
            new HookBody(
                $"lead.{word.ToString().ToLowerInvariant()}",
                NodaTime.Text.InstantPattern.General.Format(now),
                new HookLead(
                    lead.Id,
                    lead.State.ToString().ToLowerInvariant(),
                    lead.Email,
                    lead.Phone,
                    lead.FirstName,
                    lead.Surname,
                    lead.From,
                    lead.Page,
                    lead.Language,
                    lead.Tags,
                    lead.Answers
                ),
                reached
            ),
            HookJson.Default.HookBody
        );
}

/// <summary>Sends what webhooks are to be told, and tries again what was not taken (Standard Webhooks 1.0).</summary>
internal sealed class HookRound(SystemDb database, SafeFetch fetch, LoopWatch watch, IClock clock) : BackgroundService
{
    private const string Round = "webhooks about leads";
    private const int MostAtOnce = 20;
    private const int Gone = 410;

    /// <summary>Messages of one webhook that are kept with their bodies.</summary>
    public const int MostKept = 50;

    private static readonly TimeSpan Tick = TimeSpan.FromSeconds(2);

    // A receiver that is away is back within minutes as a rule; one that is not is asked less and less.
    private static readonly Duration[] Waits =
    [
        Duration.FromSeconds(5),
        Duration.FromMinutes(5),
        Duration.FromMinutes(30),
        Duration.FromHours(2),
        Duration.FromHours(5),
        Duration.FromHours(10),
        Duration.FromHours(14),
        Duration.FromHours(20),
        Duration.FromHours(24),
    ];

    protected override Task ExecuteAsync(CancellationToken stoppingToken) =>
        watch.KeepAsync(Round, GoAsync, stoppingToken);

    private async Task GoAsync(CancellationToken stop)
    {
        using var timer = new PeriodicTimer(Tick);
        while (await timer.WaitForNextTickAsync(stop))
        {
            try
            {
                await SendDueAsync(stop);
            }
            catch (Exception away) when (!stop.IsCancellationRequested && Problems.IsDatabaseAway(away))
            {
                watch.PassedOver(Round, away);
            }
            watch.WentRound(Round);
        }
    }

    /// <summary>Sends what is due now.</summary>
    public async Task SendDueAsync(CancellationToken stop)
    {
        var now = clock.GetCurrentInstant();
        List<Guid> due;
        await using (var db = database.Open())
        {
            // Taken for a minute: another node takes others, and what a node that ended had taken comes up again.
            var until = now + Duration.FromMinutes(1);
            due = await db
                .Database.SqlQuery<Guid>(
                    $"""
                    update webhook_messages set next_at = {until}
                    where id in (select id from webhook_messages where next_at <= {now} order by next_at
                      limit {MostAtOnce} for update skip locked)
                    returning id as "Value"
                    """
                )
                .ToListAsync(stop);
        }
        // A receiver that hangs keeps nobody else waiting.
        await Task.WhenAll(due.Select(id => SendAsync(id, stop)));
    }

    private async Task SendAsync(Guid id, CancellationToken stop)
    {
        await using var db = database.Open();
        var message = await db.WebhookMessages.FirstOrDefaultAsync(m => m.Id == id, stop);
        var hook = message is null ? null : await db.Webhooks.FirstOrDefaultAsync(w => w.Id == message.WebhookId, stop);
        if (message is null || hook is null)
            return;
        if (hook.OffBecause.Length > 0)
        {
            message.NextAt = null;
            await db.SaveChangesAsync(stop);
            return;
        }
        var posted = await PostAsync(hook, message, stop);
        var now = clock.GetCurrentInstant();
        (message.Status, message.Says) = (posted.Status, Core.Care.PlainText.Clean(posted.Says));
        message.Tries++;
        if (posted.IsTaken)
            (message.TakenAt, message.NextAt) = (now, null);
        else if (posted.Status == Gone)
            (message.NextAt, hook.OffBecause) = (null, "It answered 410: it wants to be told nothing more.");
        else
            message.NextAt = message.Tries <= Waits.Length ? now + Spread(Waits[message.Tries - 1]) : null;
        await db.SaveChangesAsync(stop);
        await ForgetAsync(db, hook.Id, stop);
    }

    private async Task<Posted> PostAsync(WebhookRow hook, WebhookMessageRow message, CancellationToken stop)
    {
        var body = System.Text.Encoding.UTF8.GetBytes(message.Body);
        var seconds = clock.GetCurrentInstant().ToUnixTimeSeconds();
        var id = $"msg_{message.Id:N}";
        return await fetch.PostAsync(
            hook.Address,
            body,
            new Dictionary<string, string>
            {
                [StandardWebhooks.IdHeader] = id,
                [StandardWebhooks.TimestampHeader] = seconds.ToString(
                    System.Globalization.CultureInfo.InvariantCulture
                ),
                [StandardWebhooks.SignatureHeader] = StandardWebhooks.Sign(hook.Secret, id, seconds, body),
            },
            stop
        );
    }

    // Many that failed at once do not all come again at once.
    private static Duration Spread(Duration wait) => wait * (0.9 + (Random.Shared.NextDouble() * 0.2));

    private static async Task ForgetAsync(OutcryDb db, Guid hook, CancellationToken stop)
    {
        var kept = await db
            .WebhookMessages.Where(m => m.WebhookId == hook)
            .OrderByDescending(m => m.MadeAt)
            .Skip(MostKept - 1)
            .Select(m => (Instant?)m.MadeAt)
            .FirstOrDefaultAsync(stop);
        if (kept is { } oldest)
            await db
                .WebhookMessages.Where(m => m.WebhookId == hook && m.MadeAt < oldest && m.NextAt == null)
                .ExecuteDeleteAsync(stop);
    }
}
