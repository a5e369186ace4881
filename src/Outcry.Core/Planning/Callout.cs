using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Saying;
using Outcry.Core.Timing;

namespace Outcry.Core.Planning;

/// <summary>Where a callout stands in its life.</summary>
public enum CalloutState
{
    /// <summary>Never published.</summary>
    Draft,

    /// <summary>On air.</summary>
    Live,

    /// <summary>Taken off air for a while.</summary>
    Paused,

    /// <summary>Put away.</summary>
    Archived,
}

/// <summary>How a callout takes its place on the page.</summary>
public enum CalloutClass
{
    /// <summary>On top of the page at an edge: slip, ribbon, drawer, crawl, a greeting's bubble.</summary>
    Floating,

    /// <summary>Over the page, to be dealt with first: poster, curtain.</summary>
    Dialog,

    /// <summary>In the page's own content.</summary>
    Inset,

    /// <summary>Called for by the visitor's click, whatever its shape.</summary>
    Asked,
}

/// <summary>A brief compiled for planning: patterns parsed, message parsed, units as durations.</summary>
public sealed class Callout
{
    /// <summary>Compiles a brief that <see cref="BriefCheck"/> has nothing against.</summary>
    /// <exception cref="FormatException">A pattern, colour or message is not valid after all.</exception>
    public Callout(Guid id, string name, CalloutState state, Instant createdAt, int revision, Brief brief)
    {
        Id = id;
        Name = name;
        State = state;
        CreatedAt = createdAt;
        Revision = revision;
        Brief = brief;
        Pages = PageRule.Parse(brief.Where.Includes, brief.Where.Excludes);
        Message = MessageTemplate.TryParse(brief.Say.Message, out var error) ?? throw new FormatException(error);
        Repeat = new RepeatRule(brief.HowOften.Unit, brief.HowOften.EveryDays, brief.HowOften.MostVisits);
        Hush = Duration.FromHours(brief.HowOften.HushHours);
        Ink = Contrast.InkOn(brief.Look.Ground);
        Evidence = new EvidenceRule(
            brief.From.Sources.ToHashSet(),
            brief.From.Conditions,
            brief.From.Join,
            brief.From.WindowMinutes is { } minutes ? Duration.FromMinutes(minutes) : null,
            brief.From.LeastNumber
        );
    }

    /// <summary>The callout.</summary>
    public Guid Id { get; }

    /// <summary>Its name among the team.</summary>
    public string Name { get; }

    /// <summary>Where it stands.</summary>
    public CalloutState State { get; }

    /// <summary>When it was made; of two equals the older goes first.</summary>
    public Instant CreatedAt { get; }

    /// <summary>Number of the revision compiled; 0 for a draft that was never published.</summary>
    public int Revision { get; }

    /// <summary>The brief.</summary>
    public Brief Brief { get; }

    /// <summary>Where, parsed.</summary>
    public PageRule Pages { get; }

    /// <summary>What it says, parsed.</summary>
    public MessageTemplate Message { get; }

    /// <summary>How often.</summary>
    public RepeatRule Repeat { get; }

    /// <summary>Hush after a close.</summary>
    public Duration Hush { get; }

    /// <summary>Which events.</summary>
    public EvidenceRule Evidence { get; }

    /// <summary>Colour of the words, chosen for contrast on the ground.</summary>
    public string Ink { get; }

    /// <summary>Its class, which follows from its shape.</summary>
    public CalloutClass Class =>
        Brief.Look.Shape switch
        {
            Shape.Slip => CalloutClass.Floating,
            _ => throw new InvalidOperationException($"Shape {Brief.Look.Shape} has no class."),
        };
}
