using Microsoft.EntityFrameworkCore;
using NodaTime;
using Npgsql;
using Outcry.Core.Greetings;
using Outcry.Core.Pages;
using Outcry.Core.Saying;
using Outcry.Core.Talks;
using Outcry.Server.Care;
using Outcry.Server.Intake;
using Outcry.Server.Passports;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Server.Visitor;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Talks;

/// <summary>POST /v/talks: a visitor's first word. Answered after the commit.</summary>
internal sealed class BeginTalk(
    LiveSites sites,
    SystemDb database,
    LauncherMessages messages,
    TalkNews news,
    TalkScripts scripts,
    Places places,
    Robots robots,
    IClock clock
)
{
    /// <summary>Talks that one visitor may begin within an hour.</summary>
    private const int MostAnHour = 10;

    public async Task<IResult> HandleAsync(HttpContext http)
    {
        var (request, unreadable) = await VisitorDoor.ReadAsync(http, TalkJson.Default.BeginTalkRequest);
        if (unreadable is not null)
            return unreadable;
        var now = clock.GetCurrentInstant();
        var (view, refused) = VisitorDoor.CheckView(http, sites, request!.Site, request.Page, request.Passport, now);
        if (view is not var (site, page, visitor))
            return refused!;
        if (site.Compiled.GetValueOrDefault(request.Launcher) is not Launcher launcher)
            return Problems.NotFound("launcher");
        if (launcher.Brief.Channels.FirstOrDefault(c => c.Id == request.Channel) is not { Kind: ChannelKind.Chat } chat)
            return Problems.BadField("channel", "This launcher has no such way to talk.");
        if (TalkText.Clean(request.Text) is not { Length: <= TalkText.Longest } text)
            return Problems.BadField("text", $"A message has 1 to {TalkText.Longest} characters.");
        if (request.Id == Guid.Empty || !LanguageTag.IsWellFormed(request.Language))
            return Problems.BadField(request.Id == Guid.Empty ? "id" : "language", "This cannot be so.");
        if (robots.IsRobot(http.Request.Headers.UserAgent.ToString()))
            return Problems.Of(
                StatusCodes.Status403Forbidden,
                "robot",
                "Programs do not talk here",
                "This looks like a program, and the team talks with people."
            );
        var actor = new PageActor(
            visitor.VisitorId,
            Passport.IsMember(visitor.VisitorId) || site.IsTestHost(page.Host),
            request.Gpc,
            places.Find(http.Connection.RemoteIpAddress),
            AddressBlock.Of(http)
        );
        var first = new FirstWord(request, text, launcher, chat, page, actor);
        return await BeginAsync(site, first, now, http.RequestAborted);
    }

    private sealed record FirstWord(
        BeginTalkRequest Request,
        string Text,
        Launcher Launcher,
        Channel Channel,
        PageAddress Page,
        PageActor Actor
    )
    {
        /// <summary>Who the site says it is, signed.</summary>
        public byte[]? Person { get; init; }

        public string Greeting { get; } =
            Launcher.Greetings.FirstOrDefault(g => g.Id == Request.Greeting)?.Brief.Say.Message ?? "";
    }

    private async Task<IResult> BeginAsync(LiveSite site, FirstWord first, Instant now, CancellationToken stop)
    {
        var (request, visitor) = (first.Request, first.Actor.VisitorId);
        await using var db = database.Open();
        if (await AgainAsync(db, site, request.Id, visitor, stop) is { } again)
            return again;
        var hourAgo = now - Duration.FromHours(1);
        var recent = await db
            .Talks.Where(t => t.SiteId == site.Id && t.VisitorId == visitor && t.BegunAt > hourAgo)
            .CountAsync(stop);
        if (recent >= MostAnHour)
            return TooMany("This browser has begun many talks within the hour. Go on in one of them.");
        var written = new WrittenMessage(
            request.Id,
            first.Launcher,
            first.Channel,
            new Dictionary<string, string> { ["message"] = first.Text },
            first.Greeting,
            request.Page
        );
        if (await messages.NoteTalkAsync(site, written, first.Actor, now, stop) is { } problem)
            return problem;
        var person = await MyTalk.PersonOfAsync(db, site, visitor, request.Passport, stop);
        var talk = Make(site, first with { Person = person }, now);
        talk.IsBlocked = await db.Talks.AnyAsync(
            t => t.SiteId == site.Id && t.VisitorId == visitor && t.IsBlocked,
            stop
        );
        var key = TalkKey.Make();
        TalkKey.Give(talk, key);
        var number = TalkBook.Add(db, talk, new NewWord(request.Id, SaidBy.Visitor, ReadBy.Both, first.Text), now);
        if (await scripts.BeginAsync(db, site, talk, first.Page, now, stop) is { } script)
        {
            var (standing, said) = script.GoOn(talk, talk.Standing, null, now);
            talk.Standing = standing;
            foreach (var word in said)
                TalkBook.Add(db, talk, word, now);
        }
        db.Talks.Add(talk);
        try
        {
            await db.SaveChangesAsync(stop);
        }
        catch (DbUpdateException twice)
            when (twice.InnerException is PostgresException { SqlState: PostgresErrorCodes.UniqueViolation })
        {
            // The same first word came twice at once.
            await using var fresh = database.Open();
            return await AgainAsync(fresh, site, request.Id, visitor, stop)
                ?? Problems.BadField("id", "This id is taken. Make another.");
        }
        if (!talk.IsBlocked)
            await news.TellAsync(site.Id, talk.Id, Stir.Words);
        return Answer(new BegunTalk(talk.Id, key, number));
    }

    // The first answer was lost on its way: the talk is there, and this browser gets a key to it.
    private static async Task<IResult?> AgainAsync(
        OutcryDb db,
        LiveSite site,
        Guid id,
        string visitor,
        CancellationToken stop
    )
    {
        return await db.Talks.AnyAsync(t => t.Id == id && t.SiteId == site.Id && t.VisitorId == visitor, stop)
            ? Answer(new BegunTalk(id, await TalkKey.GiveAsync(db, id, stop), 1))
            : null;
    }

    private static TalkRow Make(LiveSite site, FirstWord first, Instant now)
    {
        var place = first.Actor.Place;
        var talk = new TalkRow
        {
            Id = first.Request.Id,
            WorkspaceId = site.WorkspaceId,
            SiteId = site.Id,
            VisitorId = first.Actor.VisitorId,
            LauncherId = first.Launcher.Id,
            ChannelId = first.Channel.Id,
            IsTest = first.Actor.IsOwn,
            BegunAt = now,
            LastAt = now,
            GroupId = first.Launcher.Brief.GroupId,
            Person = first.Person,
            Language = first.Request.Language,
            Page = first.Request.Page,
            Greeting = first.Greeting,
            Place = first.Actor.PrivacyControl ? "" : place.City,
        };
        talk.Standing = TalkStanding.Begun.VisitorSaid(now, isHolderThere: false).Standing;
        return talk;
    }

    public static IResult TooMany(string detail) =>
        Problems.Of(StatusCodes.Status429TooManyRequests, "too-many", "Too many messages", detail);

    private static IResult Answer(BegunTalk begun) =>
        Results.Json(begun, TalkJson.Default.BegunTalk, statusCode: StatusCodes.Status201Created);
}
