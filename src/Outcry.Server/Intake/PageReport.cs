using System.Text.Json;

namespace Outcry.Server.Intake;

/// <summary>What a page's own script and its visitor told, beside forms.</summary>
/// <param name="Page">The page's address as the browser said it.</param>
internal sealed record PageReport(
    string Page,
    IReadOnlyList<TrackPart>? Track,
    IdentifyPart? Identify,
    IReadOnlyList<FoundFormPart>? Found,
    string? Sent
);

/// <summary>Something that the page itself reports by name; "basket" is a basket addition.</summary>
/// <param name="Id">Made by the snippet; sent twice it counts once.</param>
/// <param name="Name">1 to 60 characters.</param>
/// <param name="Data">At most 20 texts or numbers.</param>
internal sealed record TrackPart(Guid Id, string Name, IReadOnlyDictionary<string, JsonElement>? Data = null);

/// <summary>What the page says of its visitor, perhaps signed by the site's own server.</summary>
/// <param name="Data">At most 20 texts or numbers; email, phone and name are kept as masks only.</param>
/// <param name="Signature">HMAC-SHA-256 of the visitor's "id" in the data, in hex, with the site's identity secret.</param>
internal sealed record IdentifyPart(IReadOnlyDictionary<string, JsonElement> Data, string? Signature = null);

/// <summary>A form that stands on the page: what its fields are called, never what is in them.</summary>
internal sealed record FoundFormPart(string Key, IReadOnlyList<FoundFieldPart> Fields);

internal sealed record FoundFieldPart(string Name, string Type, string Label, string? Autocomplete = null);

/// <summary>A form that was sent, with the fields its source names and no others.</summary>
internal sealed record FormSubmission(Guid Id, Guid Source, IReadOnlyDictionary<string, string> Fields);
