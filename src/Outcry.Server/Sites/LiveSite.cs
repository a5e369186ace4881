using System.Collections.Concurrent;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Core.Saying;
using Outcry.Store.Rows;

namespace Outcry.Server.Sites;

/// <summary>A site as it serves visitors: everything in memory, swapped whole when something changes.</summary>
internal sealed class LiveSite
{
    /// <summary>Newest events kept for evidence; older ones are in the ledger only.</summary>
    public const int MostEvents = 20_000;

    private readonly Lock _gate = new();
    private readonly ConcurrentDictionary<string, Instant> _seen = new();
    private List<LedgerEvent> _events;
    private volatile bool _stale;

    public LiveSite(
        SiteRow row,
        IReadOnlyList<SourceRow> sources,
        IReadOnlyList<Callout> callouts,
        List<LedgerEvent> newestFirst,
        Instant now
    )
    {
        Id = row.Id;
        WorkspaceId = row.WorkspaceId;
        Key = row.Key;
        Name = row.Name;
        HomeAddress = row.HomeAddress;
        SigningKey = row.SigningKey;
        AllowedHosts = [.. row.AllowedHosts];
        Zone = DateTimeZoneProviders.Tzdb.GetZoneOrNull(row.TimeZone) ?? DateTimeZone.Utc;
        Rules = row.Rules;
        OffAir = row.OffAir;
        Sources = sources.ToDictionary(s => s.Id);
        Forms =
        [
            .. sources
                .Where(s => s.Form is not null)
                .Select(s => new LiveForm(s.Id, s.Form!, PageRule.Parse(s.Form!.Pages, []))),
        ];
        Callouts = callouts;
        _events = newestFirst;
        HeardAt = row.HeardAt;
        HeardPage = row.HeardPage;
        Snapshot = Build(now);
    }

    public Guid Id { get; }
    public Guid WorkspaceId { get; }
    public string Key { get; }
    public string Name { get; }
    public string HomeAddress { get; }
    public byte[] SigningKey { get; }
    public IReadOnlyList<string> AllowedHosts { get; }
    public DateTimeZone Zone { get; }
    public HouseRules Rules { get; }
    public bool OffAir { get; }
    public IReadOnlyDictionary<Guid, SourceRow> Sources { get; }
    public IReadOnlyList<LiveForm> Forms { get; }
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
                return _events;
        }
    }

    public DisplayPolicy DisplayOf(Guid source) =>
        Sources.TryGetValue(source, out var row) ? row.Display : DisplayPolicy.Start;

    /// <summary>Whether the host, with its port where there is one, is one from which the snippet is answered.</summary>
    public bool Allows(string host)
    {
        foreach (var allowed in AllowedHosts)
            if (HostMatches(allowed, host))
                return true;
        return false;
    }

    /// <summary>Puts an event where its time belongs; evidence follows with the next refresh.</summary>
    public void Add(LedgerEvent happened)
    {
        lock (_gate)
        {
            if (_events.Exists(e => e.Id == happened.Id))
                return;
            var events = new List<LedgerEvent>(_events);
            var place = events.FindIndex(e => e.At <= happened.At);
            events.Insert(place < 0 ? events.Count : place, happened);
            if (events.Count > MostEvents)
                events.RemoveAt(events.Count - 1);
            _events = events;
        }
        _stale = true;
    }

    /// <summary>Compiles anew when something came in, or when time alone has moved the windows.</summary>
    public void Refresh(Instant now, bool evenIfNothingCame)
    {
        if (!_stale && !evenIfNothingCame)
            return;
        _stale = false;
        Snapshot = Build(now);
    }

    /// <summary>Notes a sign of life of a visitor.</summary>
    public void SawVisitor(string visitorId, Instant now) => _seen[visitorId] = now;

    /// <summary>Visitors with a sign of life in the last 60 seconds; forgets the others.</summary>
    public int VisitorsNow(Instant now)
    {
        foreach (var (visitor, at) in _seen)
            if (now - at > Duration.FromSeconds(60))
                _seen.TryRemove(visitor, out _);
        return _seen.Count;
    }

    /// <summary>Notes that the snippet spoke up.</summary>
    /// <returns>Whether that is news: the first word ever, or the first after a minute of silence.</returns>
    public bool Heard(string page, Instant now)
    {
        var isNews = HeardAt is not { } before || now - before > Duration.FromMinutes(1);
        HeardAt = now;
        HeardPage = page;
        return isNews;
    }

    /// <summary>Takes over what only memory knows from the state this one replaces.</summary>
    public void Inherit(LiveSite before)
    {
        foreach (var (visitor, at) in before._seen)
            _seen[visitor] = at;
        if (before.HeardAt is { } heard && !(HeardAt > heard))
            (HeardAt, HeardPage) = (heard, before.HeardPage);
    }

    private SiteSnapshot Build(Instant now) => new(Rules, OffAir, Callouts, Events, DisplayOf, now);

    private static bool HostMatches(string allowed, string host) =>
        allowed.StartsWith("*.", StringComparison.Ordinal)
            ? host.EndsWith(allowed[1..], StringComparison.OrdinalIgnoreCase)
            : string.Equals(allowed, host, StringComparison.OrdinalIgnoreCase);
}

/// <summary>A form that the snippet is to watch.</summary>
internal sealed record LiveForm(Guid SourceId, FormMapping Mapping, PageRule Pages);
