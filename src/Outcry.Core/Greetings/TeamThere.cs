namespace Outcry.Core.Greetings;

/// <summary>Who of a team is there to answer: anybody at all, and somebody of each group of it.</summary>
/// <param name="Anybody">Whether anybody is.</param>
/// <param name="Groups">Of each group whether somebody of it is there with room for another talk.</param>
public sealed record TeamThere(bool Anybody, IReadOnlyDictionary<Guid, bool> Groups)
{
    /// <summary>Somebody of everybody is there.</summary>
    public static TeamThere All { get; } = new(true, new Dictionary<Guid, bool>());

    /// <summary>Nobody is there.</summary>
    public static TeamThere None { get; } = new(false, new Dictionary<Guid, bool>());

    /// <summary>Whether somebody is there who answers for a group.</summary>
    /// <param name="group">The group; null, or one that is gone, for everybody.</param>
    public bool IsThere(Guid? group) => group is { } id && Groups.TryGetValue(id, out var isThere) ? isThere : Anybody;

    /// <summary>Whether the same groups are there.</summary>
    public bool IsSame(TeamThere other) =>
        Anybody == other.Anybody
        && Groups.Count == other.Groups.Count
        && Groups.All(g => other.Groups.TryGetValue(g.Key, out var there) && there == g.Value);
}
