using System.Collections.Concurrent;
using System.Collections.Immutable;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Care;
using Outcry.Core.Claims;
using Outcry.Core.Evidence;
using Outcry.Core.Greetings;
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

    private readonly Lock _refreshing = new();
    private readonly RuleWindows _rules;
    private VisitorHistory _history;
    private volatile bool _conditionsMoved;
    private Instant _headsAt;
    private volatile IReadOnlyDictionary<Guid, Looked> _lookedAt;
    private volatile TeamThere _team;

    /// <summary>What the people of its browsers have answered to prompts.</summary>
    public AskedVisitors Asked { get; } = new();

    /// <summary>Domains of addresses that many people of the workspace gave, the most common first.</summary>
    public IReadOnlyList<string> CommonDomains { get; init; } = [];

    /// <summary>Pools of codes that are empty.</summary>
    public ConcurrentDictionary<Guid, bool> EmptyPools { get; } = new();

    /// <summary>The brand kit; null where the site has none.</summary>
    public BrandKit? Kit { get; }

    /// <summary>Minutes within which people usually answer visitors here; null where too few were answered to tell.</summary>
    public int? UsualAnswerMinutes { get; set; }

    public LiveSite(
        SiteRow row,
        IReadOnlyList<SourceRow> sources,
        IReadOnlyList<Callout> callouts,
        IReadOnlyList<Launcher> launchers,
        IReadOnlyList<LedgerEvent> newestFirst,
        BlockedWords words,
        SiteContext shared,
        IReadOnlyDictionary<Guid, Looked> lookedAt,
        TeamThere team,
        Instant now
    )
    {
        (Context, _lookedAt, _team) = (shared, lookedAt, team);
        Voice = Voice.Of(row.Language, [], shared.WordsOf(row.Language));
        Id = row.Id;
        Kit = row.Kit;
        WorkspaceId = row.WorkspaceId;
        Key = row.Key;
        Name = row.Name;
        HomeAddress = row.HomeAddress;
        PassportKeys = new SiteKeys(row.PassportKey, row.PreviousPassportKey);
        LinkKeys = new SiteKeys(row.LinkKey, row.PreviousLinkKey);
        PersonKey = row.PersonKey;
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
        Launchers = launchers;
        // Greetings are callouts in everything but where they are written.
        Callouts = callouts = [.. callouts, .. launchers.SelectMany(l => l.Greetings)];
        Hearing = new SiteHearing(row);
        (AskedQuery, AskedAttributes) = (AskedNames.Query(this), AskedNames.Attributes(this));
        _happened = new SiteEvents(newestFirst);
        (_rules, _history) = _happened.Begin(callouts, now);
        _headsAt = now;
        Snapshot = SiteSnapshot.Of(Rules, OffAir, callouts, _rules, DisplayOf, _history, ConditionsAt(now), now);
    }

    private readonly SiteEvents _happened;

    /// <summary>When and where the snippet was heard.</summary>
    public SiteHearing Hearing { get; }

    /// <summary>Who is there now.</summary>
    public SitePresence Presence { get; } = new();

    public Guid Id { get; }
    public Guid WorkspaceId { get; }
    public string Key { get; }
    public string Name { get; }
    public string HomeAddress { get; }

    /// <summary>Signs passports.</summary>
    public SiteKeys PassportKeys { get; }

    /// <summary>Signs private links.</summary>
    public SiteKeys LinkKeys { get; }

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

    /// <summary>Its live callouts, greetings of its launchers among them.</summary>
    public IReadOnlyList<Callout> Callouts { get; }

    /// <summary>Its live launchers.</summary>
    public IReadOnlyList<Launcher> Launchers { get; }

    /// <summary>What live traffic is planned with.</summary>
    public SiteSnapshot Snapshot { get; private set; }

    /// <summary>The site's events, newest first, as of this moment.</summary>
    public IReadOnlyList<LedgerEvent> Events => _happened.NewestFirst;

    /// <summary>What a definition of the site is checked against now.</summary>
    public CheckSetting CheckSetting(Instant now) =>
        new(Context, [.. Sources.Values.Select(SitesFeature.Offer)], new CheckMoment(now, Zone, Rules))
        {
            IsLive = Compiled.ContainsKey,
            IsPoolEmpty = EmptyPools.ContainsKey,
            AllowsHost = Allows,
        };

    public DisplayPolicy DisplayOf(Guid source) =>
        Sources.TryGetValue(source, out var row) ? row.Display : DisplayPolicy.Start;

    /// <summary>The recorded traffic as of now, with what was last counted of each window.</summary>
    public Traffic TrafficAt(Instant now) => new(PresentAt(now), _lookedAt);

    /// <summary>Who is here now, for a draft that may be the first to ask.</summary>
    public IReadOnlyDictionary<string, PageAddress> PresentFor(Callout draft, Instant now) =>
        draft.Brief.Kind == CalloutKind.Headcount ? Presence.At(now) : Snapshot.Conditions.Traffic.Present;

    /// <summary>Takes what was counted of the windows of callouts that draw on page views.</summary>
    public void TakeLookedAt(IReadOnlyDictionary<Guid, Looked> lookedAt)
    {
        _lookedAt = lookedAt;
        _conditionsMoved = true;
    }

    /// <summary>Takes note of who of the team is there.</summary>
    public void TakeTeam(TeamThere team)
    {
        if (team.IsSame(_team))
            return;
        _team = team;
        _conditionsMoved = true;
    }

    /// <summary>Whether the host, with its port where there is one, is one from which the snippet is answered.</summary>
    public bool Allows(string host) => HostRule.Fits(AllowedHosts, host) || IsTestHost(host);

    /// <summary>Whether the team tries things out on this host.</summary>
    public bool IsTestHost(string host) => HostRule.Fits(TestHosts, host);

    /// <summary>Whether the page, given by its address, stands on a test host.</summary>
    public bool IsTestPage(string? address) =>
        Uri.TryCreate(address, UriKind.Absolute, out var page) && IsTestHost(page.Authority);

    /// <summary>Notes a sign of life of a visitor, and on which page.</summary>
    public void SawVisitor(string visitorId, PageAddress page, Instant now)
    {
        // What happens where the team tries things out is nobody's visit.
        if (!IsTestHost(page.Host))
            Presence.Saw(visitorId, page, now);
    }

    /// <summary>Takes an event in; evidence follows with the next refresh. A site that was replaced passes it on.</summary>
    public void Add(LedgerEvent happened) => _happened.Add(happened);

    /// <summary>The state that is to replace this one is about to be read: what comes in from now on it may not have.</summary>
    public void ExpectSuccessor()
    {
        _happened.Handover.ExpectSuccessor();
        Asked.Handover.ExpectSuccessor();
    }

    /// <summary>Nothing replaces this one now, or it has been replaced.</summary>
    public void ExpectNoSuccessor()
    {
        _happened.Handover.ExpectNoSuccessor();
        Asked.Handover.ExpectNoSuccessor();
    }

    /// <summary>Takes into the plan what came in; and, asked to renew, what time alone has moved.</summary>
    public void Refresh(Instant now, bool evenIfNothingCame)
    {
        lock (_refreshing)
        {
            var changed = new HashSet<Guid>();
            var fresh = _happened.TakeFresh();
            foreach (var happened in fresh)
            {
                _rules.Add(happened, now, changed);
                _history = _history.With(happened);
            }
            if (evenIfNothingCame)
                _happened.Advance(_rules, now);
            var conditionsMoved = _conditionsMoved;
            var headsMoved = CountsHeads && now - _headsAt >= HeadsEvery;
            if (fresh.Count == 0 && !evenIfNothingCame && !conditionsMoved && !headsMoved)
                return;
            _conditionsMoved = false;
            if (headsMoved || evenIfNothingCame)
                _headsAt = now;
            Snapshot = Snapshot.Later(
                c =>
                    evenIfNothingCame
                    || changed.Contains(c.Id)
                    || (conditionsMoved && LookedCounter.Draws(c))
                    || (headsMoved && c.Brief.Kind == CalloutKind.Headcount),
                _rules,
                DisplayOf,
                _history,
                ConditionsAt(now),
                now
            );
        }
    }

    /// <summary>A page as it was recorded: on the site's own host where none is noted.</summary>
    public PageAddress PageAt(string? host, string path, string? query) =>
        PageAddress.Recorded(host ?? HomeHost, path, query ?? "");

    /// <summary>Takes over what only memory knows from the state this one replaces, and what came in while this one was read.</summary>
    public void Inherit(LiveSite before)
    {
        _happened.Handover.Follow(before._happened.Handover);
        Asked.Handover.Follow(before.Asked.Handover);
        Presence.Inherit(before.Presence);
        Hearing.Inherit(before.Hearing);
    }

    private SiteConditions ConditionsAt(Instant now) =>
        new(Zone, TrafficAt(now))
        {
            Team = _team,
            PlaceOf = (path, selector) => Places.Find(path, selector),
            Launchers = Launchers,
            AskedBefore = Asked.Of,
            IsPoolEmpty = EmptyPools.ContainsKey,
        };

    /// <summary>Who is here now changes by itself, and a number that lags by two seconds is still true enough to be said.</summary>
    private static Duration HeadsEvery { get; } = Duration.FromSeconds(2);

    private bool CountsHeads => Callouts.Any(c => c.Brief is { Kind: CalloutKind.Headcount, From.WindowMinutes: null });

    private IReadOnlyDictionary<string, PageAddress> PresentAt(Instant now) =>
        CountsHeads ? Presence.At(now) : ImmutableDictionary<string, PageAddress>.Empty;
}

/// <summary>Why a live definition cannot be compiled as it is published.</summary>
/// <param name="GoesOn">Whether what was good last goes on being shown, until the next start.</param>
internal sealed record BrokenDefinition(string Why, bool GoesOn);

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
