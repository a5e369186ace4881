using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Claims;
using Outcry.Core.Explaining;
using Outcry.Core.Pages;
using Outcry.Core.Performing;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Core.Rehearsing;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Server.Audience;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.RunSheet;

/// <summary>Computes the lanes of the run sheet with the planner.</summary>
/// <param name="site">The site.</param>
/// <param name="setting">Whose sheet, as of when.</param>
/// <param name="traffic">What was looked at.</param>
/// <param name="census">Who was recorded.</param>
internal sealed class RunSheetMaker(LiveSite site, SheetSetting setting, SiteTraffic traffic, Census census)
{
    private readonly IReadOnlyList<(PageTraffic Traffic, PageAddress Address)> _known =
    [
        .. traffic.Pages.Select(p => (p, p.Page)),
    ];

    private string HomeHost => site.HomeHost;

    private readonly IReadOnlyList<int> _depths =
    [
        .. setting
            .Site.Callouts.SelectMany(c => c.Targeting.Triggers)
            .Where(t => t.Kind == TriggerKind.Scroll)
            .Select(t => t.Number)
            .Distinct()
            .Order(),
    ];

    /// <summary>All lanes, what the change that is tried out does on them, and what is live and stands on none.</summary>
    public (IReadOnlyList<LaneView> Lanes, IReadOnlyList<string> Effects, IReadOnlyList<OffSheetView> Off) Make(
        IReadOnlyList<PageGroupRow> groups
    )
    {
        var changed = Changed();
        var names = NotShownView.Names(setting.Site);
        var lanes = WithOthers(groups)
            .AsParallel()
            .AsOrdered()
            .Select(group =>
            {
                var lane = new Lane(this, group);
                var after = lane.Play(changed);
                IReadOnlyList<Difference> differences = ReferenceEquals(changed, setting.Site)
                    ? []
                    : Difference.Between(lane.Play(setting.Site), after);
                return (
                    View: lane.View(after, changed),
                    Effects: differences.Select(d =>
                        $"{group.Name}: {RehearsalWords.Say(d, id => names.GetValueOrDefault(id))}"
                    )
                );
            })
            .ToList();
        var views = lanes.ConvertAll(l => l.View);
        return (views, [.. lanes.SelectMany(l => l.Effects)], OffSheet(changed, views));
    }

    /// <summary>Lanes for a site that has no page groups yet: the first parts of the paths that were heard, the busiest first.</summary>
    public IReadOnlyList<PageGroupRow> LanesHeard =>
        [
            .. _known
                .GroupBy(k => k.Address.Segments is [var first, ..] ? first : "")
                .OrderByDescending(g => g.Sum(k => k.Traffic.Views))
                .Take(MostHeardLanes)
                .Select(g => new PageGroupRow
                {
                    Id = IdOf(g.Key),
                    Name = g.Key.Length == 0 ? "Home" : $"/{g.Key}",
                    Includes = [g.Key.Length == 0 ? "/" : $"/{g.Key}/**"],
                }),
        ];

    private const int MostHeardLanes = 8;

    // The same lane is found again by the same id, without being kept anywhere.
    private static Guid IdOf(string segment) =>
        new(
            System
                .Security.Cryptography.SHA256.HashData(System.Text.Encoding.UTF8.GetBytes($"lane:{segment}"))
                .AsSpan(0, 16)
        );

    // Pages that somebody looked at and no group has.
    private IEnumerable<PageGroupRow> WithOthers(IReadOnlyList<PageGroupRow> groups)
    {
        var others = OthersOf(groups);
        return _known.Any(k => others(k.Address)) ? groups.Append(Others) : groups;
    }

    private static Func<PageAddress, bool> OthersOf(IReadOnlyList<PageGroupRow> groups)
    {
        var rules = groups.Select(PageGroups.RuleOf).ToList();
        return page => !rules.Exists(r => r.Decide(page).Shown);
    }

    /// <summary>The lane of pages that are in no group.</summary>
    public static PageGroupRow Others { get; } =
        new()
        {
            Id = Guid.Empty,
            Name = "Other pages",
            Includes = [],
            Excludes = [],
        };

    // All that is live stands on some lane or here, with the reason that comes nearest to its coming on.
    private List<OffSheetView> OffSheet(SiteSnapshot on, List<LaneView> lanes)
    {
        if (on.OffAir)
            return [];
        var there = lanes
            .SelectMany(l =>
                l.Showings.Concat(l.Leaving)
                    .Select(s => s.CalloutId)
                    .Concat(l.Waiting.Select(w => w.CalloutId))
                    .Concat(l.Clashes.Select(c => c.CalloutId))
                    .Concat(l.Differs.SelectMany(d => d.Showings.Select(s => s.CalloutId)))
            )
            .ToHashSet();
        var names = NotShownView.Names(on);
        return
        [
            .. on
                .Callouts.Where(c => c.State == DefinitionState.Live && !there.Contains(c.Id))
                .Select(c => new OffSheetView(c.Id, c.Name, WhyOff(on, c, names))),
        ];
    }

    private string WhyOff(SiteSnapshot on, Callout callout, Dictionary<Guid, string> names)
    {
        var page = _known.FirstOrDefault(k => callout.Targeting.Pages.Decide(k.Address).Shown).Address;
        if (page is null)
            return "Nobody has looked at a page it is for in the last 30 days.";
        var read = Reading.TwoMinutes with { OnPageOnly = true };
        var played = read.Play(on, page, setting.Who, setting.At);
        var reason =
            played.Read.Outcome.Missed.FirstOrDefault(m => m.Callout == callout.Id)?.Reason
            ?? played.Read.LeftOut.FirstOrDefault(l => l.Callout.Id == callout.Id)?.Reason;
        return reason is null
            ? $"It comes on on {page.Path}."
            : ReasonSentence.Say(reason, on.Zone, id => names.GetValueOrDefault(id));
    }

    /// <summary>One lane, with every reason and what would end its clashes.</summary>
    public LaneDetailView Detail(PageGroupRow group)
    {
        var changed = Changed();
        var lane = new Lane(this, group, everyReason: true);
        var read = lane.Play(changed);
        var names = NotShownView.Names(changed);
        // An address has room for one change: while one is tried out, what would have to come on top of it is not offered.
        if (setting.Change is not null)
            return new LaneDetailView(lane.View(read, changed), NotShownView.Of(read.Read, changed), []);
        var mender = new ClashMender(changed, site.Context, lane.Play);
        var elsewhere = new Elsewhere(this, changed);
        return new LaneDetailView(
            lane.View(read, changed),
            NotShownView.Of(read.Read, changed),
            [
                .. read
                    .Read.Outcome.Missed.Where(m => m is { Turn: 0, Reason: NoFreeSlot })
                    .Take(MostMended)
                    .Select(m => new ClashView(
                        m.Callout,
                        [.. mender.Mends(m, lane.Here).Select(mend => View(mend, lane, changed, names, elsewhere))]
                    )),
            ]
        );
    }

    /// <summary>What a draft, which the setting's site has on air, would change against the site as it is.</summary>
    /// <remarks>Played on every kind of page that anybody looked at and the draft is for, now or then; those nobody looked at are stood for by what its patterns mean.</remarks>
    public PublicationView Publication(IReadOnlyList<PageGroupRow> groups, SiteSnapshot asItIs, Guid draft)
    {
        var (effects, clashes) = (new List<(string Where, string What)>(), new List<ComingClashView>());
        var names = NotShownView.Names(setting.Site);
        string? NameOf(Guid id) => names.GetValueOrDefault(id);
        var elsewhere = new Elsewhere(this, setting.Site);
        foreach (var lane in LanesOf(groups, asItIs, draft))
        {
            var (was, becomes) = (lane.Play(asItIs), lane.Play(setting.Site));
            effects.AddRange(Difference.Between(was, becomes).Select(d => (lane.Label, RehearsalWords.Say(d, NameOf))));
            var today = Clashes(was, draft).Select(m => m.Callout).ToHashSet();
            var mender = new Lazy<ClashMender>(() => new ClashMender(setting.Site, site.Context, lane.Play));
            foreach (var clash in Clashes(becomes, draft))
                clashes.Add(
                    new ComingClashView(
                        lane.Label,
                        $"\"{names[clash.Callout]}\" would not come on. {ReasonSentence.Say(clash.Reason, setting.Site.Zone, NameOf)}",
                        !today.Contains(clash.Callout),
                        [
                            .. mender
                                .Value.Mends(clash, lane.Here)
                                .Select(m => View(m, lane, setting.Site, names, elsewhere)),
                        ]
                    )
                );
        }
        return new PublicationView(
            [.. effects.GroupBy(e => e.What).Select(e => $"{Places([.. e.Select(w => w.Where)])}: {e.Key}")],
            clashes
        );
    }

    private static string Places(IReadOnlyList<string> places) =>
        places.Count <= 3
            ? string.Join(", ", places)
            : $"{string.Join(", ", places.Take(2))} and {places.Count - 2} kinds of page more";

    private IEnumerable<Lane> LanesOf(IReadOnlyList<PageGroupRow> groups, SiteSnapshot asItIs, Guid draft)
    {
        bool IsFor(SiteSnapshot on, PageAddress page) => on.OnPage(page).Any(p => on.Callouts[p].Id == draft);
        var its = _known.Where(k => IsFor(asItIs, k.Address) || IsFor(setting.Site, k.Address));
        var kinds = PageKind.Of(its.Select(k => k.Traffic), asItIs, setting.Site);
        if (kinds.Count == 0)
            kinds = [.. Meant(draft).Select(p => new PageKind(p, []))];
        return kinds.Select(k => new Lane(
            this,
            k,
            groups.FirstOrDefault(g => PageGroups.RuleOf(g).Decide(k.Page).Shown)
        ));
    }

    // Pages that the draft's own patterns mean, for as long as nobody has looked at one of them.
    private IEnumerable<PageAddress> Meant(Guid draft)
    {
        var callout = setting.Site.Callouts.First(c => c.Id == draft);
        var patterns = callout
            .Brief.Where.Includes.Select(PagePattern.Parse)
            .Concat(callout.Brief.Where.Groups.SelectMany(g => site.Context.Groups[g].Rule.Includes));
        return patterns
            .Select(p => PageAddress.Recorded(HomeHost, p.SamplePath()))
            .DefaultIfEmpty(PageAddress.Recorded(HomeHost, "/"))
            .Where(p => callout.Targeting.Pages.Decide(p).Shown);
    }

    /// <summary>What a mend does beyond the page it was found for.</summary>
    private sealed class Elsewhere(RunSheetMaker maker, SiteSnapshot asItIs)
    {
        private readonly Lazy<List<Lane>> _lanes = new(() =>
            [.. PageKind.Of(maker._known.Select(k => k.Traffic), asItIs).Select(k => new Lane(maker, k, null))]
        );
        private readonly Dictionary<string, ReadPage> _played = [];

        public IReadOnlyList<string> WarningsOf(Mend mend)
        {
            var after = ClashMender.With(
                asItIs,
                maker.Site.Context,
                asItIs.Callouts.First(c => c.Id == mend.Callout),
                mend.Change
            );
            var changed = after.Callouts.First(c => c.Id == mend.Callout);
            if (mend.Change is ExcludePages && !maker._known.Any(k => changed.Targeting.Pages.Decide(k.Address).Shown))
                return ["Then it has no page left."];
            var warnings = new List<string>();
            foreach (var lane in _lanes.Value.Where(l => l.IsFor(asItIs, mend.Callout)))
            {
                if (!_played.TryGetValue(lane.Label, out var before))
                    _played[lane.Label] = before = lane.Play(asItIs);
                var clashes = ClashesOf(lane.Play(after)).Except(ClashesOf(before)).ToList();
                if (clashes.Count > 0)
                    warnings.Add(
                        $"Then {string.Join(" and ", clashes.Select(c => $"\"{asItIs.Callouts.First(o => o.Id == c).Name}\""))} would not come on on {lane.Label}."
                    );
            }
            return warnings.Count <= MostWarned
                ? warnings
                : [.. warnings.Take(MostWarned), $"The same on {warnings.Count - MostWarned} kinds of page more."];
        }

        private const int MostWarned = 3;

        private static IEnumerable<Guid> ClashesOf(ReadPage read) =>
            read.Read.Outcome.Missed.Where(m => m is { Turn: 0, Reason: NoFreeSlot }).Select(m => m.Callout);
    }

    // Those in which the draft has a part.
    private static IEnumerable<Missed> Clashes(ReadPage read, Guid draft) =>
        read.Read.Outcome.Missed.Where(m =>
            m is { Turn: 0, Reason: NoFreeSlot slot } && (m.Callout == draft || slot.Blocker == draft)
        );

    private const int MostMended = 5;

    private SiteSnapshot Changed() =>
        setting is { Change: { } change, Changed: { } callout }
            ? ClashMender.With(setting.Site, site.Context, callout, change)
            : setting.Site;

    private static MendView View(
        Mend mend,
        Lane lane,
        SiteSnapshot site,
        Dictionary<Guid, string> names,
        Elsewhere elsewhere
    )
    {
        var brief = site.Callouts.First(c => c.Id == mend.Callout).Brief;
        return new(
            mend.Callout,
            names[mend.Callout],
            TriedChange.Write(mend.Callout, mend.Change, lane.GroupId),
            mend.Change is ExcludePages
                ? $"Leave \"{names[mend.Callout]}\" out on {lane.Label}"
                : $"{mend.Change.Say(brief)}: \"{names[mend.Callout]}\"",
            [.. mend.Changes.Select(c => RehearsalWords.Say(c, id => names.GetValueOrDefault(id)))],
            elsewhere.WarningsOf(mend),
            mend.Change.Apply(brief)
        );
    }

    private sealed class Lane
    {
        private readonly RunSheetMaker _maker;
        private readonly PageGroupRow? _group;
        private readonly List<PageTraffic> _pages;
        private readonly PageAddress _page;
        private readonly Reading _reading;

        /// <param name="maker">Whose lane.</param>
        /// <param name="group">The page group.</param>
        /// <param name="everyReason">Whether also callouts that are not for the page are explained.</param>
        public Lane(RunSheetMaker maker, PageGroupRow group, bool everyReason = false)
        {
            (_maker, _group) = (maker, group);
            var rule = PageGroups.RuleOf(group);
            var means = group.Id == Others.Id ? OthersOf(maker.Groups) : page => rule.Decide(page).Shown;
            _pages = [.. maker._known.Where(p => means(p.Address)).Select(p => p.Traffic)];
            // The group's busiest page stands for it; before anything was heard, the first page its patterns mean.
            _page =
                _pages.Count > 0 ? _pages[0].Page
                : rule.Includes.Count > 0 ? PageAddress.Recorded(maker.HomeHost, rule.Includes[0].SamplePath())
                : PageAddress.Recorded(maker.HomeHost, "/");
            Label = group.Name;
            Here = group.Includes.Count > 0 ? group.Includes : [_page.Path];
            _reading = Reading.TwoMinutes with { Scrolls = Scrolls(), OnPageOnly = !everyReason };
        }

        /// <param name="maker">Whose lane.</param>
        /// <param name="kind">One kind of page.</param>
        /// <param name="group">A group that has its busiest page; null for none.</param>
        public Lane(RunSheetMaker maker, PageKind kind, PageGroupRow? group)
        {
            (_maker, _pages, _page) = (maker, [.. kind.Pages], kind.Page);
            // A group's busiest page speaks for the group; any other page for itself and its like.
            var isGroup = group is not null && (kind.Pages.Count == 0 || IsBusiest(maker, kind.Page, group));
            _group = isGroup ? group : null;
            Label =
                isGroup ? group!.Name
                : kind.Pages.Count > 1 ? $"{kind.Page.Path} and {kind.Pages.Count - 1} like it"
                : kind.Page.Path;
            Here =
                isGroup && group!.Includes.Count > 0
                    ? group.Includes
                    : [.. kind.Pages.Take(20).Select(p => p.Path).DefaultIfEmpty(kind.Page.Path)];
            _reading = Reading.TwoMinutes with { Scrolls = Scrolls(), OnPageOnly = true };
        }

        private static bool IsBusiest(RunSheetMaker maker, PageAddress page, PageGroupRow group)
        {
            var rule = PageGroups.RuleOf(group);
            return maker._known.FirstOrDefault(k => rule.Decide(k.Address).Shown).Address == page;
        }

        /// <summary>What the pages are called.</summary>
        public string Label { get; }

        /// <summary>Patterns that mean them.</summary>
        public IReadOnlyList<string> Here { get; }

        /// <summary>Their group; the empty id for none.</summary>
        public Guid GroupId => _group?.Id ?? Guid.Empty;

        /// <summary>Whether a callout's page rule lets them in.</summary>
        public bool IsFor(SiteSnapshot on, Guid callout) => on.OnPage(_page).Any(p => on.Callouts[p].Id == callout);

        public ReadPage Play(SiteSnapshot on) => _reading.Play(on, _page, _maker.Setting.Who, _maker.Setting.At);

        public LaneView View(ReadPage read, SiteSnapshot on) =>
            new(
                GroupId,
                Label,
                _page.Path,
                Differs(read, on),
                Math.Round(_pages.Sum(p => p.Views) / _maker.Traffic.Days, 1),
                StillThere(),
                read.Showings.Where(s => s.IsFirst).DistinctBy(s => s.Callout).Count(),
                on.Rules.QuietBy(_page)?.Text,
                ShowingView.Of(read.Read.Armed, read.Read.Outcome.Showings, on, _page),
                ShowingView.Of(read.Read.Armed, read.OnLeaving, on, _page),
                Waiting(read.Read, on),
                NotShownView.Clashes(read.Read, on),
                on.Callouts.Count - read.Showings.DistinctBy(s => s.Callout).Count()
            );

        // Pages of the group that come to something else than its busiest one, kind by kind.
        private List<LaneDifferenceView> Differs(ReadPage read, SiteSnapshot on)
        {
            var kinds = PageKind.Of(_pages, on);
            if (kinds.Count < 2)
                return [];
            var usual = StartsOf(read);
            return
            [
                .. kinds
                    .Where(k => !k.Pages.Any(p => p.Page == _page))
                    .Select(k => (Kind: k, Read: _reading.Play(on, k.Page, _maker.Setting.Who, _maker.Setting.At)))
                    .Where(k => !StartsOf(k.Read).SequenceEqual(usual))
                    .Take(MostDifferent)
                    .Select(k => new LaneDifferenceView(
                        k.Kind.Page.Path,
                        k.Kind.Pages.Count,
                        Math.Round(k.Kind.Pages.Sum(p => p.Views) / _maker.Traffic.Days, 1),
                        on.Rules.QuietBy(k.Kind.Page)?.Text,
                        [
                            .. ShowingView
                                .Of(k.Read.Read.Armed, k.Read.Showings, on, k.Kind.Page)
                                .Where(s => s.Turn == 0)
                                .DistinctBy(s => s.CalloutId),
                        ]
                    )),
            ];
        }

        private const int MostDifferent = 12;

        private static List<(Guid, long)> StartsOf(ReadPage read) =>
            [.. read.Showings.Where(s => s.IsFirst).Select(s => (s.Callout, s.StartMs))];

        private List<ScrollPoint> Scrolls()
        {
            if (_maker._depths.Count == 0)
                return [];
            var views = _pages.SelectMany(p => _maker.Census.ViewsOf(p.Path)).ToList();
            return
            [
                .. _maker
                    ._depths.Select(d => (Percent: d, ScrollPace.Of(views, d).MedianMs))
                    .Where(s => s.MedianMs is not null)
                    .Select(s => new ScrollPoint(s.Percent, s.MedianMs!.Value)),
            ];
        }

        private List<WaitingView> Waiting(RehearsedPage read, SiteSnapshot on)
        {
            var names = new Lazy<Dictionary<Guid, string>>(() => NotShownView.Names(on));
            var waiting = new List<WaitingView>();
            foreach (var (callout, reason) in read.LeftOut.Select(l => (l.Callout, l.Reason)))
                if (IsToCome(reason) && callout.Targeting.Pages.Decide(_page).Shown && DueMs(callout) is { } due)
                    waiting.Add(
                        new WaitingView(
                            callout.Id,
                            callout.Name,
                            callout.Brief.Kind,
                            callout.Brief.Look.Shape,
                            due,
                            reason is OutsideSchedule,
                            reason,
                            ReasonSentence.Say(reason, on.Zone, id => names.Value.GetValueOrDefault(id))
                        )
                    );
            return waiting;
        }

        private static bool IsToCome(Reason reason) =>
            reason
                is OutsideSchedule { Limit.Side: not ScheduleSide.Over }
                    or TooFewEvents
                    or TooFewNear
                    or TooFewOfPage
                    or NothingLow;

        private long? DueMs(Callout callout) =>
            new ArmedCallout(callout, [], callout.Targeting.Triggers).DueMs
            ?? _reading
                .Scrolls.Where(s => s.Percent == ShowingView.ScrollOf(callout))
                .Select(s => (long?)s.AtMs)
                .FirstOrDefault();

        private double[] StillThere()
        {
            var shares = new double[TrafficReader.Steps];
            var total = _pages.Sum(p => p.StayedPer5s.Sum());
            var left = 0;
            for (var step = 0; step < shares.Length; step++)
            {
                shares[step] = total == 0 ? 0 : Math.Round(1 - (double)left / total, 4);
                left += _pages.Sum(p => p.StayedPer5s[step]);
            }
            return shares;
        }
    }

    /// <summary>All page groups of the site, by which pages in none of them are told.</summary>
    public IReadOnlyList<PageGroupRow> Groups { get; init; } = [];

    private LiveSite Site => site;
    private SheetSetting Setting => setting;
    private SiteTraffic Traffic => traffic;
    private Census Census => census;
}
