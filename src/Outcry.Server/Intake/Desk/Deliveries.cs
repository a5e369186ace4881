using System.Text;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Server.Intake;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake.Desk;

internal sealed record DeliveryView(
    Guid Id,
    Instant At,
    DeliveryVerdict Verdict,
    int Status,
    string? Because,
    string? MessageId,
    Guid? EventId,
    bool IsResend
);

/// <param name="Body">As it was sent; null when it can no longer be opened, or was not kept because it was not signed.</param>
internal sealed record DeliveryDetail(DeliveryView Delivery, string? ContentType, string? Body);

/// <summary>The last deliveries at a webhook: what was sent, what became of it, and once more.</summary>
internal static class Deliveries
{
    public static async Task<Results<Ok<List<DeliveryView>>, ProblemHttpResult>> ListAsync(
        Guid siteId,
        Guid sourceId,
        OutcryDb db,
        CancellationToken stop
    )
    {
        if (await ChangeSource.FindAsync(db, siteId, sourceId, stop) is null)
            return Problems.NotFound("source");
        var rows = await db
            .Deliveries.AsNoTracking()
            .Where(d => d.SiteId == siteId && d.SourceId == sourceId)
            .OrderByDescending(d => d.At)
            .ThenByDescending(d => d.Id)
            .Take(DeliveryLog.Kept)
            .ToListAsync(stop);
        return TypedResults.Ok(rows.ConvertAll(View));
    }

    public static async Task<Results<Ok<DeliveryDetail>, ProblemHttpResult>> ShowAsync(
        Guid siteId,
        Guid sourceId,
        Guid deliveryId,
        OutcryDb db,
        DeliveryLog log,
        CancellationToken stop
    )
    {
        if (await FindAsync(db, siteId, sourceId, deliveryId, stop) is not { } row)
            return Problems.NotFound("delivery");
        var body = log.Open(row);
        return TypedResults.Ok(
            new DeliveryDetail(
                View(row),
                row.ContentType,
                body is { Length: > 0 } ? Encoding.UTF8.GetString(body) : null
            )
        );
    }

    /// <summary>Takes a delivery in once more, as after a map was put right. What is in the ledger already stays one event.</summary>
    public static async Task<Results<Ok<DeliveryView>, ProblemHttpResult>> ResendAsync(
        Guid siteId,
        Guid sourceId,
        Guid deliveryId,
        OutcryDb db,
        DeliveryLog log,
        WebhookIntake intake,
        IClock clock,
        CancellationToken stop
    )
    {
        if (
            await FindAsync(db, siteId, sourceId, deliveryId, stop) is not { } row
            || await ChangeSource.FindAsync(db, siteId, sourceId, stop) is not { } source
        )
            return Problems.NotFound("delivery");
        if (log.Open(row) is not { Length: > 0 } body)
            return Problems.Of(
                StatusCodes.Status409Conflict,
                "body-gone",
                "There is no body to send again",
                "Deliveries that were not signed are kept without their body."
            );
        await intake.AcceptAsync(
            source,
            new WebhookMessage(row.MessageId, null, null, row.ContentType, body, row.Id),
            clock.GetCurrentInstant(),
            stop
        );
        var newest = await db
            .Deliveries.AsNoTracking()
            .Where(d => d.ResendOf == row.Id)
            .OrderByDescending(d => d.At)
            .FirstAsync(stop);
        return TypedResults.Ok(View(newest));
    }

    private static Task<DeliveryRow?> FindAsync(
        OutcryDb db,
        Guid siteId,
        Guid sourceId,
        Guid deliveryId,
        CancellationToken stop
    ) =>
        db.Deliveries.FirstOrDefaultAsync(
            d => d.Id == deliveryId && d.SourceId == sourceId && d.SiteId == siteId,
            stop
        );

    private static DeliveryView View(DeliveryRow d) =>
        new(d.Id, d.At, d.Verdict, d.Status, d.Because, d.MessageId, d.EventId, d.ResendOf is not null);
}
