using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Saying;

namespace Outcry.Store.Rows;

/// <summary>How events come in.</summary>
public enum SourceKind
{
    /// <summary>Posted by another system, signed.</summary>
    SignedWebhook,

    /// <summary>Captured from a form by the snippet.</summary>
    SiteForm,
}

/// <summary>Where events come from.</summary>
public sealed class SourceRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }
    public required string Name { get; set; }
    public SourceKind Kind { get; init; }

    /// <summary>What its events are, unless an event says otherwise itself.</summary>
    public EventKind EventKind { get; init; }

    /// <summary>Signing secret of a webhook, "whsec_" and base64; null for others.</summary>
    public string? Secret { get; set; }

    /// <summary>Which form and which of its fields; null for others.</summary>
    public FormMapping? Form { get; set; }

    /// <summary>What visitors may read of its events.</summary>
    public required DisplayPolicy Display { get; set; }

    public Instant CreatedAt { get; init; }

    /// <summary>When something was last refused here, and what.</summary>
    public Instant? RefusedAt { get; set; }
    public string? RefusedBecause { get; set; }
}

/// <summary>Which form of the site, and which fields mean what. A field that is not named never leaves the page.</summary>
/// <param name="Form">The form's id or name attribute.</param>
/// <param name="Pages">Patterns of the pages it stands on; none for every page.</param>
/// <param name="FirstName">Field of the first name, or of the whole name; null when it has none.</param>
/// <param name="LastName">Field of the last name.</param>
/// <param name="Email">Field of the e-mail address.</param>
/// <param name="Product">Field of what it is about.</param>
/// <param name="Fields">Further fields to keep, by name.</param>
public sealed record FormMapping(
    string Form,
    IReadOnlyList<string> Pages,
    string? FirstName,
    string? LastName,
    string? Email,
    string? Product,
    IReadOnlyList<string> Fields
)
{
    /// <summary>Every field that may leave the page.</summary>
    public IReadOnlyList<string> Wanted =>
        [.. new[] { FirstName, LastName, Email, Product }.OfType<string>().Concat(Fields).Distinct()];
}
