using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Claims;
using Outcry.Core.Evidence;
using Outcry.Core.Planning;

namespace Outcry.Server.Sites;

/// <summary>A site's newest events in memory, and what came in since its evidence was last looked at.</summary>
internal sealed class SiteEvents(IReadOnlyList<LedgerEvent> newestFirst)
{
    private readonly Lock _gate = new();
    private readonly SourceWindows _windows = new(newestFirst, LiveSite.MostEvents);
    private List<LedgerEvent> _fresh = [];
    private List<LedgerEvent>? _whileLoading;
    private SiteEvents? _successor;

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
    public void Add(LedgerEvent happened)
    {
        SiteEvents? successor;
        lock (_gate)
        {
            successor = _successor;
            if (successor is null)
            {
                _whileLoading?.Add(happened);
                if (_windows.Add(happened))
                    _fresh.Add(happened);
            }
        }
        successor?.Add(happened);
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

    /// <summary>What comes in from now on, whoever is to replace this may not have read.</summary>
    public void ExpectSuccessor()
    {
        lock (_gate)
            _whileLoading = [];
    }

    /// <summary>Nothing replaces this now, or it has been replaced.</summary>
    public void ExpectNoSuccessor()
    {
        lock (_gate)
            _whileLoading = null;
    }

    /// <summary>Takes the place of others: what came in while this was read is taken over, and what still comes there is passed on.</summary>
    public void Follow(SiteEvents before)
    {
        lock (before._gate)
        {
            foreach (var happened in before._whileLoading ?? [])
                Add(happened);
            before._successor = this;
        }
    }
}
