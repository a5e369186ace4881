using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Saying;
using Outcry.Core.Sources;

namespace Outcry.Store.Rows;

/// <summary>How events come in.</summary>
public enum SourceKind
{
    /// <summary>Posted by another system, signed.</summary>
    SignedWebhook,

    /// <summary>Captured from a form by the snippet.</summary>
    SiteForm,

    /// <summary>Reported by the page: named events and basket additions.</summary>
    PageScript,

    /// <summary>Read from files.</summary>
    FileImport,

    /// <summary>Reviews, fetched from an address now and then.</summary>
    ReviewList,

    /// <summary>Totals of profiles elsewhere, fetched from an address now and then.</summary>
    ProfileTotals,

    /// <summary>A feed (RSS or Atom), fetched now and then.</summary>
    Feed,

    /// <summary>Entered by hand at the desk: endorsements, totals, reviews.</summary>
    ByHand,

    /// <summary>Sent by a shop's add-on, which made the connection itself.</summary>
    Shop,

    /// <summary>Written to the team in a launcher's panel; made with the first message.</summary>
    Launcher,

    /// <summary>Answers to prompts.</summary>
    Prompt,
}

/// <summary>How whoever posts to a webhook shows that they may.</summary>
public enum PostingProof
{
    /// <summary>Each message is signed, as Standard Webhooks; whoever reads one cannot write another.</summary>
    Signature,

    /// <summary>The secret is sent with each message, as a bearer token (RFC 6750).</summary>
    Bearer,

    /// <summary>The secret stands in the address, for connectors that can send nothing else; logs on the way may hold it.</summary>
    Address,
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

    /// <summary>How a webhook's sender shows that they may send.</summary>
    public PostingProof Proof { get; set; }

    /// <summary>Which form and which of its fields; null for others.</summary>
    public FormMapping? Form { get; set; }

    /// <summary>What visitors may read of its events.</summary>
    public required DisplayPolicy Display { get; set; }

    public Instant CreatedAt { get; init; }

    /// <summary>When something was last refused here, and what.</summary>
    public Instant? RefusedAt { get; set; }
    public string? RefusedBecause { get; set; }

    /// <summary>The secret before the last rotation, still good until the given time.</summary>
    public string? PreviousSecret { get; set; }
    public Instant? PreviousSecretUntil { get; set; }

    /// <summary>Where everything stands in what others send; null for events in our own shape.</summary>
    public EventMap? Map { get; set; }

    /// <summary>What is let in, and in which state.</summary>
    public SourceRules Rules { get; set; } = SourceRules.Open;

    /// <summary>What is fetched, and how often; null for others.</summary>
    public Polling? Poll { get; set; }

    /// <summary>What the page may report; null for others.</summary>
    public ScriptRules? Script { get; set; }

    /// <summary>Paused: nothing comes in, what came in stays.</summary>
    public Instant? PausedAt { get; set; }

    public Instant? PolledAt { get; set; }

    /// <summary>Deleted sources stay as the origin of their events, and are not listed.</summary>
    public Instant? DeletedAt { get; set; }
}

/// <summary>What an address answers with.</summary>
public enum PollFormat
{
    /// <summary>One JSON object, or a list of them at a pointer.</summary>
    Json,

    /// <summary>One JSON object a line.</summary>
    NdJson,

    /// <summary>Comma-separated values with a heading line.</summary>
    Csv,

    /// <summary>A page with schema.org JSON-LD in it.</summary>
    JsonLd,

    /// <summary>RSS or Atom.</summary>
    Feed,
}

/// <summary>What is fetched from where.</summary>
/// <param name="Address">http or https.</param>
/// <param name="Format">What it answers with.</param>
/// <param name="ListPointer">JSON Pointer to a list of items; empty for the document itself.</param>
/// <param name="EveryMinutes">How often: 5 minutes to a day.</param>
/// <param name="Most">Newest items taken of one answer: 1 to 500.</param>
/// <param name="Of">What a total counts: "followers".</param>
public sealed record Polling(
    string Address,
    PollFormat Format,
    string ListPointer,
    int EveryMinutes,
    int Most,
    string Of = ""
);

/// <summary>What the page may report by script.</summary>
/// <param name="Names">Names of own events that are taken; none takes every name.</param>
/// <param name="BasketSelector">CSS selector of buttons that put something into the basket; empty for marked ones only.</param>
/// <param name="ProductSelector">CSS selector of the element that names the product on that page.</param>
public sealed record ScriptRules(IReadOnlyList<string> Names, string BasketSelector, string ProductSelector)
{
    /// <summary>Every name, marked buttons, the page's heading as the product.</summary>
    public static ScriptRules Start { get; } = new([], "", "h1");
}

/// <summary>What whoever sends a form of the site agrees to.</summary>
/// <param name="Text">The words as they stand at the form, 1 to 600 characters.</param>
/// <param name="Box">Field of the box that they tick; null where the words stand above the button.</param>
/// <param name="Confirms">Whether it counts only once they confirm it by mail.</param>
/// <param name="Tags">Tags they are given.</param>
public sealed record FormPromise(string Text, string? Box, bool Confirms, IReadOnlyList<string> Tags)
{
    /// <summary>The longest promise, in characters.</summary>
    public const int LongestText = 600;
}

/// <summary>Which form of the site, and which fields mean what. A field that is not named never leaves the page.</summary>
/// <param name="Form">The form's id or name attribute, or "fields:" and its field names for one that has neither.</param>
/// <param name="Pages">Patterns of the pages it stands on; none for every page.</param>
/// <param name="FirstName">Field of the first name, or of the whole name; null when it has none.</param>
/// <param name="LastName">Field of the last name.</param>
/// <param name="Email">Field of the e-mail address.</param>
/// <param name="Product">Field of what it is about.</param>
/// <param name="Fields">Further fields to keep, by name.</param>
/// <param name="Amount">Field of an amount of money.</param>
/// <param name="Phone">Field of the phone number.</param>
/// <param name="Currency">ISO 4217 code of the amount.</param>
/// <param name="Success">How one knows that it went through; null for when it is sent.</param>
/// <param name="Promise">What whoever sends it agrees to: they are a lead then; null for none.</param>
public sealed record FormMapping(
    string Form,
    IReadOnlyList<string> Pages,
    string? FirstName,
    string? LastName,
    string? Email,
    string? Product,
    IReadOnlyList<string> Fields,
    string? Amount = null,
    string? Phone = null,
    string? Currency = null,
    FormSuccess? Success = null,
    FormPromise? Promise = null
)
{
    /// <summary>Every field that may leave the page.</summary>
    public IReadOnlyList<string> Wanted =>
        [
            .. new[] { FirstName, LastName, Email, Product, Amount, Phone, Promise?.Box }
                .OfType<string>()
                .Concat(Fields)
                .Distinct(),
        ];
}
