using System.Security.Cryptography;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Publishing;
using Outcry.Core.Targeting;
using Outcry.Core.Visitors;

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

    /// <summary>Who switched the whole site off or on air last, and when; null before anybody did.</summary>
    public string? SwitchedBy { get; set; }
    public Instant? SwitchedAt { get; set; }

    /// <summary>Signs visitors' passports, and nothing else.</summary>
    public byte[] PassportKey { get; set; } = RandomNumberGenerator.GetBytes(32);

    /// <summary>The one before it, believed until the next change; null for none.</summary>
    public byte[]? PreviousPassportKey { get; set; }

    /// <summary>Signs private links, and nothing else.</summary>
    public byte[] LinkKey { get; set; } = RandomNumberGenerator.GetBytes(32);

    /// <summary>The one before it, believed until the next change; null for none.</summary>
    public byte[]? PreviousLinkKey { get; set; }

    /// <summary>Hashes what tells people apart, and what is forgotten of them; nothing else.</summary>
    public byte[] PersonKey { get; init; } = RandomNumberGenerator.GetBytes(32);

    public Instant? HeardAt { get; set; }

    /// <summary>Address of the page from which the snippet was last heard.</summary>
    public string? HeardPage { get; set; }

    public Instant CreatedAt { get; init; }

    /// <summary>How its things look to begin with; null for the starting values.</summary>
    public BrandKit? Kit { get; set; }

    /// <summary>BCP 47 tag of the language the site mostly speaks.</summary>
    public string Language { get; set; } = "en";

    /// <summary>The site's own neutral nouns by language.</summary>
    public Dictionary<string, string> Nouns { get; set; } = [];

    /// <summary>Built-in words the site replaced, by language, then by key.</summary>
    public Dictionary<string, Dictionary<string, string>> OwnWords { get; set; } = [];

    /// <summary>Hosts on which the team tries things out; what happens there is never shown or counted with the rest.</summary>
    public List<string> TestHosts { get; set; } = [];

    public ConsentMode Consent { get; set; }
    public Retention Keeps { get; set; } = Retention.Start;
    public WordChoice Words { get; set; } = WordChoice.Start;

    /// <summary>Words that were added and for which the ledger is still to be looked through.</summary>
    public List<string> WordsDue { get; set; } = [];

    /// <summary>The last event that was looked at for them; null before the first.</summary>
    public Guid? WordsDueAfter { get; set; }

    /// <summary>With this the page's own server signs what it says of a signed-in visitor.</summary>
    public byte[] IdentitySecret { get; init; } = RandomNumberGenerator.GetBytes(32);

    /// <summary>When the script file was last fetched, and from which host's page, where the browser said so.</summary>
    public Instant? FetchedAt { get; set; }
    public string? FetchedFrom { get; set; }

    /// <summary>When a member removed it; a day later it is gone with all its data. Null for one that stands.</summary>
    public Instant? RemovedAt { get; set; }
    public string? RemovedBy { get; set; }

    /// <summary>A host that is not allowed and from which the snippet was heard nevertheless.</summary>
    public Instant? RefusedAt { get; set; }
    public string? RefusedHost { get; set; }
}

/// <summary>When and where the snippet was last heard on one host.</summary>
public sealed class HeardHostRow : IWorkspaceOwned
{
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }
    public required string Host { get; init; }
    public Instant HeardAt { get; set; }
    public required string Page { get; set; }
}

/// <summary>A named rule over visitor facts, shared by the team.</summary>
public sealed class SegmentRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }
    public required string Name { get; set; }
    public required VisitorRule Rule { get; set; }
    public Instant ChangedAt { get; set; }
    public required string ChangedBy { get; set; }
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
