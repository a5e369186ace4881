using System.Globalization;
using Outcry.Core.Pages;
using Outcry.Core.Timing;

namespace Outcry.Core.Planning;

/// <summary>Checks when a brief runs.</summary>
internal static class WhenCheck
{
    private const int MostTriggers = 10;

    public static IEnumerable<BriefProblem> Problems(Brief brief, BriefSetting? setting)
    {
        var when = brief.When;
        foreach (var trigger in when.Triggers)
            if (Objection(trigger) is { } objection)
                yield return Blocking("when.triggers", objection);
        if (when.Triggers.Count > MostTriggers)
            yield return Blocking("when.triggers", $"At most {MostTriggers} conditions of the moment.");
        if (when.Turns is < 1 or > 10)
            yield return Blocking("when.turns", "Between 1 and 10 turns.");
        if (when.TurnGapSeconds is < 1 or > 600)
            yield return Blocking("when.turnGapSeconds", "Between 1 and 600 seconds from one turn to the next.");
        if (when.Rounds is < 0 or > 100)
            yield return Blocking("when.rounds", "Between 1 and 100 rounds, or 0 for until closed or clicked.");
        foreach (var problem in OfSchedule(when.Schedule))
            yield return problem;
        if (setting is { } at && when.Schedule.EndAt(at.Zone) is { } over && over <= at.Now)
            yield return Blocking(
                BriefProblem.OfPastDates,
                $"It was over on {over.InZone(at.Zone).ToString("d MMM, HH:mm", CultureInfo.InvariantCulture)}, so it would never show. Set a later end, or none."
            );
        if (
            setting is { Rules.GapSeconds: var gap }
            && gap > when.TurnGapSeconds
            && (when.Turns > 1 || when.Rounds != 1)
            && brief.Look.Shape is not (Shape.Inset or Shape.Crawl)
        )
            yield return new BriefProblem(
                Facet.When,
                "when.turnGapSeconds",
                $"Turns come {gap} s apart, not {when.TurnGapSeconds}: the house rules keep {gap} s between two callouts.",
                Blocks: false
            );
        if (
            brief.Look.Shape is Shape.Poster or Shape.Curtain
            && (when.Triggers.Count == 0 || when.Triggers.Any(t => t is { Kind: TriggerKind.Seconds, Number: < 2 }))
        )
            yield return new BriefProblem(
                Facet.When,
                "when.triggers",
                "At once is jarring for what covers the page. Give people some seconds, or let them scroll first.",
                Blocks: false
            );
    }

    private static IEnumerable<BriefProblem> OfSchedule(Schedule schedule)
    {
        if (schedule.From is { } from && schedule.End is { } end && end <= from)
            yield return Blocking(
                "when.schedule",
                "It would be over before it begins. Put the end after the beginning."
            );
        if (schedule.EventStarts is { } starts && schedule.EventEnds is { } ends && ends < starts)
            yield return Blocking("when.schedule", "The event would end before it starts.");
        if (schedule.Hours.Count > 50)
            yield return Blocking("when.schedule", "At most 50 stretches of hours in a week.");
    }

    private static string? Objection(Trigger trigger)
    {
        if (Trigger.Range(trigger.Kind) is { } range && (trigger.Number < range.Least || trigger.Number > range.Most))
            return $"{Name(trigger.Kind)} must be between {range.Least:N0} and {range.Most:N0}.";
        if (trigger.Target.Length > Trigger.MaxTargetLength)
            return $"A selector or name has at most {Trigger.MaxTargetLength} characters.";
        if (
            trigger.Kind is TriggerKind.InView or TriggerKind.Click or TriggerKind.VideoEnd
            && trigger.Target.Trim().Length > 0
            && !CssSelector.IsReadable(trigger.Target)
        )
            return $"\"{trigger.Target}\" is no selector that a browser can read. Write one such as #workshops or .price.";
        if (!Trigger.NeedsTarget(trigger.Kind) || trigger.Target.Trim().Length > 0)
            return null;
        return trigger.Kind == TriggerKind.PageEvent
            ? "Write the name under which the page reports the event."
            : "Choose the element: write a selector such as #workshops or .price.";
    }

    private static string Name(TriggerKind kind) =>
        kind switch
        {
            TriggerKind.Seconds => "The wait in seconds",
            TriggerKind.Idle => "The rest in seconds",
            TriggerKind.Scroll => "The depth in percent",
            _ => "The number of pages",
        };

    private static BriefProblem Blocking(string field, string message) => new(Facet.When, field, message);
}
