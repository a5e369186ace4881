using Outcry.Core.Evidence;
using Outcry.Core.Saying;

namespace Outcry.Core.Publishing;

/// <summary>What a source offers, as far as a check needs it.</summary>
/// <param name="Id">The source.</param>
/// <param name="Name">Its name.</param>
/// <param name="Display">What it allows to be read.</param>
/// <param name="HasNames">Whether its events name people.</param>
/// <param name="Fields">Its own fields.</param>
public sealed record SourceOffer(
    Guid Id,
    string Name,
    DisplayPolicy Display,
    bool HasNames,
    IReadOnlyList<string> Fields
)
{
    /// <summary>Kind of its events.</summary>
    public EventKind Kind { get; init; } = EventKind.Purchase;
}
