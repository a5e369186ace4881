using NodaTime;
using Outcry.Core.Planning;
using Outcry.Core.Rehearsing;

namespace Outcry.Server.RunSheet;

/// <summary>A stretch on screen.</summary>
/// <param name="Says">What it says there, as text.</param>
internal sealed record ShowingView(
    Guid CalloutId,
    string Name,
    CalloutKind Kind,
    int Turn,
    long StartMs,
    long EndMs,
    EndedBy EndedBy,
    string Says
)
{
    public static IReadOnlyList<ShowingView> Of(RehearsedPage page, SiteSnapshot site)
    {
        var armed = page.Armed.ToDictionary(a => a.Callout.Id);
        return
        [
            .. page.Outcome.Showings.Select(s => new ShowingView(
                s.Callout,
                armed[s.Callout].Callout.Name,
                armed[s.Callout].Callout.Brief.Kind,
                s.Turn,
                s.StartMs,
                s.EndMs,
                s.EndedBy,
                string.Concat(armed[s.Callout].Turns[s.Turn].Spans.Select(t => t.Text))
            )),
        ];
    }
}

/// <summary>A callout that is not shown here, and why.</summary>
internal sealed record NotShownView(Guid CalloutId, string Name, int Turn, Reason Reason, string Sentence, bool IsClash)
{
    public static IReadOnlyList<NotShownView> Of(RehearsedPage page, SiteSnapshot site, DateTimeZone zone)
    {
        var names = site.Callouts.ToDictionary(c => c.Id, c => c.Name);
        var missed = page.Outcome.Missed.Select(m => (m.Callout, m.Turn, m.Reason));
        var left = page.LeftOut.Select(l => (Callout: l.Callout.Id, Turn: 0, l.Reason));
        return
        [
            .. missed
                .Concat(left)
                .Select(x => new NotShownView(
                    x.Callout,
                    names[x.Callout],
                    x.Turn,
                    x.Reason,
                    ReasonSentence.Say(x.Reason, zone, id => names.GetValueOrDefault(id)),
                    x.Reason is NoFreeSlot or BudgetSpent
                ))
                .OrderByDescending(n => n.IsClash),
        ];
    }
}

internal sealed record LaneView(
    Guid GroupId,
    string Name,
    string Path,
    double ViewsADay,
    IReadOnlyList<double> StillThere,
    int Starts,
    string? QuietBy,
    IReadOnlyList<ShowingView> Showings,
    IReadOnlyList<NotShownView> NotShown
);

internal sealed record RunSheetView(
    Persona Persona,
    Instant At,
    HouseRules Rules,
    int Drafts,
    int Paused,
    IReadOnlyList<LaneView> Lanes
);
