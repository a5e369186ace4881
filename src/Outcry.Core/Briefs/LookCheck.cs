using Outcry.Core.Asking;
using Outcry.Core.Pages;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;

namespace Outcry.Core.Briefs;

/// <summary>Checks how a brief looks.</summary>
internal static class LookCheck
{
    /// <summary>Said of corners that are too round.</summary>
    public static readonly string Corners = $"Corners are between 0 and {BrandKit.MostCornerPx} pixels round.";

    public static IEnumerable<Problem> Problems(Brief brief)
    {
        var look = brief.Look;
        if (!Contrast.IsColour(look.Band))
            yield return Blocking("look.band", "The band's colour must be of the form #9C3517.");
        if (!Contrast.IsColour(look.Ground))
            yield return Blocking("look.ground", "The ground's colour must be of the form #FFFFFF.");
        if (look.CornerPx is < 0 or > BrandKit.MostCornerPx)
            yield return Blocking("look.cornerPx", Corners);
        if (look.StaySeconds is < 2 or > 120)
            yield return Blocking("look.staySeconds", "It must stay between 2 and 120 seconds, or until closed.");
        if (look.Shape == Shape.Inset && look.Anchor.Trim().Length == 0)
            yield return Blocking(
                "look.anchor",
                "An inset needs its place in the page: a selector such as [data-outcry=\"price\"] or #description."
            );
        else if (look.Shape == Shape.Inset && !CssSelector.IsReadable(look.Anchor))
            yield return Blocking(
                "look.anchor",
                $"\"{look.Anchor}\" is no selector that a browser can read. Write one such as #description."
            );
        if (look.Shape == Shape.Bubble)
            yield return Blocking("look.shape", "A bubble is a greeting's, by its launcher. Choose another shape.");
        if (look.Anchor.Length > 300)
            yield return Blocking("look.anchor", "A selector has at most 300 characters.");
        if (
            look is { CloseMark: false, StaySeconds: null }
            && look.Shape is not (Shape.Inset or Shape.Poster or Shape.Curtain)
        )
            yield return Blocking(
                "look.closeMark",
                "It would stay for ever: without a close mark it needs seconds after which it goes."
            );
        if (look.Backdrop.Length > 0 && SafeLink.TryPassPicture(look.Backdrop) is null)
            yield return Blocking(
                "look.backdrop",
                "The picture behind it is not an address. Write one that starts with https://, or a path such as /pictures/kiln.jpg."
            );
        else if (look.Backdrop.Length > 0 && !look.HasRoomBehind)
            yield return new Problem(
                "look.backdrop",
                $"A {look.Shape.ToString().ToLowerInvariant()} has no room for a picture behind it: a poster, a curtain and a drawer have.",
                Blocks: false
            );
        foreach (var problem in OfSecond(brief.Ask?.Second ?? SecondFace.Same))
            yield return problem;
        if (!ShapeSense.Fits(brief.Kind, look.Shape))
            yield return new Problem(
                "look.shape",
                $"A {brief.Kind.ToString().ToLowerInvariant()} is hardly worth a {look.Shape.ToString().ToLowerInvariant()}: a calmer shape says it as well.",
                Blocks: false
            );
    }

    private static IEnumerable<Problem> OfSecond(SecondFace second)
    {
        if (second.Picture.Length > 0 && SafeLink.TryPassPicture(second.Picture) is null)
            yield return Blocking(
                "ask.second",
                "The picture after a yes is not an address. Write one that starts with https://, or a path such as /pictures/kiln.jpg."
            );
        foreach (var colour in new[] { second.Band, second.Ground })
            if (colour.Length > 0 && !Contrast.IsColour(colour))
                yield return Blocking("ask.second", "A colour after a yes must be of the form #9C3517.");
    }

    private static Problem Blocking(string field, string message) => new(field, message);
}
