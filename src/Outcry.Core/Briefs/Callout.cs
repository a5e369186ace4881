using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Publishing;
using Outcry.Core.Targeting;

namespace Outcry.Core.Briefs;

/// <summary>Where a greeting stands.</summary>
/// <param name="Launcher">On the ladder of which launcher.</param>
/// <param name="Rung">On which rung, from 1 at the top.</param>
public sealed record GreetingPlace(Guid Launcher, int Rung)
{
    /// <summary>Whether it opens the launcher's panel, where there is room for one.</summary>
    public bool OpensPanel { get; init; }

    /// <summary>Whether it is heard.</summary>
    public bool Sounds { get; init; }

    /// <summary>Its ready replies by language, the site's own first.</summary>
    public IReadOnlyList<(string Language, IReadOnlyList<string> Replies)> Replies { get; init; } = [];

    /// <summary>Its ready replies in a language; those of the site's own where it has none.</summary>
    public IReadOnlyList<string> RepliesIn(string language)
    {
        if (Replies.Count == 0)
            return [];
        foreach (var (spoken, replies) in Replies)
            if (spoken.Equals(language, StringComparison.OrdinalIgnoreCase))
                return replies;
        return Replies[0].Replies;
    }
}

/// <summary>A brief compiled for planning: patterns parsed, messages parsed, units as durations.</summary>
public sealed class Callout
{
    /// <summary>Compiles a brief that <see cref="BriefCheck"/> has nothing against.</summary>
    /// <exception cref="FormatException">A pattern, colour, message or visitor rule is not valid after all, or a page group is gone.</exception>
    public Callout(Definition definition, Brief brief, SiteContext? context = null)
    {
        context ??= SiteContext.Nothing;
        Brief = brief;
        Targeting = new CompiledTargeting(definition, brief.Targeting, context)
        {
            IsDialog = Class == CalloutClass.Dialog,
        };
        Messages = new Messages(brief.Say, context);
        Ink = Contrast.InkOn(brief.Look.Ground);
        Evidence = BriefEvidence.RuleOf(brief);
    }

    /// <summary>The callout.</summary>
    public Guid Id => Targeting.Definition.Id;

    /// <summary>Its name among the team.</summary>
    public string Name => Targeting.Definition.Name;

    /// <summary>Where it stands.</summary>
    public DefinitionState State => Targeting.Definition.State;

    /// <summary>When it was made; of two equals the older goes first.</summary>
    public Instant CreatedAt => Targeting.Definition.CreatedAt;

    /// <summary>Number of the revision compiled; 0 for a draft that was never published.</summary>
    public int Revision => Targeting.Definition.Revision;

    /// <summary>The brief.</summary>
    public Brief Brief { get; }

    /// <summary>To whom, where, when and how often, parsed.</summary>
    public CompiledTargeting Targeting { get; }

    /// <summary>What it says, parsed, in each of its languages.</summary>
    public Messages Messages { get; }

    /// <summary>Which events.</summary>
    public EvidenceRule Evidence { get; }

    /// <summary>Colour of the words, chosen for contrast on the ground.</summary>
    public string Ink { get; }

    /// <summary>Of a greeting: where on whose ladder it stands; null for every other callout.</summary>
    public GreetingPlace? Greets { get; init; }

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
        (Evidence.Pages is { } counted ? counted.Decide(page) : Targeting.Pages.Decide(page)).Shown;
}
