using NodaTime;
using Outcry.Core.Publishing;

namespace Outcry.Store.Rows;

/// <summary>Anything that is drafted, published and revised, of whatever kind, with the draft that is being worked on.</summary>
public sealed class DefinitionRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }

    /// <summary>The word of its kind: "callout".</summary>
    public required string Kind { get; init; }
    public required string Name { get; set; }
    public DefinitionState State { get; set; }
    public required KeptContent Draft { get; set; }

    /// <summary>Grows with every save, so that two editors cannot overwrite each other unseen.</summary>
    public int DraftVersion { get; set; }

    /// <summary>Number of the newest revision; 0 before the first publication.</summary>
    public int Revision { get; set; }

    public Instant CreatedAt { get; init; }
    public Instant ChangedAt { get; set; }
    public required string ChangedBy { get; set; }

    /// <summary>Who wrote at its draft since it was published last.</summary>
    public List<Guid> Authors { get; set; } = [];

    /// <summary>The team's own group for it in the list; empty for none.</summary>
    public string Group { get; set; } = "";

    /// <summary>When it was deleted; for 30 days it can be taken back. Null while it is there.</summary>
    public Instant? DeletedAt { get; set; }

    /// <summary>It as the core knows it, in the state it has or would have.</summary>
    public Definition In(DefinitionState state) => new(Id, Name, state, CreatedAt, Revision);

    /// <summary>Freezes the draft as the next revision.</summary>
    public RevisionRow Freeze(Instant at, string by) =>
        new()
        {
            WorkspaceId = WorkspaceId,
            DefinitionId = Id,
            Number = ++Revision,
            Content = Draft,
            PublishedAt = at,
            PublishedBy = by,
        };
}

/// <summary>A frozen version of a definition's content.</summary>
public sealed class RevisionRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public Guid DefinitionId { get; init; }
    public int Number { get; init; }
    public required KeptContent Content { get; init; }
    public Instant PublishedAt { get; init; }
    public required string PublishedBy { get; init; }
}
