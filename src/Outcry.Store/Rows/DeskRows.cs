using NodaTime;

namespace Outcry.Store.Rows;

/// <summary>A picture that is kept with the site, so that it cannot vanish.</summary>
public sealed class PictureRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }
    public required string Name { get; set; }

    /// <summary>As found in the bytes, not as claimed.</summary>
    public required string MediaType { get; init; }
    public int Width { get; init; }
    public int Height { get; init; }
    public bool IsMoving { get; init; }
    public required byte[] Bytes { get; init; }

    /// <summary>SHA-256 of what was sent, so that the same picture is kept once.</summary>
    public required byte[] Hash { get; init; }

    /// <summary>The address it was fetched from; null for an upload.</summary>
    public string? FetchedFrom { get; init; }
    public Instant AddedAt { get; init; }
    public required string AddedBy { get; init; }
}

/// <summary>An element that a member pointed at on the site's own page, until it is used or a day old.</summary>
public sealed class PointRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }
    public required string Selector { get; init; }

    /// <summary>What the element says, in a few words.</summary>
    public required string Label { get; init; }
    public required string Path { get; init; }

    /// <summary>How many elements of that page the selector meant when it was pointed at.</summary>
    public int Matches { get; init; }
    public Instant At { get; init; }
}
