using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using Outcry.Core.Greetings;
using Outcry.Core.Replaying;
using Outcry.Server.Platform;
using Outcry.Server.Replays;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Signals;

namespace Outcry.Server.Launchers;

/// <param name="Fits">Recorded visits in which the rung is the one, of those read.</param>
/// <param name="Shown">How often its greeting was seen.</param>
/// <param name="Answered">How often it was clicked or replied to.</param>
internal sealed record RungFiguresView(Guid Id, int Fits, int Shown, int Answered);

/// <param name="Clicked">How often it was opened or written by.</param>
internal sealed record ChannelFiguresView(Guid Id, int Clicked);

/// <param name="Visits">Recorded visits read, of the last 30 days.</param>
/// <param name="Without">Those in which no rung fits.</param>
/// <param name="IsAll">Whether these are all of them, and not the first that were read.</param>
internal sealed record LadderFiguresView(
    int Visits,
    int Without,
    bool IsAll,
    IReadOnlyList<RungFiguresView> Rungs,
    IReadOnlyList<ChannelFiguresView> Channels,
    int Opened
);

/// <summary>Counts for how many recorded visits each rung of a draft is the one, and how its greetings and channels have fared.</summary>
internal static class CountLadder
{
    private static readonly Duration Period = Duration.FromDays(30);

    // Enough that a share is told to the percent; a site with more is told so.
    private const int MostVisits = 20_000;

    public static async Task<Results<Ok<LadderFiguresView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid id,
        OutcryDb db,
        LiveSites sites,
        RecordedVisits record,
        SignalFigures signals,
        IClock clock,
        CancellationToken stop
    )
    {
        if (await db.FindDefinitionAsync(siteId, LauncherKind.Launcher, id, stop) is not { } row)
            return Problems.NotFound("launcher");
        var (site, now) = (sites.GetById(siteId), clock.GetCurrentInstant());
        var (launcher, _) = DraftLauncher.TryCompile(row, site, now);
        if (launcher is null)
            return TypedResults.Ok(new LadderFiguresView(0, 0, true, [], [], 0));
        var (count, isAll) = await CountAsync(site, launcher, record, now, stop);
        var ids = launcher
            .Greetings.Select(g => g.Id)
            .Concat(launcher.Brief.Channels.Select(c => c.Id))
            .Append(launcher.Id)
            .ToList();
        var met = (await signals.OfCalloutsAsync(ids, stop)).ToDictionary(c => c.CalloutId);
        return TypedResults.Ok(
            new LadderFiguresView(
                count.Visits,
                count.Without,
                isAll,
                [
                    .. launcher.Greetings.Select(g => new RungFiguresView(
                        g.Id,
                        count.ByRung[g.Id],
                        met.GetValueOrDefault(g.Id).Shown,
                        met.GetValueOrDefault(g.Id).Clicked
                    )),
                ],
                [
                    .. launcher.Brief.Channels.Select(c => new ChannelFiguresView(
                        c.Id,
                        met.GetValueOrDefault(c.Id).Clicked
                    )),
                ],
                met.GetValueOrDefault(launcher.Id).Clicked
            )
        );
    }

    private static async Task<(LadderCount Count, bool IsAll)> CountAsync(
        LiveSite site,
        Launcher launcher,
        RecordedVisits record,
        Instant now,
        CancellationToken stop
    )
    {
        var count = new LadderCount(site.Snapshot.OnAir().Trying(launcher), launcher);
        var host = new Uri(site.HomeAddress).Authority;
        await foreach (var lot in record.ReadAsync(site.Id, host, site.Zone, now - Period, now, stop))
        {
            foreach (var visits in lot.Visitors)
                count.Add(visits);
            if (count.Visits >= MostVisits)
                return (count, false);
        }
        return (count, true);
    }
}
