using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Claims;
using Outcry.Core.Evidence;
using Outcry.Core.Greetings;
using Outcry.Core.Pages;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Visitors;

namespace Outcry.Core.Planning;

/// <summary>Everything planning needs of a site at one moment, compiled and never changed afterwards.</summary>
public sealed class SiteSnapshot
{
    private readonly Layout _layout;
    private readonly VisitorHistory _history;

    /// <summary>Compiles a site.</summary>
    /// <param name="rules">Its house rules.</param>
    /// <param name="offAir">Whether the whole site is silenced.</param>
    /// <param name="callouts">Its callouts, in any order and state.</param>
    /// <param name="newestFirst">Its events, newest first.</param>
    /// <param name="displayOf">What each source allows to be read.</param>
    /// <param name="now">The moment evidence is counted from.</param>
    /// <param name="conditions">What else is so at that moment; nothing in particular when left out.</param>
    public SiteSnapshot(
        HouseRules rules,
        bool offAir,
        IEnumerable<Callout> callouts,
        IReadOnlyList<LedgerEvent> newestFirst,
        Func<Guid, DisplayPolicy> displayOf,
        Instant now,
        SiteConditions? conditions = null
    )
        : this(
            rules,
            offAir,
            callouts,
            c => PreparedEvidence.Prepare(c, newestFirst, displayOf, now, conditions?.Traffic, conditions?.Zone),
            VisitorHistory.Of(newestFirst),
            conditions ?? SiteConditions.Plain,
            now
        ) { }

    private SiteSnapshot(
        HouseRules rules,
        bool offAir,
        IEnumerable<Callout> callouts,
        Func<Callout, PreparedEvidence> prepare,
        VisitorHistory history,
        SiteConditions conditions,
        Instant at
    )
        : this(new Layout(rules, callouts), offAir, prepare, history, conditions, at) { }

    private SiteSnapshot(
        Layout layout,
        bool offAir,
        Func<Callout, PreparedEvidence> prepare,
        VisitorHistory history,
        SiteConditions conditions,
        Instant at
    )
    {
        _layout = layout;
        OffAir = offAir;
        Conditions = conditions;
        At = at;
        Evidence = [.. layout.Callouts.Select(prepare)];
        _history = history;
    }

    /// <summary>Compiles a site whose events are kept in windows.</summary>
    /// <param name="rules">Its house rules.</param>
    /// <param name="offAir">Whether the whole site is silenced.</param>
    /// <param name="callouts">Its callouts, in any order and state.</param>
    /// <param name="windows">What each of them draws on.</param>
    /// <param name="displayOf">What each source allows to be read.</param>
    /// <param name="history">Which visitor did what.</param>
    /// <param name="conditions">What else is so.</param>
    /// <param name="now">The moment evidence is counted from.</param>
    public static SiteSnapshot Of(
        HouseRules rules,
        bool offAir,
        IEnumerable<Callout> callouts,
        RuleWindows windows,
        Func<Guid, DisplayPolicy> displayOf,
        VisitorHistory history,
        SiteConditions conditions,
        Instant now
    ) =>
        new(
            new Layout(rules, callouts),
            offAir,
            c => PreparedEvidence.Of(c, windows, displayOf, now, conditions.Traffic, conditions.Zone),
            history,
            conditions,
            now
        );

    /// <summary>The same site a moment later: only the evidence asked for is taken anew, and all else is shared.</summary>
    /// <param name="which">Whose evidence has changed.</param>
    /// <param name="windows">What each callout draws on now.</param>
    /// <param name="displayOf">What each source allows to be read.</param>
    /// <param name="history">Which visitor did what.</param>
    /// <param name="conditions">What else is so.</param>
    /// <param name="now">The moment.</param>
    public SiteSnapshot Later(
        Func<Callout, bool> which,
        RuleWindows windows,
        Func<Guid, DisplayPolicy> displayOf,
        VisitorHistory history,
        SiteConditions conditions,
        Instant now
    )
    {
        var place = 0;
        return new SiteSnapshot(
            _layout,
            OffAir,
            c =>
            {
                var known = Evidence[place++];
                return which(c)
                    ? PreparedEvidence.Of(c, windows, displayOf, now, conditions.Traffic, conditions.Zone)
                    : known;
            },
            history,
            conditions,
            now
        );
    }

    /// <summary>What else is so at that moment.</summary>
    public SiteConditions Conditions { get; }

    /// <summary>The moment evidence was last counted from.</summary>
    public Instant At { get; }

    /// <summary>The site's time zone.</summary>
    public DateTimeZone Zone => Conditions.Zone;

    /// <summary>Whether somebody of the team is there who would answer on a page.</summary>
    /// <param name="stands">The launcher that stands there, whose group it is that would; null for none.</param>
    public bool IsTeamThere(Launcher? stands) => Conditions.Team.IsThere(stands?.Brief.GroupId);

    /// <summary>Whether any callout takes the place of others.</summary>
    internal bool HasReplacing => _layout.HasReplacing;

    /// <summary>The house rules.</summary>
    public HouseRules Rules => _layout.Rules;

    /// <summary>Whether the site is silenced.</summary>
    public bool OffAir { get; }

    /// <summary>All callouts by priority, then age.</summary>
    public IReadOnlyList<Callout> Callouts => _layout.Callouts;

    /// <summary>Their evidence, place by place.</summary>
    public IReadOnlyList<PreparedEvidence> Evidence { get; }

    /// <summary>Patterns of the quiet pages.</summary>
    public IReadOnlyList<PagePattern> QuietPages => _layout.QuietPages;

    /// <summary>Places of the callouts whose page rule lets the page in, in rising order, each once.</summary>
    public IReadOnlyList<int> OnPage(PageAddress page) => _layout.OnPage(page);

    /// <summary>The reader behind a visitor id, with every person that visitor is known to be.</summary>
    public ReaderIdentity ReaderOf(string visitorId) => new(visitorId, _history.KeysOf(visitorId));

    /// <summary>What a visitor did on the site, newest first.</summary>
    public IReadOnlyList<PastEvent> PastEventsOf(string visitorId) => _history.PastEventsOf(visitorId);

    /// <summary>The same site with other callouts, as for a draft seen beside what is live.</summary>
    public SiteSnapshot With(
        IEnumerable<Callout> callouts,
        IReadOnlyList<LedgerEvent> newestFirst,
        Func<Guid, DisplayPolicy> displayOf,
        Instant now,
        Traffic? traffic = null
    )
    {
        var places = Places;
        return new SiteSnapshot(
            Rules,
            OffAir,
            callouts,
            c =>
                places.TryGetValue(c, out var place)
                    ? Evidence[place]
                    : PreparedEvidence.Prepare(
                        c,
                        newestFirst,
                        displayOf,
                        now,
                        traffic ?? Conditions.Traffic,
                        Conditions.Zone
                    ),
            _history,
            Conditions,
            At
        );
    }

    /// <summary>
    /// The same site with a launcher in place of what is live of it, or beside the others where none is, and somebody of the
    /// team there: whoever looks at a draft is, and who was there in the past is not recorded.
    /// </summary>
    public SiteSnapshot Trying(Launcher launcher)
    {
        var places = Places;
        return new SiteSnapshot(
            Rules,
            OffAir,
            Callouts.Where(c => c.Greets?.Launcher != launcher.Id).Concat(launcher.Greetings),
            c =>
                places.TryGetValue(c, out var place)
                    ? Evidence[place]
                    : PreparedEvidence.Prepare(c, [], static _ => DisplayPolicy.Start, At, Conditions.Traffic, Zone),
            _history,
            Conditions with
            {
                Launchers = [.. Conditions.Launchers.Where(l => l.Id != launcher.Id), launcher],
                Team = TeamThere.All,
            },
            At
        );
    }

    /// <summary>The same site with one callout changed in anything but what it says and which events it draws on.</summary>
    /// <param name="changed">The callout as it would be; one that the site does not have changes nothing.</param>
    public SiteSnapshot Replacing(Callout changed)
    {
        var places = Callouts.Select((c, i) => (c.Id, i)).ToDictionary(x => x.Id, x => x.i);
        return new SiteSnapshot(
            Rules,
            OffAir,
            Callouts.Select(c => c.Id == changed.Id ? changed : c),
            c =>
                Evidence[places[c.Id]] is var known && ReferenceEquals(known.Callout, c)
                    ? known
                    : PreparedEvidence.Prepare(c, known.Events, known.DisplayOf, At, Conditions.Traffic, Zone),
            _history,
            Conditions,
            At
        );
    }

    /// <summary>The same site on or off air.</summary>
    public SiteSnapshot OnAir()
    {
        if (!OffAir)
            return this;
        var place = 0;
        return new SiteSnapshot(_layout, false, _ => Evidence[place++], _history, Conditions, At);
    }

    private Dictionary<Callout, int> Places => Callouts.Select((c, i) => (c, i)).ToDictionary(x => x.c, x => x.i);

    /// <summary>The same site as it would have been at another moment with these callouts, drawing on the events known then.</summary>
    public SiteSnapshot AsOf(
        Instant at,
        IEnumerable<Callout> callouts,
        IReadOnlyList<LedgerEvent> newestFirst,
        Func<Guid, DisplayPolicy> displayOf,
        Traffic traffic
    ) =>
        new(
            Rules,
            OffAir,
            callouts,
            c => PreparedEvidence.Prepare(c, newestFirst, displayOf, at, traffic, Zone),
            _history,
            Conditions,
            at
        );

    /// <summary>What changes with definitions and rules, and with nothing else: the order of callouts, and the index of pages.</summary>
    private sealed class Layout
    {
        private readonly PageIndex _index;
        private readonly int[] _placeOfRule;
        private readonly bool _oneRuleEach;

        public Layout(HouseRules rules, IEnumerable<Callout> callouts)
        {
            Rules = rules;
            // One order for all: what is planned must not depend on how the callouts came.
            Callouts =
            [
                .. callouts
                    .OrderBy(c => c.Brief.Priority)
                    .ThenBy(c => c.CreatedAt)
                    .ThenBy(c => c.Greets?.Rung ?? 0)
                    .ThenBy(c => c.Id),
            ];
            var scopes = Callouts
                .SelectMany((c, place) => c.Targeting.Pages.Rules.Select(rule => (rule, place)))
                .ToList();
            _index = new PageIndex([.. scopes.Select(s => s.rule)]);
            _placeOfRule = [.. scopes.Select(s => s.place)];
            _oneRuleEach = scopes.Count == Callouts.Length;
            HasReplacing = Callouts.Any(c => c.Brief.Where.Replaces);
            QuietPages = [.. rules.QuietPages.Select(p => PagePattern.TryParse(p, out _)).OfType<PagePattern>()];
        }

        public HouseRules Rules { get; }

        public Callout[] Callouts { get; }

        public bool HasReplacing { get; }

        public IReadOnlyList<PagePattern> QuietPages { get; }

        public IReadOnlyList<int> OnPage(PageAddress page)
        {
            var rules = _index.RulesShowing(page);
            if (_oneRuleEach)
                return rules;
            var places = new List<int>(rules.Count);
            foreach (var rule in rules)
                if (places.Count == 0 || places[^1] != _placeOfRule[rule])
                    places.Add(_placeOfRule[rule]);
            return places;
        }
    }
}
