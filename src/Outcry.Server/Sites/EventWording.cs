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

/// <summary>Words events for the desk with the very functions that word them for visitors.</summary>
internal static class EventWording
{
    /// <summary>As the first live callout that draws on it words it, or else in the starter words of its kind.</summary>
    public static WordedEvent Word(LedgerEvent happened, LiveSite site, Instant now)
    {
        var snapshot = site.Snapshot;
        for (var i = 0; i < snapshot.Callouts.Count; i++)
        {
            var callout = snapshot.Callouts[i];
            if (callout.Evidence.Refuses(happened with { State = EventState.Usable }, now) is not null)
                continue;
            var crowd = new PlaceCrowd(snapshot.Evidence[i].Events);
            var window = callout.Brief.From.WindowMinutes is { } minutes
                ? $"in the last {SpanPhrase.Say(Duration.FromMinutes(minutes))}"
                : "ever since";
            return Word(happened, callout.Message, callout.Brief.Say, site, crowd, now) with
            {
                By = callout,
                Window = window,
            };
        }
        return Default(happened, site, now);
    }

    /// <summary>In the starter words of its kind, with the places that seven days of its source share.</summary>
    public static WordedEvent Default(LedgerEvent happened, LiveSite site, Instant now)
    {
        var week = now - Duration.FromDays(7);
        var crowd = new PlaceCrowd(
            site.Events.TakeWhile(e => e.At >= week)
                .Where(e => e.SourceId == happened.SourceId && e.State == EventState.Usable)
        );
        var starter = StarterBrief.Moment(happened.Kind, [happened.SourceId]);
        var message = MessageTemplate.TryParse(starter.Say.Message, out _)!;
        return Word(happened, message, starter.Say, site, crowd, now);
    }

    private static WordedEvent Word(
        LedgerEvent happened,
        MessageTemplate message,
        SayFacet say,
        LiveSite site,
        PlaceCrowd crowd,
        Instant now
    )
    {
        var turn = PreparedEvidence.Word(
            message,
            say with
            {
                ShowTime = true,
            },
            happened,
            site.DisplayOf(happened.SourceId),
            crowd,
            now
        );
        return new WordedEvent(turn.Spans, turn.Meta, crowd, "in the last 7 days", null);
    }
}
