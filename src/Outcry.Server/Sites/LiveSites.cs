using System.Collections.Concurrent;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Core.Saying;
using Outcry.Core.Visitors;
using Outcry.Server.Care;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Sites;

/// <summary>All sites as they serve visitors. Finding one reads no database.</summary>
internal sealed class LiveSites(
    SystemDb database,
    SuppliedWords words,
    LookedCounter traffic,
    TeamPresence team,
    IClock clock
)
{
    private readonly ConcurrentDictionary<string, LiveSite> _byKey = new();
    private readonly ConcurrentDictionary<Guid, LiveSite> _byId = new();
    private readonly SemaphoreSlim _loading = new(1);

    public LiveSite? FindByKey(string key) => _byKey.GetValueOrDefault(key);

    public LiveSite? FindById(Guid id) => _byId.GetValueOrDefault(id);

    public LiveSite GetById(Guid id) =>
        FindById(id) ?? throw new InvalidOperationException("The site was checked at the door and must be loaded.");

    public IReadOnlyCollection<LiveSite> All => [.. _byId.Values];

    public IEnumerable<string> HostsOf(Guid workspaceId) =>
        _byId
            .Values.Where(s => s.WorkspaceId == workspaceId)
            .SelectMany(s => s.AllowedHosts.Concat(s.TestHosts))
            .Distinct();

    /// <summary>Whether any site at all is served to this host: what a preflight, which names no site, can be told.</summary>
    public bool AnyAllows(string host) => _byId.Values.Any(s => s.Allows(host));

    public LiveSite? FindBySource(Guid sourceId) => _byId.Values.FirstOrDefault(s => s.Sources.ContainsKey(sourceId));

    /// <summary>Loads every site, at start.</summary>
    public async Task LoadAllAsync(CancellationToken stop)
    {
        await using var db = database.Open();
        foreach (var id in await db.Sites.Select(s => s.Id).ToListAsync(stop))
            await ReloadAsync(id, stop);
    }

    /// <summary>Forgets a site that is gone.</summary>
    public void Forget(Guid siteId)
    {
        if (_byId.TryRemove(siteId, out var gone))
            _byKey.TryRemove(gone.Key, out _);
    }

    /// <summary>Loads one site anew and swaps it in whole.</summary>
    public async Task ReloadAsync(Guid siteId, CancellationToken stop)
    {
        await _loading.WaitAsync(stop);
        var before = FindById(siteId);
        try
        {
            before?.ExpectSuccessor();
            if (await LoadAsync(siteId, stop) is not { } fresh)
                return;
            if (before is not null)
                fresh.Inherit(before);
            _byId[siteId] = fresh;
            _byKey[fresh.Key] = fresh;
        }
        finally
        {
            before?.ExpectNoSuccessor();
            _loading.Release();
        }
    }

    /// <summary>Brings one event into memory, as when another node has taken it in.</summary>
    public async Task FetchEventAsync(Guid siteId, Guid eventId, CancellationToken stop)
    {
        await using var db = database.Open();
        if (
            FindById(siteId) is { } site
            && await db.Events.FindAsync([eventId], stop) is { } row
            && row.State != EventState.Deleted
        )
            site.Add(row.ToEvent());
    }

    private async Task<LiveSite?> LoadAsync(Guid siteId, CancellationToken stop)
    {
        await using var db = database.Open();
        db.ChangeTracker.QueryTrackingBehavior = QueryTrackingBehavior.NoTracking;
        var row = await db.Sites.FirstOrDefaultAsync(s => s.Id == siteId, stop);
        if (row is null)
            return null;
        var sources = await db.Sources.Where(s => s.SiteId == siteId).ToListAsync(stop);
        var live = await db
            .Callouts.Where(c => c.SiteId == siteId && c.State == CalloutState.Live)
            .Join(
                db.Revisions,
                c => new { c.Id, Number = c.Revision },
                r => new { Id = r.CalloutId, r.Number },
                (c, r) => new { Callout = c, Revision = r }
            )
            .ToListAsync(stop);
        var events = await db
            .Events.Where(e => e.SiteId == siteId && e.State != EventState.Deleted)
            .OrderByDescending(e => e.At)
            .Take(LiveSite.MostEvents)
            .ToListAsync(stop);
        var shared = await SharedAsync(db, row, stop);
        var callouts = live.ConvertAll(x => Compile(x.Callout, x.Revision.Brief, CalloutState.Live, shared));
        var now = clock.GetCurrentInstant();
        return new LiveSite(
            row,
            sources,
            callouts,
            [.. events.Select(e => e.ToEvent())],
            words.Compile(row.Words),
            shared,
            await traffic.CountAsync(siteId, callouts, now, stop),
            team.IsThere(row.WorkspaceId),
            now
        );
    }

    private static async Task<Shared> SharedAsync(OutcryDb db, SiteRow row, CancellationToken stop)
    {
        var segments = await db.Segments.Where(s => s.SiteId == row.Id).ToListAsync(stop);
        var groups = await db.PageGroups.Where(g => g.SiteId == row.Id).ToListAsync(stop);
        return new Shared(
            segments.ToDictionary(s => s.Id, s => new Segment(s.Id, s.Name, s.Rule)),
            groups.ToDictionary(g => g.Id, g => new PageGroup(g.Id, g.Name, PageRule.Parse(g.Includes, g.Excludes))),
            row.Language,
            OwnWords(row)
        );
    }

    // The neutral noun is a built-in word like the others, kept where it was first asked for.
    private static Dictionary<string, IReadOnlyDictionary<string, string>> OwnWords(SiteRow row)
    {
        var words = row.OwnWords.ToDictionary(
            w => w.Key,
            w => new Dictionary<string, string>(w.Value),
            StringComparer.OrdinalIgnoreCase
        );
        foreach (var (language, noun) in row.Nouns)
        {
            if (!words.TryGetValue(language, out var own))
                words[language] = own = [];
            own[BuiltInWords.Key(BuiltInWord.Someone)] = noun;
        }
        return words.ToDictionary(
            w => w.Key,
            w => (IReadOnlyDictionary<string, string>)w.Value,
            StringComparer.OrdinalIgnoreCase
        );
    }

    public static Callout Compile(CalloutRow row, Brief brief, CalloutState state, Shared shared) =>
        new(row.Id, row.Name, state, row.CreatedAt, row.Revision, brief, shared);
}
