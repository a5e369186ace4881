using NodaTime;

namespace Outcry.Store.Rows;

/// <summary>A mail or a text message that is to be sent; it is deleted once a server has taken it.</summary>
public sealed class LetterRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }
    public required string To { get; init; }

    /// <summary>Whether it goes as a text message, to a number; else as a mail, to an address.</summary>
    public bool IsText { get; init; }

    /// <summary>Whose address it is, to be noted where nobody is there; null for none of a lead's.</summary>
    public Guid? LeadId { get; init; }

    /// <summary>The event it tells of, by the id under which that came; to one address it is told once.</summary>
    public required string About { get; init; }

    /// <summary>Who is to be answered; null for nobody.</summary>
    public string? ReplyTo { get; init; }
    public required string Subject { get; init; }
    public required string Text { get; init; }

    /// <summary>The same with a button, for whoever reads mails so; null for text alone.</summary>
    public string? Html { get; init; }

    /// <summary>Where one press takes back what was agreed to (RFC 8058); null where nothing is.</summary>
    public string? LeaveAt { get; init; }

    /// <summary>An iCalendar invitation that goes with it (RFC 6047); null for none.</summary>
    public string? Calendar { get; init; }
    public Instant MadeAt { get; init; }

    /// <summary>How often it was tried.</summary>
    public int Tries { get; set; }

    /// <summary>When it is tried next.</summary>
    public Instant NextAt { get; set; }
}
