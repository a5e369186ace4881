using System.Collections.Frozen;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Saying;

namespace Outcry.Core.Planning;

/// <summary>Everything planning needs of a site at one moment, compiled and never changed afterwards.</summary>
public sealed class SiteSnapshot
{
    private readonly PageIndex _index;
    private readonly FrozenDictionary<string, FrozenSet<string>> _peopleByVisitor;

    /// <summary>Compiles a site.</summary>
    /// <param name="rules">Its house rules.</param>
    /// <param name="offAir">Whether the whole site is silenced.</param>
    /// <param name="callouts">Its callouts, in any order and state.</param>
    /// <param name="newestFirst">Its events, newest first.</param>
    /// <param name="displayOf">What each source allows to be read.</param>
    /// <param name="now">The moment evidence is counted from.</param>
    public SiteSnapshot(
        HouseRules rules,
        bool offAir,
        IEnumerable<Callout> callouts,
        IReadOnlyList<LedgerEvent> newestFirst,
        Func<Guid, DisplayPolicy> displayOf,
        Instant now
    )
        : this(
            rules,
            offAir,
            callouts,
            c => PreparedEvidence.Prepare(c, newestFirst, displayOf, now),
            People(newestFirst)
        ) { }

    private SiteSnapshot(
        HouseRules rules,
        bool offAir,
        IEnumerable<Callout> callouts,
        Func<Callout, PreparedEvidence> prepare,
        FrozenDictionary<string, FrozenSet<string>> peopleByVisitor
    )
    {
        Rules = rules;
        OffAir = offAir;
        // One order for all: what is planned must not depend on how the callouts came.
        Callouts = [.. callouts.OrderBy(c => c.Brief.Priority).ThenBy(c => c.CreatedAt).ThenBy(c => c.Id)];
        Evidence = [.. Callouts.Select(c => c.State == CalloutState.Archived ? PreparedEvidence.None : prepare(c))];
        _index = new PageIndex([.. Callouts.Select(c => c.Pages)]);
        QuietPages = [.. rules.QuietPages.Select(PagePattern.Parse)];
        _peopleByVisitor = peopleByVisitor;
    }

    /// <summary>The house rules.</summary>
    public HouseRules Rules { get; }

    /// <summary>Whether the site is silenced.</summary>
    public bool OffAir { get; }

    /// <summary>All callouts by priority, then age.</summary>
    public IReadOnlyList<Callout> Callouts { get; }

    /// <summary>Their evidence, place by place.</summary>
    public IReadOnlyList<PreparedEvidence> Evidence { get; }

    /// <summary>Patterns of the quiet pages.</summary>
    public IReadOnlyList<PagePattern> QuietPages { get; }

    /// <summary>Places of the callouts whose page rule lets the page in.</summary>
    public IReadOnlyList<int> OnPage(PageAddress page) => _index.RulesShowing(page);

    /// <summary>The reader behind a visitor id, with every person that visitor is known to be.</summary>
    public Reader ReaderOf(string visitorId) =>
        new(visitorId, _peopleByVisitor.GetValueOrDefault(visitorId, FrozenSet<string>.Empty));

    /// <summary>The same site with other callouts, as for a draft seen beside what is live.</summary>
    public SiteSnapshot With(
        IEnumerable<Callout> callouts,
        IReadOnlyList<LedgerEvent> newestFirst,
        Func<Guid, DisplayPolicy> displayOf,
        Instant now
    )
    {
        var known = Callouts.Select((c, i) => (c, i)).ToDictionary(x => x.c, x => Evidence[x.i]);
        return new SiteSnapshot(
            Rules,
            OffAir,
            callouts,
            c => known.TryGetValue(c, out var ready) ? ready : PreparedEvidence.Prepare(c, newestFirst, displayOf, now),
            _peopleByVisitor
        );
    }

    private static FrozenDictionary<string, FrozenSet<string>> People(IReadOnlyList<LedgerEvent> events) =>
        events
            .Where(e => e.VisitorId is not null)
            .GroupBy(e => e.VisitorId!)
            .ToFrozenDictionary(g => g.Key, g => g.Select(e => e.PersonKey).ToFrozenSet());
}
