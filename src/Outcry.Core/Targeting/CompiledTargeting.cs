using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Publishing;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Targeting;

/// <summary>A targeting ready to be asked: patterns and rules parsed, units as durations.</summary>
public sealed class CompiledTargeting
{
    /// <summary>Compiles a targeting that <see cref="TargetingCheck"/> has nothing against.</summary>
    /// <exception cref="FormatException">A pattern or visitor rule is not valid after all, or a page group is gone.</exception>
    public CompiledTargeting(Definition definition, Targeting facets, SiteContext context)
    {
        Definition = definition;
        Facets = facets;
        Pages = new PageScope(
            PageRule.Parse(facets.Where.Includes, facets.Where.Excludes),
            [
                .. facets.Where.Groups.Select(g =>
                    context.Groups.GetValueOrDefault(g)
                    // Left out silently it would show everywhere, where its one group was all that held it.
                    ?? throw new FormatException("A page group it names is gone. Choose another, or take it out.")
                ),
            ]
        );
        Who = CompiledRule.Compile(facets.Who.Rule, context.Segments);
        Triggers = facets.When.Triggers.Count == 0 ? [Trigger.After(0)] : facets.When.Triggers;
        var often = facets.HowOften;
        Repeat = new RepeatRule(often.Unit, often.Every, often.MostVisits, often.UntilClicked, often.MostPerWeek);
        Hush = Duration.FromHours(often.HushHours);
        WaitsForPages = Triggers.Any(t => t.Kind == TriggerKind.Pages);
        IsAskable =
            facets.When.Join == Join.Any
                ? Triggers.Any(t => t.Kind == TriggerKind.Click)
                : Triggers.All(t => t.Kind == TriggerKind.Click);
    }

    /// <summary>Whose targeting it is.</summary>
    public Definition Definition { get; }

    /// <summary>The same as its author wrote it.</summary>
    public Targeting Facets { get; }

    /// <summary>Where, parsed.</summary>
    public PageScope Pages { get; }

    /// <summary>Who, parsed.</summary>
    public CompiledRule Who { get; }

    /// <summary>What has to happen, at least one.</summary>
    public IReadOnlyList<Trigger> Triggers { get; }

    /// <summary>How often.</summary>
    public RepeatRule Repeat { get; }

    /// <summary>Hush after a close.</summary>
    public Duration Hush { get; }

    /// <summary>Whether it covers the page, so that the hush of dialogs holds it back as well.</summary>
    public bool IsDialog { get; init; }

    /// <summary>Whether a click alone brings it, so that neither hush nor limits hold it back then.</summary>
    public bool IsAskable { get; }

    /// <summary>Whether it waits for a number of pages, which is known before a page view begins.</summary>
    public bool WaitsForPages { get; }
}
