using NodaTime;

namespace Outcry.Store.Rows;

/// <summary>Whether an element that some callout asks for was on a page when it was last looked at.</summary>
public sealed class PlaceRow : IWorkspaceOwned
{
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }
    public required string Path { get; init; }
    public required string Selector { get; init; }
    public bool Found { get; set; }

    /// <summary>Whether it was in view as the page was arrived at.</summary>
    public bool InView { get; set; }
    public Instant At { get; set; }
}
