using NodaTime;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;

namespace Outcry.Store.Rows;

/// <summary>A callout with the draft that is being worked on.</summary>
public sealed class CalloutRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }
    public required string Name { get; set; }
    public DefinitionState State { get; set; }
    public required Brief Draft { get; set; }

    /// <summary>Grows with every save, so that two editors cannot overwrite each other unseen.</summary>
    public int DraftVersion { get; set; }

    /// <summary>Number of the newest revision; 0 before the first publication.</summary>
    public int Revision { get; set; }

    public Instant CreatedAt { get; init; }
    public Instant ChangedAt { get; set; }
    public required string ChangedBy { get; set; }

    /// <summary>The team's own group for it in the list; empty for none.</summary>
    public string Group { get; set; } = "";
}

/// <summary>A frozen version of a brief.</summary>
public sealed class RevisionRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public Guid CalloutId { get; init; }
    public int Number { get; init; }
    public required Brief Brief { get; init; }
    public Instant PublishedAt { get; init; }
    public required string PublishedBy { get; init; }
}
