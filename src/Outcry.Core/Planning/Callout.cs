using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Planning;

/// <summary>How a callout takes its place on the page.</summary>
public enum CalloutClass
{
    /// <summary>On top of the page at an edge: slip, ribbon, drawer, crawl, a greeting's bubble.</summary>
    Floating,

    /// <summary>Over the page, to be dealt with first: poster, curtain.</summary>
    Dialog,

    /// <summary>In the page's own content.</summary>
    Inset,
}

/// <summary>A brief compiled for planning: patterns parsed, messages parsed, units as durations.</summary>
public sealed class Callout
{
    /// <summary>Compiles a brief that <see cref="BriefCheck"/> has nothing against.</summary>
    /// <exception cref="FormatException">A pattern, colour, message or visitor rule is not valid after all, or a page group is gone.</exception>
    public Callout(
        Guid id,
        string name,
        DefinitionState state,
        Instant createdAt,
        int revision,
        Brief brief,
        Shared? shared = null
    )
    {
        shared ??= Shared.Nothing;
        Id = id;
        Name = name;
        State = state;
        CreatedAt = createdAt;
        Revision = revision;
        Brief = brief;
        Pages = new PageScope(
            PageRule.Parse(brief.Where.Includes, brief.Where.Excludes),
            [
                .. brief.Where.Groups.Select(g =>
                    shared.Groups.GetValueOrDefault(g)
                    // Left out silently it would show everywhere, where its one group was all that held it.
                    ?? throw new FormatException("A page group it names is gone. Choose another, or take it out.")
                ),
            ]
        );
        Who = CompiledRule.Compile(brief.Who.Rule, shared.Segments);
        Messages = new Messages(brief.Say, shared);
        Triggers = brief.When.Triggers.Count == 0 ? [Trigger.After(0)] : brief.When.Triggers;
        var often = brief.HowOften;
        Repeat = new RepeatRule(often.Unit, often.Every, often.MostVisits, often.UntilClicked, often.MostPerWeek);
        Hush = Duration.FromHours(often.HushHours);
        Ink = Contrast.InkOn(brief.Look.Ground);
        Evidence = BriefEvidence.RuleOf(brief);
        WaitsForPages = Triggers.Any(t => t.Kind == TriggerKind.Pages);
        Askable = MayBeAsked(Triggers, brief.When.Join);
    }

    /// <summary>The callout.</summary>
    public Guid Id { get; }

    /// <summary>Its name among the team.</summary>
    public string Name { get; }

    /// <summary>Where it stands.</summary>
    public DefinitionState State { get; }

    /// <summary>When it was made; of two equals the older goes first.</summary>
    public Instant CreatedAt { get; }

    /// <summary>Number of the revision compiled; 0 for a draft that was never published.</summary>
    public int Revision { get; }

    /// <summary>The brief.</summary>
    public Brief Brief { get; }

    /// <summary>Where, parsed.</summary>
    public PageScope Pages { get; }

    /// <summary>Who, parsed.</summary>
    public CompiledRule Who { get; }

    /// <summary>What it says, parsed, in each of its languages.</summary>
    public Messages Messages { get; }

    /// <summary>What has to happen, at least one.</summary>
    public IReadOnlyList<Trigger> Triggers { get; }

    /// <summary>How often.</summary>
    public RepeatRule Repeat { get; }

    /// <summary>Hush after a close.</summary>
    public Duration Hush { get; }

    /// <summary>Which events.</summary>
    public EvidenceRule Evidence { get; }

    /// <summary>Colour of the words, chosen for contrast on the ground.</summary>
    public string Ink { get; }

    /// <summary>Whether a click alone brings it, so that neither hush nor limits hold it back then.</summary>
    public bool Askable { get; }

    /// <summary>Whether it waits for a number of pages, which is known before a page view begins.</summary>
    internal bool WaitsForPages { get; }

    /// <summary>Its class, which follows from its shape.</summary>
    public CalloutClass Class =>
        Brief.Look.Shape switch
        {
            Shape.Poster or Shape.Curtain => CalloutClass.Dialog,
            Shape.Inset => CalloutClass.Inset,
            _ => CalloutClass.Floating,
        };

    /// <summary>Whether a page is among those whose traffic it counts: its own list, else the pages on which it shows.</summary>
    public bool CountsPage(PageAddress page) =>
        (Evidence.Pages is { } counted ? counted.Decide(page) : Pages.Decide(page)).Shown;

    private static bool MayBeAsked(IReadOnlyList<Trigger> triggers, Join join) =>
        join == Join.Any
            ? triggers.Any(t => t.Kind == TriggerKind.Click)
            : triggers.All(t => t.Kind == TriggerKind.Click);
}
