using NodaTime;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Core.Rehearsing;
using Outcry.Core.Timing;
using Outcry.Server.Audience;
using Outcry.Server.Callouts;
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
            .Site.Callouts.SelectMany(c => c.Triggers)
            .Where(t => t.Kind == TriggerKind.Scroll)
            .Select(t => t.Number)
            .Distinct()
            .Order(),
    ];

    /// <summary>All lanes, and what the change that is tried out does on them.</summary>
    public (IReadOnlyList<LaneView> Lanes, IReadOnlyList<string> Effects) Make(IReadOnlyList<PageGroupRow> groups)
    {
        var changed = Changed();
        var names = NotShownView.Names(setting.Site);
        var lanes = groups
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
        return ([.. lanes.Select(l => l.View)], [.. lanes.SelectMany(l => l.Effects)]);
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
        var mender = new ClashMender(changed, site.Shared, lane.Play);
        return new LaneDetailView(
            lane.View(read, changed),
            NotShownView.Of(read.Read, changed),
            [
                .. read
                    .Read.Outcome.Missed.Where(m => m is { Turn: 0, Reason: NoFreeSlot })
                    .Take(MostMended)
                    .Select(m => new ClashView(
                        m.Callout,
                        [.. mender.Mends(m, group.Includes).Select(mend => View(mend, group, changed, names))]
                    )),
            ]
        );
    }

    /// <summary>What a draft, which the setting's site has on air, would change against the site as it is.</summary>
    public PublicationView Publication(IReadOnlyList<PageGroupRow> groups, SiteSnapshot asItIs, Guid draft)
    {
        var (effects, clashes) = (new List<string>(), new List<ComingClashView>());
        var names = NotShownView.Names(setting.Site);
        string? NameOf(Guid id) => names.GetValueOrDefault(id);
        foreach (var group in groups)
        {
            var lane = new Lane(this, group);
            var (was, becomes) = (lane.Play(asItIs), lane.Play(setting.Site));
            effects.AddRange(
                Difference.Between(was, becomes).Select(d => $"{group.Name}: {RehearsalWords.Say(d, NameOf)}")
            );
            var today = Clashes(was, draft).Select(m => m.Callout).ToHashSet();
            var mender = new Lazy<ClashMender>(() => new ClashMender(setting.Site, site.Shared, lane.Play));
            foreach (var clash in Clashes(becomes, draft))
                clashes.Add(
                    new ComingClashView(
                        group.Name,
                        $"\"{names[clash.Callout]}\" would not come on. {ReasonSentence.Say(clash.Reason, setting.Site.Zone, NameOf)}",
                        !today.Contains(clash.Callout),
                        [.. mender.Value.Mends(clash, group.Includes).Select(m => View(m, group, setting.Site, names))]
                    )
                );
        }
        return new PublicationView(effects, clashes);
    }

    // Those in which the draft has a part.
    private static IEnumerable<Missed> Clashes(ReadPage read, Guid draft) =>
        read.Read.Outcome.Missed.Where(m =>
            m is { Turn: 0, Reason: NoFreeSlot slot } && (m.Callout == draft || slot.Blocker == draft)
        );

    private const int MostMended = 5;

    private SiteSnapshot Changed() =>
        setting is { Change: { } change, Changed: { } callout }
            ? ClashMender.With(setting.Site, site.Shared, callout, change)
            : setting.Site;

    private static MendView View(Mend mend, PageGroupRow group, SiteSnapshot site, Dictionary<Guid, string> names) =>
        new(
            mend.Callout,
            names[mend.Callout],
            TriedChange.Write(mend.Callout, mend.Change, group.Id),
            mend.Change is LeaveOut
                ? $"Leave \"{names[mend.Callout]}\" out on {group.Name}"
                : $"{mend.Change.Say(site.Callouts.First(c => c.Id == mend.Callout).Brief)}: \"{names[mend.Callout]}\"",
            [.. mend.Changes.Select(c => RehearsalWords.Say(c, id => names.GetValueOrDefault(id)))],
            mend.Change.Apply(site.Callouts.First(c => c.Id == mend.Callout).Brief)
        );

    private sealed class Lane
    {
        private readonly RunSheetMaker _maker;
        private readonly PageGroupRow _group;
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
            _pages = [.. maker._known.Where(p => rule.Decide(p.Address).Shown).Select(p => p.Traffic)];
            // The group's busiest page stands for it; before anything was heard, the first page its patterns mean.
            _page =
                _pages.Count > 0 ? _pages[0].Page
                : rule.Includes.Count > 0 ? PageAddress.Recorded(maker.HomeHost, rule.Includes[0].SamplePath())
                : PageAddress.Recorded(maker.HomeHost, "/");
            _reading = Reading.TwoMinutes with { Scrolls = Scrolls(), OnPageOnly = !everyReason };
        }

        public ReadPage Play(SiteSnapshot on) => _reading.Play(on, _page, _maker.Setting.Who, _maker.Setting.At);

        public LaneView View(ReadPage read, SiteSnapshot on) =>
            new(
                _group.Id,
                _group.Name,
                _page.Path,
                Math.Round(_pages.Sum(p => p.Views) / _maker.Traffic.Days, 1),
                StillThere(),
                read.Showings.Where(s => s.IsFirst).DistinctBy(s => s.Callout).Count(),
                on.Rules.QuietBy(_page)?.Text,
                ShowingView.Of(read.Read.Armed, read.Read.Outcome.Showings),
                ShowingView.Of(read.Read.Armed, read.OnLeaving),
                Waiting(read.Read, on),
                NotShownView.Clashes(read.Read, on),
                on.Callouts.Count - read.Showings.DistinctBy(s => s.Callout).Count()
            );

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
                if (IsToCome(reason) && callout.Pages.Decide(_page).Shown && DueMs(callout) is { } due)
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
            new ArmedCallout(callout, [], callout.Triggers).DueMs
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

    private SheetSetting Setting => setting;
    private SiteTraffic Traffic => traffic;
    private Census Census => census;
}
