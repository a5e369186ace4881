using NodaTime;

namespace Outcry.Store.Rows;

/// <summary>How a request for a second look stands.</summary>
public enum ReviewState
{
    /// <summary>It waits.</summary>
    Asked,

    /// <summary>The draft as it was then may go live.</summary>
    Approved,

    /// <summary>Its author is to change something first.</summary>
    SentBack,

    /// <summary>It was taken back.</summary>
    Withdrawn,

    /// <summary>It went live.</summary>
    Published,
}

/// <summary>A draft that somebody is asked to look at before it goes live.</summary>
public sealed class ReviewRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }
    public Guid DefinitionId { get; init; }
    public ReviewState State { get; set; }
    public Guid AskedById { get; init; }
    public required string AskedBy { get; init; }

    /// <summary>Who is asked; null for any publisher.</summary>
    public Guid? OfId { get; init; }

    /// <summary>What the author says about it; may be empty.</summary>
    public required string Sentence { get; init; }
    public Instant AskedAt { get; init; }
    public string? DecidedBy { get; set; }
    public Guid? DecidedById { get; set; }
    public Instant? DecidedAt { get; set; }

    /// <summary>The draft's version that was approved; an edit makes a newer one.</summary>
    public int? ApprovedVersion { get; set; }

    /// <summary>Whose edit took an approval away; null for nobody's.</summary>
    public string? UndoneBy { get; set; }

    /// <summary>What was said about it, in order.</summary>
    public List<ReviewNote> Notes { get; set; } = [];
}

/// <summary>Something said at a sentence of a draft.</summary>
/// <param name="Field">Which sentence: "say", "howOften"; empty for the whole.</param>
public sealed record ReviewNote(string Field, string Text, string By, Instant At);
