using System.Collections.Concurrent;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake;

/// <summary>Keeps the last deliveries of each webhook with what became of them. Bodies name people, so they are kept encrypted.</summary>
internal sealed class DeliveryLog(SystemDb database, SiteNews news, IDataProtectionProvider protection, LoopWatch watch)
{
    /// <summary>Deliveries kept of one source, and shown; a few more until the next clearing.</summary>
    public const int Kept = 50;

    /// <summary>Unsigned ones kept beside them: anybody can send those, and they must not push out what was signed.</summary>
    private const int KeptUnsigned = 10;

    /// <summary>How many come in between two clearings: to clear at each would make senders wait for one another's rows.</summary>
    private const int BetweenClearings = 16;

    private readonly ConcurrentDictionary<(Guid Source, bool IsUnsigned), int> _since = new();
    private readonly IDataProtector _seal = protection.CreateProtector("outcry.deliveries");

    /// <summary>Notes a delivery whose event is committed already: if it cannot be noted, the sender has its answer all the same.</summary>
    public async Task TryNoteAsync(
        SourceRow source,
        WebhookMessage message,
        DeliveryVerdict verdict,
        int status,
        string? because,
        Guid? eventId,
        Instant now,
        CancellationToken stop
    )
    {
        try
        {
            await NoteAsync(source, message, verdict, status, because, eventId, now, stop);
        }
        catch (Exception failure)
        {
            watch.PassedOver($"note of a delivery at source {source.Id}", failure);
        }
    }

    public async Task NoteAsync(
        SourceRow source,
        WebhookMessage message,
        DeliveryVerdict verdict,
        int status,
        string? because,
        Guid? eventId,
        Instant now,
        CancellationToken stop
    )
    {
        await using var db = database.Open();
        db.Deliveries.Add(
            new DeliveryRow
            {
                WorkspaceId = source.WorkspaceId,
                SiteId = source.SiteId,
                SourceId = source.Id,
                At = now,
                Verdict = verdict,
                Status = status,
                Because = because is null ? null : PlainText.Clean(because),
                MessageId = Short(message.Id),
                ContentType = Short(message.ContentType),
                SealedBody = _seal.Protect(message.Body),
                EventId = eventId,
                ResendOf = message.ResendOf,
            }
        );
        await db.SaveChangesAsync(stop);
        var isUnsigned = status == StatusCodes.Status401Unauthorized;
        if (_since.AddOrUpdate((source.Id, isUnsigned), 1, (_, n) => n + 1) % BetweenClearings == 0)
            await ClearAsync(db, source.Id, isUnsigned, stop);
        // Told when it is there: the news of its event comes before, and a refused one has no event.
        await news.TellAsync(source.SiteId, SiteChange.Delivery);
    }

    private static async Task ClearAsync(Store.OutcryDb db, Guid sourceId, bool isUnsigned, CancellationToken stop)
    {
        var alike = db.Deliveries.Where(d =>
            d.SourceId == sourceId && (d.Status == StatusCodes.Status401Unauthorized) == isUnsigned
        );
        var beyond = await alike
            .OrderByDescending(d => d.At)
            .ThenByDescending(d => d.Id)
            .Skip(isUnsigned ? KeptUnsigned : Kept)
            .Select(d => d.At)
            .FirstOrDefaultAsync(stop);
        if (beyond != default)
            await alike.Where(d => d.At <= beyond).ExecuteDeleteAsync(stop);
    }

    /// <summary>A delivery's body; null when its seal cannot be opened any more.</summary>
    public byte[]? Open(DeliveryRow delivery)
    {
        try
        {
            return _seal.Unprotect(delivery.SealedBody);
        }
        catch (System.Security.Cryptography.CryptographicException)
        {
            return null;
        }
    }

    private static string? Short(string? text) => text is null ? null : PlainText.Clip(PlainText.Clean(text), 200);
}
