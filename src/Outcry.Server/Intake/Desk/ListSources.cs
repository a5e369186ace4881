using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Caching.Memory;
using NodaTime;
using Npgsql;
using Outcry.Core.Access;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Publishing;
using Outcry.Core.Sources;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake.Desk;

/// <summary>What came in at a source lately.</summary>
internal sealed record SourceHealth(Instant? Last, int Day, int[] Hours, double? UsualDay, int Waiting)
{
    public static SourceHealth None { get; } = new(null, 0, new int[24], null, 0);
}

/// <summary>The site's sources with their health and what depends on them.</summary>
internal static class ListSources
{
    // The list is asked for at every event; four weeks of days are not counted anew each time.
    private static readonly TimeSpan UsualDaysHold = TimeSpan.FromHours(1);

    public static async Task<Ok<List<SourceView>>> HandleAsync(
        Guid siteId,
        OutcryDb db,
        DefinitionsInUse inUse,
        NpgsqlDataSource source,
        IMemoryCache cache,
        CurrentMember member,
        HttpRequest request,
        IClock clock,
        CancellationToken stop
    )
    {
        var now = clock.GetCurrentInstant();
        var usual = await cache.GetOrCreateAsync(
            (nameof(ListSources), siteId),
            entry =>
            {
                entry.AbsoluteExpirationRelativeToNow = UsualDaysHold;
                return UsualDaysAsync(source, siteId, now, stop);
            }
        );
        var health = await HealthAsync(source, siteId, usual!, now, stop);
        var dependents = (await inUse.ReadAsync(siteId, stop)).Where(d => d.State != DefinitionState.Archived).ToList();
        var rows = await db
            .Sources.AsNoTracking()
            .Where(s => s.SiteId == siteId && s.DeletedAt == null)
            .OrderBy(s => s.CreatedAt)
            .ThenBy(s => s.Id)
            .ToListAsync(stop);
        return TypedResults.Ok(
            rows.ConvertAll(s =>
                View(s, health.GetValueOrDefault(s.Id, SourceHealth.None), dependents, member, request)
            )
        );
    }

    public static SourceView View(
        SourceRow s,
        SourceHealth health,
        IEnumerable<DefinitionInUse> dependents,
        CurrentMember member,
        HttpRequest request
    )
    {
        var set = new SourceSettings(s.Form, s.Map, s.Poll, s.Script, s.Rules, s.Display);
        var own = SourceCheck.OwnFields(s.EventKind, set, s.Display);
        return new SourceView(
            s.Id,
            s.Name,
            s.Kind,
            s.EventKind,
            s.CreatedAt,
            s.PausedAt,
            new SourceTraces(s.PausedAt is not null, health.Last, s.RefusedAt, health.Day, health.UsualDay).Judge(),
            health.Last,
            health.Day,
            health.Hours,
            health.UsualDay,
            health.Waiting,
            s.RefusedAt,
            s.RefusedBecause,
            s.PolledAt,
            s.Kind == SourceKind.SignedWebhook ? $"{request.Scheme}://{request.Host}/in/{s.Id}" : null,
            member.May(Right.Connect) ? s.Secret : null,
            s.Proof,
            s.PreviousSecretUntil,
            s.Form,
            s.Map,
            s.Poll,
            s.Script,
            s.Rules,
            s.Display,
            KindTokens.Offered(CalloutKind.Moment, [SitesFeature.Offer(s)]),
            [.. EventFields.Common.Concat(own)],
            own,
            [
                .. dependents
                    .Where(c => c.References.Sources.Contains(s.Id))
                    .Select(c => new DependentView(c.Id, c.Name, c.State)),
            ]
        );
    }

    private static async Task<Dictionary<Guid, SourceHealth>> HealthAsync(
        NpgsqlDataSource source,
        Guid siteId,
        Dictionary<Guid, double> usual,
        Instant now,
        CancellationToken stop
    )
    {
        // One look at each source's newest event (an index answers it), and one pass over the last day.
        await using var command = source.CreateCommand(
            """
            with hours as (
              select source_id, floor(extract(epoch from $2 - at) / 3600)::int as ago, count(*)::int as n
              from events where site_id = $1 and at > $2 - interval '24 hours' and at <= $2 and state <> 'Deleted' group by 1, 2),
            held as (select source_id, count(*)::int as n from events where site_id = $1 and state = 'Held' group by 1)
            select s.id,
                   (select e.at from events e where e.source_id = s.id and e.state <> 'Deleted' order by e.at desc limit 1),
                   array(select coalesce(h.n, 0) from generate_series(23, 0, -1) as g(ago) left join hours h on h.source_id = s.id and h.ago = g.ago order by g.ago desc),
                   coalesce((select n from held where held.source_id = s.id), 0)
            from sources s where s.site_id = $1 and s.deleted_at is null
            """
        );
        command.Parameters.AddWithValue(siteId);
        command.Parameters.AddWithValue(now);
        var health = new Dictionary<Guid, SourceHealth>();
        await using var reader = await command.ExecuteReaderAsync(stop);
        while (await reader.ReadAsync(stop))
        {
            var hours = await reader.GetFieldValueAsync<int[]>(2, stop);
            health[reader.GetGuid(0)] = new SourceHealth(
                await reader.IsDBNullAsync(1, stop) ? null : await reader.GetFieldValueAsync<Instant>(1, stop),
                hours.Sum(),
                hours,
                usual.TryGetValue(reader.GetGuid(0), out var day) ? day : null,
                reader.GetInt32(3)
            );
        }
        return health;
    }

    private static async Task<Dictionary<Guid, double>> UsualDaysAsync(
        NpgsqlDataSource source,
        Guid siteId,
        Instant now,
        CancellationToken stop
    )
    {
        await using var command = source.CreateCommand(
            """
            with days as (
              select source_id, floor(extract(epoch from $2 - at) / 86400)::int as ago, count(*) as n
              from events where site_id = $1 and at > $2 - interval '29 days' and at <= $2 - interval '1 day' and state <> 'Deleted'
              group by 1, 2)
            select source_id, percentile_cont(0.5) within group (order by n) from days group by 1 having count(*) >= 7
            """
        );
        command.Parameters.AddWithValue(siteId);
        command.Parameters.AddWithValue(now);
        var usual = new Dictionary<Guid, double>();
        await using var reader = await command.ExecuteReaderAsync(stop);
        while (await reader.ReadAsync(stop))
            usual[reader.GetGuid(0)] = reader.GetDouble(1);
        return usual;
    }
}
