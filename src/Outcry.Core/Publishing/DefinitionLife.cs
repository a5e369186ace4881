namespace Outcry.Core.Publishing;

/// <summary>Where a definition stands in its life: a callout, and whatever else is drafted, published and put away.</summary>
public enum DefinitionState
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

/// <summary>What a member does with a definition as a whole.</summary>
public enum DefinitionMove
{
    /// <summary>Freezes the draft as a revision and puts it on air.</summary>
    Publish,

    /// <summary>Takes it off air for a while.</summary>
    Pause,

    /// <summary>Puts its newest revision on air again, after a fresh check.</summary>
    Resume,

    /// <summary>Puts it away; what is live goes off air by it.</summary>
    Archive,

    /// <summary>Fetches it from where it was put away.</summary>
    Restore,
}

/// <summary>Where a move leads.</summary>
/// <param name="To">The state afterwards: the one before where the move is refused.</param>
/// <param name="Refusal">Why it cannot be made, as a sentence for whoever tried; null when it can.</param>
public readonly record struct MoveAnswer(DefinitionState To, string? Refusal = null);

/// <summary>The life of a definition: which move is possible from where, and where it leads.</summary>
public static class DefinitionLife
{
    /// <summary>Decides a move. One that leads to where the definition is already changes nothing and is no mistake.</summary>
    /// <param name="from">Where it stands.</param>
    /// <param name="move">What is tried.</param>
    /// <param name="wasPublished">Whether it has any revision: what has none is a draft wherever else it would be paused.</param>
    public static MoveAnswer Decide(DefinitionState from, DefinitionMove move, bool wasPublished)
    {
        var to = TargetOf(move, wasPublished);
        // Each publication is a revision of its own, so publishing what is live is no repetition.
        if (from == to && move != DefinitionMove.Publish)
            return new MoveAnswer(to);
        return MayMove(from, move) ? new MoveAnswer(to) : new MoveAnswer(from, RefusalOf(move));
    }

    /// <summary>Whether what goes on air by a move has to be checked against the site as it is now.</summary>
    public static bool NeedsCheck(DefinitionMove move) => move is DefinitionMove.Publish or DefinitionMove.Resume;

    private static DefinitionState TargetOf(DefinitionMove move, bool wasPublished) =>
        move switch
        {
            DefinitionMove.Publish or DefinitionMove.Resume => DefinitionState.Live,
            DefinitionMove.Archive => DefinitionState.Archived,
            _ => wasPublished ? DefinitionState.Paused : DefinitionState.Draft,
        };

    private static bool MayMove(DefinitionState from, DefinitionMove move) =>
        move switch
        {
            DefinitionMove.Publish => from != DefinitionState.Archived,
            DefinitionMove.Pause => from == DefinitionState.Live,
            DefinitionMove.Resume => from == DefinitionState.Paused,
            DefinitionMove.Archive => true,
            _ => from == DefinitionState.Archived,
        };

    private static string RefusalOf(DefinitionMove move) =>
        move switch
        {
            DefinitionMove.Publish => "It is archived. Restore it first, then publish.",
            DefinitionMove.Pause => "Only what is live can be paused.",
            DefinitionMove.Resume => "Only what is paused can be resumed.",
            _ => "It is not archived.",
        };
}
