using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Claims;
using Outcry.Core.Evidence;
using Outcry.Core.Planning;

namespace Outcry.Server.Sites;

/// <summary>A site's newest events in memory, and what came in since its evidence was last looked at.</summary>
internal sealed class SiteEvents
{
    private readonly Lock _gate = new();
    private readonly SourceWindows _windows;
    private List<LedgerEvent> _fresh = [];

    public SiteEvents(IReadOnlyList<LedgerEvent> newestFirst)
    {
        _windows = new SourceWindows(newestFirst, LiveSite.MostEvents);
        Handover = new Handover<LedgerEvent>(TakeIn);
    }

    /// <summary>Brings what comes in to whoever takes this one's place.</summary>
    public Handover<LedgerEvent> Handover { get; }

    /// <summary>All of them, newest first, as of this moment.</summary>
    public IReadOnlyList<LedgerEvent> NewestFirst
    {
        get
        {
            lock (_gate)
                return _windows.NewestFirst;
        }
    }

    /// <summary>What the rules of the callouts draw on at the beginning, and which visitor did what.</summary>
    public (RuleWindows Rules, VisitorHistory History) Begin(IReadOnlyList<Callout> callouts, Instant now)
    {
        lock (_gate)
            return (new RuleWindows(callouts, _windows, now), VisitorHistory.Of(_windows.NewestFirst));
    }

    /// <summary>Takes an event in, once. Of a site that was replaced the successor does.</summary>
    public void Add(LedgerEvent happened) => Handover.Take(happened);

    private void TakeIn(LedgerEvent happened)
    {
        lock (_gate)
            if (_windows.Add(happened))
                _fresh.Add(happened);
    }

    /// <summary>What came in since the last time.</summary>
    public IReadOnlyList<LedgerEvent> TakeFresh()
    {
        lock (_gate)
        {
            if (_fresh.Count == 0)
                return [];
            var fresh = _fresh;
            _fresh = [];
            return fresh;
        }
    }

    /// <summary>Moves the rules' windows on in time.</summary>
    public void Advance(RuleWindows rules, Instant now)
    {
        lock (_gate)
            rules.Advance(_windows, now);
    }
}
