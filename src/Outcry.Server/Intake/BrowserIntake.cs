using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Sources;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake;

/// <summary>Takes what a browser reports into the ledger, within what one browser, one network and one source may.</summary>
internal sealed class BrowserIntake(EventRecorder recorder, VisitorQuota quota)
{
    /// <summary>Commits one report; returns the problem that it is answered with when it is not taken.</summary>
    /// <param name="field">Where the sender finds what is wrong: the beginning of the field's name.</param>
    /// <param name="read">Reads the report as the source would have it.</param>
    public async Task<ProblemHttpResult?> TakeAsync(
        LiveSite site,
        SourceRow source,
        PageActor actor,
        string field,
        Func<(IncomingEvent? Event, ArrivalFault? Fault)> read,
        Instant now,
        CancellationToken stop
    )
    {
        var verdict = quota.Take(site, actor, source.Id, now);
        if (verdict == QuotaVerdict.Refused)
            return TooMuch();
        var (arrival, fault) = read();
        if (fault is not null)
        {
            await recorder.RefusedAsync(source, $"{fault.Field}: {fault.Sentence}", now, stop);
            return Problems.BadField($"{field}.{fault.Field}", fault.Sentence);
        }
        arrival = arrival! with { IsRush = verdict == QuotaVerdict.Held };
        await recorder.RecordAsync(arrival, source, actor.IsOwn, now, stop);
        return null;
    }

    /// <summary>Counts what goes to no source; returns the problem when it is too much.</summary>
    public ProblemHttpResult? Count(LiveSite site, PageActor actor, Instant now) =>
        quota.Take(site, actor, site.Id, now) == QuotaVerdict.Refused ? TooMuch() : null;

    private static ProblemHttpResult TooMuch() =>
        Problems.Of(
            StatusCodes.Status429TooManyRequests,
            "too-many",
            "Too much is reported",
            "More comes from this browser than a person does. Nothing was taken in."
        );
}
