using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Npgsql;
using Outcry.Core.Talks;
using Outcry.Server.Mail;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Talks;

/// <summary>POST /v/talks/words and its neighbours: what a visitor does in a talk that has begun.</summary>
internal sealed class VisitorSays(
    TalkDoor door,
    TalkBook book,
    TalkLetters letters,
    TalkNews news,
    TalkScripts scripts,
    TeamPresence team,
    TalkLeads leads,
    Bookings bookings,
    SystemDb database
)
{
    public async Task<IResult> SayAsync(HttpContext http)
    {
        var (at, problem) = await door.OpenAsync(http, TalkJson.Default.SayRequest);
        if (at is null)
            return problem!;
        var (request, site, page, talk, now) = at;
        if (TalkText.Clean(request.Text) is not { Length: <= TalkText.Longest } text)
            return Problems.BadField("text", $"A message has 1 to {TalkText.Longest} characters.");
        if (request.Id == Guid.Empty)
            return Problems.BadField("id", "A message needs an id of its own.");
        await using var db = database.Open();
        var minuteAgo = now - Duration.FromMinutes(1);
        var recent = await db
            .TalkWords.Where(w => w.TalkId == talk.Id && w.By == SaidBy.Visitor && w.At > minuteAgo)
            .CountAsync(http.RequestAborted);
        if (recent >= TalkText.MostAMinute)
            return BeginTalk.TooMany(
                "More comes from this browser than a person writes. Wait a minute and send it again."
            );
        var word = new NewWord(request.Id, SaidBy.Visitor, ReadBy.Both, text);
        if (
            talk.MergedIntoId is { } other
            && await GoOnInAsync(db, talk, other, word, http.RequestAborted) is { } there
        )
            return there;
        var running = await scripts.FindAsync(db, site, talk, page, now, http.RequestAborted);
        // Somebody else was quicker: it is asked again with what is free still.
        if (running is not null && !await Bookings.HoldAsync(db, talk, running, text, now, http.RequestAborted))
            running = await scripts.FindAsync(db, site, talk, page, now, http.RequestAborted);
        var answer = await book.ActAsync(
            db,
            talk.Id,
            (row, then) =>
            {
                row.Page = request.Page;
                var holder = row.MemberId is { } member && team.IdsOf(row.WorkspaceId).Contains(member);
                var (verdict, standing) = row.Standing.VisitorSaid(then, holder);
                // A blocked visitor is heard by nobody, and reopens nothing.
                if (row.IsBlocked)
                    return (verdict, row.Standing, [word]);
                // Once a person has it, or it was handed over, a script is silent for good.
                if (running is null || row.Script is not { IsOver: false } || verdict != TalkVerdict.Done)
                    return (verdict, standing, [word]);
                var (after, said) = running.GoOn(row, standing, text, then);
                return (verdict, after, [word, .. said]);
            },
            http.RequestAborted,
            word.Id
        );
        if (answer is { Verdict: TalkVerdict.Done })
        {
            await leads.NoteAsync(http, site, answer.Talk, running, talk.Email, word.Id);
            if (running is not null)
                await bookings.InviteAsync(site, answer.Talk, http.RequestAborted);
        }
        if (answer is { Verdict: TalkVerdict.BeginsAnew })
            return await BeginAnewAsync(talk, word, request.Page, now, http.RequestAborted);
        return answer is null
            ? Problems.NotFound("talk")
            : Results.Json(new SaidAnswer(answer.Number), TalkJson.Default.SaidAnswer);
    }

    // Put into another talk of the same browser: it goes on there, with a key of its own.
    private async Task<IResult?> GoOnInAsync(
        Store.OutcryDb db,
        TalkRow talk,
        Guid other,
        NewWord word,
        CancellationToken stop
    )
    {
        if (!await db.Talks.AnyAsync(t => t.Id == other && t.VisitorId == talk.VisitorId, stop))
            return null;
        var answer = await book.ActAsync(
            db,
            other,
            (row, then) =>
            {
                var holder = row.MemberId is { } member && team.IdsOf(row.WorkspaceId).Contains(member);
                var (verdict, standing) = row.Standing.VisitorSaid(then, holder);
                return (verdict, row.IsBlocked ? row.Standing : standing, [word]);
            },
            stop,
            word.Id
        );
        return answer is { Verdict: TalkVerdict.Done }
            ? Results.Json(
                new SaidAnswer(answer.Number, other, await TalkKey.GiveAsync(db, other, stop)),
                TalkJson.Default.SaidAnswer
            )
            : null;
    }

    // Closed long ago: another talk, which links back to it.
    private async Task<IResult> BeginAnewAsync(
        TalkRow before,
        NewWord word,
        string page,
        Instant now,
        CancellationToken stop
    )
    {
        await using var db = database.Open();
        var talk = await db.Talks.FirstOrDefaultAsync(t => t.Id == word.Id && t.BeforeId == before.Id, stop);
        if (talk is null)
        {
            talk = new TalkRow
            {
                Id = word.Id,
                WorkspaceId = before.WorkspaceId,
                SiteId = before.SiteId,
                VisitorId = before.VisitorId,
                LauncherId = before.LauncherId,
                ChannelId = before.ChannelId,
                BeforeId = before.Id,
                IsTest = before.IsTest,
                BegunAt = now,
                Language = before.Language,
                Page = page,
                Place = before.Place,
                Name = before.Name,
                Email = before.Email,
                AgreedAt = before.AgreedAt,
                IsBlocked = before.IsBlocked,
                GroupId = before.GroupId,
                Person = before.Person,
                Standing = TalkStanding.Begun.VisitorSaid(now, isHolderThere: false).Standing,
            };
            TalkBook.Add(db, talk, word, now);
            db.Talks.Add(talk);
            try
            {
                await db.SaveChangesAsync(stop);
            }
            catch (DbUpdateException taken)
                when (taken.InnerException is PostgresException { SqlState: PostgresErrorCodes.UniqueViolation })
            {
                return Problems.BadField("id", "This id is taken. Make another.");
            }
        }
        var key = await TalkKey.GiveAsync(db, talk.Id, stop);
        await news.TellAsync(talk.SiteId, talk.Id, Stir.Words);
        return Results.Json(new SaidAnswer(1, talk.Id, key), TalkJson.Default.SaidAnswer);
    }

    /// <summary>They write, or have seen what was said.</summary>
    public async Task<IResult> SignAsync(HttpContext http)
    {
        var (at, problem) = await door.OpenAsync(http, TalkJson.Default.TalkSignRequest);
        if (at is null)
            return problem!;
        var (request, _, _, talk, _) = at;
        if (request.Seen > talk.SeenByVisitor)
        {
            await using var db = database.Open();
            var seen = Math.Min(request.Seen, talk.Last);
            // Of two tabs the further one counts.
            await db
                .Talks.Where(t => t.Id == talk.Id && t.SeenByVisitor < seen)
                .ExecuteUpdateAsync(u => u.SetProperty(t => t.SeenByVisitor, seen), http.RequestAborted);
            await news.TellAsync(talk.SiteId, talk.Id, Stir.Words);
        }
        if (request.Person)
            await AskForPersonAsync(talk.Id, http.RequestAborted);
        if (request.Types && !talk.IsBlocked)
            await news.TellAsync(talk.SiteId, talk.Id, Stir.VisitorTypes);
        return Results.NoContent();
    }

    // Nobody is ever trapped in a script: it is silent from here on, and the visitor waits for a person.
    private async Task AskForPersonAsync(Guid talkId, CancellationToken stop)
    {
        await using var db = database.Open();
        await book.ActAsync(
            db,
            talkId,
            (row, now) =>
            {
                if (row.Script is not { IsOver: false } state)
                    return (TalkVerdict.Done, row.Standing, []);
                row.Script = state with { IsOver = true };
                row.ScriptEndsAt = null;
                return (
                    TalkVerdict.Done,
                    row.Standing with
                    {
                        WaitingSince = row.Standing.IsOpen ? row.WaitingSince ?? now : null,
                    },
                    [NewWord.Happened("Asked for a person.")]
                );
            },
            stop
        );
    }

    /// <summary>They say where answers may be sent.</summary>
    public async Task<IResult> LeaveAddressAsync(HttpContext http)
    {
        var (at, problem) = await door.OpenAsync(http, TalkJson.Default.LeaveAddressRequest);
        if (at is null)
            return problem!;
        var (request, site, _, talk, _) = at;
        var email = Core.Care.PlainText.Clean(request.Email).Trim();
        var name = Core.Care.PlainText.Clean(request.Name).Trim();
        if (email.Length > LongestLine || !MailFeature.IsAddress(email))
            return Problems.BadField("email", "Please check this address.");
        if (name.Length > LongestLine)
            return Problems.BadField("name", "This is too long.");
        await using var db = database.Open();
        // Whoever holds a key could have mails sent to anybody: a few times is a person who mistyped.
        var left = await db
            .TalkWords.Where(w => w.TalkId == talk.Id && w.By == SaidBy.House && w.Text.StartsWith(LeftAddress))
            .CountAsync(http.RequestAborted);
        if (left >= MostAddresses)
            return BeginTalk.TooMany("An address was left here often enough. Write it in the conversation instead.");
        var answer = await book.ActAsync(
            db,
            talk.Id,
            (row, now) =>
            {
                var isNew = row.Email != email || request.Transcript;
                (row.Email, row.AgreedAt) = (email, now);
                if (name.Length > 0)
                    row.Name = name;
                return (
                    TalkVerdict.Done,
                    row.Standing,
                    isNew ? [NewWord.Happened($"{LeftAddress}, and agreed to be written to there.")] : []
                );
            },
            http.RequestAborted
        );
        if (answer is not null)
            await bookings.InviteAsync(site, answer.Talk, http.RequestAborted);
        if (answer is not null && request.Transcript)
            await letters.SendTranscriptAsync(db, site, answer.Talk, http.RequestAborted);
        return Results.NoContent();
    }

    /// <summary>They end it.</summary>
    public async Task<IResult> EndAsync(HttpContext http)
    {
        var (at, problem) = await door.OpenAsync(http, TalkJson.Default.EndTalkRequest);
        if (at is null)
            return problem!;
        await using var db = database.Open();
        await book.ActAsync(
            db,
            at.Talk.Id,
            (row, now) =>
                (
                    TalkVerdict.Done,
                    row.Standing.Close(ByVisitor, now),
                    row.State == TalkState.Closed ? [] : [NewWord.Happened("Ended by the visitor.")]
                ),
            http.RequestAborted
        );
        return Results.NoContent();
    }

    private const int LongestLine = 200;
    private const int MostAddresses = 5;
    private const string LeftAddress = "Left an address for answers";
    private const string ByVisitor = "ended by the visitor";
}
