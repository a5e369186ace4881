using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Saying;

namespace Outcry.Core.Claims;

/// <summary>One thing worded for visitors.</summary>
/// <param name="Event">The event it tells; null for a count and for a notice.</param>
/// <param name="Spans">What is said.</param>
/// <param name="Detail">The line under it; empty for none.</param>
/// <param name="Button">Words of the button; empty for none.</param>
/// <param name="Meta">The line below: how long ago; empty when hidden.</param>
/// <param name="Picture">Address of a picture; null for initials, a sign or none.</param>
/// <param name="Initials">Letters for a picture made of initials; empty for a plain sign.</param>
/// <param name="Link">Where a click leads; null for nowhere.</param>
/// <param name="CountdownTo">The instant to which a countdown in the words runs; null for none.</param>
/// <param name="Voice">In which language it is said.</param>
public sealed record PreparedTurn(
    LedgerEvent? Event,
    IReadOnlyList<Span> Spans,
    IReadOnlyList<Span> Detail,
    string Button,
    string Meta,
    string? Picture,
    string Initials,
    string? Link,
    Instant? CountdownTo,
    Voice Voice
)
{
    /// <summary>Characters said, which lengthen the stay.</summary>
    public int Length { get; } = Spans.Sum(s => s.Text.Length) + Detail.Sum(s => s.Text.Length);

    /// <summary>The countdown as it stands in the words; null for none.</summary>
    public string? Countdown { get; init; }

    /// <summary>The words alone.</summary>
    public string Text => string.Concat(Spans.Select(s => s.Text));
}
