using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Targeting;

/// <summary>How a callout takes its place on the page.</summary>
public enum CalloutClass
{
    /// <summary>On top of the page at an edge: slip, ribbon, drawer, crawl, a greeting's bubble.</summary>
    Floating,

    /// <summary>Over the page, to be dealt with first: poster, curtain.</summary>
    Dialog,

    /// <summary>In the page's own content.</summary>
    Inset,
}
