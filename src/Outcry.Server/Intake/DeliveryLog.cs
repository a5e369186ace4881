using Microsoft.AspNetCore.DataProtection;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Server.Platform;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake;

/// <summary>Keeps the last deliveries of each webhook with what became of them. Bodies name people, so they are kept encrypted.</summary>
internal sealed class DeliveryLog(SystemDb database, IDataProtectionProvider protection)
{
    /// <summary>Deliveries kept of one source.</summary>
    public const int Kept = 50;

    private readonly IDataProtector _seal = protection.CreateProtector("outcry.deliveries");

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
                Because = because,
                MessageId = Short(message.Id),
                ContentType = Short(message.ContentType),
                SealedBody = _seal.Protect(message.Body),
                EventId = eventId,
                ResendOf = message.ResendOf,
            }
        );
        await db.SaveChangesAsync(stop);
        var beyond = await db
            .Deliveries.Where(d => d.SourceId == source.Id)
            .OrderByDescending(d => d.At)
            .ThenByDescending(d => d.Id)
            .Skip(Kept)
            .Select(d => d.At)
            .FirstOrDefaultAsync(stop);
        if (beyond != default)
            await db.Deliveries.Where(d => d.SourceId == source.Id && d.At <= beyond).ExecuteDeleteAsync(stop);
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

    private static string? Short(string? text) => text is { Length: > 200 } ? text[..200] : text;
}
