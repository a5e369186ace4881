using System.Text.Json.Serialization;
using NodaTime;
using Outcry.Server.Sites;
using Outcry.Server.Visitor;
using Outcry.Store.Rows;

namespace Outcry.Server.Talks;

/// <summary>What a visitor sends about a talk of theirs.</summary>
internal interface ITalkRequest : IVisitorRequest
{
    string Site { get; }
    string Page { get; }
    Guid Talk { get; }
    string Key { get; }
}

/// <summary>A first word, with which a talk begins.</summary>
/// <param name="Id">The word's; the talk has the same, so that sent twice it begins once.</param>
/// <param name="Greeting">The greeting that led to it.</param>
/// <param name="Language">BCP 47 tag in which the panel speaks.</param>
internal sealed record BeginTalkRequest(
    string Site,
    string Page,
    string Passport,
    Guid Id,
    Guid Launcher,
    Guid Channel,
    string Text,
    string Language,
    Guid? Greeting = null,
    bool Gpc = false
) : IVisitorRequest
{
    [JsonIgnore]
    public string? EmptyPart => null;
}

/// <param name="Key">Opens the talk for this browser; shown once.</param>
/// <param name="Number">Number of the word that was said.</param>
internal sealed record BegunTalk(Guid Talk, string Key, int Number);

/// <summary>A further word.</summary>
internal sealed record SayRequest(string Site, string Page, Guid Talk, string Key, Guid Id, string Text) : ITalkRequest
{
    [JsonIgnore]
    public string? EmptyPart => null;
}

/// <param name="Key">Of a talk that began anew, because the one before was closed long ago; else null.</param>
internal sealed record SaidAnswer(int Number, Guid? Talk = null, string? Key = null);

/// <summary>Asks for what was said after a number.</summary>
/// <param name="After">The last that was shown.</param>
/// <param name="Wait">Whether to wait up to 25 s for something new.</param>
internal sealed record ReadTalkRequest(string Site, string Page, Guid Talk, string Key, int After, bool Wait = false)
    : ITalkRequest
{
    [JsonIgnore]
    public string? EmptyPart => null;
}

/// <summary>What a visitor does beside saying something.</summary>
/// <param name="Types">Whether they are writing.</param>
/// <param name="Seen">Up to which number they have seen it; 0 for nothing new.</param>
/// <param name="Person">Whether they ask for a person in place of the script.</param>
internal sealed record TalkSignRequest(
    string Site,
    string Page,
    Guid Talk,
    string Key,
    bool Types = false,
    int Seen = 0,
    bool Person = false
) : ITalkRequest
{
    [JsonIgnore]
    public string? EmptyPart => null;
}

/// <summary>Where answers may be sent.</summary>
/// <param name="Email">The address; with it they agree to be answered there.</param>
/// <param name="Name">How they want to be called; empty for no word of it.</param>
/// <param name="Transcript">Whether what was said so far is sent there at once.</param>
internal sealed record LeaveAddressRequest(
    string Site,
    string Page,
    Guid Talk,
    string Key,
    string Email,
    string Name = "",
    bool Transcript = false
) : ITalkRequest
{
    [JsonIgnore]
    public string? EmptyPart => null;
}

/// <summary>Ends a talk from the visitor's side.</summary>
internal sealed record EndTalkRequest(string Site, string Page, Guid Talk, string Key) : ITalkRequest
{
    [JsonIgnore]
    public string? EmptyPart => null;
}

/// <summary>Comes back to a talk by a link from a mail.</summary>
/// <param name="Token">The link's.</param>
internal sealed record ResumeTalkRequest(string Site, string Page, string Token) : IVisitorRequest
{
    [JsonIgnore]
    public string? EmptyPart => null;
}

/// <summary>A word as its visitor reads it.</summary>
/// <param name="N">Its number.</param>
/// <param name="Id">Its id, by which a browser knows its own.</param>
/// <param name="By">"v" the visitor, "m" a member, "s" a script, "h" the house.</param>
/// <param name="Name">The member's name; null for none.</param>
/// <param name="At">Unix milliseconds.</param>
/// <param name="Replies">Ready replies of a script's question; null for none.</param>
/// <param name="Link">Address of a script's offer; null for none.</param>
/// <param name="Pause">Milliseconds before it is seen, as if it were typed; null for none.</param>
internal sealed record TalkWordPart(
    int N,
    Guid Id,
    string By,
    string? Name,
    string Text,
    long At,
    IReadOnlyList<string>? Replies,
    string? Link,
    TalkFilePart? File,
    int? Pause
)
{
    public static TalkWordPart Of(TalkWordRow row, LiveSite? site, Instant now) =>
        new(
            row.Number,
            row.Id,
            row.By switch
            {
                SaidBy.Visitor => "v",
                SaidBy.Member => "m",
                SaidBy.Script => "s",
                _ => "h",
            },
            row.Name.Length > 0 ? TalkLetters.FirstName(row.Name) : null,
            row.Text,
            row.At.ToUnixTimeMilliseconds(),
            row.Replies.Count > 0 ? row.Replies : null,
            row.Link.Length > 0 ? row.Link : null,
            row.File is { } file && site is not null ? TalkFilePart.Of(file, site, now) : null,
            row.PauseMs > 0 ? row.PauseMs : null
        );
}

/// <summary>A file of a talk, for whoever reads it.</summary>
/// <param name="Path">From where it is fetched, at the desk's address.</param>
internal sealed record TalkFilePart(string Name, int Bytes, int? Width, int? Height, string Path)
{
    public static TalkFilePart Of(TalkFile file, LiveSite site, Instant now) =>
        new(file.Name, file.Bytes, file.Width, file.Height, TalkFiles.PathOf(site, file, now));
}

/// <summary>How a talk stands, for its visitor.</summary>
/// <param name="Seen">Up to which number the team has seen it.</param>
/// <param name="Who">Who answers; null for nobody yet.</param>
/// <param name="HasAddress">Whether an address was left.</param>
/// <param name="Asks">Whether a script asks at the moment.</param>
/// <param name="Late">Whether they were told that nobody has come yet.</param>
internal sealed record TalkStatePart(int Seen, string? Who, bool Closed, bool HasAddress, bool Asks, bool Late);

/// <summary>What is new in a talk.</summary>
internal sealed record TalkPart(IReadOnlyList<TalkWordPart> Words, TalkStatePart State);

/// <param name="Name">Who is writing.</param>
internal sealed record TypingPart(string Name);

[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
    UseStringEnumConverter = true,
    RespectNullableAnnotations = true,
    RespectRequiredConstructorParameters = true
)]
[JsonSerializable(typeof(BeginTalkRequest))]
[JsonSerializable(typeof(BegunTalk))]
[JsonSerializable(typeof(SayRequest))]
[JsonSerializable(typeof(SaidAnswer))]
[JsonSerializable(typeof(ReadTalkRequest))]
[JsonSerializable(typeof(SendFileRequest))]
[JsonSerializable(typeof(TalkSignRequest))]
[JsonSerializable(typeof(LeaveAddressRequest))]
[JsonSerializable(typeof(EndTalkRequest))]
[JsonSerializable(typeof(ResumeTalkRequest))]
[JsonSerializable(typeof(MyTalkRequest))]
[JsonSerializable(typeof(TalkPart))]
[JsonSerializable(typeof(TypingPart))]
internal sealed partial class TalkJson : JsonSerializerContext;
