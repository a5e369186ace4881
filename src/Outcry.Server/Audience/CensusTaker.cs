using System.Collections.Concurrent;
using System.Collections.Immutable;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Replaying;
using Outcry.Core.Visitors;
using Outcry.Server.Platform;
using Outcry.Server.Replays;
using Outcry.Server.Sites;
using Outcry.Store.Signals;

namespace Outcry.Server.Audience;

/// <summary>Counts recorded visitors site by site, and keeps the count for a while: whoever asks meanwhile waits for nothing.</summary>
internal sealed class CensusTaker
{
    private readonly RecordedVisits _record;
    private readonly SignalFigures _signals;
    private readonly SystemDb _database;
    private readonly IClock _clock;
    private readonly LoopWatch _watch;

    public CensusTaker(
        RecordedVisits record,
        SignalFigures signals,
        SystemDb database,
        SiteNews news,
        IClock clock,
        LoopWatch watch
    )
    {
        (_record, _signals, _database, _clock, _watch) = (record, signals, database, clock, watch);
        // Also when it was another node that erased somebody.
        news.Erased += Forget;
    }

    /// <summary>Reports held at most; a busier site is counted over fewer days.</summary>
    private const long MostReports = 400_000;
    private static readonly Duration Period = Duration.FromDays(30);
    private static readonly Duration Fresh = Duration.FromMinutes(5);

    private readonly ConcurrentDictionary<Guid, Taking> _taken = new();
    private readonly ConcurrentDictionary<Guid, int> _forgotten = new();

    /// <summary>The census: a fresh one the first time, later one that may be some minutes old while the next is taken.</summary>
    public async Task<Census> ReadAsync(LiveSite site, CancellationToken stop)
    {
        while (true)
        {
            var known = _taken.GetOrAdd(site.Id, _ => Begin(site));
            if (known.Count.Value.IsFaulted)
            {
                _taken.TryUpdate(site.Id, Begin(site), known);
                known = _taken.GetOrAdd(site.Id, _ => Begin(site));
            }
            var census = await known.Count.Value.WaitAsync(stop);
            // Whoever was erased while it was under way may still be in it.
            if (known.Forgotten != Forgotten(site.Id))
            {
                _taken.TryRemove(new KeyValuePair<Guid, Taking>(site.Id, known));
                continue;
            }
            if (_clock.GetCurrentInstant() - census.At > Fresh && _renewing.TryAdd(site.Id, true))
                _ = RenewAsync(site);
            return census;
        }
    }

    /// <summary>Forgets what was counted of a site, and what is being counted, as when somebody was erased: the next who asks has it counted anew.</summary>
    public void Forget(Guid siteId)
    {
        _forgotten.AddOrUpdate(siteId, 1, (_, times) => times + 1);
        _taken.TryRemove(siteId, out _);
    }

    private readonly ConcurrentDictionary<Guid, bool> _renewing = new();

    private int Forgotten(Guid siteId) => _forgotten.GetValueOrDefault(siteId);

    private async Task RenewAsync(LiveSite site)
    {
        try
        {
            var next = Begin(site);
            await next.Count.Value;
            if (next.Forgotten == Forgotten(site.Id))
                _taken[site.Id] = next;
        }
        catch (Exception failure)
        {
            // The old one serves on; the next who asks begins again.
            _watch.PassedOver($"count of visitors of site {site.Id}", failure);
        }
        finally
        {
            _renewing.TryRemove(site.Id, out _);
        }
    }

    // Not bound to whoever asked first: others wait for the same.
    private Taking Begin(LiveSite site) =>
        new(Forgotten(site.Id), new Lazy<Task<Census>>(() => Task.Run(() => TakeAsync(site, default))));

    /// <summary>A count that is made or being made.</summary>
    /// <param name="Forgotten">How often the site had been forgotten when it began.</param>
    private sealed record Taking(int Forgotten, Lazy<Task<Census>> Count);

    private async Task<Census> TakeAsync(LiveSite site, CancellationToken stop)
    {
        var now = _clock.GetCurrentInstant();
        var from = now - Period;
        var reports = await _record.CountAsync(site.Id, from, now, stop);
        if (reports > MostReports)
            from = now - Period * ((double)MostReports / reports);
        var met = await MetAsync(site.Id, from, stop);
        var said = await SaidAsync(site.Id, stop);
        var visitors = new List<CountedVisitor>();
        await foreach (
            var lot in _record.ReadAsync(site.Id, site.HomeHost, site.Zone, from, now + Duration.FromSeconds(1), stop)
        )
            visitors.AddRange(lot.Visitors.Select(visits => Count(visits, met, said)));
        return new Census(now, from, [.. visitors.OrderByDescending(v => v.Last.LastAt)]);
    }

    private static CountedVisitor Count(
        IReadOnlyList<RecordedVisit> visits,
        ILookup<string, (Guid Callout, Exposure Met)> met,
        Dictionary<string, IReadOnlyDictionary<string, string>> said
    )
    {
        var id = visits[0].VisitorId;
        var exposures = met[id].ToImmutableDictionary(m => m.Callout, m => m.Met);
        var visitor = visits[0].VisitorBefore();
        var counted = new List<CountedVisit>(visits.Count);
        foreach (var visit in visits)
        {
            foreach (var page in visit.Pages)
                visitor = visitor.Arrive(page.At).CameIn(visit.CameBy with { EntryPage = page.Page.ToNote() });
            var facts = said.TryGetValue(id, out var attributes)
                ? visit.Facts with
                {
                    IsKnown = true,
                    Attributes = attributes,
                }
                : visit.Facts;
            counted.Add(new CountedVisit(visit with { Facts = facts }, visitor with { Exposures = exposures }));
        }
        return new CountedVisitor(id, counted);
    }

    private async Task<ILookup<string, (Guid, Exposure)>> MetAsync(Guid siteId, Instant from, CancellationToken stop) =>
        (await _signals.MetAsync(siteId, from.InUtc().Date, stop)).ToLookup(
            m => m.VisitorId,
            m => (m.CalloutId, new Exposure(m.Visits, m.LastAt, m.LastVisit, m.ClosedAt, m.ClickedAt))
        );

    private async Task<Dictionary<string, IReadOnlyDictionary<string, string>>> SaidAsync(
        Guid siteId,
        CancellationToken stop
    )
    {
        await using var db = _database.Open();
        return await db
            .Visitors.AsNoTracking()
            .Where(v => v.SiteId == siteId)
            .ToDictionaryAsync(v => v.VisitorId, v => (IReadOnlyDictionary<string, string>)v.Attributes, stop);
    }
}
