using NodaTime;
using Outcry.Core.Greetings;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Core.Visitors;

namespace Outcry.Core.Replaying;

/// <summary>Counts in how many recorded visits each rung of a ladder would have been the one, on some page of the visit.</summary>
/// <remarks>
/// What greets is not played: a rung is counted where it fits, whatever becomes of it then. Somebody of the team is taken to
/// have been there at every open hour, since who was there is not recorded.
/// </remarks>
/// <param name="site">The site with the launcher on it.</param>
/// <param name="launcher">The launcher.</param>
public sealed class LadderCount(SiteSnapshot site, Launcher launcher)
{
    private readonly Dictionary<Guid, int> _visits = launcher.Greetings.ToDictionary(g => g.Id, _ => 0);
    private readonly Dictionary<PageAddress, IReadOnlyList<int>> _places = [];

    /// <summary>Visits that were counted.</summary>
    public int Visits { get; private set; }

    /// <summary>Visits in which no page had a rung that fits.</summary>
    public int Without { get; private set; }

    /// <summary>In how many of them each rung fits, by its greeting.</summary>
    public IReadOnlyDictionary<Guid, int> ByRung => _visits;

    /// <summary>Counts all recorded visits of one visitor.</summary>
    /// <param name="visits">In order; at least one.</param>
    public void Add(IReadOnlyList<RecordedVisit> visits)
    {
        var visitor = visits[0].VisitorBefore();
        var did = site.PastEventsOf(visitor.VisitorId);
        foreach (var visit in visits)
        {
            var fits = new HashSet<Guid>();
            foreach (var page in visit.Pages)
            {
                visitor = visitor.Arrive(page.At).CameIn(visit.CameBy);
                var before = did.Count == 0 ? did : [.. did.Where(d => d.At <= page.At)];
                if (RungOn(page.Page, visitor, visit.Facts, page.At, before) is { } rung)
                    fits.Add(rung);
            }
            Visits++;
            if (fits.Count == 0)
                Without++;
            foreach (var rung in fits)
                _visits[rung]++;
        }
    }

    private Guid? RungOn(
        PageAddress page,
        VisitorRecord visitor,
        VisitorFacts facts,
        Instant at,
        IReadOnlyList<PastEvent> did
    )
    {
        if (!_places.TryGetValue(page, out var places))
            _places[page] = places = [
                .. site.OnPage(page).Where(p => site.Callouts[p].Greets?.Launcher == launcher.Id),
            ];
        if (places.Count == 0)
            return null;
        var silence = Planner.SilenceOver(site, page);
        var options = new PlanOptions { PastEvents = did, StaysOnly = true };
        var plan = Planner.MakePlan(site, page, places, silence, visitor, facts, at, options);
        return plan.Armed.Count > 0 ? plan.Armed[0].Callout.Id : null;
    }
}
