namespace Outcry.Core.Saying;

/// <summary>A run of text in one style: what a message is made of once rendered. Never markup, so nothing in it can be executed.</summary>
/// <param name="Text">The text itself; "\n" is a line break.</param>
/// <param name="Bold">Bold.</param>
/// <param name="Italic">Italic.</param>
/// <param name="Link">Where it leads, already checked by <see cref="SafeLink"/>; null for plain text.</param>
/// <param name="Underlined">Underlined.</param>
public sealed record Span(
    string Text,
    bool Bold = false,
    bool Italic = false,
    string? Link = null,
    bool Underlined = false
);
