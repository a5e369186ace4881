using Outcry.Core.Briefs;
using Outcry.Core.Timing;

namespace Outcry.Core.Rehearsing;

/// <summary>One change to a brief that is tried out before it is made.</summary>
public abstract record BriefChange
{
    /// <summary>The brief with the change.</summary>
    public abstract Brief Apply(Brief brief);

    /// <summary>The change in words, as a sentence.</summary>
    /// <param name="before">The brief without it.</param>
    public abstract string Say(Brief before);

    /// <summary>The seconds on the page that a brief waits for and nothing else that would have to be moved with them; null otherwise.</summary>
    public static int? WaitOf(Brief brief) =>
        brief.When.Triggers switch
        {
            [] => 0,
            [{ Kind: TriggerKind.Seconds } only] => only.Number,
            _ => null,
        };
}

/// <summary>Waits for so many seconds on the page instead.</summary>
/// <param name="Seconds">0 to 3,600.</param>
public sealed record WaitFor(int Seconds) : BriefChange
{
    /// <inheritdoc/>
    public override Brief Apply(Brief brief) =>
        brief with
        {
            When = brief.When with { Triggers = [Trigger.After(Seconds)] },
        };

    /// <inheritdoc/>
    public override string Say(Brief before) => $"Let it wait {Seconds} s instead of {WaitOf(before) ?? 0}";
}

/// <summary>Takes another place in the order.</summary>
/// <param name="Priority">1 (first) to 9.</param>
public sealed record GoAt(int Priority) : BriefChange
{
    /// <inheritdoc/>
    public override Brief Apply(Brief brief) => brief with { Priority = Priority };

    /// <inheritdoc/>
    public override string Say(Brief before) => $"Give it priority {Priority} instead of {before.Priority}";
}

/// <summary>Leaves pages out.</summary>
/// <param name="Patterns">Patterns of the pages.</param>
public sealed record ExcludePages(IReadOnlyList<string> Patterns) : BriefChange
{
    /// <inheritdoc/>
    public override Brief Apply(Brief brief) =>
        brief with
        {
            Where = brief.Where with { Excludes = [.. brief.Where.Excludes.Union(Patterns)] },
        };

    /// <inheritdoc/>
    public override string Say(Brief before) => "Leave it out here";
}
