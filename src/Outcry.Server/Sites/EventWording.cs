using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Planning;
using Outcry.Core.Saying;

namespace Outcry.Server.Sites;

/// <summary>An event in the words visitors read.</summary>
/// <param name="Spans">The words.</param>
/// <param name="Meta">The rough time.</param>
/// <param name="Crowd">Who shares its place in the window that decided how finely it is said.</param>
/// <param name="Window">That window, in words.</param>
/// <param name="By">The live callout that words it so; null when none draws on it.</param>
internal sealed record WordedEvent(IReadOnlyList<Span> Spans, string Meta, PlaceCrowd Crowd, string Window, Callout? By)
{
    public string Text => string.Concat(Spans.Select(s => s.Text));
}

/// <summary>
/// Words events for the desk with the very functions that word them for visitors. One is made for one answer: who
/// shares a place is counted once for all of its rows.
/// </summary>
internal sealed class EventWording(LiveSite site, Instant now)
{
    private const string LastWeek = "in the last 7 days";
    private readonly SiteSnapshot _snapshot = site.Snapshot;
    private readonly Dictionary<int, PlaceCrowd> _byCallout = [];
    private readonly Dictionary<Guid, PlaceCrowd> _bySource = [];

    /// <summary>As the first live callout that draws on it words it, or else in the starter words of its kind.</summary>
    public WordedEvent Word(LedgerEvent happened)
    {
        for (var i = 0; i < _snapshot.Callouts.Count; i++)
            if (_snapshot.Callouts[i].Evidence.Refuses(happened with { State = EventState.Usable }, now) is null)
                return WordBy(i, happened);
        return Default(happened);
    }

    /// <summary>As one live callout words it.</summary>
    /// <param name="place">The callout's place in the snapshot.</param>
    /// <param name="happened">The event.</param>
    public WordedEvent WordBy(int place, LedgerEvent happened)
    {
        var callout = _snapshot.Callouts[place];
        if (!_byCallout.TryGetValue(place, out var crowd))
            _byCallout[place] = crowd = new PlaceCrowd(_snapshot.Evidence[place].Events);
        var window = callout.Brief.From.WindowMinutes is { } minutes
            ? $"in the last {SpanPhrase.Say(Duration.FromMinutes(minutes))}"
            : "ever since";
        return Word(happened, callout.Message, callout.Brief.Say, crowd) with { By = callout, Window = window };
    }

    /// <summary>In the starter words of its kind, with the places that seven days of its source share.</summary>
    public WordedEvent Default(LedgerEvent happened)
    {
        if (!_bySource.TryGetValue(happened.SourceId, out var crowd))
        {
            var week = now - Duration.FromDays(7);
            _bySource[happened.SourceId] = crowd = new PlaceCrowd(
                site.Events.TakeWhile(e => e.At >= week)
                    .Where(e => e.SourceId == happened.SourceId && e.State == EventState.Usable)
            );
        }
        var starter = StarterBrief.Moment(happened.Kind, [happened.SourceId]);
        return Word(happened, MessageTemplate.TryParse(starter.Say.Message, out _)!, starter.Say, crowd);
    }

    /// <summary>Whether live callouts draw on its source, and it is too old for every one of them.</summary>
    public bool IsTooOldForAll(LedgerEvent happened)
    {
        var drawn = false;
        foreach (var callout in _snapshot.Callouts.Where(c => c.Evidence.Sources.Contains(happened.SourceId)))
        {
            drawn = true;
            if (callout.Evidence.Refuses(happened, now) != EvidenceRefusal.TooOld)
                return false;
        }
        return drawn;
    }

    /// <summary>In starter words, of an event that is not there yet: its place as if enough people shared it.</summary>
    public static IReadOnlyList<Span> Preview(LedgerEvent happened, DisplayPolicy display, Instant now)
    {
        var alike = Enumerable.Range(0, PlaceCrowd.FewestPeople).Select(i => happened with { PersonKey = $"{i}" });
        var say = StarterBrief.Moment(happened.Kind, []).Say;
        var message = MessageTemplate.TryParse(say.Message, out _)!;
        return PreparedEvidence.Word(message, say, happened, display, new PlaceCrowd(alike), now).Spans;
    }

    private WordedEvent Word(LedgerEvent happened, MessageTemplate message, SayFacet say, PlaceCrowd crowd)
    {
        var shown = say with { ShowTime = true };
        var turn = PreparedEvidence.Word(message, shown, happened, site.DisplayOf(happened.SourceId), crowd, now);
        return new WordedEvent(turn.Spans, turn.Meta, crowd, LastWeek, null);
    }
}
