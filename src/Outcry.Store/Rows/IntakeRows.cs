using NodaTime;

namespace Outcry.Store.Rows;

/// <summary>What became of something that was delivered.</summary>
public enum DeliveryVerdict
{
    /// <summary>An event was taken in.</summary>
    Accepted,

    /// <summary>It was there already.</summary>
    Repeated,

    /// <summary>It did not meet the source's conditions, or the source is paused; nothing was kept.</summary>
    LeftOut,

    /// <summary>It could not be taken.</summary>
    Refused,
}

/// <summary>One delivery at a webhook, with its body for as long as the site keeps them. The body is encrypted: it names people.</summary>
public sealed class DeliveryRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }
    public Guid SourceId { get; init; }
    public Instant At { get; init; }
    public DeliveryVerdict Verdict { get; init; }

    /// <summary>Status answered.</summary>
    public int Status { get; init; }

    /// <summary>Why it was refused or left out.</summary>
    public string? Because { get; init; }

    /// <summary>The sender's id of the delivery.</summary>
    public string? MessageId { get; init; }
    public string? ContentType { get; init; }
    public required byte[] SealedBody { get; init; }
    public Guid? EventId { get; init; }

    /// <summary>The delivery that this one sent again, if it did.</summary>
    public Guid? ResendOf { get; init; }
}

/// <summary>A form that the snippet met, or that was found on a page by its address. Never any value.</summary>
public sealed class FoundFormRow : IWorkspaceOwned
{
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }

    /// <summary>Its id or name, or "fields:" and its field names.</summary>
    public required string Key { get; init; }
    public required string Path { get; init; }
    public required List<FoundField> Fields { get; set; }
    public Instant FirstAt { get; init; }
    public Instant LastAt { get; set; }
}

/// <summary>A form that was sent while no source listened to it: when and where, never anything that was in it.</summary>
public sealed class FormSendRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }

    /// <summary>The form, called as among those that were met.</summary>
    public required string Key { get; init; }

    /// <summary>Address of the page, shorn as with events.</summary>
    public required string Page { get; init; }
    public Instant At { get; init; }
    public required string VisitorId { get; init; }
}

/// <summary>The shop of a site that an add-on connects. One a site.</summary>
public sealed class ShopRow : IWorkspaceOwned
{
    public Guid SiteId { get; init; }
    public Guid WorkspaceId { get; init; }

    /// <summary>What the add-on signs with, "whsec_" and base64.</summary>
    public required string Key { get; set; }
    public Instant CreatedAt { get; init; }

    /// <summary>How the shop calls itself; null until it has connected.</summary>
    public string? Name { get; set; }
    public Instant? ConnectedAt { get; set; }

    /// <summary>When it last sent something that was taken.</summary>
    public Instant? HeardAt { get; set; }

    /// <summary>What it last sent and was refused for.</summary>
    public Instant? RefusedAt { get; set; }
    public string? RefusedBecause { get; set; }

    /// <summary>The sources it fills.</summary>
    public Guid? OrdersId { get; set; }
    public Guid? StockId { get; set; }
}

/// <summary>A field of a form: what it is called, never what is in it.</summary>
/// <param name="Name">The name attribute.</param>
/// <param name="Type">The type attribute, or the element's name.</param>
/// <param name="Label">What stands beside it for people.</param>
/// <param name="Autocomplete">Autofill tokens.</param>
public sealed record FoundField(string Name, string Type, string Label, string Autocomplete = "");

/// <summary>Where an import stands.</summary>
public enum ImportState
{
    /// <summary>Reading.</summary>
    Running,

    /// <summary>Read to the end.</summary>
    Done,

    /// <summary>Stopped by a member; what was read stays.</summary>
    Cancelled,

    /// <summary>Broken off; what was read stays.</summary>
    Failed,
}

/// <summary>One file read.</summary>
public sealed class ImportRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }
    public Guid SourceId { get; init; }
    public required string FileName { get; init; }
    public required string StartedBy { get; init; }
    public Instant StartedAt { get; init; }
    public Instant? EndedAt { get; set; }
    public ImportState State { get; set; }
    public bool IsDryRun { get; init; }
    public int Read { get; set; }
    public int Added { get; set; }
    public int Repeated { get; set; }
    public int Held { get; set; }
    public int LeftOut { get; set; }
    public int Rejected { get; set; }
    public string? Because { get; set; }
}

/// <summary>One row of a file that could not be taken, and why. Holds nothing of the row but its place.</summary>
public sealed class RejectRow : IWorkspaceOwned
{
    public Guid WorkspaceId { get; init; }
    public Guid ImportId { get; init; }

    /// <summary>Number of the row in the file, the heading being row 1.</summary>
    public int Row { get; init; }
    public required string Field { get; init; }
    public required string Because { get; init; }

    /// <summary>The row as it stands in the file, at most 2,000 characters.</summary>
    public string Original { get; set; } = "";
}

/// <summary>A visitor of whom the page said something.</summary>
public sealed class VisitorRow : IWorkspaceOwned
{
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }
    public required string VisitorId { get; init; }
    public Instant FirstAt { get; init; }
    public Instant LastAt { get; set; }

    /// <summary>What the page said, by name; e-mail, phone and name only as masks.</summary>
    public Dictionary<string, string> Attributes { get; set; } = [];

    /// <summary>Whether the page's own server signed it.</summary>
    public bool IsSigned { get; set; }

    /// <summary>Keyed hash of the site's own id of them, where that was signed.</summary>
    public byte[]? Person { get; set; }
    public string? EmailKey { get; set; }
    public string? PhoneKey { get; set; }
}
