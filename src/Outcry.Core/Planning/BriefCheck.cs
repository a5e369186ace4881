using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Saying;
using Outcry.Core.Timing;

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
public sealed record BriefProblem(Facet Facet, string Field, string Message, bool Blocks = true);

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
);

/// <summary>Checks a brief against the rules of the job.</summary>
public static class BriefCheck
{
    /// <summary>Everything wrong or noteworthy in the brief, in the order of its facets; none when it may go live.</summary>
    /// <param name="brief">The brief.</param>
    /// <param name="offers">The site's sources.</param>
    public static IReadOnlyList<BriefProblem> Problems(Brief brief, IReadOnlyCollection<SourceOffer> offers)
    {
        var chosen = offers.Where(o => brief.From.Sources.Contains(o.Id)).ToList();
        return
        [
            .. Say(brief.Say, chosen),
            .. From(brief.From, chosen),
            .. Where(brief.Where),
            .. When(brief.When),
            .. HowOften(brief.HowOften),
            .. Look(brief.Look),
        ];
    }

    /// <summary>The tokens that a message may use on these sources: what all of them offer.</summary>
    public static IReadOnlyList<string> OfferedTokens(IReadOnlyCollection<SourceOffer> chosen)
    {
        IEnumerable<string> offered = EventTokens.Common;
        if (chosen.Count > 0 && chosen.All(c => c.Display.ShowAmount))
            offered = offered.Append(EventTokens.Amount);
        if (chosen.Count > 0)
            offered = offered.Concat(
                chosen.Select(c => c.Display.ShownFields.AsEnumerable()).Aggregate((a, b) => a.Intersect(b))
            );
        return [.. offered];
    }

    private static IEnumerable<BriefProblem> Say(SayFacet say, List<SourceOffer> chosen)
    {
        var template = MessageTemplate.TryParse(say.Message, out var error);
        if (template is null)
        {
            yield return new BriefProblem(Facet.Say, "say.message", error);
        }
        else
        {
            var offered = OfferedTokens(chosen);
            foreach (var token in template.Tokens.Where(t => !offered.Contains(t)))
                yield return new BriefProblem(
                    Facet.Say,
                    "say.message",
                    $"Nothing is called \"{token}\" in these events. Offered are: {string.Join(", ", offered)}."
                );
            foreach (
                var source in chosen.Where(c => !c.HasNames && template.Tokens.Any(t => t is "name" or "first_name"))
            )
                yield return new BriefProblem(
                    Facet.Say,
                    "say.message",
                    $"{source.Name} has no field for a name, so the fallback will stand in its place.",
                    Blocks: false
                );
        }
        if (TypedTimeWord(say.Message) is { } typed)
            yield return new BriefProblem(
                Facet.Say,
                "say.message",
                $"\"{typed}\" is typed, but events may be days old when they are told. Use {{{{ time_ago }}}}, or leave the time to the line below.",
                Blocks: false
            );
        if (say.Link == LinkTarget.Address && SafeLink.TryPass(say.LinkAddress) is null)
            yield return new BriefProblem(
                Facet.Say,
                "say.linkAddress",
                "The link is not an address. Write one that starts with https://, or a path such as /shop."
            );
    }

    private static IEnumerable<BriefProblem> From(FromFacet from, List<SourceOffer> chosen)
    {
        if (chosen.Count == 0)
            yield return new BriefProblem(
                Facet.From,
                "from.sources",
                "It draws on no source yet. Choose where its events come from."
            );
        if (from.WindowMinutes is < 1 or > 730 * 24 * 60)
            yield return new BriefProblem(
                Facet.From,
                "from.windowMinutes",
                "The window must be between 1 minute and 730 days, or all time: in a window of zero nothing can have happened."
            );
        if (from.LeastNumber is < 1 or > 10_000)
            yield return new BriefProblem(
                Facet.From,
                "from.leastNumber",
                "The least number must be between 1 and 10,000."
            );
        foreach (var condition in from.Conditions)
            if (
                condition.Field.Length == 0
                || (condition.Comparison != Comparison.Filled && condition.Value.Length == 0)
            )
                yield return new BriefProblem(
                    Facet.From,
                    "from.conditions",
                    "A condition is not finished. Choose a field and what it is compared with, or remove it."
                );
    }

    private static IEnumerable<BriefProblem> Where(WhereFacet where)
    {
        foreach (var pattern in where.Includes)
            if (PagePattern.TryParse(pattern, out var error) is null)
                yield return new BriefProblem(Facet.Where, "where.includes", $"{pattern}: {error}");
        foreach (var pattern in where.Excludes)
            if (PagePattern.TryParse(pattern, out var error) is null)
                yield return new BriefProblem(Facet.Where, "where.excludes", $"{pattern}: {error}");
        if (where.Includes.Count + where.Excludes.Count > 200)
            yield return new BriefProblem(Facet.Where, "where.includes", "At most 200 patterns in one brief.");
    }

    private static IEnumerable<BriefProblem> When(WhenFacet when)
    {
        if (when.AfterSeconds is < 0 or > 3_600)
            yield return new BriefProblem(
                Facet.When,
                "when.afterSeconds",
                "The wait must be between 0 seconds and an hour."
            );
        if (when.Turns is < 1 or > 10)
            yield return new BriefProblem(Facet.When, "when.turns", "Between 1 and 10 turns.");
        if (when.TurnGapSeconds is < 1 or > 600)
            yield return new BriefProblem(
                Facet.When,
                "when.turnGapSeconds",
                "Between 1 and 600 seconds from one turn to the next."
            );
    }

    private static IEnumerable<BriefProblem> HowOften(HowOftenFacet howOften)
    {
        if (howOften.Unit == RepeatUnit.Days && howOften.EveryDays is < 1 or > 365)
            yield return new BriefProblem(Facet.HowOften, "howOften.everyDays", "Between 1 and 365 days.");
        if (howOften.MostVisits is < 1 or > 1_000)
            yield return new BriefProblem(Facet.HowOften, "howOften.mostVisits", "Between 1 and 1,000 visits in all.");
        if (howOften.HushHours is < 0 or > 8_760)
            yield return new BriefProblem(
                Facet.HowOften,
                "howOften.hushHours",
                "The hush must be between 0 hours and a year."
            );
    }

    private static IEnumerable<BriefProblem> Look(LookFacet look)
    {
        if (!Contrast.IsColour(look.Band))
            yield return new BriefProblem(Facet.Look, "look.band", "The band's colour must be of the form #9C3517.");
        if (!Contrast.IsColour(look.Ground))
            yield return new BriefProblem(
                Facet.Look,
                "look.ground",
                "The ground's colour must be of the form #FFFFFF."
            );
        if (look.StaySeconds is < 2 or > 120)
            yield return new BriefProblem(Facet.Look, "look.staySeconds", "It must stay between 2 and 120 seconds.");
    }

    private static readonly string[] TimeWords =
    [
        "just",
        "now",
        "today",
        "yesterday",
        "minutes ago",
        "hours ago",
        "this week",
    ];

    private static string? TypedTimeWord(string message) =>
        TimeWords.FirstOrDefault(w =>
            System.Text.RegularExpressions.Regex.IsMatch(
                message,
                $@"\b{w}\b(?![^{{]*}}}})",
                System.Text.RegularExpressions.RegexOptions.IgnoreCase
            )
        );
}
