using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;

namespace Outcry.Core.Claims;

/// <summary>For each callout the events its rule draws on, kept up as events come in and time goes on.</summary>
/// <remarks>
/// An event is shown to the rules that draw on its source and to no others; the windows move on by what has grown too old.
/// Nothing is selected anew. Not to be changed from two threads at once.
/// </remarks>
public sealed class RuleWindows
{
    private readonly Dictionary<Guid, RuleWindow> _byCallout = [];
    private readonly Dictionary<Guid, List<RuleWindow>> _bySource = [];

    /// <summary>Begins with what each callout's rule draws on now.</summary>
    public RuleWindows(IEnumerable<Callout> callouts, SourceWindows events, Instant now)
    {
        foreach (var callout in callouts)
            if (!BriefEvidence.NeedsNothing(callout.Brief) && !BriefEvidence.CountsTraffic(callout.Brief))
            {
                var window = new RuleWindow(callout, events, now);
                _byCallout[callout.Id] = window;
                foreach (var source in callout.Evidence.Sources.Distinct())
                {
                    if (!_bySource.TryGetValue(source, out var drawing))
                        _bySource[source] = drawing = [];
                    drawing.Add(window);
                }
            }
    }

    /// <summary>What a callout draws on as of the last change; nothing for one that draws on no events.</summary>
    public Selection SelectionOf(Callout callout, Instant now) =>
        _byCallout.TryGetValue(callout.Id, out var window) ? window.Select(now) : new Selection([], Duration.Zero);

    /// <summary>Takes in an event that is new to the site.</summary>
    /// <param name="happened">The event.</param>
    /// <param name="now">The moment.</param>
    /// <param name="changed">Callouts that draw on it are added here.</param>
    public void Add(LedgerEvent happened, Instant now, ISet<Guid> changed)
    {
        if (!_bySource.TryGetValue(happened.SourceId, out var drawing))
            return;
        foreach (var window in drawing)
            if (window.Add(happened, now))
                changed.Add(window.Callout.Id);
    }

    /// <summary>Moves all windows on in time: what is too old goes, what was still to come comes.</summary>
    /// <param name="events">The site's events: what it no longer keeps no rule draws on.</param>
    /// <param name="now">The moment.</param>
    public void Advance(SourceWindows events, Instant now)
    {
        foreach (var window in _byCallout.Values)
            window.Advance(events, now);
    }

    private sealed class RuleWindow
    {
        private readonly EventWindow[] _windows;
        private readonly Guid[] _sources;
        private readonly List<LedgerEvent> _toCome = [];
        private IReadOnlyList<LedgerEvent>? _drawn;

        public RuleWindow(Callout callout, SourceWindows events, Instant now)
        {
            Callout = callout;
            _sources = [.. callout.Evidence.Sources.Distinct()];
            _windows = new EventWindow[_sources.Length];
            for (var i = 0; i < _sources.Length; i++)
            {
                var ever = events.Of(_sources[i]).TakeWhile(e => now - e.At <= Rule.Reach).Where(IsOfRule).ToList();
                _toCome.AddRange(ever.Where(e => e.At > now));
                _windows[i] = EventWindow.Of(ever.Where(e => e.At <= now));
            }
        }

        public Callout Callout { get; }

        private EvidenceRule Rule => Callout.Evidence;

        // Asked at the event's own time, the rule leaves time out of it.
        private bool IsOfRule(LedgerEvent happened) => Rule.Refuses(happened, happened.At) is null;

        public Selection Select(Instant now)
        {
            _drawn ??= _windows is [var only]
                ? only.View
                : [.. _windows.SelectMany(w => w.View).OrderByDescending(e => e.At)];
            return new Selection(_drawn, EvidenceSelector.SpanOfNewestFirst(_drawn, Rule.Window, now));
        }

        public bool Add(LedgerEvent happened, Instant now)
        {
            if (now - happened.At > Rule.Reach || !IsOfRule(happened))
                return false;
            if (happened.At > now)
            {
                _toCome.Add(happened);
                return false;
            }
            _windows[Array.IndexOf(_sources, happened.SourceId)].Add(happened);
            _drawn = null;
            return true;
        }

        public void Advance(SourceWindows events, Instant now)
        {
            var reach = Rule.Reach;
            for (var i = 0; i < _windows.Length; i++)
            {
                var from = events.OldestKept(_sources[i]);
                if (reach < Duration.MaxValue && (from is null || now - reach > from))
                    from = now - reach;
                if (from is { } at && _windows[i].DropBefore(at))
                    _drawn = null;
            }
            for (var i = _toCome.Count - 1; i >= 0; i--)
                if (_toCome[i].At <= now)
                {
                    var due = _toCome[i];
                    _toCome.RemoveAt(i);
                    Add(due, now);
                }
        }
    }
}
