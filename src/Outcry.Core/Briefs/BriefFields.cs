using Outcry.Core.Publishing;
using Outcry.Core.Targeting;

namespace Outcry.Core.Briefs;

/// <summary>The facets of a brief.</summary>
public enum Facet
{
    /// <summary>What it says.</summary>
    Say,

    /// <summary>Which events.</summary>
    From,

    /// <summary>What a prompt asks for.</summary>
    Ask,

    /// <summary>What is promised to those who say yes.</summary>
    Promise,

    /// <summary>What happens then.</summary>
    After,

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

/// <summary>Which facet a problem of a brief belongs to.</summary>
public static class BriefFields
{
    /// <summary>The facet that a field is part of.</summary>
    public static Facet FacetOf(string field) =>
        field.Split('.')[0] switch
        {
            "say" => Facet.Say,
            "from" => Facet.From,
            "ask" => field switch
            {
                "ask.promise" => Facet.Promise,
                "ask.confirms" or "ask.reward" or "ask.tags" or "ask.thanks" or "ask.second" => Facet.After,
                _ => Facet.Ask,
            },
            "where" => Facet.Where,
            "who" => Facet.Who,
            "when" => Facet.When,
            "look" => Facet.Look,
            _ => Facet.HowOften,
        };

    /// <summary>
    /// Whether the brief cannot even be tried out: one without a source, or whose dates have passed, cannot go live and can
    /// be rehearsed all the same.
    /// </summary>
    public static bool StopsTrying(Problem problem) =>
        problem.Blocks
        && FacetOf(problem.Field) is not (Facet.From or Facet.Ask or Facet.Promise or Facet.After)
        && problem.Field != TargetingCheck.PastDates;
}
