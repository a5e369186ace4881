using System.Text.Json.Serialization;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Saying;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Planning;

/// <summary>The facets of a brief.</summary>
public enum Facet
{
    /// <summary>What it says.</summary>
    Say,

    /// <summary>Which events.</summary>
    From,

    /// <summary>Which pages.</summary>
    Where,

    /// <summary>Which visitors.</summary>
    Who,

    /// <summary>At which moment.</summary>
    When,

    /// <summary>How often.</summary>
    HowOften,

    /// <summary>How it looks.</summary>
    Look,
}

/// <summary>Something in a brief that cannot go live, or that its author should know.</summary>
/// <param name="Facet">Where it stands.</param>
/// <param name="Field">Which field, in the API's spelling.</param>
/// <param name="Message">A sentence for the author.</param>
/// <param name="Blocks">Whether it stands in the way of publishing.</param>
public sealed record BriefProblem(Facet Facet, string Field, string Message, bool Blocks = true)
{
    internal const string OfPastDates = "when.schedule.until";

    /// <summary>
    /// Whether the brief cannot even be tried out: one without a source, or whose dates have passed, cannot go live and can
    /// be rehearsed all the same.
    /// </summary>
    [JsonIgnore]
    public bool StopsTrying => Blocks && Facet != Facet.From && Field != OfPastDates;
}

/// <summary>What a source offers, as far as a brief's check needs it.</summary>
/// <param name="Id">The source.</param>
/// <param name="Name">Its name.</param>
/// <param name="Display">What it allows to be read.</param>
/// <param name="HasNames">Whether its events name people.</param>
/// <param name="Fields">Its own fields.</param>
public sealed record SourceOffer(
    Guid Id,
    string Name,
    DisplayPolicy Display,
    bool HasNames,
    IReadOnlyList<string> Fields
)
{
    /// <summary>Kind of its events.</summary>
    public EventKind Kind { get; init; } = EventKind.Purchase;
}

/// <summary>When and under what a brief is checked.</summary>
/// <param name="Now">The moment.</param>
/// <param name="Zone">The site's time zone.</param>
/// <param name="Rules">The site's house rules.</param>
public sealed record BriefSetting(Instant Now, DateTimeZone Zone, HouseRules Rules);

/// <summary>Checks a brief against the rules of the job.</summary>
public static class BriefCheck
{
    /// <summary>Everything wrong or noteworthy in the brief, in the order of its facets; none when it may go live.</summary>
    /// <param name="brief">The brief.</param>
    /// <param name="offers">The site's sources.</param>
    /// <param name="shared">What the site's callouts share; nothing when left out.</param>
    /// <param name="setting">When it is checked and under which house rules; neither is looked at when left out.</param>
    public static IReadOnlyList<BriefProblem> Problems(
        Brief brief,
        IReadOnlyCollection<SourceOffer> offers,
        Shared? shared = null,
        BriefSetting? setting = null
    )
    {
        shared ??= Shared.Nothing;
        var chosen = offers.Where(o => brief.From.Sources.Contains(o.Id)).ToList();
        return
        [
            .. SayCheck.Problems(brief, chosen, shared),
            .. FromCheck.Problems(brief, chosen),
            .. Where(brief.Where, shared),
            .. Who(brief.Who, shared),
            .. WhenCheck.Problems(brief, setting),
            .. HowOften(brief, offers),
            .. LookCheck.Problems(brief),
        ];
    }

    private static IEnumerable<BriefProblem> Where(WhereFacet where, Shared shared)
    {
        foreach (var pattern in where.Includes)
            if (PagePattern.TryParse(pattern, out var error) is null)
                yield return new BriefProblem(Facet.Where, "where.includes", $"{pattern}: {error}");
        foreach (var pattern in where.Excludes)
            if (PagePattern.TryParse(pattern, out var error) is null)
                yield return new BriefProblem(Facet.Where, "where.excludes", $"{pattern}: {error}");
        if (where.Includes.Count + where.Excludes.Count > 200)
            yield return new BriefProblem(Facet.Where, "where.includes", "At most 200 patterns in one brief.");
        if (LeavesNothing(where, shared))
            yield return new BriefProblem(
                Facet.Where,
                "where.excludes",
                "Every page that it includes is also left out, so it would show nowhere. Take one of the two out."
            );
        if (where.Groups.Any(g => !shared.Groups.ContainsKey(g)))
            yield return new BriefProblem(
                Facet.Where,
                "where.groups",
                "A page group it names is gone. Choose another, or take it out."
            );
        if (where is { Replaces: true, Includes.Count: 0, Groups.Count: 0 })
            yield return new BriefProblem(
                Facet.Where,
                "where.replaces",
                "On every page it is more particular than no other, so it takes the place of none.",
                Blocks: false
            );
    }

    private static bool LeavesNothing(WhereFacet where, Shared shared)
    {
        var excludes = Read(where.Excludes);
        var includes = Read(where.Includes)
            .Concat(where.Groups.SelectMany(g => shared.Groups.GetValueOrDefault(g)?.Rule.Includes ?? []))
            .ToList();
        var isEverywhere = includes.Count == 0 && where.Includes.Count + where.Groups.Count == 0;
        if (isEverywhere)
            includes.Add(PagePattern.Parse("/**"));
        return includes.Count > 0 && excludes.Count > 0 && includes.All(i => excludes.Exists(e => e.Covers(i)));
    }

    private static List<PagePattern> Read(IEnumerable<string> patterns) =>
        [.. patterns.Select(p => PagePattern.TryParse(p, out _)).OfType<PagePattern>()];

    private static IEnumerable<BriefProblem> Who(WhoFacet who, Shared shared)
    {
        if (CompiledRule.TryCompile(who.Rule, shared.Segments, out var error) is null)
            yield return new BriefProblem(Facet.Who, "who.rule", error);
        if (Enum.GetValues<Device>().All(who.HiddenOn.Contains))
            yield return new BriefProblem(
                Facet.Who,
                "who.hiddenOn",
                "It is hidden on every device, so nobody would see it."
            );
    }

    private static IEnumerable<BriefProblem> HowOften(Brief brief, IReadOnlyCollection<SourceOffer> offers)
    {
        var often = brief.HowOften;
        if (often.Every is < 1 or > 1_000)
            yield return new BriefProblem(
                Facet.HowOften,
                "howOften.every",
                $"Between 1 and 1,000 {UnitWords.Say(often.Unit, 2).Split(' ')[^1]}."
            );
        if (often.MostVisits is < 1 or > 1_000)
            yield return new BriefProblem(Facet.HowOften, "howOften.mostVisits", "Between 1 and 1,000 visits in all.");
        if (often.MostPerWeek is < 1 or > Exposure.MostRecent)
            yield return new BriefProblem(
                Facet.HowOften,
                "howOften.mostPerWeek",
                $"Between 1 and {Exposure.MostRecent} visits a week."
            );
        if (often.HushHours is < 0 or > 8_760)
            yield return new BriefProblem(
                Facet.HowOften,
                "howOften.hushHours",
                "The hush must be between 0 hours and a year."
            );
        if (often.AfterClose.Number is < 1 or > 1_000)
            yield return new BriefProblem(Facet.HowOften, "howOften.afterClose", "Between 1 and 1,000.");
        if (often.AfterSuccess.Number is < 1 or > 1_000)
            yield return new BriefProblem(Facet.HowOften, "howOften.afterSuccess", "Between 1 and 1,000.");
        if (often.Goals.Any(g => !offers.Any(o => o.Id == g)))
            yield return new BriefProblem(
                Facet.HowOften,
                "howOften.goals",
                "A source whose events mean success is gone. Choose another, or take it out."
            );
        if (brief.Priority is < 1 or > 9)
            yield return new BriefProblem(Facet.HowOften, "priority", "The priority is between 1 (first) and 9.");
        if (brief.HoldbackPercent is < 0 or > 90)
            yield return new BriefProblem(
                Facet.HowOften,
                "holdbackPercent",
                "Between 0 and 90 percent can be held back."
            );
    }
}
