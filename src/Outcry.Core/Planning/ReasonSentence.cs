using System.Globalization;
using NodaTime;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Planning;

/// <summary>Says a reason as one plain sentence.</summary>
public static class ReasonSentence
{
    /// <summary>The sentence.</summary>
    /// <param name="reason">The reason.</param>
    /// <param name="zone">The site's time zone, in which times are said.</param>
    /// <param name="nameOf">Names callouts; may return null for one that is gone.</param>
    public static string Say(Reason reason, DateTimeZone zone, Func<Guid, string?> nameOf) =>
        Bare(reason, zone, nameOf)
        + (reason is OnPageReason { TabWasHidden: true } ? " Only time with the tab in view counts." : "");

    private static string Bare(Reason reason, DateTimeZone zone, Func<Guid, string?> nameOf) =>
        reason switch
        {
            SiteOffAir => "The whole site is off air.",
            NotLive { State: DefinitionState.Draft } => "It is a draft and has never been published.",
            NotLive { State: DefinitionState.Paused } => "It is paused.",
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
            OutsideSchedule r => Dates(r.Limit, zone),
            DeviceLeftOut r =>
                $"It is hidden on {r.Device switch { Device.Phone => "phones", Device.Tablet => "tablets", _ => "desktops" }}.",
            VisitorDiffers r => Differs(r.Failed, nameOf),
            NoConsent => "House rules show something only to visitors who agreed, and this one has not.",
            NobodyAvailable => "Nobody of the team is available.",
            ClosedBefore r => r.Until is { } until
                ? $"The visitor closed it; it stays away until {At(until, zone)}."
                : "The visitor closed it; it does not come back.",
            Succeeded r => r.Until is { } until
                ? $"The visitor did what it asks for on {At(r.At, zone)}; it stays away until {At(until, zone)}."
                : $"The visitor did what it asks for on {At(r.At, zone)}; it does not come back.",
            HeldBack r => $"This visitor is among the {r.Percent} % who are held back to measure its effect.",
            Replaced r =>
                $"\"{nameOf(r.By) ?? "Another callout"}\" is more particular to this page and takes its place.",
            NothingLow r => r.Lowest is { } lowest
                ? $"Nothing is down to {r.MostLeft}; the lowest is {lowest}."
                : "No stock level is known that is not zero.",
            TooFewNear r => r.Place.Length == 0
                ? "It tells only what happened where the visitor is, and that is not known."
                : $"It needs {r.Needs} {Events(r.Needs)} from {r.Place} and has {r.Has}.",
            TooFewOfPage r => $"It needs {r.Needs} {Events(r.Needs)} about this page's product and has {r.Has}.",
            NeverDue r => $"The visitor did not {TriggerWords.Did(r.Waits)}.",
            HeldByPage r =>
                $"Due at {Clock(r.DueMs)}, but {r.Hold switch { HoldKind.Consent => "the consent notice was open", HoldKind.Chat => "a chat was open", _ => "a dialog of the page was open" }} until the page was left.",
            NoRoom => "There was no room for it on the screen beside what the page keeps there.",
            NoPlace r => $"Its place, {r.Selector}, was not on this page when visitors last looked at it.",
            WordingFailed r => r.Because,
            LeftBefore r => $"Due at {Clock(r.DueMs)}; the page was left at {Clock(r.StayedMs)}.",
            _ => throw new ArgumentOutOfRangeException(nameof(reason), reason, null),
        };

    /// <summary>When an armed callout is due: "due at 0:06", or what it waits for.</summary>
    public static string DueOf(ArmedCallout armed) =>
        armed.DueMs is { } due ? $"due at {Clock(due)}"
        : armed.Triggers.FirstOrDefault(t => t.Kind != TriggerKind.Seconds) is { } waits
            ? $"due once visitors {TriggerWords.Did(waits)}"
        : "due when asked for";

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
                $"Seen in the last {UnitWords.Say(limit.Unit, limit.Every)}; next {At(limit.NextAt!.Value, zone)}.",
            RepeatSpan.Week =>
                $"Seen {limit.Seen} of {limit.Allowed} allowed this week, next {At(limit.NextAt!.Value, zone)}.",
            RepeatSpan.Clicked => "The visitor clicked it already; it runs until clicked.",
            _ => $"Seen in {limit.Seen} of {limit.Allowed} visits allowed in all; not again.",
        };

    private static string Dates(ScheduleLimit limit, DateTimeZone zone) =>
        limit switch
        {
            { Side: ScheduleSide.NotBegun, At: { } at } => $"It begins on {At(at, zone)}.",
            { Side: ScheduleSide.Over, At: { } at } => $"It ended on {At(at, zone)}.",
            { At: { } at } => $"It runs at other hours; next {At(at, zone)}.",
            _ => "It runs at other hours.",
        };

    private static string Differs(FailedTest failed, Func<Guid, string?> nameOf)
    {
        var asked = FactWords.Say(failed.Test, nameOf);
        var within = failed.Segment is { } segment ? $" (segment \"{segment}\")" : "";
        if (failed.Inverted)
            return $"It leaves out visitors of whom this holds: {asked}{within}.";
        var own =
            FactKinds.Of(failed.Test.Fact) == FactKind.Deed ? ""
            : failed.Value.Length == 0 ? "; of this visitor that is not known"
            : $"; of this visitor it is {failed.Value}";
        return $"It asks for visitors of whom this holds: {asked}{within}{own}.";
    }

    private static string Window(int? minutes) =>
        minutes is { } m ? $" in the last {SpanPhrase.SayWindow(Duration.FromMinutes(m))}" : "";

    private static string Events(int number) => number == 1 ? "event" : "events";

    private static string At(Instant at, DateTimeZone zone) =>
        at.InZone(zone).ToString("ddd d MMM, HH:mm", CultureInfo.InvariantCulture);
}
