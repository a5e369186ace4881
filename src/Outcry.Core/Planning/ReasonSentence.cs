using System.Globalization;
using NodaTime;
using Outcry.Core.Saying;
using Outcry.Core.Timing;

namespace Outcry.Core.Planning;

/// <summary>Says a reason as one plain sentence.</summary>
public static class ReasonSentence
{
    /// <summary>The sentence.</summary>
    /// <param name="reason">The reason.</param>
    /// <param name="zone">The site's time zone, in which times are said.</param>
    /// <param name="nameOf">Names callouts; may return null for one that is gone.</param>
    public static string Say(Reason reason, DateTimeZone zone, Func<Guid, string?> nameOf) =>
        reason switch
        {
            SiteOffAir => "The whole site is off air.",
            NotLive { State: CalloutState.Draft } => "It is a draft and has never been published.",
            NotLive { State: CalloutState.Paused } => "It is paused.",
            NotLive => "It is archived.",
            PageExcluded r => $"The page is left out by {r.Pattern}.",
            PageNotIncluded r => r.Includes == 1
                ? "The page does not match its pattern."
                : $"The page matches none of its {r.Includes} patterns.",
            QuietPage r => $"Nothing is shown here: {r.Pattern} is a quiet page by house rule.",
            Hushed r => $"The visitor closed a callout; hush until {At(r.Until, zone)}.",
            SeenOften r => Often(r.Limit, zone),
            TooFewEvents r => $"It needs {r.Needs} {Events(r.Needs)}{Window(r.WindowMinutes)} and has {r.Has}.",
            OnlyOwnEvents r => r.Own == r.Has
                ? $"Only the visitor's own {Events(r.Own)} would be told, and nobody is shown their own."
                : $"It needs {r.Needs} {Events(r.Needs)}; of {r.Has}, {r.Own} are the visitor's own.",
            NoFreeSlot r => Slot(r, nameOf),
            BudgetSpent r => $"The visit has had {r.Started} of the {r.Allowed} callouts that the house rules allow.",
            LeftBefore r => $"Due at {Clock(r.DueMs)}; the page was left at {Clock(r.StayedMs)}.",
            _ => throw new ArgumentOutOfRangeException(nameof(reason), reason, null),
        };

    /// <summary>Milliseconds on a page as "0:06" or "1:04".</summary>
    public static string Clock(long ms)
    {
        var seconds = ms / 1000;
        return string.Create(CultureInfo.InvariantCulture, $"{seconds / 60}:{seconds % 60:00}");
    }

    private static string Slot(NoFreeSlot r, Func<Guid, string?> nameOf)
    {
        var blocker = r.Blocker is { } id && nameOf(id) is { } name ? $" while \"{name}\" had the place" : "";
        var next = r.NextFreeMs is { } free ? $"; the next free second is {Clock(free)}" : "";
        return $"Due at {Clock(r.DueMs)}{blocker}; its patience ended at {Clock(r.GaveUpMs)}{next}.";
    }

    private static string Often(RepeatLimit limit, DateTimeZone zone) =>
        limit.Span switch
        {
            RepeatSpan.Visit => "Seen already in this visit; possible again in the next.",
            RepeatSpan.Days =>
                $"Seen in the last {limit.Days} {(limit.Days == 1 ? "day" : "days")}; next {At(limit.NextAt!.Value, zone)}.",
            _ => $"Seen in {limit.Seen} of {limit.Allowed} visits allowed in all; not again.",
        };

    private static string Window(int? minutes) =>
        minutes is { } m ? $" in the last {SpanPhrase.Say(Duration.FromMinutes(m))}" : "";

    private static string Events(int number) => number == 1 ? "event" : "events";

    private static string At(Instant at, DateTimeZone zone) =>
        at.InZone(zone).ToString("ddd d MMM, HH:mm", CultureInfo.InvariantCulture);
}
