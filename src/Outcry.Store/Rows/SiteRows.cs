using NodaTime;
using Outcry.Core.Planning;

namespace Outcry.Store.Rows;

/// <summary>One web property.</summary>
public sealed class SiteRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public required string Name { get; set; }

    /// <summary>Public key in the snippet's address.</summary>
    public required string Key { get; init; }

    /// <summary>Where the site starts, absolute.</summary>
    public required string HomeAddress { get; set; }

    /// <summary>Hosts (with port where there is one) from which the snippet is answered.</summary>
    public required List<string> AllowedHosts { get; set; }

    /// <summary>IANA time zone.</summary>
    public required string TimeZone { get; set; }

    public required HouseRules Rules { get; set; }
    public bool OffAir { get; set; }

    /// <summary>Signs visitor passports and private links of this site.</summary>
    public required byte[] SigningKey { get; init; }

    public Instant? HeardAt { get; set; }

    /// <summary>Address of the page from which the snippet was last heard.</summary>
    public string? HeardPage { get; set; }

    public Instant CreatedAt { get; init; }
}

/// <summary>A named set of page patterns.</summary>
public sealed class PageGroupRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }
    public required string Name { get; set; }
    public required List<string> Includes { get; set; }
    public List<string> Excludes { get; set; } = [];

    /// <summary>Place on the run sheet, from the top.</summary>
    public int Position { get; set; }
}
