using System.Collections.Concurrent;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Care;
using Outcry.Core.Claims;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Sources;
using Outcry.Core.Targeting;
using Outcry.Store.Rows;

namespace Outcry.Server.Sites;

/// <summary>A site as it serves visitors: everything in memory, swapped whole when something changes.</summary>
internal sealed class LiveSite
{
    /// <summary>Newest events kept of each source for evidence; older ones are in the ledger only.</summary>
    /// <remarks>Of each source: stock levels that come by the thousand must not push out the reviews of years.</remarks>
    public const int MostEvents = 20_000;

    /// <summary>Hosts remembered; under a wildcard anybody can make them up, so the one not heard for longest makes way.</summary>
    public const int MostHosts = 200;

    private const int LongestHost = 255;

    private readonly Lock _gate = new();
    private readonly ConcurrentDictionary<string, Sighting> _seen = new();
    private readonly List<LedgerEvent> _incoming = [];
    private List<LedgerEvent>? _whileLoading;
    private LiveSite? _successor;
    private List<LedgerEvent> _events;
    private volatile bool _stale;
    private volatile IReadOnlyDictionary<Guid, Looked> _lookedAt;
    private volatile bool _isTeamThere;

    public LiveSite(
        SiteRow row,
        IReadOnlyList<SourceRow> sources,
        IReadOnlyList<Callout> callouts,
        List<LedgerEvent> newestFirst,
        BlockedWords words,
        SiteContext shared,
        IReadOnlyDictionary<Guid, Looked> lookedAt,
        bool isTeamThere,
        Instant now
    )
    {
        (Context, _lookedAt, _isTeamThere) = (shared, lookedAt, isTeamThere);
        Voice = Voice.Of(row.Language, [], shared.WordsOf(row.Language));
        Id = row.Id;
        WorkspaceId = row.WorkspaceId;
        Key = row.Key;
        Name = row.Name;
        HomeAddress = row.HomeAddress;
        (PassportKey, LinkKey, PersonKey) = (row.PassportKey, row.LinkKey, row.PersonKey);
        Region = HomeRegion.Of(row.TimeZone, row.Language);
        HomeHost = PageAddress.TryParse(row.HomeAddress)?.Host ?? "";
        AllowedHosts = [.. row.AllowedHosts];
        Zone = DateTimeZoneProviders.Tzdb.GetZoneOrNull(row.TimeZone) ?? DateTimeZone.Utc;
        Rules = row.Rules;
        OffAir = row.OffAir;
        (SwitchedBy, SwitchedAt) = (row.SwitchedBy, row.SwitchedAt);
        TestHosts = [.. row.TestHosts];
        Consent = row.Consent;
        Language = row.Language;
        IdentitySecret = row.IdentitySecret;
        Words = words;
        Sources = sources.ToDictionary(s => s.Id);
        var listening = sources.Where(s => s.PausedAt is null && s.DeletedAt is null).ToList();
        Forms = [.. listening.Select(LiveForm.TryMake).OfType<LiveForm>()];
        Scripts = [.. listening.Where(s => s.Script is not null)];
        Callouts = callouts;
        _events = newestFirst;
        HeardAt = row.HeardAt;
        HeardPage = row.HeardPage;
        (FetchedAt, FetchedFrom, RefusedAt, RefusedHost) = (
            row.FetchedAt,
            row.FetchedFrom,
            row.RefusedAt,
            row.RefusedHost
        );
        (AskedQuery, AskedAttributes) = (AskedNames.Query(this), AskedNames.Attributes(this));
        Snapshot = Build(now);
    }

    public Guid Id { get; }
    public Guid WorkspaceId { get; }
    public string Key { get; }
    public string Name { get; }
    public string HomeAddress { get; }

    /// <summary>Signs passports.</summary>
    public byte[] PassportKey { get; }

    /// <summary>Signs private links.</summary>
    public byte[] LinkKey { get; }

    /// <summary>Hashes what tells people apart.</summary>
    public byte[] PersonKey { get; }

    /// <summary>The country it is at home in, by which local phone numbers are read.</summary>
    public string Region { get; }

    /// <summary>Host of its home address, as pages compare it.</summary>
    public string HomeHost { get; }

    /// <summary>Names of the query parameters that a rule of the site asks for; no others are kept of any page.</summary>
    public IReadOnlySet<string> AskedQuery { get; }

    /// <summary>Names of the attributes that a rule of the site asks for; no others are kept of any visitor.</summary>
    public IReadOnlySet<string> AskedAttributes { get; }

    /// <summary>What is live by its state and yet cannot be compiled, by definition.</summary>
    public IReadOnlyDictionary<Guid, BrokenDefinition> Broken { get; init; } = new Dictionary<Guid, BrokenDefinition>();

    /// <summary>All live definitions, of whatever kind, as visitors are served by them.</summary>
    public IReadOnlyDictionary<Guid, object> Compiled { get; init; } = new Dictionary<Guid, object>();

    /// <summary>Elements that callouts and their drafts ask for, about which pages are asked.</summary>
    public IReadOnlyList<string> AskedPlaces { get; init; } = [];

    /// <summary>What pages answered.</summary>
    public PlaceBook Places { get; init; } = new();
    public IReadOnlyList<string> AllowedHosts { get; }
    public DateTimeZone Zone { get; }
    public HouseRules Rules { get; }
    public bool OffAir { get; }

    /// <summary>Who switched the site off or on air last, and when.</summary>
    public string? SwitchedBy { get; }
    public Instant? SwitchedAt { get; }
    public IReadOnlyDictionary<Guid, SourceRow> Sources { get; }
    public IReadOnlyList<LiveForm> Forms { get; }

    /// <summary>Sources whose events the page reports by script.</summary>
    public IReadOnlyList<SourceRow> Scripts { get; }

    public IReadOnlyList<string> TestHosts { get; }
    public ConsentMode Consent { get; }
    public string Language { get; }
    public byte[] IdentitySecret { get; }
    public BlockedWords Words { get; }

    /// <summary>How the site speaks in its own language.</summary>
    public Voice Voice { get; }

    /// <summary>What its callouts share.</summary>
    public SiteContext Context { get; }

    public IReadOnlyList<Callout> Callouts { get; }

    /// <summary>What live traffic is planned with.</summary>
    public SiteSnapshot Snapshot { get; private set; }

    public Instant? HeardAt { get; private set; }
    public string? HeardPage { get; private set; }

    /// <summary>The site's events, newest first, as of this moment.</summary>
    public IReadOnlyList<LedgerEvent> Events
    {
        get
        {
            lock (_gate)
            {
                if (_incoming.Count > 0)
                {
                    _events = Merge(_events, _incoming);
                    _incoming.Clear();
                }
                return _events;
            }
        }
    }

    /// <summary>What a definition of the site is checked against now.</summary>
    public CheckSetting CheckSetting(Instant now) =>
        new(Context, [.. Sources.Values.Select(SitesFeature.Offer)], new CheckMoment(now, Zone, Rules));

    public DisplayPolicy DisplayOf(Guid source) =>
        Sources.TryGetValue(source, out var row) ? row.Display : DisplayPolicy.Start;

    /// <summary>The recorded traffic as of now, with what was last counted of each window.</summary>
    public Traffic TrafficAt(Instant now) => new(PresentAt(now), _lookedAt);

    /// <summary>Who is here now, for a draft that may be the first to ask.</summary>
    public IReadOnlyDictionary<string, PageAddress> PresentFor(Callout draft, Instant now) =>
        draft.Brief.Kind == CalloutKind.Headcount ? Present(now) : Snapshot.Conditions.Traffic.Present;

    /// <summary>Takes what was counted of the windows of callouts that draw on page views.</summary>
    public void TakeLookedAt(IReadOnlyDictionary<Guid, Looked> lookedAt)
    {
        _lookedAt = lookedAt;
        _stale = true;
    }

    /// <summary>Takes note of whether somebody of the team is there.</summary>
    public void TakeTeam(bool isThere)
    {
        if (isThere == _isTeamThere)
            return;
        _isTeamThere = isThere;
        _stale = true;
    }

    /// <summary>Whether the host, with its port where there is one, is one from which the snippet is answered.</summary>
    public bool Allows(string host) => HostRule.Fits(AllowedHosts, host) || IsTestHost(host);

    /// <summary>Whether the team tries things out on this host.</summary>
    public bool IsTestHost(string host) => HostRule.Fits(TestHosts, host);

    /// <summary>Whether the page, given by its address, stands on a test host.</summary>
    public bool IsTestPage(string? address) =>
        Uri.TryCreate(address, UriKind.Absolute, out var page) && IsTestHost(page.Authority);

    /// <summary>Takes an event in; evidence follows with the next refresh. A site that was replaced passes it on.</summary>
    public void Add(LedgerEvent happened)
    {
        lock (_gate)
        {
            if (_successor is { } successor)
            {
                successor.Add(happened);
                return;
            }
            _incoming.Add(happened);
            _whileLoading?.Add(happened);
        }
        _stale = true;
    }

    /// <summary>The state that is to replace this one is about to be read: what comes in from now on it may not have.</summary>
    public void ExpectSuccessor()
    {
        lock (_gate)
            _whileLoading = [];
    }

    /// <summary>Nothing replaces this one now, or it has been replaced.</summary>
    public void ExpectNoSuccessor()
    {
        lock (_gate)
            _whileLoading = null;
    }

    /// <summary>Compiles anew when something came in, or when time alone has moved the windows.</summary>
    public void Refresh(Instant now, bool evenIfNothingCame)
    {
        if (_stale || evenIfNothingCame)
        {
            _stale = false;
            Snapshot = Build(now);
        }
        else if (CountsHeads && now - Snapshot.At >= HeadsEvery)
        {
            Snapshot = Snapshot.Renewed(c => c.Brief.Kind == CalloutKind.Headcount, TrafficAt(now), now);
        }
    }

    /// <summary>Notes a sign of life of a visitor, and on which page.</summary>
    public void SawVisitor(string visitorId, PageAddress page, Instant now)
    {
        // What happens where the team tries things out is nobody's visit.
        if (!IsTestHost(page.Host))
            _seen[visitorId] = new Sighting(now, page);
    }

    /// <summary>Visitors with a sign of life in the last 60 seconds; forgets the others.</summary>
    public int VisitorsNow(Instant now)
    {
        foreach (var (visitor, seen) in _seen)
            if (now - seen.At > Duration.FromSeconds(60))
                _seen.TryRemove(visitor, out _);
        return _seen.Count;
    }

    /// <summary>Pages on which visitors are now, one for each visitor.</summary>
    public IEnumerable<PageAddress> PagesNow(Instant now) =>
        _seen.Values.Where(s => now - s.At <= Duration.FromSeconds(60)).Select(s => s.Page);

    /// <summary>A page as it was recorded: on the site's own host where none is noted.</summary>
    public PageAddress PageAt(string? host, string path, string? query) =>
        PageAddress.Recorded(host ?? HomeHost, path, query ?? "");

    /// <summary>Notes that the snippet spoke up.</summary>
    /// <returns>Whether that is news: the first word ever, or the first after a minute of silence.</returns>
    public bool Heard(PageAddress page, Instant now)
    {
        var path = page.RecordedPath;
        if (page.Host.Length <= LongestHost)
            Remember(page.Host, new HostHeard(now, path));
        var isNews = HeardAt is not { } before || now - before > Duration.FromMinutes(1);
        HeardAt = now;
        HeardPage = path;
        return isNews;
    }

    private void Remember(string host, HostHeard heard)
    {
        if (_hosts.Count >= MostHosts && !_hosts.ContainsKey(host))
            _hosts.TryRemove(_hosts.MinBy(h => h.Value.At).Key, out _);
        _hosts[host] = heard;
    }

    /// <summary>Notes that a browser fetched the script, and for which page's host where it said so.</summary>
    /// <returns>Whether that is news: after half a minute without.</returns>
    public bool Fetched(string? from, Instant now)
    {
        var isNews = FetchedAt is not { } before || now - before > Duration.FromSeconds(30);
        (FetchedAt, FetchedFrom) = (now, from ?? FetchedFrom);
        return isNews;
    }

    /// <summary>Notes that the snippet spoke on a host that is not allowed.</summary>
    /// <returns>Whether that is news: another host, or half a minute later.</returns>
    public bool Refused(string host, Instant now)
    {
        if (host.Length > LongestHost)
            return false;
        var isNews = RefusedHost != host || RefusedAt is not { } before || now - before > Duration.FromSeconds(30);
        (RefusedAt, RefusedHost) = (now, host);
        return isNews;
    }

    public Instant? FetchedAt { get; private set; }
    public string? FetchedFrom { get; private set; }
    public Instant? RefusedAt { get; private set; }
    public string? RefusedHost { get; private set; }

    /// <summary>When and on which page each host was last heard, since this node started.</summary>
    public IReadOnlyDictionary<string, HostHeard> HostsHeard => _hosts;

    private readonly ConcurrentDictionary<string, HostHeard> _hosts = new();

    /// <summary>Notes a named event that no source takes, so that the desk can offer to listen to it.</summary>
    public void NoteUnclaimed(string name)
    {
        // Names that were made up once make way for one that comes again and again.
        if (_unclaimed.Count >= MostUnclaimed && !_unclaimed.ContainsKey(name))
            _unclaimed.TryRemove(_unclaimed.MinBy(u => u.Value).Key, out _);
        _unclaimed.AddOrUpdate(name, 1, (_, times) => times + 1);
    }

    /// <summary>Names of events that pages reported and no source takes, the most frequent first.</summary>
    public IReadOnlyList<string> Unclaimed => [.. _unclaimed.OrderByDescending(u => u.Value).Select(u => u.Key)];

    private const int MostUnclaimed = 50;
    private readonly ConcurrentDictionary<string, int> _unclaimed = new();

    /// <summary>Takes over what only memory knows from the state this one replaces, and what came in while this one was read.</summary>
    public void Inherit(LiveSite before)
    {
        lock (before._gate)
        {
            foreach (var happened in before._whileLoading ?? [])
                Add(happened);
            before._successor = this;
        }
        foreach (var (name, times) in before._unclaimed)
            _unclaimed[name] = times;
        foreach (var (visitor, seen) in before._seen)
            _seen[visitor] = seen;
        foreach (var (host, last) in before._hosts)
            _hosts[host] = last;
        if (before.FetchedAt > FetchedAt || FetchedAt is null)
            (FetchedAt, FetchedFrom) = (before.FetchedAt, before.FetchedFrom);
        if (before.RefusedAt > RefusedAt || RefusedAt is null)
            (RefusedAt, RefusedHost) = (before.RefusedAt, before.RefusedHost);
        if (before.HeardAt is { } heard && !(HeardAt > heard))
            (HeardAt, HeardPage) = (heard, before.HeardPage);
    }

    // Once for all that came in since somebody last looked, not once for each: the list is long.
    private static List<LedgerEvent> Merge(List<LedgerEvent> events, List<LedgerEvent> incoming)
    {
        var known = events.Select(e => e.Id).ToHashSet();
        var merged = new List<LedgerEvent>(events.Count + incoming.Count);
        merged.AddRange(events);
        merged.AddRange(incoming.Where(e => known.Add(e.Id)));
        // Stable, so that of the same instant what came first stays first.
        return NewestOfEach(merged.OrderByDescending(e => e.At));
    }

    /// <summary>Of events, newest first, the newest <see cref="MostEvents"/> of each source.</summary>
    public static List<LedgerEvent> NewestOfEach(IEnumerable<LedgerEvent> newestFirst)
    {
        var kept = new List<LedgerEvent>();
        var counts = new Dictionary<Guid, int>();
        foreach (var happened in newestFirst)
            if ((counts[happened.SourceId] = counts.GetValueOrDefault(happened.SourceId) + 1) <= MostEvents)
                kept.Add(happened);
        return kept;
    }

    private SiteSnapshot Build(Instant now) =>
        new(
            Rules,
            OffAir,
            Callouts,
            Events,
            DisplayOf,
            now,
            new SiteConditions(Zone, TrafficAt(now), _isTeamThere)
            {
                PlaceOf = (path, selector) => Places.Find(path, selector),
            }
        );

    /// <summary>Who is here now changes by itself, and a number that lags by two seconds is still true enough to be said.</summary>
    private static Duration HeadsEvery { get; } = Duration.FromSeconds(2);

    private bool CountsHeads => Callouts.Any(c => c.Brief is { Kind: CalloutKind.Headcount, From.WindowMinutes: null });

    private Dictionary<string, PageAddress> PresentAt(Instant now) => CountsHeads ? Present(now) : [];

    private Dictionary<string, PageAddress> Present(Instant now) =>
        _seen.Where(s => now - s.Value.At <= Duration.FromSeconds(60)).ToDictionary(s => s.Key, s => s.Value.Page);

    private sealed record Sighting(Instant At, PageAddress Page);
}

/// <summary>Why a live definition cannot be compiled as it is published.</summary>
/// <param name="GoesOn">Whether what was good last goes on being shown, until the next start.</param>
internal sealed record BrokenDefinition(string Why, bool GoesOn);

/// <summary>When a host was last heard, and from which of its pages.</summary>
internal sealed record HostHeard(Instant At, string Page);

/// <summary>A form that the snippet is to watch.</summary>
internal sealed record LiveForm(Guid SourceId, FormMapping Mapping, PageRule Pages)
{
    /// <summary>The form of a source; null where it has none, or where its pages cannot be read any more.</summary>
    public static LiveForm? TryMake(SourceRow source)
    {
        if (source.Form is not { } form)
            return null;
        var pages = form.Pages.Select(p => PagePattern.TryParse(p, out _)).ToList();
        return pages.Contains(null)
            ? null
            : new LiveForm(source.Id, form, new PageRule([.. pages.OfType<PagePattern>()], []));
    }
}
