using System.Buffers;
using System.Text;
using System.Text.Json;
using System.Text.Json.Serialization;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Microsoft.Net.Http.Headers;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Talks;
using Outcry.Server.Passports;
using Outcry.Server.Pictures;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Talks;

/// <summary>What a link to a file carries.</summary>
/// <param name="File">Which file.</param>
/// <param name="Until">Good until, in Unix seconds.</param>
internal sealed record FileLinkBody(Guid File, long Until);

[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase,
    RespectRequiredConstructorParameters = true
)]
[JsonSerializable(typeof(FileLinkBody))]
internal sealed partial class FileLinkJson : JsonSerializerContext;

/// <summary>Files that are sent in talks: known by their content, never by their name.</summary>
internal static class TalkFiles
{
    /// <summary>The largest file that is taken, in bytes.</summary>
    public const int MostBytes = 5 * 1024 * 1024;

    /// <summary>Files that one side of a talk may send within an hour.</summary>
    public const int MostAnHour = 20;

    private const int LongestName = 80;
    private const string Folder = "/v/talks/files";
    private const string Limits = "Send a PNG, JPEG, WebP, GIF, PDF or plain text file of at most 5 MB.";
    private static readonly SearchValues<char> NotInNames = SearchValues.Create("/\\:*?\"<>|");

    /// <summary>Looks into a file: what is kept of it, or a sentence for whoever sent it.</summary>
    public static async Task<(TalkFileRow? Row, TalkFile? File, string Fault)> ReadAsync(
        TalkRow talk,
        Guid id,
        string name,
        byte[] bytes,
        bool isOfVisitor,
        Instant now,
        CancellationToken stop
    )
    {
        if (bytes.Length == 0)
            return (null, null, "The file is empty.");
        var (type, ending) =
            bytes.AsSpan().StartsWith("%PDF-"u8) ? ("application/pdf", ".pdf")
            : IsText(bytes) ? ("text/plain; charset=utf-8", ".txt")
            : ("", "");
        PictureFile? picture = null;
        if (type.Length == 0)
        {
            (picture, _) = await PictureFile.ReadAsync(bytes, stop);
            if (picture is null)
                return (null, null, Limits);
            (type, ending, bytes) = (
                picture.MediaType,
                picture.MediaType == "image/png" ? ".png" : ".webp",
                picture.Bytes
            );
        }
        var named = NameOf(name, ending);
        return (
            new TalkFileRow
            {
                Id = id,
                WorkspaceId = talk.WorkspaceId,
                TalkId = talk.Id,
                Name = named,
                MediaType = type,
                Bytes = bytes,
                IsOfVisitor = isOfVisitor,
                At = now,
            },
            new TalkFile(id, named, bytes.Length, picture?.Width, picture?.Height),
            ""
        );
    }

    /// <summary>Whether a side of a talk has sent as many within the hour as it may.</summary>
    public static async Task<bool> HasSentMostAsync(
        OutcryDb db,
        Guid talkId,
        bool ofVisitor,
        Instant now,
        CancellationToken stop
    ) =>
        await db
            .TalkFiles.Where(f =>
                f.TalkId == talkId && f.IsOfVisitor == ofVisitor && f.At > now - Duration.FromHours(1)
            )
            .CountAsync(stop) >= MostAnHour;

    /// <summary>From where a file is fetched, by whoever was given the link: for as long as a talk's key lives.</summary>
    public static string PathOf(LiveSite site, TalkFile file, Instant now)
    {
        // To the day, so that the same file has the same address and is fetched once.
        var until = (now + TalkKey.Lives).ToUnixTimeSeconds() / 86_400 * 86_400;
        var body = JsonSerializer.SerializeToUtf8Bytes(
            new FileLinkBody(file.Id, until),
            FileLinkJson.Default.FileLinkBody
        );
        return $"{Folder}/{site.Key}/{SignedText.Sign(site.LinkKeys, body)}";
    }

    /// <summary>GET /v/talks/files/SITE/LINK: the file, to be kept and never to be opened as a page. No cookie is looked at.</summary>
    public static async Task<IResult> ServeAsync(
        string siteKey,
        string link,
        HttpContext http,
        LiveSites sites,
        SystemDb database,
        IClock clock
    )
    {
        if (sites.FindByKey(siteKey) is not { } site || TryRead(site, link, clock.GetCurrentInstant()) is not { } id)
            return Problems.NotFound("file");
        await using var db = database.Open();
        var row = await db
            .TalkFiles.AsNoTracking()
            .Where(f => f.Id == id && db.Talks.Any(t => t.Id == f.TalkId && t.SiteId == site.Id))
            .FirstOrDefaultAsync(http.RequestAborted);
        if (row is null)
            return Problems.NotFound("file");
        var headers = http.Response.Headers;
        headers.CacheControl = "private, max-age=86400";
        headers["Cross-Origin-Resource-Policy"] = "cross-origin";
        headers.ContentSecurityPolicy = "default-src 'none'; sandbox";
        headers.XContentTypeOptions = "nosniff";
        var disposition = new ContentDispositionHeaderValue("attachment");
        disposition.SetHttpFileName(row.Name);
        headers.ContentDisposition = disposition.ToString();
        return Results.Bytes(row.Bytes, row.MediaType);
    }

    private static Guid? TryRead(LiveSite site, string link, Instant now)
    {
        if (SignedText.TryOpen(site.LinkKeys, link) is not { } bytes)
            return null;
        try
        {
            var body = JsonSerializer.Deserialize(bytes, FileLinkJson.Default.FileLinkBody);
            return body is not null && body.Until > now.ToUnixTimeSeconds() ? body.File : null;
        }
        catch (JsonException)
        {
            return null;
        }
    }

    // The ending says what it is, whatever it was called.
    private static string NameOf(string name, string ending)
    {
        var clean = PlainText.OrNull(name) ?? "";
        var stem = clean[(clean.LastIndexOfAny(['/', '\\']) + 1)..];
        if (stem.LastIndexOf('.') is > 0 and var dot)
            stem = stem[..dot];
        stem = new string([.. stem.Select(c => NotInNames.Contains(c) ? '-' : c)]).Trim(' ', '.');
        return PlainText.Clip(stem.Length > 0 ? stem : "file", LongestName) + ending;
    }

    private static bool IsText(byte[] bytes)
    {
        try
        {
            var text = new UTF8Encoding(false, throwOnInvalidBytes: true).GetString(bytes);
            return !text.Any(c => char.IsControl(c) && c is not ('\n' or '\r' or '\t' or '\f'));
        }
        catch (DecoderFallbackException)
        {
            return false;
        }
    }
}

/// <summary>A file that a visitor sends.</summary>
/// <param name="Id">The word's, made by the browser: sent twice it is kept once.</param>
/// <param name="Name">As it is called at theirs.</param>
internal sealed record SendFileRequest(string Site, string Page, Guid Talk, string Key, Guid Id, string Name)
    : ITalkRequest
{
    [JsonIgnore]
    public string? EmptyPart => null;
}

/// <summary>POST /v/talks/files: a form of two parts (RFC 7578), the request as JSON and the file.</summary>
internal sealed class VisitorSendsFile(TalkDoor door, TalkBook book, TeamPresence team, SystemDb database)
{
    private static readonly TimeSpan Deadline = TimeSpan.FromMinutes(2);
    private const int MostAround = 64 * 1024;

    public async Task<IResult> HandleAsync(HttpContext http)
    {
        var (request, bytes, unreadable) = await ReadAsync(http);
        if (request is null)
            return unreadable!;
        var (at, problem) = await door.LetInAsync(http, request);
        if (at is null)
            return problem!;
        if (request.Id == Guid.Empty)
            return Problems.BadField("id", "A file needs an id of its own.");
        var (talk, now, stop) = (at.Talk, at.Now, http.RequestAborted);
        await using var db = database.Open();
        if (await TalkFiles.HasSentMostAsync(db, talk.Id, ofVisitor: true, now, stop))
            return BeginTalk.TooMany("Many files were sent within the hour. Wait a while, or write instead.");
        var (row, file, fault) = await TalkFiles.ReadAsync(
            talk,
            Guid.CreateVersion7(),
            request.Name,
            bytes,
            isOfVisitor: true,
            now,
            stop
        );
        if (row is null)
            return Problems.BadField("file", fault);
        var answer = await book.ActAsync(
            db,
            talk.Id,
            (kept, then) =>
            {
                var holder = kept.MemberId is { } member && team.IdsOf(kept.WorkspaceId).Contains(member);
                var (verdict, standing) = kept.Standing.VisitorSaid(then, holder);
                if (verdict != TalkVerdict.Done)
                    return (verdict, standing, []);
                db.TalkFiles.Add(row);
                // While a script asks, and of whom nobody hears, nobody is waited for.
                if (kept.IsBlocked || kept.Script is { IsOver: false })
                    standing = kept.Standing;
                return (
                    verdict,
                    standing,
                    [new NewWord(request.Id, SaidBy.Visitor, ReadBy.Both, file!.Name) { File = file }]
                );
            },
            stop,
            request.Id
        );
        return answer switch
        {
            null => Problems.NotFound("talk"),
            { Verdict: TalkVerdict.BeginsAnew } => Problems.Of(
                StatusCodes.Status409Conflict,
                "closed",
                "This conversation ended a while ago",
                "Write a word first, and send the file then."
            ),
            _ => Results.Json(new SaidAnswer(answer.Number), TalkJson.Default.SaidAnswer),
        };
    }

    private static async Task<(SendFileRequest? Request, byte[] Bytes, IResult? Problem)> ReadAsync(HttpContext http)
    {
        Visitor.VisitorDoor.AllowReading(http);
        if (http.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } limit)
            limit.MaxRequestBodySize = TalkFiles.MostBytes + MostAround;
        if (http.Request.ContentLength > TalkFiles.MostBytes + MostAround)
            return (null, [], Problems.TooLarge(TalkFiles.MostBytes));
        if (!http.Request.HasFormContentType)
            return (null, [], Problems.BadField("", "The body must be a form with the parts request and file."));
        using var late = CancellationTokenSource.CreateLinkedTokenSource(http.RequestAborted);
        late.CancelAfter(Deadline);
        try
        {
            var form = await http.Request.ReadFormAsync(
                new FormOptions
                {
                    ValueCountLimit = 4,
                    ValueLengthLimit = BodyLimits.VisitorBytes,
                    MultipartBodyLengthLimit = TalkFiles.MostBytes,
                },
                late.Token
            );
            if (form.Files.GetFile("file") is not { } file)
                return (null, [], Problems.BadField("file", "There is no file in the form."));
            if (file.Length > TalkFiles.MostBytes)
                return (null, [], Problems.TooLarge(TalkFiles.MostBytes));
            var request = JsonSerializer.Deserialize(
                JsonGate.Clean(Encoding.UTF8.GetBytes(form["request"].ToString())).Span,
                TalkJson.Default.SendFileRequest
            );
            if (request is null)
                return (null, [], Problems.BadField("request", "The part must be a JSON object."));
            await using var content = file.OpenReadStream();
            using var memory = new MemoryStream((int)file.Length);
            await content.CopyToAsync(memory, late.Token);
            return (request, memory.ToArray(), null);
        }
        catch (JsonException bad)
        {
            return (
                null,
                [],
                Problems.BadField(bad.Path ?? "request", "The part is not the JSON that is expected here.")
            );
        }
        catch (InvalidDataException)
        {
            return (null, [], Problems.BadField("file", "The form cannot be read, or the file is larger than 5 MB."));
        }
        catch (OperationCanceledException) when (!http.RequestAborted.IsCancellationRequested)
        {
            throw new BadHttpRequestException("The file came too slowly.", StatusCodes.Status408RequestTimeout);
        }
    }
}
