namespace Outcry.Core.Publishing;

/// <summary>How a site's things look to begin with; each may be changed by itself afterwards.</summary>
/// <param name="Band">Colour of the band and the button, #RRGGBB.</param>
/// <param name="Ground">Colour of the ground, #RRGGBB.</param>
/// <param name="OnRight">Whether things stand at the right of the screen; else at its left.</param>
/// <param name="StaySeconds">Seconds that a callout stays, 2 to 120.</param>
public sealed record BrandKit(string Band, string Ground, bool OnRight, int StaySeconds);
