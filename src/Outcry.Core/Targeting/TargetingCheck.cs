using System.Globalization;
using Outcry.Core.Pages;
using Outcry.Core.Publishing;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Targeting;

/// <summary>Checks whom something is shown to, where, when and how often, whatever it is.</summary>
public static class TargetingCheck
{
    /// <summary>The field that a last date in the past is told of.</summary>
    public const string PastDates = "when.schedule.until";

    private const int MostTriggers = 10;

    /// <summary>Everything wrong or noteworthy, in the order Where, Who, When, How often.</summary>
    /// <param name="targeting">What is checked.</param>
    /// <param name="context">What the site's definitions share.</param>
    /// <param name="sources">The site's sources.</param>
    /// <param name="moment">When it is checked; dates in the past are not looked for when left out.</param>
    public static IEnumerable<Problem> Problems(
        Targeting targeting,
        SiteContext context,
        IReadOnlyCollection<SourceOffer> sources,
        CheckMoment? moment
    ) =>
        [
            .. Where(targeting.Where, context),
            .. Who(targeting.Who, context),
            .. When(targeting.When, moment),
            .. HowOften(targeting.HowOften, sources),
            .. Holdback(targeting.HoldbackPercent),
        ];

    private static IEnumerable<Problem> Where(WhereFacet where, SiteContext context)
    {
        foreach (var pattern in where.Includes)
            if (PagePattern.TryParse(pattern, out var error) is null)
                yield return new Problem("where.includes", $"{pattern}: {error}");
        foreach (var pattern in where.Excludes)
            if (PagePattern.TryParse(pattern, out var error) is null)
                yield return new Problem("where.excludes", $"{pattern}: {error}");
        if (where.Includes.Count + where.Excludes.Count > 200)
            yield return new Problem("where.includes", "At most 200 patterns in one brief.");
        if (LeavesNothing(where, context))
            yield return new Problem(
                "where.excludes",
                "Every page that it includes is also left out, so it would show nowhere. Take one of the two out."
            );
        if (where.Groups.Any(g => !context.Groups.ContainsKey(g)))
            yield return new Problem("where.groups", "A page group it names is gone. Choose another, or take it out.");
        if (where is { Replaces: true, Includes.Count: 0, Groups.Count: 0 })
            yield return new Problem(
                "where.replaces",
                "On every page it is more particular than no other, so it takes the place of none.",
                Blocks: false
            );
    }

    private static bool LeavesNothing(WhereFacet where, SiteContext context)
    {
        var excludes = Read(where.Excludes);
        var includes = Read(where.Includes)
            .Concat(where.Groups.SelectMany(g => context.Groups.GetValueOrDefault(g)?.Rule.Includes ?? []))
            .ToList();
        var isEverywhere = includes.Count == 0 && where.Includes.Count + where.Groups.Count == 0;
        if (isEverywhere)
            includes.Add(PagePattern.Parse("/**"));
        return includes.Count > 0 && excludes.Count > 0 && includes.All(i => excludes.Exists(e => e.Covers(i)));
    }

    private static List<PagePattern> Read(IEnumerable<string> patterns) =>
        [.. patterns.Select(p => PagePattern.TryParse(p, out _)).OfType<PagePattern>()];

    private static IEnumerable<Problem> Who(WhoFacet who, SiteContext context)
    {
        if (CompiledRule.TryCompile(who.Rule, context.Segments, out var error) is null)
            yield return new Problem("who.rule", error);
        if (Enum.GetValues<Device>().All(who.HiddenOn.Contains))
            yield return new Problem("who.hiddenOn", "It is hidden on every device, so nobody would see it.");
    }

    private static IEnumerable<Problem> HowOften(HowOftenFacet often, IReadOnlyCollection<SourceOffer> sources)
    {
        if (often.Every is < 1 or > 1_000)
            yield return new Problem(
                "howOften.every",
                $"Between 1 and 1,000 {UnitWords.Say(often.Unit, 2).Split(' ')[^1]}."
            );
        if (often.MostVisits is < 1 or > 1_000)
            yield return new Problem("howOften.mostVisits", "Between 1 and 1,000 visits in all.");
        if (often.MostPerWeek is < 1 or > Exposure.MostRecent)
            yield return new Problem("howOften.mostPerWeek", $"Between 1 and {Exposure.MostRecent} visits a week.");
        if (often.HushHours is < 0 or > 8_760)
            yield return new Problem("howOften.hushHours", "The hush must be between 0 hours and a year.");
        if (often.AfterClose.Number is < 1 or > 1_000)
            yield return new Problem("howOften.afterClose", "Between 1 and 1,000.");
        if (often.AfterSuccess.Number is < 1 or > 1_000)
            yield return new Problem("howOften.afterSuccess", "Between 1 and 1,000.");
        if (often.Goals.Any(g => !sources.Any(o => o.Id == g)))
            yield return new Problem(
                "howOften.goals",
                "A source whose events mean success is gone. Choose another, or take it out."
            );
    }

    private static IEnumerable<Problem> Holdback(int percent)
    {
        if (percent is < 0 or > 90)
            yield return new Problem("holdbackPercent", "Between 0 and 90 percent can be held back.");
    }

    private static IEnumerable<Problem> When(DueFacet when, CheckMoment? moment)
    {
        foreach (var trigger in when.Triggers)
            if (Objection(trigger) is { } objection)
                yield return new Problem("when.triggers", objection);
        if (when.Triggers.Count > MostTriggers)
            yield return new Problem("when.triggers", $"At most {MostTriggers} conditions of the moment.");
        foreach (var problem in OfSchedule(when.Schedule))
            yield return problem;
        if (moment is { } at && when.Schedule.EndAt(at.Zone) is { } over && over <= at.Now)
            yield return new Problem(
                PastDates,
                $"It was over on {over.InZone(at.Zone).ToString("d MMM, HH:mm", CultureInfo.InvariantCulture)}, so it would never show. Set a later end, or none."
            );
    }

    private static IEnumerable<Problem> OfSchedule(Schedule schedule)
    {
        if (schedule.From is { } from && schedule.End is { } end && end <= from)
            yield return new Problem(
                "when.schedule",
                "It would be over before it begins. Put the end after the beginning."
            );
        if (schedule.EventStarts is { } starts && schedule.EventEnds is { } ends && ends < starts)
            yield return new Problem("when.schedule", "The event would end before it starts.");
        if (schedule.Hours.Count > 50)
            yield return new Problem("when.schedule", "At most 50 stretches of hours in a week.");
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
}
