namespace Outcry.Core.Pages;

/// <summary>A page group: a named rule, shared by the team.</summary>
/// <param name="Id">The group.</param>
/// <param name="Name">Its name.</param>
/// <param name="Rule">Its pages.</param>
public sealed record PageGroup(Guid Id, string Name, PageRule Rule);

/// <summary>The pages of a callout: patterns of its own and page groups, any of which is enough; its own excludes win.</summary>
public sealed class PageScope
{
    /// <summary>Combines patterns and groups; neither an include nor a group means every page.</summary>
    public PageScope(PageRule own, IReadOnlyList<PageGroup> groups)
    {
        Own = own;
        Groups = groups;
        var fromGroups = groups.Select(g => new PageRule(g.Rule.Includes, [.. g.Rule.Excludes, .. own.Excludes]));
        Rules = own.Includes.Count == 0 && groups.Count > 0 ? [.. fromGroups] : [own, .. fromGroups];
    }

    /// <summary>Its own patterns.</summary>
    public PageRule Own { get; }

    /// <summary>Its groups.</summary>
    public IReadOnlyList<PageGroup> Groups { get; }

    /// <summary>Rules any of which lets a page in.</summary>
    public IReadOnlyList<PageRule> Rules { get; }

    /// <summary>Includes of its own and groups.</summary>
    public int Includes => Own.Includes.Count + Groups.Count;

    /// <summary>Decides one page and names the pattern that decided, if one did.</summary>
    public PageVerdict Decide(PageAddress page)
    {
        PageVerdict? refused = null;
        foreach (var rule in Rules)
        {
            var verdict = rule.Decide(page);
            if (verdict.Shown)
                return verdict;
            refused = refused?.Decider is null ? verdict : refused;
        }
        return refused!;
    }

    /// <summary>How widely the narrowest of its patterns that mean the page reaches; null where no pattern decides, as everywhere.</summary>
    public PatternReach? ReachOn(PageAddress page)
    {
        PatternReach? narrowest = null;
        foreach (var rule in Rules)
        foreach (var include in rule.Includes)
            if (include.Matches(page) && !(narrowest <= include.Reach))
                narrowest = include.Reach;
        return narrowest;
    }
}
