using System.Collections.Concurrent;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Asking;
using Outcry.Core.Briefs;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Greetings;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;
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
    LiveKinds kinds,
    LoopWatch watch,
    IClock clock
) : ISiteBook
{
    private readonly ConcurrentDictionary<string, LiveSite> _byKey = new();
    private readonly ConcurrentDictionary<Guid, LiveSite> _byId = new();

    // Asked at every request; the dictionary would take all its locks to tell.
    private volatile LiveSite[] _all = [];
    private readonly SemaphoreSlim _loading = new(1);

    public LiveSite? FindByKey(string key) => _byKey.GetValueOrDefault(key);

    public LiveSite? FindById(Guid id) => _byId.GetValueOrDefault(id);

    public LiveSite GetById(Guid id) =>
        FindById(id) ?? throw new InvalidOperationException("The site was checked at the door and must be loaded.");

    public IReadOnlyCollection<LiveSite> All => _all;

    public Guid? WorkspaceOf(Guid siteId) => FindById(siteId)?.WorkspaceId;

    public IEnumerable<string> HostsOf(IReadOnlySet<Guid> workspaces) =>
        _all.Where(s => workspaces.Contains(s.WorkspaceId))
            .SelectMany(s => s.AllowedHosts.Concat(s.TestHosts))
            .Distinct();

    /// <summary>Whether any site at all is served to this host: what a preflight, which names no site, can be told.</summary>
    public bool AnyAllows(string host)
    {
        foreach (var site in _all)
            if (site.Allows(host))
                return true;
        return false;
    }

    public LiveSite? FindBySource(Guid sourceId) => _all.FirstOrDefault(s => s.Sources.ContainsKey(sourceId));

    /// <summary>Loads every site, at start and when news may have been missed. One that cannot be loaded stops no other.</summary>
    public async Task LoadAllAsync(CancellationToken stop)
    {
        await using var db = database.Open();
        foreach (var id in await StandingAsync(db, stop))
            try
            {
                await ReloadAsync(id, stop);
            }
            catch (Exception failure) when (!stop.IsCancellationRequested && !Problems.IsDatabaseAway(failure))
            {
                // What was loaded before, if anything, goes on serving.
                watch.PassedOver($"site {id} cannot be loaded", failure);
            }
    }

    /// <summary>Loads what is not in memory yet, as a site that could not be loaded at the start.</summary>
    public async Task LoadMissingAsync(CancellationToken stop)
    {
        await using var db = database.Open();
        foreach (var id in await StandingAsync(db, stop))
            if (FindById(id) is null)
                try
                {
                    await ReloadAsync(id, stop);
                }
                catch (Exception failure) when (!stop.IsCancellationRequested && !Problems.IsDatabaseAway(failure))
                {
                    watch.PassedOver($"site {id} cannot be loaded", failure);
                }
    }

    private static Task<List<Guid>> StandingAsync(OutcryDb db, CancellationToken stop) =>
        db.Sites.Where(s => s.RemovedAt == null).Select(s => s.Id).ToListAsync(stop);

    private void Forget(Guid siteId)
    {
        if (_byId.TryRemove(siteId, out var gone))
            _byKey.TryRemove(gone.Key, out _);
        _all = [.. _byId.Values];
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
            {
                Forget(siteId);
                return;
            }
            if (before is not null)
                fresh.Inherit(before);
            _byId[siteId] = fresh;
            _byKey[fresh.Key] = fresh;
            _all = [.. _byId.Values];
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

    /// <summary>Notes in memory whether a person's browsers are to be asked again.</summary>
    public async Task FetchLeadAsync(Guid siteId, Guid leadId, CancellationToken stop)
    {
        await using var db = database.Open();
        var lead = await db
            .Leads.Where(l => l.Id == leadId)
            .Select(l => new
            {
                l.Visitors,
                l.State,
                TookBack = db.Promises.Where(p => l.Withdrawn.Contains(p.Id)).Select(p => p.Text).ToList(),
            })
            .FirstOrDefaultAsync(stop);
        if (FindById(siteId) is not { } site || lead is null)
            return;
        foreach (var visitor in lead.Visitors)
            site.Asked.Note(visitor, AskedBefore.Of(lead.State, lead.TookBack));
        await ReadPoolsAsync(db, site, stop);
    }

    // Read after the commit: of many who take the last codes at once the last to commit sees that none is left.
    private static async Task ReadPoolsAsync(OutcryDb db, LiveSite site, CancellationToken stop)
    {
        var pools = await db
            .CodePools.Where(p => p.SiteId == site.Id)
            .Select(p => new { p.Id, IsEmpty = !db.Codes.Any(c => c.PoolId == p.Id && c.YesId == null) })
            .ToListAsync(stop);
        foreach (var pool in pools)
            if (pool.IsEmpty)
                site.EmptyPools[pool.Id] = true;
            else
                site.EmptyPools.TryRemove(pool.Id, out _);
    }

    /// <summary>Browsers kept in memory as those of people who said yes: the latest.</summary>
    private const int MostGiven = 200_000;

    private static async Task ReadGivenAsync(OutcryDb db, LiveSite site, CancellationToken stop)
    {
        var given = await db
            .LeadYeses.Where(y => y.SiteId == site.Id)
            .Join(
                db.Leads,
                y => y.LeadId,
                l => l.Id,
                (y, l) =>
                    new
                    {
                        y.VisitorId,
                        y.At,
                        l.State,
                    }
            )
            .Where(y => y.State == LeadState.Waiting || y.State == LeadState.Confirmed)
            .OrderByDescending(y => y.At)
            .Take(MostGiven)
            .Select(y => y.VisitorId)
            .ToListAsync(stop);
        foreach (var visitor in given)
            site.Asked.Note(visitor, new AskedBefore(true, new HashSet<string>()));
        var tookBack = await db
            .Leads.Where(l => l.WorkspaceId == site.WorkspaceId && l.Withdrawn.Count > 0 && l.Sites.Contains(site.Id))
            .OrderByDescending(l => l.WithdrawnAt)
            .Take(MostGiven)
            .Select(l => new
            {
                l.Visitors,
                l.State,
                l.Withdrawn,
            })
            .ToListAsync(stop);
        var ids = tookBack.SelectMany(l => l.Withdrawn).ToHashSet();
        var promises = await db.Promises.Where(p => ids.Contains(p.Id)).ToDictionaryAsync(p => p.Id, p => p.Text, stop);
        foreach (var lead in tookBack)
        {
            var before = AskedBefore.Of(
                lead.State,
                lead.Withdrawn.Where(promises.ContainsKey).Select(id => promises[id])
            );
            foreach (var visitor in lead.Visitors)
                site.Asked.Note(visitor, site.Asked.Of(visitor).And(before));
        }
        await ReadPoolsAsync(db, site, stop);
    }

    private const int MostDomains = 50;
    private const int MostAddresses = 5_000;

    // Of the latest only: what many people give is among them.
    private static async Task<List<string>> DomainsAsync(OutcryDb db, Guid workspace, CancellationToken stop)
    {
        var addresses = await db
            .Leads.Where(l => l.WorkspaceId == workspace && l.EmailKey != null)
            .OrderByDescending(l => l.ChangedAt)
            .Take(MostAddresses)
            .Select(l => l.EmailKey!)
            .ToListAsync(stop);
        return
        [
            .. addresses
                .Select(a => a[(a.LastIndexOf('@') + 1)..])
                .CountBy(d => d)
                .Where(d => d.Value >= MistypedDomain.LeastPeople)
                .OrderByDescending(d => d.Value)
                .ThenBy(d => d.Key, StringComparer.Ordinal)
                .Take(MostDomains)
                .Select(d => d.Key),
        ];
    }

    /// <summary>Elements that pages are asked about at most.</summary>
    private const int MostAskedPlaces = 30;

    // Drafts ask as well: what is published is to be known before.
    private async Task<(IReadOnlyList<string> Asked, PlaceBook Places)> PlacesAsync(
        OutcryDb db,
        Guid siteId,
        IEnumerable<(DefinitionRow Row, RevisionRow Revision)> live,
        CancellationToken stop
    )
    {
        var drafts = await db
            .Definitions.Where(c => c.SiteId == siteId && c.DeletedAt == null && c.State != DefinitionState.Archived)
            .OrderByDescending(c => c.ChangedAt)
            .ToListAsync(stop);
        var places = new PlaceBook();
        foreach (
            var place in await db
                .Places.Where(p => p.SiteId == siteId)
                .OrderByDescending(p => p.At)
                .Take(PlaceBook.Most)
                .ToListAsync(stop)
        )
            places.Take(place.Path, place.Selector, new SeenPlace(place.Found, place.InView), place.At);
        var asked = live.SelectMany(x => kinds.PlacesOf(x.Row.Kind, x.Revision.Content))
            .Concat(drafts.SelectMany(d => kinds.PlacesOf(d.Kind, d.Draft)));
        return ([.. asked.Distinct().Take(MostAskedPlaces)], places);
    }

    private async Task<LiveSite?> LoadAsync(Guid siteId, CancellationToken stop)
    {
        await using var db = database.Open();
        db.ChangeTracker.QueryTrackingBehavior = QueryTrackingBehavior.NoTracking;
        var row = await db.Sites.FirstOrDefaultAsync(s => s.Id == siteId && s.RemovedAt == null, stop);
        if (row is null)
            return null;
        var sources = await db.Sources.Where(s => s.SiteId == siteId).ToListAsync(stop);
        var live = await PublishedAsync(db, siteId, stop);
        var events = await db
            .Events.FromSql(
                $"""
                select e.* from sources s
                cross join lateral (
                  select * from events where source_id = s.id and state <> 'Deleted' order by at desc limit {LiveSite.MostEvents}) e
                where s.site_id = {siteId}
                """
            )
            .ToListAsync(stop);
        var shared = await SharedAsync(db, row, stop);
        var (compiled, broken) = Compile(live, shared, FindById(siteId));
        var callouts = compiled.Values.OfType<Callout>().ToList();
        var now = clock.GetCurrentInstant();
        var (asked, places) = await PlacesAsync(db, siteId, live, stop);
        var site = new LiveSite(
            row,
            sources,
            callouts,
            [.. compiled.Values.OfType<Launcher>().OrderBy(l => l.Definition.CreatedAt)],
            [.. events.OrderByDescending(e => e.At).Select(e => e.ToEvent())],
            words.Compile(row.Words),
            shared,
            await traffic.CountAsync(siteId, PageAddress.TryParse(row.HomeAddress)?.Host ?? "", callouts, now, stop),
            team.ThereOf(row.WorkspaceId),
            now
        )
        {
            UsualAnswerMinutes = FindById(siteId)?.UsualAnswerMinutes,
            CommonDomains = await DomainsAsync(db, row.WorkspaceId, stop),
            AskedPlaces = asked,
            Places = places,
            Compiled = compiled,
            Broken = broken,
        };
        await ReadGivenAsync(db, site, stop);
        return site;
    }

    private static async Task<List<(DefinitionRow Row, RevisionRow Revision)>> PublishedAsync(
        OutcryDb db,
        Guid siteId,
        CancellationToken stop
    )
    {
        var live = await db
            .Definitions.Where(d => d.SiteId == siteId && d.State == DefinitionState.Live && d.DeletedAt == null)
            .Join(
                db.Revisions,
                d => new { d.Id, Number = d.Revision },
                r => new { Id = r.DefinitionId, r.Number },
                (d, r) => new { d, r }
            )
            .ToListAsync(stop);
        return live.ConvertAll(x => (x.d, x.r));
    }

    // One that cannot be compiled silences at most itself; the desk says so where it stands in the list.
    private (Dictionary<Guid, object> Compiled, Dictionary<Guid, BrokenDefinition> Broken) Compile(
        List<(DefinitionRow Row, RevisionRow Revision)> live,
        SiteContext context,
        LiveSite? before
    )
    {
        var compiled = new Dictionary<Guid, object>(live.Count);
        var broken = new Dictionary<Guid, BrokenDefinition>();
        foreach (var (row, revision) in live)
            try
            {
                compiled[row.Id] = kinds.Compile(row, revision.Content, context);
            }
            catch (FormatException failure)
            {
                // What was good last goes on, as long as it is in memory.
                var good = before?.Compiled.GetValueOrDefault(row.Id);
                if (good is not null)
                    compiled[row.Id] = good;
                broken[row.Id] = new BrokenDefinition(failure.Message, GoesOn: good is not null);
            }
        return (compiled, broken);
    }

    private static async Task<SiteContext> SharedAsync(OutcryDb db, SiteRow row, CancellationToken stop)
    {
        var segments = await db.Segments.Where(s => s.SiteId == row.Id).ToListAsync(stop);
        var groups = await db.PageGroups.Where(g => g.SiteId == row.Id).ToListAsync(stop);
        var mails = await db
            .Memberships.Where(m => m.WorkspaceId == row.WorkspaceId)
            .Join(db.Users, m => m.MemberId, u => u.Id, (m, u) => u.Email)
            .Where(m => m != null)
            .ToListAsync(stop);
        return new SiteContext(
            segments.ToDictionary(s => s.Id, s => new Segment(s.Id, s.Name, s.Rule)),
            groups.Select(Group).OfType<PageGroup>().ToDictionary(g => g.Id),
            row.Language,
            OwnWords(row)
        )
        {
            Region = HomeRegion.Of(row.TimeZone, row.Language),
            OwnDomains = [.. mails.Select(m => m![(m!.LastIndexOf('@') + 1)..].ToLowerInvariant()).Distinct()],
        };
    }

    // A group that cannot be read is as good as gone: what names it is silent, and says so.
    private static PageGroup? Group(PageGroupRow row)
    {
        try
        {
            return new PageGroup(row.Id, row.Name, PageRule.Parse(row.Includes, row.Excludes));
        }
        catch (FormatException)
        {
            return null;
        }
    }

    // The neutral noun is a built-in word like the others, kept where it was first asked for.
    private static Dictionary<string, IReadOnlyDictionary<string, string>> OwnWords(SiteRow row)
    {
        // Two spellings of one language, "pt-BR" and "pt-br", are one language: what was said last counts.
        var words = new Dictionary<string, Dictionary<string, string>>(StringComparer.OrdinalIgnoreCase);
        foreach (var (language, said) in row.OwnWords)
            words[language] = new Dictionary<string, string>(said);
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
}
