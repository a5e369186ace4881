namespace Outcry.Core.Publishing;

/// <summary>Something in a definition that cannot go live, or that its author should know.</summary>
/// <param name="Field">Which field, in the API's spelling, from the outside in: "when.schedule.until".</param>
/// <param name="Message">A sentence for the author.</param>
/// <param name="Blocks">Whether it stands in the way of publishing.</param>
public sealed record Problem(string Field, string Message, bool Blocks = true)
{
    /// <summary>Of a text: the very word that is meant, or the token; empty for the whole.</summary>
    public string Word { get; init; } = "";

    /// <summary>Whether it keeps it from being published and not from being looked at: it can be drawn as it is.</summary>
    public bool MayBeStaged { get; init; }

    /// <summary>Something that its author should know and that stands in nobody's way.</summary>
    public static Problem Hint(string field, string message) => new(field, message, Blocks: false);
}
