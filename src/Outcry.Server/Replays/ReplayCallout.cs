using System.Text.Json;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Http.Json;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using NodaTime;
using Npgsql;
using Outcry.Core.Briefs;
using Outcry.Core.Claims;
using Outcry.Core.Pages;
using Outcry.Core.Publishing;
using Outcry.Core.Replaying;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.Replays;

/// <summary>Plays a draft against the visits of the last days. Answers line by line as it counts; hanging up ends it.</summary>
internal static class ReplayCallout
{
    private static readonly TimeSpan TellEvery = TimeSpan.FromMilliseconds(200);

    public static async Task<Results<PushStreamHttpResult, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid id,
        OutcryDb db,
        LiveSites sites,
        LookedCounter counter,
        ReplayRunner runner,
        IOptions<JsonOptions> json,
        HttpResponse response,
        IClock clock,
        CancellationToken stop,
        int days = 30
    )
    {
        if (days is < 1 or > ReplaySetting.MostDays)
            return Problems.BadField("days", $"A replay takes in 1 to {ReplaySetting.MostDays} days.");
        var row = await db.FindDefinitionAsync(siteId, BriefKind.Callout, id, stop);
        if (row is null)
            return Problems.NotFound("callout");
        var site = sites.GetById(siteId);
        var now = clock.GetCurrentInstant();
        if (
            BriefKind
                .Instance.Check(row.Draft.Read<Brief>(), site.CheckSetting(now))
                .FirstOrDefault(p => BriefFields.StopsTrying(p)) is
            { } problem
        )
            return Problems.Of(
                StatusCodes.Status409Conflict,
                "not-ready",
                "The draft cannot be replayed yet",
                problem.Message,
                problem.Field
            );
        var draft = BriefKind.Instance.Compile(row.In(DefinitionState.Live), row.Draft.Read<Brief>(), site.Context);
        var groups = await db
            .PageGroups.AsNoTracking()
            .Where(g => g.SiteId == siteId)
            .OrderBy(g => g.Position)
            .ToListAsync(stop);
        var setting = new ReplaySetting(
            site.Snapshot,
            draft,
            site.Events,
            site.DisplayOf,
            await TrafficAsync(site, draft, counter, now, stop),
            now - Duration.FromDays(days),
            now,
            [.. groups.Select(g => new ReplayGroup(g.Id, PageGroups.RuleOf(g)))]
        );
        if (runner.TryTakePlace() is not { } place)
            return Problems.Of(
                StatusCodes.Status503ServiceUnavailable,
                "busy",
                "Other replays are running",
                "Try again in a few seconds; nothing was started."
            );
        response.RegisterForDispose(place);
        var caveats = ReplayCaveats.Of(row.Draft.Read<Brief>(), site.Rules, site.Context.Segments);
        var names = site.Callouts.ToDictionary(c => c.Id, c => c.Name);
        ReplayFigures Figures(ReplayTally tally) =>
            ReplayFigures.Of(tally, setting, groups, id => names.GetValueOrDefault(id), caveats);
        return TypedResults.Stream(
            body =>
            {
                Task Tell(ReplayStep step, bool done, string? failed) =>
                    WriteAsync(
                        body,
                        new ReplayLine(step.Read, step.Of, done, Figures(step.Tally), failed),
                        json.Value,
                        stop
                    );
                return PlayAsync(site, setting, runner, Tell, stop);
            },
            "application/x-ndjson"
        );
    }

    private static async Task PlayAsync(
        LiveSite site,
        ReplaySetting setting,
        ReplayRunner runner,
        Func<ReplayStep, bool, string?, Task> tell,
        CancellationToken stop
    )
    {
        var last = new ReplayStep(0, 0, new ReplayTally(setting));
        try
        {
            await runner.RunAsync(
                site.Id,
                new Uri(site.HomeAddress).Authority,
                setting,
                TellEvery,
                step => tell(last = step, false, null),
                stop
            );
            await tell(last, true, null);
        }
        catch (NpgsqlException)
        {
            await tell(last, true, "The database went away meanwhile. Replay it again.");
        }
    }

    private static async Task WriteAsync(Stream body, ReplayLine line, JsonOptions json, CancellationToken stop)
    {
        await JsonSerializer.SerializeAsync(body, line, json.SerializerOptions, stop);
        await body.WriteAsync("\n"u8.ToArray(), stop);
        await body.FlushAsync(stop);
    }

    private static async Task<Traffic> TrafficAsync(
        LiveSite site,
        Callout draft,
        LookedCounter counter,
        Instant now,
        CancellationToken stop
    )
    {
        var known = site.Snapshot.Conditions.Traffic.LookedAt;
        var counted = await counter.CountAsync(site.Id, site.HomeHost, [draft], now, stop);
        return new Traffic(
            site.PresentFor(draft, now),
            known.Concat(counted).GroupBy(p => p.Key).ToDictionary(g => g.Key, g => g.Last().Value)
        );
    }
}
