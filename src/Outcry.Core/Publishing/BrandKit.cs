namespace Outcry.Core.Publishing;

/// <summary>The letters in which something is set. Nothing is fetched for it: they are the page's or the reader's own.</summary>
public enum Typeface
{
    /// <summary>As the page around it.</summary>
    Page,

    /// <summary>The reader's own upright letters without serifs.</summary>
    Sans,

    /// <summary>With serifs.</summary>
    Serif,

    /// <summary>All of one width.</summary>
    Mono,
}

/// <summary>How readers of one language are spoken to.</summary>
/// <param name="Language">BCP 47 tag; empty for the site's own.</param>
/// <param name="Words">The form of address and the manner, in a few words: "du, friendly"; at most 120 characters.</param>
public sealed record Tone(string Language, string Words);

/// <summary>How a site's things look to begin with; each may be changed by itself afterwards.</summary>
/// <param name="Band">Colour of the band and the button, #RRGGBB.</param>
/// <param name="Ground">Colour of the ground, #RRGGBB.</param>
/// <param name="OnRight">Whether things stand at the right of the screen; else at its left.</param>
/// <param name="StaySeconds">Seconds that a callout stays, 2 to 120.</param>
/// <param name="Typeface">The letters.</param>
/// <param name="CornerPx">How round corners are, 0 to 24 CSS pixels.</param>
/// <param name="Logo">Address of a picture that speaks where nobody does; empty for none.</param>
/// <param name="Picture">Address of the picture where there would be a plain sign; empty for none.</param>
public sealed record BrandKit(
    string Band,
    string Ground,
    bool OnRight,
    int StaySeconds,
    Typeface Typeface,
    int CornerPx = BrandKit.UsualCornerPx,
    string Logo = "",
    string Picture = ""
)
{
    /// <summary>How readers are spoken to, one for a language: beside the words while they are written.</summary>
    public IReadOnlyList<Tone> Tones { get; init; } = [];

    /// <summary>How round corners are where nobody chose otherwise.</summary>
    public const int UsualCornerPx = 10;

    /// <summary>The roundest that still leaves room for the words.</summary>
    public const int MostCornerPx = 24;
}
