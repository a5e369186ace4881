using System.Text.Json;
using System.Text.Json.Serialization;
using Outcry.Core.Planning;

namespace Outcry.Server.Visitor;

/// <summary>What the snippet asks at the start of a page view.</summary>
/// <param name="Site">The site key.</param>
/// <param name="Page">The page's address.</param>
/// <param name="Width">Width of the view in CSS pixels.</param>
/// <param name="Passport">What this browser was last given; null for a new visitor.</param>
/// <param name="Token">A private link's token, if this browser came by one.</param>
/// <param name="Log">What became of callouts since the passport was given.</param>
/// <param name="Agreed">Whether the page said that the visitor agreed to storing.</param>
/// <param name="Gpc">Whether the browser sends Global Privacy Control.</param>
internal sealed record PlanRequest(
    string Site,
    string Page,
    int Width,
    string? Passport = null,
    string? Token = null,
    IReadOnlyList<LogEntry>? Log = null,
    bool Agreed = false,
    bool Gpc = false
);

/// <summary>One thing that became of a callout.</summary>
/// <param name="Callout">Which.</param>
/// <param name="What">"start", "end", "close" or "click".</param>
/// <param name="AgoMs">Milliseconds before the request was sent, 0 to 365 days.</param>
internal sealed record LogEntry(Guid Callout, string What, long AgoMs);

/// <summary>What the browser is to perform on this page view.</summary>
/// <param name="Store">Whether anything may be kept in the browser.</param>
/// <param name="Baskets">What on the page puts something into the basket.</param>
internal sealed record PlanResponse(
    string Visitor,
    string Passport,
    bool Counted,
    bool Store,
    RulesPart Rules,
    VisitPart Visit,
    IReadOnlyList<CuePart> Cues,
    IReadOnlyList<FormPart> Forms,
    IReadOnlyList<BasketPart> Baskets,
    MarkPart? Mark,
    StagePart? Stage
);

internal sealed record RulesPart(int AtOnce, int GapMs, int MostPerVisit, int PatienceMs);

internal sealed record VisitPart(int Starts, long? SinceLastEndMs, long HushLeftMs);

internal sealed record CuePart(
    Guid Id,
    int Priority,
    long DueMs,
    long TurnGapMs,
    long HushMs,
    Side Side,
    string Band,
    string Ground,
    string Ink,
    bool CloseMark,
    bool NewTab,
    bool Framed,
    IReadOnlyList<ReadyTurn> Turns
);

/// <summary>One turn, already worded. A stay of null lasts until it is closed.</summary>
internal sealed record TurnPart(
    IReadOnlyList<SpanPart> Spans,
    string Meta,
    string? Picture,
    string Initials,
    string? Link,
    long? StayMs
);

/// <summary>
/// A <see cref="TurnPart"/> already written as UTF-8 JSON. A turn is the same for everybody who is told it, so it is
/// written once for each snapshot and copied for each visitor.
/// </summary>
[JsonConverter(typeof(ReadyTurnWriter))]
internal sealed record ReadyTurn(byte[] Json);

internal sealed class ReadyTurnWriter : JsonConverter<ReadyTurn>
{
    public override ReadyTurn Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        throw new NotSupportedException("Turns are only ever written here.");

    public override void Write(Utf8JsonWriter writer, ReadyTurn value, JsonSerializerOptions options) =>
        writer.WriteRawValue(value.Json, skipInputValidation: true);
}

/// <summary>A run of text: t text, b bold, i italic, h link.</summary>
internal sealed record SpanPart(string T, bool? B, bool? I, string? H);

/// <summary>A form to watch; only the named fields may leave the page.</summary>
/// <param name="Page">Pattern of the page that proves it went through, as a regular expression over the path; null for none.</param>
/// <param name="Element">Selector of the element that proves it; null for none.</param>
internal sealed record FormPart(
    Guid Source,
    string Form,
    IReadOnlyList<string> Fields,
    string? Page = null,
    string? Element = null
);

/// <summary>What on a page puts something into the basket: a selector besides the marked buttons, and what names the product.</summary>
internal sealed record BasketPart(string Selector, string Product);

/// <summary>The private mark that only a browser which came by the signed link sees.</summary>
/// <param name="Next">Where to go on, and in which words; null for nowhere.</param>
internal sealed record MarkPart(string Title, IReadOnlyList<string> Lines, NextPart? Next = null);

internal sealed record NextPart(string Words, string Address);

/// <summary>The stage's own word: why there is nothing to show, if so.</summary>
internal sealed record StagePart(string? Note);

/// <summary>What the snippet reports.</summary>
internal sealed record SignalsRequest(
    string Site,
    string Page,
    int Width,
    string Passport,
    IReadOnlyList<SignalPart>? Signals = null,
    FormSubmission? Form = null,
    IReadOnlyList<TrackPart>? Track = null,
    IdentifyPart? Identify = null,
    IReadOnlyList<FoundFormPart>? Found = null,
    bool Gpc = false
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

/// <summary>One report.</summary>
/// <param name="Id">Made by the snippet; sent twice it counts once.</param>
/// <param name="Kind">"view", "left", "shown", "clicked", "closed" or "alive".</param>
/// <param name="Callout">About which callout; needed for shown, clicked and closed.</param>
/// <param name="Value">For "left": visible milliseconds on the page.</param>
internal sealed record SignalPart(Guid Id, string Kind, Guid? Callout = null, int Value = 0);

/// <summary>A form that was sent, with the fields its source names and no others.</summary>
internal sealed record FormSubmission(Guid Id, Guid Source, IReadOnlyDictionary<string, string> Fields);

internal sealed record SignalsResponse(int Accepted);

[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
    UseStringEnumConverter = true,
    RespectNullableAnnotations = true,
    RespectRequiredConstructorParameters = true
)]
[JsonSerializable(typeof(PlanRequest))]
[JsonSerializable(typeof(PlanResponse))]
[JsonSerializable(typeof(TurnPart))]
[JsonSerializable(typeof(SignalsRequest))]
[JsonSerializable(typeof(SignalsResponse))]
[JsonSerializable(typeof(PassportBody))]
[JsonSerializable(typeof(PrivateTokenBody))]
internal sealed partial class VisitorJson : JsonSerializerContext;
