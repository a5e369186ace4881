namespace Outcry.Core.Publishing;

/// <summary>The shared pieces that a definition names: while any does, archived or not, they cannot be taken away.</summary>
/// <param name="Segments">Segments.</param>
/// <param name="PageGroups">Page groups.</param>
/// <param name="Sources">Sources, drawn on or counted as a goal.</param>
/// <param name="Pictures">Addresses of pictures.</param>
public sealed record References(
    IReadOnlySet<Guid> Segments,
    IReadOnlySet<Guid> PageGroups,
    IReadOnlySet<Guid> Sources,
    IReadOnlySet<string> Pictures
)
{
    /// <summary>Pools of codes and files that are given.</summary>
    public IReadOnlySet<Guid> Rewards { get; init; } = new HashSet<Guid>();

    /// <summary>Nothing shared is named.</summary>
    public static References None { get; } =
        new(new HashSet<Guid>(), new HashSet<Guid>(), new HashSet<Guid>(), new HashSet<string>());

    /// <summary>What several contents of one definition name together: its draft, and what is published.</summary>
    public static References Join(IEnumerable<References> parts)
    {
        var all = parts.ToList();
        return new References(
            all.SelectMany(r => r.Segments).ToHashSet(),
            all.SelectMany(r => r.PageGroups).ToHashSet(),
            all.SelectMany(r => r.Sources).ToHashSet(),
            all.SelectMany(r => r.Pictures).ToHashSet(StringComparer.Ordinal)
        )
        {
            Rewards = all.SelectMany(r => r.Rewards).ToHashSet(),
        };
    }
}
