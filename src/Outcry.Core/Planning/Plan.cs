using Outcry.Core.Briefs;
using Outcry.Core.Claims;
using Outcry.Core.Evidence;
using Outcry.Core.Explaining;
using Outcry.Core.Greetings;
using Outcry.Core.Performing;
using Outcry.Core.Publishing;
using Outcry.Core.Timing;

namespace Outcry.Core.Planning;

/// <summary>A callout that may show on this page view.</summary>
/// <param name="Callout">The callout.</param>
/// <param name="Turns">What it says, turn by turn, already worded.</param>
/// <param name="Triggers">What has still to happen on this page; none means on arrival.</param>
/// <param name="Instead">What holds it back unless the visitor asks for it by a click; null for nothing.</param>
public sealed record ArmedCallout(
    Callout Callout,
    IReadOnlyList<PreparedTurn> Turns,
    IReadOnlyList<Trigger> Triggers,
    Reason? Instead = null
)
{
    /// <summary>When its dates or hours end, if that is within a day; null for later or never.</summary>
    public ScheduleEnd? Over { get; init; }

    /// <summary>Whether it opens its launcher's panel; on phones, where a panel covers the page, it does not.</summary>
    public bool OpensPanel { get; init; }

    /// <summary>
    /// When it is due if nothing but time has to pass, in milliseconds of visible time from the page view's start; null
    /// when it waits for the visitor to do something.
    /// </summary>
    public long? DueMs
    {
        get
        {
            if (Instead is not null)
                return null;
            if (Triggers.Count == 0)
                return 0;
            var timed = Triggers.Where(t => t.Kind == TriggerKind.Seconds).Select(t => t.Number * 1000L).ToList();
            if (Callout.Brief.When.Join == Join.All)
                return timed.Count == Triggers.Count ? timed.Max() : null;
            return timed.Count > 0 ? timed.Min() : null;
        }
    }

    /// <summary>When it is due, in words: "due at 0:06", or what it waits for.</summary>
    public string DueWords =>
        DueMs is { } due ? $"due at {ReasonSentence.Clock(due)}"
        : Triggers.FirstOrDefault(t => t.Kind != TriggerKind.Seconds) is { } waits
            ? $"due once visitors {TriggerWords.Did(waits)}"
        : "due when asked for";

    /// <summary>How it queues on the page, under the site's house rules.</summary>
    /// <param name="order">Its rank by age among equals.</param>
    /// <param name="rules">The house rules.</param>
    public QueueEntry ToEntry(int order, HouseRules rules)
    {
        var brief = Callout.Brief;
        return new QueueEntry(
            Callout.Id,
            Callout.Class,
            brief.Priority,
            order,
            Triggers,
            brief.When.Join,
            StaysMs,
            brief.When.TurnGapSeconds * 1000L,
            (long)Callout.Targeting.Hush.TotalMilliseconds,
            rules.PatienceSeconds * 1000L
        )
        {
            Rounds = brief.Look.Shape == Shape.Crawl ? 1 : brief.When.Rounds,
            AskedOnly = Instead is not null,
            Instead = Instead,
            OnlyIfAvailable = brief.When.OnlyIfAvailable,
            OpensPanel = OpensPanel,
            Greets = Callout.Greets is not null,
            Over = Over,
        };
    }

    /// <summary>How long each turn stays: the brief's seconds, and one more for each 40 characters over 80; null for until closed.</summary>
    /// <remarks>A crawl turns its lines over within one turn, which stays as long as all of them in all its rounds.</remarks>
    public IReadOnlyList<long?> StaysMs
    {
        get
        {
            if (Callout.Brief.Look.Shape == Shape.Crawl)
                return [CrawlStayMs];
            var stays = new long?[Turns.Count];
            // A panel stays until it is closed.
            if (!OpensPanel && Callout.Brief.Look.StaySeconds is { } seconds)
                for (var turn = 0; turn < stays.Length; turn++)
                    stays[turn] = StayTime.Of(seconds, Turns[turn].Length);
            return stays;
        }
    }

    /// <summary>How long a line of a crawl stands before the next: the brief's seconds, or the start value where it stays until closed.</summary>
    public long LineStayMs(int turn) =>
        StayTime.Of(Callout.Brief.Look.StaySeconds ?? StarterBrief.StaySeconds, Turns[turn].Length);

    private long? CrawlStayMs =>
        Callout.Brief is { Look.StaySeconds: not null, When.Rounds: > 0 and var rounds }
            ? rounds * Enumerable.Range(0, Turns.Count).Sum(LineStayMs)
            : null;
}

/// <summary>A callout that will not show on this page view, and why.</summary>
public sealed record LeftOut(Callout Callout, Reason Reason);

/// <summary>A launcher that does not stand on the page, and why.</summary>
public sealed record LauncherAway(Launcher Launcher, Reason Reason);

/// <summary>What may happen on one page view.</summary>
/// <param name="Armed">Callouts on the plan, by priority, then age.</param>
/// <param name="LeftOut">All others with their reason; empty when no explanation was asked for.</param>
public sealed record Plan(IReadOnlyList<ArmedCallout> Armed, IReadOnlyList<LeftOut> LeftOut)
{
    /// <summary>The launcher that stands on the page; null for none.</summary>
    public Launcher? Stands { get; init; }

    /// <summary>All other launchers with their reason; empty when no explanation was asked for.</summary>
    public IReadOnlyList<LauncherAway> Away { get; init; } = [];

    /// <summary>On a stage: what would keep callouts from a visitor now and was set aside; empty elsewhere.</summary>
    public IReadOnlyList<Reason> SetAside { get; init; } = [];
}

/// <summary>How a plan is made.</summary>
/// <param name="Explain">Whether every callout left out is named with its reason, which live traffic does without.</param>
/// <param name="LiftLimits">Whether hush, how often and least numbers are lifted, as on a trial visit.</param>
public sealed record PlanOptions(bool Explain = false, bool LiftLimits = false)
{
    /// <summary>What the visitor did, newest first, where that is imagined; null for what the site knows of the visitor.</summary>
    public IReadOnlyList<Visitors.PastEvent>? PastEvents { get; init; }

    /// <summary>Whether of callouts that are not for the page nothing is said: explaining then costs what is on the page, not what the site has.</summary>
    public bool OnPageOnly { get; init; }

    /// <summary>
    /// Whether nobody is held back: of an imagined visitor chance has decided nothing, so a callout that only a share of
    /// visitors is shown is told as shown to that share.
    /// </summary>
    public bool AsShare { get; init; }

    /// <summary>
    /// Whether this is a stage, on which a draft is looked at while it is written: off air, who, when and how often are
    /// set aside, and named in the plan. Pages are not: what is not for a page is not shown on it.
    /// </summary>
    public bool OnStage { get; init; }

    /// <summary>The one callout to explain where not all are.</summary>
    internal Guid? Watched { get; init; }

    /// <summary>Whether turns need only be as many as those told, and stay as long, whatever they say.</summary>
    internal bool StaysOnly { get; init; }

    internal TurnOptions Turns => new(LiftLimits || OnStage, StaysOnly);

    internal bool Explains(Callout callout) => Explain || callout.Id == Watched;

    /// <summary>As for live traffic.</summary>
    public static PlanOptions Live { get; } = new();

    /// <summary>With every reason.</summary>
    public static PlanOptions Explained { get; } = new(Explain: true);
}
