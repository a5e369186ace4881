namespace Outcry.Server.Sites;

/// <summary>A key with which a site signs one sort of thing, and the one before it.</summary>
/// <param name="Current">Signs, and is believed.</param>
/// <param name="Previous">Is believed still, so that nothing given out is worth nothing all at once; null for none.</param>
internal sealed record SiteKeys(byte[] Current, byte[]? Previous = null);
