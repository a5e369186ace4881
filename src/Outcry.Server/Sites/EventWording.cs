using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Claims;
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
            if (
                _snapshot.Evidence[i].TellsEvents
                && _snapshot.Callouts[i].Evidence.Refuses(happened with { State = EventState.Usable }, now) is null
            )
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
            ? $"in the last {SpanPhrase.SayWindow(Duration.FromMinutes(minutes))}"
            : "ever since";
        // A count words no single event; what it says as a whole is what this event is part of.
        var evidence = _snapshot.Evidence[place];
        return evidence.TellsEvents
            ? Word(happened, callout.Messages.Own, callout.Brief.Say, crowd) with
            {
                By = callout,
                Window = window,
            }
            : new WordedEvent(evidence.Turns[0].Spans, "", crowd, window, callout);
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
        return Word(happened, SpokenWording.Of(starter.Say.Message, site.Voice), starter.Say, crowd);
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
    public static IReadOnlyList<Span> Preview(LedgerEvent happened, DisplayPolicy display, Voice voice, Instant now)
    {
        var alike = Enumerable.Range(0, PlaceCrowd.FewestPeople).Select(i => happened with { PersonKey = $"{i}" });
        var say = StarterBrief.Moment(happened.Kind, []).Say;
        return PreparedEvidence
            .Word(
                say,
                SpokenWording.Of(say.Message, voice),
                happened,
                display,
                new PlaceCrowd(alike),
                now,
                DateTimeZone.Utc
            )
            .Spans;
    }

    private WordedEvent Word(LedgerEvent happened, SpokenWording wording, SayFacet say, PlaceCrowd crowd)
    {
        var shown = say with { Time = TimeStyle.Ago };
        var display = site.DisplayOf(happened.SourceId);
        var turn = PreparedEvidence.Word(shown, wording, happened, display, crowd, now, site.Zone);
        return new WordedEvent(turn.Spans, turn.Meta, crowd, LastWeek, null);
    }
}
