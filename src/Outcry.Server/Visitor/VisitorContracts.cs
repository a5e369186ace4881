using System.Buffers;
using System.Text.Json;
using System.Text.Json.Serialization;
using Outcry.Core.Asking;
using Outcry.Core.Briefs;
using Outcry.Core.Greetings;
using Outcry.Core.Timing;
using Outcry.Server.Intake;
using Outcry.Server.Platform;

namespace Outcry.Server.Visitor;

/// <summary>Something that a page sends.</summary>
internal interface IVisitorRequest
{
    /// <summary>The first of its lists that has an empty entry; null when none has.</summary>
    string? EmptyPart { get; }
}

/// <summary>What the snippet asks at the start of a page view.</summary>
/// <param name="Site">The site key.</param>
/// <param name="Page">The page's address.</param>
/// <param name="Width">Width of the view in CSS pixels.</param>
/// <param name="Passport">What this browser was last given; null for a new visitor.</param>
/// <param name="Token">A private link's token, if this browser came by one.</param>
/// <param name="Log">What became of callouts since the passport was given.</param>
/// <param name="Agreed">Whether the page said that the visitor agreed to storing.</param>
/// <param name="Gpc">Whether the browser sends Global Privacy Control.</param>
/// <param name="Languages">The browser's languages, BCP 47, the most wanted first; 10 at most are read.</param>
/// <param name="Referrer">Address of the page that led here; empty for none.</param>
/// <param name="Offset">Minutes by which the visitor's clock is ahead of universal time, -1,080 to 1,080.</param>
/// <param name="Attributes">What the page says of its visitor, none of it private; 20 at most are read.</param>
/// <param name="Known">Whether the page has said who it is.</param>
/// <param name="Again">Whether it asks once more on the same page view, as after consent.</param>
internal sealed record PlanRequest(
    string Site,
    string Page,
    int Width,
    string? Passport = null,
    string? Token = null,
    IReadOnlyList<LogEntry>? Log = null,
    bool Agreed = false,
    bool Gpc = false,
    IReadOnlyList<string>? Languages = null,
    string? Referrer = null,
    int Offset = 0,
    IReadOnlyDictionary<string, string>? Attributes = null,
    bool Known = false,
    bool Again = false
) : IVisitorRequest
{
    [JsonIgnore]
    public string? EmptyPart =>
        Log?.Contains(null!) == true ? "log"
        : Languages?.Contains(null!) == true ? "languages"
        : null;
}

/// <summary>One thing that became of a callout.</summary>
/// <param name="Callout">Which.</param>
/// <param name="What">"start", "end", "close" or "click"; "ask" for a start that the visitor called for by a click.</param>
/// <param name="AgoMs">Milliseconds before the request was sent, 0 to 365 days.</param>
/// <param name="Key">
/// What tells the entry from others of the same visitor, 1 to 24 characters: sent again, as by another tab, it counts once.
/// </param>
internal sealed record LogEntry(Guid Callout, string What, long AgoMs, string? Key = null);

/// <summary>What the browser is to perform on this page view.</summary>
/// <param name="Store">Whether anything may be kept in the browser.</param>
/// <param name="Draw">Path of the file that draws.</param>
/// <param name="Shapes">Path of the file that draws more; null when no cue needs it and no two cards can stand together.</param>
/// <param name="Listen">Path of the file that watches forms and baskets.</param>
/// <param name="Look">Selectors of elements about which the desk wants to know whether they are on this page; null for none.</param>
/// <param name="Ends">By callout: milliseconds from now until its dates or hours end; null when none do within a day.</param>
/// <param name="Baskets">What on the page puts something into the basket.</param>
internal sealed record PlanResponse(
    string Visitor,
    string Passport,
    bool Counted,
    bool Store,
    RulesPart Rules,
    VisitPart Visit,
    IReadOnlyList<ReadyCue> Cues,
    IReadOnlyDictionary<string, WordsPart> Words,
    string Draw,
    string? Shapes,
    string Listen,
    IReadOnlyDictionary<Guid, long>? Ends,
    IReadOnlyList<string>? Look,
    IReadOnlyList<FormPart> Forms,
    IReadOnlyList<BasketPart> Baskets,
    MarkPart? Mark,
    StagePart? Stage
)
{
    /// <summary>The launcher that stands on the page; null for none.</summary>
    public LauncherPart? Launcher { get; init; }

    /// <summary>What it takes to ask on this page; null where no prompt may.</summary>
    public AskOfferPart? Ask { get; init; }
}

/// <summary>The launcher that stands on the page, in the reader's language.</summary>
/// <param name="Script">Path of the file that draws it.</param>
/// <param name="Panel">Path of the file that draws its panel.</param>
/// <param name="Rtl">Whether its language is written from right to left.</param>
/// <param name="Button">Words on the button.</param>
/// <param name="Title">Words above the panel.</param>
/// <param name="Says">Whether the team is there, in words.</param>
/// <param name="OpensAt">When it opens next, in Unix milliseconds, where that is to be said.</param>
/// <param name="Greeting">In large in the panel.</param>
/// <param name="Thanks">After a message was sent.</param>
/// <param name="Fragment">A fragment of the page's address that opens the panel.</param>
/// <param name="Direct">Whether a click leads straight to the channel where only one is offered.</param>
/// <param name="Talk">Null where nobody talks on the page.</param>
internal sealed record LauncherPart(
    string Script,
    string Panel,
    Guid Id,
    string Lang,
    bool? Rtl,
    string Button,
    string Title,
    LauncherLookPart Look,
    bool Open,
    string Says,
    long? OpensAt,
    SpeakerPart? Speaker,
    IReadOnlyList<SpanPart> Greeting,
    string Thanks,
    IReadOnlyList<ChannelPart> Channels,
    string? Fragment,
    bool Direct,
    LauncherWordsPart Words,
    TalkOfferPart? Talk
);

/// <summary>What it takes to talk here.</summary>
/// <param name="Script">Path of the file that holds a talk.</param>
/// <param name="Words">Its words by name.</param>
/// <param name="Usual">Minutes within which people usually answer; null where nothing can be said.</param>
internal sealed record TalkOfferPart(string Script, IReadOnlyDictionary<string, string> Words, int? Usual);

internal sealed record LauncherLookPart(
    ButtonSign Sign,
    string? Picture,
    bool ShowsWords,
    Side Side,
    int EdgePx,
    int SidePx,
    Side PhoneSide,
    int PhoneEdgePx,
    ButtonSize Size,
    string Band,
    string BandInk,
    string Ground,
    string Ink,
    bool Dot,
    string? Face,
    int? Corner
);

/// <param name="Name">Who speaks; empty where it is those of the team who are there.</param>
/// <param name="Initials">Of everybody who is shown.</param>
internal sealed record SpeakerPart(string Name, string? Role, string? Portrait, IReadOnlyList<string> Initials);

/// <param name="Href">Where it leads; null for what is written in the panel.</param>
/// <param name="App">The link that is tried first.</param>
/// <param name="Fields">What is asked for; null for what leads elsewhere.</param>
/// <param name="UntilMs">Until when it is offered, in Unix milliseconds; null for no end in sight.</param>
internal sealed record ChannelPart(
    Guid Id,
    ChannelKind Kind,
    string Label,
    string? Href,
    string? App,
    bool? NewWindow,
    IReadOnlyList<AskedPart>? Fields,
    long? UntilMs
);

internal sealed record AskedPart(AskedField Field, bool? Needed);

/// <summary>Built-in words of a panel in one language; fields by what they ask for.</summary>
internal sealed record LauncherWordsPart(
    string Close,
    string Back,
    string OpensNext,
    string Until,
    string Send,
    string NotSent,
    string FillIn,
    string CheckEmail,
    string CheckPhone,
    IReadOnlyDictionary<string, string> Fields
);

/// <summary>A message written in a launcher's panel.</summary>
/// <param name="Id">Made by the snippet; sent twice it counts once.</param>
/// <param name="Launcher">In whose panel.</param>
/// <param name="Channel">By which of its channels.</param>
/// <param name="Fields">What was written, by what was asked for: "name", "email", "phone", "message".</param>
/// <param name="Greeting">The greeting that led to it, if one did.</param>
internal sealed record MessageRequest(
    string Site,
    string Page,
    string Passport,
    Guid Id,
    Guid Launcher,
    Guid Channel,
    IReadOnlyDictionary<string, string> Fields,
    Guid? Greeting = null,
    bool Gpc = false
) : IVisitorRequest
{
    [JsonIgnore]
    public string? EmptyPart => Fields.Any(f => f.Value is null) ? "fields" : null;
}

internal sealed record MessageResponse(bool Taken);

/// <param name="Consent">Selector of the site's consent notice; null for none but the marked one.</param>
/// <param name="Clear">Selector of what nothing may be laid over; null for none but what is marked.</param>
internal sealed record RulesPart(
    int AtOnce,
    int GapMs,
    int MostPerVisit,
    int PatienceMs,
    string? Consent = null,
    string? Clear = null
);

internal sealed record VisitPart(int Starts, long? SinceLastEndMs, long HushLeftMs, long DialogHushLeftMs);

/// <summary>Built-in words in one language.</summary>
internal sealed record WordsPart(
    string Close,
    string Why,
    string WhyEvents,
    string WhyNotice,
    string Copy,
    string Copied,
    string Pause,
    string Play,
    string Days
);

/// <summary>One condition of the moment: k kind, n number, t target.</summary>
internal sealed record TriggerPart(TriggerKind K, int? N, string? T);

/// <summary>A callout that may show. What is false, none or empty is left out.</summary>
/// <param name="Triggers">What has to happen; none means on arrival.</param>
/// <param name="Any">Whether any of it is enough.</param>
/// <param name="Rounds">How often the turns are gone through; 0 for until closed or clicked, null for once.</param>
/// <param name="Asked">Whether only a click may bring it.</param>
/// <param name="Always">Whether it comes at every page view, also if it came in another tab.</param>
/// <param name="IfThere">Whether it starts only while somebody of the team is there.</param>
/// <param name="Top">Whether it stands at the top edge.</param>
/// <param name="PhoneTop">The same on phones.</param>
/// <param name="Framed">Whether a picture, initials or a sign stands beside the words.</param>
/// <param name="Lang">Language of its words.</param>
/// <param name="Rtl">Whether that is written from right to left.</param>
/// <param name="Drawn">Whether events stand behind it.</param>
/// <param name="Lines">Of a crawl: what it turns over within its one turn.</param>
/// <param name="Opens">Of a greeting: whether it opens the launcher's panel.</param>
/// <param name="Sounds">Of a greeting: whether it is heard.</param>
/// <param name="Replies">Of a greeting: its ready replies.</param>
internal sealed record CuePart(
    Guid Id,
    Shape Shape,
    int Priority,
    IReadOnlyList<TriggerPart>? Triggers,
    bool? Any,
    long TurnGapMs,
    int? Rounds,
    long HushMs,
    bool? Asked,
    bool? Always,
    bool? IfThere,
    Side Side,
    bool? Top,
    bool? PhoneTop,
    string? Anchor,
    InsetPlace? Inset,
    string Band,
    string BandInk,
    string Ground,
    string Ink,
    string? Face,
    int? Corner,
    string? Backdrop,
    bool CloseMark,
    bool? NewTab,
    bool Framed,
    string? Code,
    string Lang,
    bool? Rtl,
    bool Drawn,
    IReadOnlyList<TurnPart>? Lines,
    bool? Opens,
    bool? Sounds,
    IReadOnlyList<string>? Replies,
    AskPart? Ask,
    IReadOnlyList<TurnPart> Turns
);

/// <summary>What it takes to ask on a page.</summary>
/// <param name="Script">Path of the file that draws what a prompt asks for.</param>
/// <param name="Site">The site key.</param>
/// <param name="Stage">Whether it is only looked at: nothing is sent.</param>
/// <param name="Region">Where the site is at home: ISO 3166-1, two letters.</param>
/// <param name="Country">The English name of the country in which the visitor seems to be; null where that is not known.</param>
internal sealed record AskOfferPart(string Script, string Site, bool? Stage, string Region, string? Country = null);

/// <summary>What a prompt asks for, in the reader's language.</summary>
/// <param name="Button">Words on the button.</param>
/// <param name="Promise">What they agree to; null where nothing is promised.</param>
/// <param name="Ticks">Whether they tick a box to agree.</param>
/// <param name="Small">Small print; null for none.</param>
/// <param name="Takes">Parameters of the page's address that are kept with the answers; null for none.</param>
/// <param name="Blocks">The parts of the face from above to below; null for the usual order.</param>
/// <param name="Second">What the face after a yes has otherwise; null for nothing.</param>
/// <param name="Words">Built-in words by name.</param>
internal sealed record AskPart(
    IReadOnlyList<AskFieldPart> Fields,
    string Button,
    string? Promise,
    bool? Ticks,
    string? Small,
    string Thanks,
    string? Detail,
    IReadOnlyList<string>? Takes,
    IReadOnlyList<FaceBlock>? Blocks,
    SecondFacePart? Second,
    IReadOnlyDictionary<string, string> Words
);

/// <param name="Picture">Address of its picture; null for none.</param>
internal sealed record SecondFacePart(string? Picture, string Band, string BandInk, string Ground, string Ink);

/// <param name="Kind">"email", "phone", "firstName" and so on.</param>
internal sealed record AskFieldPart(
    string Key,
    FieldKind Kind,
    string Label,
    bool? Needed,
    IReadOnlyList<string>? Choices
);

/// <summary>One turn, already worded. A stay of null lasts until it is closed.</summary>
/// <param name="Detail">The line under it.</param>
/// <param name="Button">Words of the button.</param>
/// <param name="Countdown">The countdown as it stands in the words; null for none.</param>
/// <param name="CountdownTo">To when it runs, in Unix milliseconds.</param>
internal sealed record TurnPart(
    IReadOnlyList<SpanPart> Spans,
    IReadOnlyList<SpanPart>? Detail,
    string? Button,
    string? Meta,
    string? Picture,
    string? Initials,
    string? Link,
    long? StayMs,
    string? Countdown = null,
    long? CountdownTo = null
);

/// <summary>
/// A <see cref="CuePart"/> already written as UTF-8 JSON, but for its end: what it says of the callout, and turn by turn
/// what is told. Both are the same for everybody who is told alike, so they are written once and copied for each visitor.
/// </summary>
[JsonConverter(typeof(ReadyCueWriter))]
[WrittenAs(typeof(CuePart))]
internal sealed record ReadyCue(byte[] Head, byte[][] Turns);

internal sealed class ReadyCueWriter : JsonConverter<ReadyCue>
{
    public override ReadyCue Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        throw new NotSupportedException("Cues are only ever written here.");

    public override void Write(Utf8JsonWriter writer, ReadyCue value, JsonSerializerOptions options)
    {
        var length = value.Head.Length + 2 + value.Turns.Sum(t => t.Length + 1);
        var buffer = ArrayPool<byte>.Shared.Rent(length);
        var at = Append(buffer, 0, value.Head);
        for (var i = 0; i < value.Turns.Length; i++)
        {
            if (i > 0)
                buffer[at++] = (byte)',';
            at = Append(buffer, at, value.Turns[i]);
        }
        buffer[at++] = (byte)']';
        buffer[at++] = (byte)'}';
        writer.WriteRawValue(buffer.AsSpan(0, at), skipInputValidation: true);
        ArrayPool<byte>.Shared.Return(buffer);
    }

    private static int Append(byte[] buffer, int at, byte[] part)
    {
        part.CopyTo(buffer, at);
        return at + part.Length;
    }
}

/// <summary>A run of text: t text, b bold, i italic, u underlined, h link.</summary>
internal sealed record SpanPart(string T, bool? B, bool? I, bool? U, string? H);

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
/// <param name="Script">Path of the file that draws it.</param>
/// <param name="Next">Where to go on, and in which words; null for nowhere.</param>
/// <param name="Trial">The panel of a trial visit, in place of the note.</param>
internal sealed record MarkPart(
    string Script,
    string Title,
    IReadOnlyList<string> Lines,
    NextPart? Next = null,
    TrialPanelPart? Trial = null
);

/// <summary>What the private panel of a trial visit says.</summary>
/// <param name="Who">Who is walking, in words.</param>
/// <param name="Lifted">Whether limits are lifted.</param>
/// <param name="Items">Every callout: those that will show first.</param>
/// <param name="Until">When the link ends, in Unix milliseconds.</param>
internal sealed record TrialPanelPart(string Who, bool Lifted, IReadOnlyList<TrialItemPart> Items, long Until);

/// <summary>One callout on the panel.</summary>
/// <param name="DueMs">When it is due, where time alone decides; null otherwise.</param>
/// <param name="Says">What it waits for, or why it will not show.</param>
/// <param name="Address">The desk's page on which that can be changed.</param>
internal sealed record TrialItemPart(Guid Id, string Name, bool Shows, long? DueMs, string Says, string Address);

/// <summary>An element pointed at on a trial visit.</summary>
/// <param name="Token">The trial visit's.</param>
/// <param name="Selector">A selector that means it.</param>
/// <param name="Label">What it says.</param>
/// <param name="Matches">How many elements of the page the selector means.</param>
internal sealed record PointRequest(string Site, string Page, string Token, string Selector, string Label, int Matches)
    : IVisitorRequest
{
    [JsonIgnore]
    public string? EmptyPart => null;
}

internal sealed record NextPart(string Words, string Address);

/// <summary>The stage's own words.</summary>
/// <param name="Note">Why there is nothing to show; null when there is.</param>
/// <param name="Lifted">What would keep it from a visitor now and was set aside, as sentences.</param>
/// <param name="Needs">What the page has to have.</param>
internal sealed record StagePart(string? Note, IReadOnlyList<string> Lifted, IReadOnlyList<NeededPart> Needs);

/// <summary>An element that a draft cannot do without.</summary>
/// <param name="Selector">Its CSS selector.</param>
/// <param name="Says">What to say when the page has none.</param>
internal sealed record NeededPart(string Selector, string Says);

/// <summary>Asks whether somebody of the team is there.</summary>
/// <param name="Launcher">The launcher that stands on the page; null for none.</param>
internal sealed record ThereRequest(string Site, string Page, Guid? Launcher = null) : IVisitorRequest
{
    [JsonIgnore]
    public string? EmptyPart => null;
}

internal sealed record ThereResponse(bool There);

/// <summary>A sign of life of an open page.</summary>
/// <param name="On">The callouts that its plan has.</param>
internal sealed record AliveRequest(string Site, string Page, string Passport, IReadOnlyList<Guid>? On = null)
    : IVisitorRequest
{
    [JsonIgnore]
    public string? EmptyPart => null;
}

/// <param name="Over">Those of them that are no longer live.</param>
internal sealed record AliveResponse(IReadOnlyList<Guid> Over);

/// <summary>What the snippet reports.</summary>
/// <param name="Sent">The key of a form that was sent and that no source listens to.</param>
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
    PlacesPart? Places = null,
    string? Sent = null,
    bool Gpc = false
) : IVisitorRequest
{
    /// <summary>What of it is for the ledger, beside forms.</summary>
    [JsonIgnore]
    public PageReport Report => new(Page, Track, Identify, Found, Sent);

    /// <summary>Whether it reports what the visitor did on the page.</summary>
    [JsonIgnore]
    public bool Acts => Form is not null || Track is not null || Identify is not null || Sent is not null;

    [JsonIgnore]
    public string? EmptyPart =>
        Signals?.Contains(null!) == true ? "signals"
        : Track?.Contains(null!) == true ? "track"
        : Found?.Any(f => f is null || f.Fields.Contains(null!)) == true ? "found"
        : Places?.Found.Contains(null!) == true || Places?.InView.Contains(null!) == true ? "places"
        : Form?.Fields.Any(f => f.Value is null) == true ? "form.fields"
        : null;
}

/// <summary>Which of the elements asked about are on the page.</summary>
/// <param name="Found">Their selectors, as they were asked.</param>
/// <param name="InView">Those of them that were in view at once.</param>
internal sealed record PlacesPart(IReadOnlyList<string> Found, IReadOnlyList<string> InView);

/// <summary>One report.</summary>
/// <param name="Id">Made by the snippet; sent twice it counts once.</param>
/// <param name="Kind">"view", "left", "depth", "shown", "clicked" or "closed"; others are passed over.</param>
/// <param name="Callout">About which callout; needed for shown, clicked and closed.</param>
/// <param name="Value">For "left": visible milliseconds on the page; for "depth": percent of the page scrolled to.</param>
internal sealed record SignalPart(Guid Id, string Kind, Guid? Callout = null, int Value = 0);

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
[JsonSerializable(typeof(ThereRequest))]
[JsonSerializable(typeof(ThereResponse))]
[JsonSerializable(typeof(AliveRequest))]
[JsonSerializable(typeof(AliveResponse))]
[JsonSerializable(typeof(CuePart))]
[JsonSerializable(typeof(TurnPart))]
[JsonSerializable(typeof(SignalsRequest))]
[JsonSerializable(typeof(SignalsResponse))]
[JsonSerializable(typeof(PointRequest))]
[JsonSerializable(typeof(MessageRequest))]
[JsonSerializable(typeof(MessageResponse))]
internal sealed partial class VisitorJson : JsonSerializerContext;
