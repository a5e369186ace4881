namespace Outcry.Core.Asking;

/// <summary>What the person of a browser has answered to prompts so far.</summary>
/// <param name="HasGiven">Whether they have given an address or a number, and may be written to or are still to confirm it.</param>
/// <param name="TookBack">Promises that they took back, word for word.</param>
public sealed record AskedBefore(bool HasGiven, IReadOnlySet<string> TookBack)
{
    /// <summary>Whoever has answered none.</summary>
    public static AskedBefore Nothing { get; } = new(false, new HashSet<string>());

    /// <summary>Of a lead as it stands.</summary>
    /// <param name="state">How it stands.</param>
    /// <param name="tookBack">Promises that it took back, word for word.</param>
    public static AskedBefore Of(LeadState state, IEnumerable<string> tookBack) =>
        new(state is LeadState.Waiting or LeadState.Confirmed, tookBack.ToHashSet(StringComparer.Ordinal));

    /// <summary>Of a browser that several people said yes in.</summary>
    public AskedBefore And(AskedBefore other) =>
        new(HasGiven || other.HasGiven, TookBack.Concat(other.TookBack).ToHashSet(StringComparer.Ordinal));

    /// <summary>Whether a prompt would ask by words that they took back, in whichever of its languages.</summary>
    public bool TookBackPromiseOf(AskFacet ask) =>
        TookBack.Count > 0 && ask.Words.Any(w => TookBack.Contains(w.Promise));
}
