using Outcry.Server.Sites;

namespace Outcry.Server.Passports;

/// <summary>How the desk opens the site's own page as a stage.</summary>
/// <param name="Origin">The site's origin, to which changes are announced.</param>
/// <param name="Fragment">What goes behind the "#" of any of its pages.</param>
/// <param name="Sketch">What goes before the path of a page for a sketch of it at the desk.</param>
/// <param name="IsHeard">Whether the snippet was ever heard on the site.</param>
internal sealed record StageView(string Origin, string Fragment, string Sketch, bool IsHeard)
{
    public static StageView Of(LiveSite site, string token) =>
        new(
            new Uri(site.HomeAddress).GetLeftPart(UriPartial.Authority),
            $"#{PrivateToken.FragmentName}={token}",
            StageSketch.PathOf(site.Id),
            site.Hearing.HeardAt is not null
        );
}
