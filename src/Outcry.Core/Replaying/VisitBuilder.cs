using NodaTime;
using Outcry.Core.Pages;
using Outcry.Core.Visitors;

namespace Outcry.Core.Replaying;

/// <summary>Puts the visits of one visitor together from what a browser reported of them.</summary>
/// <remarks>Reports come in the order in which they were received. Of a page open in two tabs the later view is taken to be meant.</remarks>
public sealed class VisitBuilder
{
    private readonly string _visitorId;
    private readonly List<Draft> _visits = [];

    /// <summary>No visits yet.</summary>
    public VisitBuilder(string visitorId) => _visitorId = visitorId;

    /// <summary>A page view began.</summary>
    /// <param name="visit">Number of the visit.</param>
    /// <param name="page">The page.</param>
    /// <param name="at">When.</param>
    /// <param name="facts">What is known of the visitor, for the first page view of a visit.</param>
    /// <param name="cameBy">By which way the visit came in, likewise.</param>
    public void View(int visit, PageAddress page, Instant at, Func<VisitorFacts> facts, Func<WayIn> cameBy)
    {
        if (_visits.Count == 0 || _visits[^1].Number != visit)
            _visits.Add(new Draft(visit, facts(), cameBy()));
        _visits[^1].Pages.Add(new RecordedPage(page, at, 0, 0));
    }

    /// <summary>A page view ended after so many milliseconds of visible time; of several reports the longest counts.</summary>
    public void Left(PageAddress page, long visibleMs) =>
        Change(page, p => p with { StayMs = Math.Clamp(visibleMs, p.StayMs, RecordedPage.LongestStayMs) });

    /// <summary>A page had been scrolled so far, in percent.</summary>
    public void Depth(PageAddress page, int percent) =>
        Change(page, p => p with { DepthPercent = Math.Clamp(percent, p.DepthPercent, 100) });

    /// <summary>The visits in order. Nobody is on two pages at once: a page view ends at the latest when the next begins.</summary>
    public IReadOnlyList<RecordedVisit> Build()
    {
        foreach (var visit in _visits)
            for (var i = 0; i + 1 < visit.Pages.Count; i++)
                visit.Pages[i] = visit.Pages[i] with
                {
                    StayMs = Math.Min(
                        visit.Pages[i].StayMs,
                        (long)(visit.Pages[i + 1].At - visit.Pages[i].At).TotalMilliseconds
                    ),
                };
        return [.. _visits.Select(v => new RecordedVisit(_visitorId, v.Number, v.Facts, v.CameBy, v.Pages))];
    }

    private void Change(PageAddress page, Func<RecordedPage, RecordedPage> change)
    {
        if (_visits.Count == 0)
            return;
        var pages = _visits[^1].Pages;
        var place = pages.FindLastIndex(p => ReferenceEquals(p.Page, page) || p.Page.Path == page.Path);
        if (place >= 0)
            pages[place] = change(pages[place]);
    }

    private sealed record Draft(int Number, VisitorFacts Facts, WayIn CameBy)
    {
        public List<RecordedPage> Pages { get; } = [];
    }
}
