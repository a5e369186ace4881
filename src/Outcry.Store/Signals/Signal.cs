using NodaTime;

namespace Outcry.Store.Signals;

/// <summary>What the snippet reports.</summary>
public enum SignalKind : short
{
    /// <summary>A page view began.</summary>
    View = 1,

    /// <summary>A page view ended; the value is its visible time in milliseconds.</summary>
    Left = 2,

    /// <summary>A callout was half visible for a second.</summary>
    Shown = 3,

    /// <summary>A callout's link was followed.</summary>
    Clicked = 4,

    /// <summary>A callout's close mark was used.</summary>
    Closed = 5,

    /// <summary>How far a page that was left had been scrolled; the value is percent of its length.</summary>
    Depth = 6,
}

/// <summary>One report of the snippet.</summary>
/// <param name="Id">Made by the snippet; the same report sent twice counts once.</param>
/// <param name="SiteId">The site.</param>
/// <param name="At">When it was received.</param>
/// <param name="Kind">What is reported.</param>
/// <param name="VisitorId">By whose browser.</param>
/// <param name="Visit">Number of the visit.</param>
/// <param name="Path">Path of the page.</param>
/// <param name="CalloutId">About which callout, if any.</param>
/// <param name="Value">A figure that belongs to the kind, else 0.</param>
/// <param name="Device">What the visitor holds.</param>
/// <param name="IsTest">Whether it happened on a test host, whose figures are kept apart.</param>
public sealed record Signal(
    Guid Id,
    Guid SiteId,
    Instant At,
    SignalKind Kind,
    string VisitorId,
    int Visit,
    string Path,
    Guid? CalloutId,
    int Value,
    short Device,
    bool IsTest = false
)
{
    /// <summary>The page's host where it is not the site's own; null where it is.</summary>
    public string? Host { get; init; }

    /// <summary>The query parameters that a rule of the site asks for, or that a campaign has; null for none.</summary>
    public string? Query { get; init; }

    /// <summary>With the first page view of a visit: what else was known of it.</summary>
    public VisitTraits? Traits { get; init; }
}
