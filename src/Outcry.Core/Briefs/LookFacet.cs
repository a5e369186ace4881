using System.Text.Json.Serialization;
using Outcry.Core.Publishing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Briefs;

/// <summary>How it sits on the page.</summary>
public enum Shape
{
    /// <summary>A small card in a corner.</summary>
    Slip,

    /// <summary>A band from edge to edge.</summary>
    Ribbon,

    /// <summary>A panel that slides in from a side.</summary>
    Drawer,

    /// <summary>A centred dialog.</summary>
    Poster,

    /// <summary>A dialog over the whole page.</summary>
    Curtain,

    /// <summary>Inside the page's own content.</summary>
    Inset,

    /// <summary>One line along an edge that turns over.</summary>
    Crawl,

    /// <summary>A greeting's, by its launcher's button.</summary>
    Bubble,
}

/// <summary>The side of the screen.</summary>
public enum Side
{
    /// <summary>Left.</summary>
    Left,

    /// <summary>Right.</summary>
    Right,
}

/// <summary>The edge of the screen.</summary>
public enum Edge
{
    /// <summary>Bottom.</summary>
    Bottom,

    /// <summary>Top.</summary>
    Top,
}

/// <summary>Where an inset stands, seen from its element.</summary>
public enum InsetPlace
{
    /// <summary>Before it.</summary>
    Before,

    /// <summary>In it, first.</summary>
    First,

    /// <summary>In it, last.</summary>
    Last,

    /// <summary>After it.</summary>
    After,
}

/// <summary>How it looks.</summary>
/// <param name="Shape">The shape.</param>
/// <param name="Side">Side of the screen, for a slip and a drawer.</param>
/// <param name="Edge">Edge of the screen, for a slip, a ribbon and a crawl.</param>
/// <param name="PhoneEdge">The same on phones.</param>
/// <param name="Anchor">For an inset: selector of the element it stands by.</param>
/// <param name="Inset">For an inset: where it stands, seen from that element.</param>
/// <param name="Band">Colour of the band and the button, #RRGGBB.</param>
/// <param name="Ground">Colour of the ground, #RRGGBB.</param>
/// <param name="CloseMark">Whether visitors get a close mark; a dialog always has one.</param>
/// <param name="StaySeconds">Seconds it stays, 2 to 120, before what longer texts add; null for until closed.</param>
/// <param name="Typeface">The letters.</param>
/// <param name="CornerPx">How round its corners are, 0 to 24 CSS pixels.</param>
/// <param name="Backdrop">Address of a picture behind all that a poster, a curtain or a drawer says; empty for none.</param>
public sealed record LookFacet(
    Shape Shape,
    Side Side,
    Edge Edge,
    Edge PhoneEdge,
    string Anchor,
    InsetPlace Inset,
    string Band,
    string Ground,
    bool CloseMark,
    int? StaySeconds,
    Typeface Typeface,
    int CornerPx = BrandKit.UsualCornerPx,
    string Backdrop = ""
)
{
    /// <summary>Whether its shape has room for a picture behind what it says.</summary>
    [JsonIgnore]
    public bool HasRoomBehind => Shape is Shape.Poster or Shape.Curtain or Shape.Drawer;
}
