using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using Outcry.Server.Intake;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake.Desk;

/// <summary>The new secret, and until when the old one still holds.</summary>
internal sealed record SecretView(string Secret, Instant OldHoldsUntil);

/// <summary>Replaces a webhook's secret. Both hold for a day, so that the sender can be changed without losing anything.</summary>
internal static class RotateSecret
{
    private static readonly Duration Overlap = Duration.FromHours(24);

    public static async Task<Results<Ok<SecretView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid sourceId,
        OutcryDb db,
        SiteNews news,
        TraceBook traces,
        IClock clock,
        CancellationToken stop
    )
    {
        if (await ChangeSource.FindAsync(db, siteId, sourceId, stop) is not { Kind: SourceKind.SignedWebhook } row)
            return Problems.NotFound("webhook");
        row.PreviousSecret = row.Secret;
        row.PreviousSecretUntil = clock.GetCurrentInstant() + Overlap;
        row.Secret = StandardWebhooks.NewSecret();
        traces.Add("changed the secret of", row.Name, siteId);
        await db.SaveChangesAsync(stop);
        await news.TellAsync(siteId, SiteChange.Definition);
        return TypedResults.Ok(new SecretView(row.Secret, row.PreviousSecretUntil.Value));
    }
}
