using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Explaining;
using Outcry.Core.Pages;
using Outcry.Core.Performing;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Core.Rehearsing;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;

namespace Outcry.Server.RunSheet;

/// <summary>A stretch on screen.</summary>
/// <param name="Says">What it says there, as text.</param>
/// <param name="WaitSeconds">The seconds it waits for where they alone decide when it is due; null otherwise.</param>
/// <param name="ScrollPercent">The depth it waits for; null for none.</param>
/// <param name="PlaceUnknown">Whether it stands in the page's content and nobody has said yet whether its place is on this page.</param>
/// <param name="SharePercent">The share of visitors it is shown to, the rest being held back; null for all.</param>
internal sealed record ShowingView(
    Guid CalloutId,
    string Name,
    CalloutKind Kind,
    Shape Shape,
    int Turn,
    long StartMs,
    long EndMs,
    EndedBy EndedBy,
    string Says,
    int? WaitSeconds,
    int? ScrollPercent,
    int Priority,
    int? SharePercent,
    bool PlaceUnknown
)
{
    public static IReadOnlyList<ShowingView> Of(RehearsedPage page, SiteSnapshot site) =>
        Of(page.Armed, page.Outcome.Showings, site, page.Page.Page);

    public static IReadOnlyList<ShowingView> Of(
        IReadOnlyList<ArmedCallout> all,
        IEnumerable<Showing> showings,
        SiteSnapshot site,
        PageAddress page
    )
    {
        var armed = all.ToDictionary(a => a.Callout.Id);
        return
        [
            .. showings.Select(s =>
            {
                var (callout, turns) = (armed[s.Callout].Callout, armed[s.Callout].Turns);
                return new ShowingView(
                    s.Callout,
                    callout.Name,
                    callout.Brief.Kind,
                    callout.Brief.Look.Shape,
                    s.Turn,
                    s.StartMs,
                    s.EndMs,
                    s.EndedBy,
                    string.Concat(turns[s.Turn].Spans.Select(t => t.Text)),
                    BriefChange.WaitOf(callout.Brief),
                    ScrollOf(callout),
                    callout.Brief.Priority,
                    callout.Brief.HoldbackPercent > 0 ? 100 - callout.Brief.HoldbackPercent : null,
                    callout.Class == CalloutClass.Inset
                        && site.Conditions.PlaceOf(page.Path, callout.Brief.Look.Anchor) is null
                );
            }),
        ];
    }

    public static int? ScrollOf(Callout callout) =>
        callout.Targeting.Triggers.FirstOrDefault(t => t.Kind == TriggerKind.Scroll)?.Number;
}

/// <summary>A callout that is not shown here, and why.</summary>
/// <param name="Control">Where at the desk that can be changed.</param>
internal sealed record NotShownView(
    Guid CalloutId,
    string Name,
    int Turn,
    Reason Reason,
    string Sentence,
    bool IsClash,
    ControlPlace Control
)
{
    /// <summary>All of a page, the likeliest to be wondered at first.</summary>
    public static IReadOnlyList<NotShownView> Of(RehearsedPage page, SiteSnapshot site)
    {
        var missed = page.Outcome.Missed.Select(m => (m.Callout, m.Turn, m.Reason));
        var left = page.LeftOut.Select(l => (Callout: l.Callout.Id, Turn: 0, l.Reason));
        var names = Names(site);
        return
        [
            .. missed
                .Concat(left)
                .OrderBy(x => ReasonCatalogue.RankOf(x.Reason))
                .Select(x => One(x.Callout, x.Turn, x.Reason, names, site.Zone)),
        ];
    }

    /// <summary>Only what was due and found its place taken, or the visit's budget spent.</summary>
    public static IReadOnlyList<NotShownView> Clashes(RehearsedPage page, SiteSnapshot site)
    {
        var names = Names(site);
        return
        [
            .. page
                .Outcome.Missed.Where(m => m.Reason is NoFreeSlot or BudgetSpent)
                .Select(m => One(m.Callout, m.Turn, m.Reason, names, site.Zone)),
        ];
    }

    public static Dictionary<Guid, string> Names(SiteSnapshot site) =>
        site
            .Callouts.Select(c => (c.Id, c.Name))
            .Concat(site.Conditions.Launchers.Select(l => (l.Id, l.Definition.Name)))
            .ToDictionary(n => n.Id, n => n.Name);

    private static NotShownView One(
        Guid callout,
        int turn,
        Reason reason,
        Dictionary<Guid, string> names,
        DateTimeZone zone
    ) =>
        new(
            callout,
            names[callout],
            turn,
            reason,
            ReasonSentence.Say(reason, zone, id => names.GetValueOrDefault(id)),
            reason is NoFreeSlot or BudgetSpent,
            ReasonCatalogue.ControlOf(reason)
        );
}

/// <summary>A callout that would come on here, were it not that its time or its events are still to come.</summary>
/// <param name="AtMs">When it would be due, in milliseconds on the page.</param>
/// <param name="IsScheduled">Whether it waits for its dates or hours; else for events.</param>
internal sealed record WaitingView(
    Guid CalloutId,
    string Name,
    CalloutKind Kind,
    Shape Shape,
    long AtMs,
    bool IsScheduled,
    Reason Reason,
    string Sentence
);

/// <summary>Pages of a group on which something else is met than on its busiest one.</summary>
/// <param name="Path">The busiest of them.</param>
/// <param name="Pages">How many they are.</param>
/// <param name="Showings">What comes on there, each callout once.</param>
internal sealed record LaneDifferenceView(
    string Path,
    int Pages,
    double ViewsADay,
    string? QuietBy,
    IReadOnlyList<ShowingView> Showings
);

/// <summary>A live callout that stands on no lane.</summary>
/// <param name="Why">The reason, as a sentence.</param>
internal sealed record OffSheetView(Guid CalloutId, string Name, string Why);

/// <param name="GroupId">The page group; the empty id for pages that are in none.</param>
/// <param name="Path">The page it was rehearsed on: the group's busiest.</param>
/// <param name="Differs">Where its other pages come to something else.</param>
/// <param name="StillThere">The share of page views still open after 0, 5, 10 ... 120 s.</param>
/// <param name="Starts">How many callouts come on.</param>
/// <param name="NotShown">How many do not.</param>
internal sealed record LaneView(
    Guid GroupId,
    string Name,
    string Path,
    IReadOnlyList<LaneDifferenceView> Differs,
    double ViewsADay,
    IReadOnlyList<double> StillThere,
    int Starts,
    string? QuietBy,
    IReadOnlyList<ShowingView> Showings,
    IReadOnlyList<ShowingView> Leaving,
    IReadOnlyList<WaitingView> Waiting,
    IReadOnlyList<NotShownView> Clashes,
    int NotShown
);

/// <summary>A change that would end a clash.</summary>
/// <param name="Trying">As it stands in the run sheet's address.</param>
/// <param name="Sentence">What it changes.</param>
/// <param name="Effects">What becomes of callouts then, clause by clause.</param>
/// <param name="Warnings">What it does elsewhere that nobody would want, as sentences.</param>
/// <param name="Brief">The callout's brief with the change.</param>
internal sealed record MendView(
    Guid CalloutId,
    string Name,
    string Trying,
    string Sentence,
    IReadOnlyList<string> Effects,
    IReadOnlyList<string> Warnings,
    Brief Brief
);

/// <summary>A clash with what would end it.</summary>
internal sealed record ClashView(Guid CalloutId, IReadOnlyList<MendView> Mends);

/// <summary>One lane with everything that is known of it.</summary>
internal sealed record LaneDetailView(
    LaneView Lane,
    IReadOnlyList<NotShownView> NotShown,
    IReadOnlyList<ClashView> Mends
);

/// <summary>A change tried out, and what it does on every lane.</summary>
/// <param name="Brief">The callout's brief with the change.</param>
/// <param name="Effects">Clause by clause, with the lane's name.</param>
internal sealed record TrialChangeView(
    Guid CalloutId,
    string Name,
    string Sentence,
    Brief Brief,
    IReadOnlyList<string> Effects
);

/// <param name="At">As of when.</param>
/// <param name="ShareOfVisits">The share of recorded visits by such visitors, 0 to 1; null where none were recorded.</param>
/// <param name="Hours">The share of recorded visits that began in each hour of the site's day.</param>
/// <param name="HasGroups">Whether the lanes are page groups of the team's; else they are the parts of the site that were heard.</param>
/// <param name="CloseAfterSeconds">After how long a visitor is taken to close what does not go by itself.</param>
internal sealed record RunSheetView(
    Persona Persona,
    Instant At,
    bool IsNow,
    bool OffAir,
    HouseRules Rules,
    int Drafts,
    int Paused,
    double? ShareOfVisits,
    IReadOnlyList<double> Hours,
    ImaginedVisitor Who,
    IReadOnlyList<string> Assumed,
    int CloseAfterSeconds,
    TrialChangeView? Trial,
    bool HasGroups,
    IReadOnlyList<LaneView> Lanes,
    IReadOnlyList<OffSheetView> OffSheet
);

/// <summary>A clash that publishing the draft would bring, or leave.</summary>
/// <param name="Group">The page group.</param>
/// <param name="Sentence">What clashes there.</param>
/// <param name="IsNew">Whether it is not there today.</param>
internal sealed record ComingClashView(string Group, string Sentence, bool IsNew, IReadOnlyList<MendView> Mends);

/// <param name="Effects">What changes for a new visitor, page group by page group.</param>
internal sealed record PublicationView(IReadOnlyList<string> Effects, IReadOnlyList<ComingClashView> Clashes);
