using System.Diagnostics;
using System.Text.Json;
using System.Text.Json.Serialization;
using NodaTime;
using Outcry.Core.Asking;
using Outcry.Core.Briefs;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Saying;
using Outcry.Core.Sources;
using Outcry.Server.Care;
using Outcry.Server.Intake;
using Outcry.Server.Passports;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Server.Visitor;
using Outcry.Store.Rows;

namespace Outcry.Server.Leads;

/// <summary>A visitor's yes to a prompt.</summary>
/// <param name="Id">Made by the browser: sent twice it is one yes.</param>
/// <param name="Callout">To which prompt.</param>
/// <param name="Fields">What was filled in, by key; several choices each on a line.</param>
/// <param name="Agreed">Whether the box was ticked.</param>
/// <param name="Language">BCP 47 tag in which it spoke.</param>
/// <param name="Sure">Whether an address that may be a slip was sent once more as it is.</param>
/// <param name="Zone">IANA time zone of the browser; null where it does not tell.</param>
internal sealed record YesRequest(
    string Site,
    string Page,
    string Passport,
    Guid Id,
    Guid Callout,
    IReadOnlyDictionary<string, string> Fields,
    bool Agreed,
    string Language,
    bool Gpc = false,
    bool Sure = false,
    string? Zone = null
) : IVisitorRequest
{
    [JsonIgnore]
    public string? EmptyPart => Fields.Values.Any(v => v is null) ? "fields" : null;
}

/// <summary>What is said after a yes. It is the same whether or not the person was known.</summary>
/// <param name="Faults">By key, what is wrong, in the visitor's language; then nothing was taken.</param>
/// <param name="Wrote">To which address, masked, a mail went that asks to confirm; null where none is needed.</param>
/// <param name="Code">A code that is theirs at once.</param>
/// <param name="File">Path of a file that is theirs at once, at the desk's address.</param>
/// <param name="Meant">An address that may have been meant; then nothing was taken.</param>
internal sealed record YesAnswer(
    IReadOnlyDictionary<string, string>? Faults,
    string? Wrote,
    string? Code,
    string? File,
    MeantAddress? Meant = null
);

/// <param name="Key">Of which field.</param>
/// <param name="Says">What is asked, in the visitor's language.</param>
internal sealed record MeantAddress(string Key, string Address, string Says);

/// <summary>Asks for the mail that asks to confirm once more.</summary>
/// <param name="Id">The yes.</param>
internal sealed record AskAgainRequest(string Site, string Page, string Passport, Guid Id) : IVisitorRequest
{
    [JsonIgnore]
    public string? EmptyPart => null;
}

[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
    RespectNullableAnnotations = true,
    RespectRequiredConstructorParameters = true
)]
[JsonSerializable(typeof(YesRequest))]
[JsonSerializable(typeof(YesAnswer))]
[JsonSerializable(typeof(AskAgainRequest))]
internal sealed partial class YesJson : JsonSerializerContext;

/// <summary>POST /v/asks: a visitor's yes. Answered after the commit.</summary>
internal sealed class TakeYes(
    LiveSites sites,
    LeadBook book,
    OwnSources sources,
    BrowserIntake intake,
    Places places,
    Robots robots,
    DeskAddress desk,
    IClock clock
)
{
    private const string Prompt = "prompt";

    // One for all prompts of a site.
    private static readonly OwnSource Prompts = new(
        SourceKind.Prompt,
        "Answers to prompts",
        EventKind.SignUp,
        [Prompt]
    );

    public async Task<IResult> HandleAsync(HttpContext http)
    {
        var began = Stopwatch.GetTimestamp();
        var (request, unreadable) = await VisitorDoor.ReadAsync(http, YesJson.Default.YesRequest);
        if (unreadable is not null)
            return unreadable;
        var now = clock.GetCurrentInstant();
        var (view, refused) = VisitorDoor.CheckView(http, sites, request!.Site, request.Page, request.Passport, now);
        if (view is not var (site, page, visitor))
            return refused!;
        if (request.Id == Guid.Empty || !LanguageTag.IsWellFormed(request.Language))
            return Problems.BadField(request.Id == Guid.Empty ? "id" : "language", "This cannot be so.");
        if (site.Compiled.GetValueOrDefault(request.Callout) is not Callout { Brief.Ask: { } ask } callout)
            return Problems.NotFound("prompt");
        if (request.Fields.Count > 2 * AskCheck.MostFields)
            return Problems.BadField("fields", "There are more answers than questions.");
        var sheet = AnswerSheet.Read(
            ask,
            request.Fields,
            request.Agreed,
            new AnsweredAt(
                PageAddress.TryParse(request.Page),
                PageAddress.OfNote(visitor.Visit.WayIn.EntryPage),
                site.Region,
                request.Language,
                site.Context.Language
            )
        );
        var voice = LeadLetters.VoiceOf(site, request.Language);
        if (sheet.Faults.Count > 0)
            return Answer(
                new YesAnswer(
                    sheet.Faults.ToDictionary(f => f.Key, f => BuiltInWords.Say(voice, f.Value)),
                    null,
                    null,
                    null
                )
            );
        if (!request.Sure && MeantIn(ask, sheet, site) is var (key, meant))
            return Answer(
                new YesAnswer(
                    null,
                    null,
                    null,
                    null,
                    new MeantAddress(key, meant, BuiltInWords.Say(voice, BuiltInWord.DidYouMean))
                )
            );
        // A program that fills in whatever it finds is answered as a person would be, and nothing is kept.
        if (robots.IsRobot(http.Request.Headers.UserAgent.ToString()))
            return Answer(new YesAnswer(null, MaskOf(ask, sheet), null, null));
        var actor = new PageActor(
            visitor.VisitorId,
            Passport.IsMember(visitor.VisitorId) || site.IsTestHost(page.Host),
            request.Gpc,
            places.Find(http.Connection.RemoteIpAddress),
            AddressBlock.Of(http)
        );
        if (await NoteAsync(site, callout, sheet, actor, request, now, http.RequestAborted) is { } tooMuch)
            return tooMuch;
        var words = ask.WordsIn(request.Language, site.Context.Language);
        var taken = await book.TakeAsync(
            site,
            new NewYes(
                request.Id,
                new SaidYesTo(callout.Id, callout.Revision, callout.Name),
                ask,
                sheet,
                ask.TakesContact ? words.Promise : "",
                request.Language,
                new Uri(request.Page).GetLeftPart(UriPartial.Path),
                visitor.Visit.WayIn.Campaign.GetValueOrDefault("campaign") ?? "",
                visitor.VisitorId,
                request.Gpc ? "" : actor.Place.City ?? "",
                actor.IsOwn
            )
            {
                // Only what is a zone; anything else a stranger may call so is none.
                Zone =
                    !request.Gpc
                    && request.Zone is { } zone
                    && DateTimeZoneProviders.Tzdb.GetZoneOrNull(zone) is { } known
                        ? known.Id
                        : "",
            },
            desk.Of(http.Request),
            http.RequestAborted
        );
        if (taken is null)
            return Problems.BadField("id", "This id is taken. Make another.");
        // Where an address is to be confirmed, the page never learns whether it was known, in words or by how long it took: what is
        // theirs comes by mail.
        if (ask.Confirms)
        {
            await HoldAsync(began, http.RequestAborted);
            return Answer(new YesAnswer(null, MaskOf(ask, sheet), null, null));
        }
        return Answer(
            new YesAnswer(
                null,
                null,
                taken.Yes.Code.Length > 0 ? taken.Yes.Code : null,
                ask.Reward.Kind == RewardKind.File && taken.Gives
                    ? LeadLink.PathOf(site, LeadAct.Fetch, taken.Yes.Id, now + LeadLink.FetchesWithin)
                    : null
            )
        );
    }

    private static (string Key, string Address)? MeantIn(AskFacet ask, AnswerSheet sheet, LiveSite site) =>
        sheet.Email is { } email
        && MistypedDomain.Meant(email, site.CommonDomains) is { } meant
        && ask.Fields.FirstOrDefault(f => f.Kind == FieldKind.Email) is { } field
            ? (field.Key, meant)
            : null;

    /// <summary>POST /v/asks/again: the mail once more. One answer for whatever becomes of it.</summary>
    public async Task<IResult> AgainAsync(HttpContext http)
    {
        var began = Stopwatch.GetTimestamp();
        var (request, unreadable) = await VisitorDoor.ReadAsync(http, YesJson.Default.AskAgainRequest);
        if (unreadable is not null)
            return unreadable;
        var now = clock.GetCurrentInstant();
        var (site, page, refused) = VisitorDoor.Check(http, sites, request!.Site, request.Page, now);
        if (refused is not null)
            return refused;
        if (Passport.TryRead(site!, request.Passport, page!.Keeping(site!.AskedQuery), now) is not var (visitor, _))
            return VisitorDoor.UnknownPageView;
        await book.AskAgainAsync(site, request.Id, visitor.VisitorId, desk.Of(http.Request), http.RequestAborted);
        await HoldAsync(began, http.RequestAborted);
        return Results.NoContent();
    }

    /// <summary>An answer that must not tell what was found takes this long, whatever was found: longer than any of it as a rule.</summary>
    public static readonly TimeSpan AnswersAfter = TimeSpan.FromMilliseconds(300);

    private static async Task HoldAsync(long began, CancellationToken stop)
    {
        var left = AnswersAfter - Stopwatch.GetElapsedTime(began);
        if (left > TimeSpan.Zero)
            await Task.Delay(left, stop);
    }

    // One form feeds both: a yes is a sign-up in the ledger, masked as all events are.
    private async Task<IResult?> NoteAsync(
        LiveSite site,
        Callout callout,
        AnswerSheet sheet,
        PageActor actor,
        YesRequest request,
        Instant now,
        CancellationToken stop
    ) =>
        await intake.TakeAsync(
            site,
            await sources.FindAsync(site, Prompts, now, stop),
            actor,
            "fields",
            () =>
                (
                    actor.Sign(
                        new IncomingEvent
                        {
                            ExternalId = request.Id.ToString(),
                            Kind = EventKind.SignUp,
                            At = now,
                            FirstName = sheet.FirstName,
                            LastName = sheet.Surname,
                            Email = sheet.Email,
                            Phone = sheet.Phone,
                            Fields = new Dictionary<string, string> { [Prompt] = callout.Name },
                        },
                        request.Page
                    ),
                    null
                ),
            now,
            stop
        );

    private static string? MaskOf(AskFacet ask, AnswerSheet sheet) =>
        ask.Confirms && sheet.Email is { } email ? Mask.Email(email) : null;

    private static IResult Answer(YesAnswer answer) => Results.Json(answer, YesJson.Default.YesAnswer);
}
