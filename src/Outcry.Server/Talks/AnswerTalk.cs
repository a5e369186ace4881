using System.Globalization;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Talks;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Talks;

/// <summary>An answer, or a note to the team.</summary>
/// <param name="Id">Made by the desk: sent twice it is kept once.</param>
/// <param name="IsNote">Whether the team alone reads it.</param>
/// <param name="Mentions">Members who are told of a note.</param>
/// <param name="TakeOver">Whether an answer takes the talk from whoever has it.</param>
internal sealed record AnswerRequest(
    Guid Id,
    string Text,
    bool IsNote = false,
    IReadOnlyList<Guid>? Mentions = null,
    bool TakeOver = false
);

/// <param name="MemberId">To whom; null gives it back to nobody.</param>
/// <param name="InTurn">Whether it goes to whoever's turn it is among those who are there; then nobody is named.</param>
/// <param name="Note">What they should know; empty for nothing.</param>
internal sealed record AssignRequest(Guid? MemberId = null, bool InTurn = false, string Note = "");

internal sealed record SnoozeRequest(Instant Until);

/// <param name="Reason">Why, at most 80 characters; may be empty.</param>
internal sealed record CloseTalkRequest(string Reason = "");

/// <param name="Tags">At most 10, each of at most 30 characters.</param>
internal sealed record TagsRequest(IReadOnlyList<string> Tags);

/// <param name="Name">How the visitor is called; empty for unknown.</param>
internal sealed record NameVisitorRequest(string Name);

internal sealed record BlockRequest(bool Blocked);

/// <param name="Number">Up to which word it was seen.</param>
internal sealed record SeenRequest(int Number);

/// <summary>What members do in talks. Every act is atomic: of two who answer at once one wins, and the other is told who.</summary>
internal sealed class AnswerTalk(
    OutcryDb db,
    TalkBook book,
    TalkNews news,
    TalkLines lines,
    TalkLetters letters,
    LiveSites sites,
    TeamPresence team,
    CurrentMember member,
    DeskAddress desk,
    IClock clock
)
{
    public const int MostTags = 10;
    private const int LongestTag = 30;
    private const int LongestLine = 80;

    public async Task<Results<Ok<TalkDetailView>, ProblemHttpResult>> SayAsync(
        Guid siteId,
        Guid talkId,
        AnswerRequest request,
        CancellationToken stop
    )
    {
        if (TalkText.Clean(request.Text) is not { Length: <= TalkText.Longest } text)
            return Problems.BadField("text", $"A message has 1 to {TalkText.Longest} characters.");
        if (request.Id == Guid.Empty)
            return Problems.BadField("id", "A message needs an id of its own.");
        var mentioned = request.IsNote ? await MentionedAsync(siteId, request.Mentions ?? [], stop) : [];
        var word = new NewWord(
            request.Id,
            SaidBy.Member,
            request.IsNote ? ReadBy.Team : ReadBy.Both,
            text,
            member.Id,
            member.Name,
            [.. mentioned.Select(m => m.Id)]
        );
        var done = await DoAsync(
            siteId,
            talkId,
            (row, now) =>
            {
                if (request.IsNote)
                    return (TalkVerdict.Done, row.Standing, [word]);
                var took = Taking(row, now);
                Silence(row);
                var from = request.TakeOver ? row.Standing.Assign(member.Id).Standing : row.Standing;
                var (verdict, standing) = from.MemberSaid(member.Id);
                return (verdict, standing, took is null ? [word] : [took, word]);
            },
            stop,
            request.Id
        );
        if (done.Result is Ok<TalkDetailView> && mentioned.Count > 0)
            await TellMentionedAsync(siteId, talkId, request.Id, text, mentioned, stop);
        return done;
    }

    /// <summary>Sends a file, which claims the talk as an answer does.</summary>
    public Task<Results<Ok<TalkDetailView>, ProblemHttpResult>> SayAsync(
        Guid siteId,
        Guid talkId,
        NewWord word,
        TalkFileRow file,
        CancellationToken stop
    ) =>
        DoAsync(
            siteId,
            talkId,
            (row, now) =>
            {
                var took = Taking(row, now);
                var (verdict, standing) = row.Standing.MemberSaid(member.Id);
                if (verdict != TalkVerdict.Done)
                    return (verdict, standing, []);
                Silence(row);
                db.TalkFiles.Add(file);
                return (verdict, standing, took is null ? [word] : [took, word]);
            },
            stop,
            word.Id
        );

    // Once a person has the talk, its script is silent for good.
    public static void Silence(TalkRow row)
    {
        row.ScriptEndsAt = null;
        if (row.Script is { IsOver: false } script)
            row.Script = script with { IsOver = true, Waits = null };
    }

    // What the team reads when a talk comes to somebody by their answer.
    private NewWord? Taking(TalkRow row, Instant now)
    {
        if (row.State == TalkState.Claimed && row.MemberId == member.Id)
            return null;
        var after = row.WaitingSince is { } since ? $" after {Say(now - since)}" : "";
        return NewWord.Happened(
            row.State == TalkState.Claimed ? $"{member.Name} took it over." : $"{member.Name} took it{after}."
        );
    }

    private static string Say(Duration waited) =>
        waited.TotalSeconds < 90 ? string.Create(CultureInfo.InvariantCulture, $"{waited.TotalSeconds:0} s")
        : waited.TotalMinutes < 90 ? string.Create(CultureInfo.InvariantCulture, $"{waited.TotalMinutes:0} min")
        : string.Create(CultureInfo.InvariantCulture, $"{waited.TotalHours:0} h");

    private async Task<List<AnsweringView>> MentionedAsync(
        Guid siteId,
        IReadOnlyList<Guid> mentions,
        CancellationToken stop
    ) =>
        [
            .. (await ShowTalk.ReadAnsweringAsync(db, member.WorkspaceId, siteId, team, stop)).Where(m =>
                mentions.Contains(m.Id) && m.Id != member.Id
            ),
        ];

    private async Task TellMentionedAsync(
        Guid siteId,
        Guid talkId,
        Guid wordId,
        string text,
        List<AnsweringView> mentioned,
        CancellationToken stop
    )
    {
        var talk = await db.Talks.AsNoTracking().FirstAsync(t => t.Id == talkId && t.SiteId == siteId, stop);
        var ids = mentioned.Select(m => m.Id).ToList();
        var addresses = await db.Users.Where(u => ids.Contains(u.Id)).Select(u => u.Email!).ToListAsync(stop);
        var where = desk.Set is { } at ? $": {at}/inbox?talk={talkId}" : ".";
        await letters.TellMembersAsync(
            db,
            talk,
            addresses,
            $"{talkId}:note:{wordId}",
            $"{member.Name} mentioned you in a note",
            $"{text}\n\nThe talk is in the inbox{where}",
            stop
        );
    }

    public async Task<Results<Ok<TalkDetailView>, ProblemHttpResult>> AssignAsync(
        Guid siteId,
        Guid talkId,
        AssignRequest request,
        CancellationToken stop
    )
    {
        var note = PlainText.OrNull(request.Note);
        if (note?.Length > TalkText.Longest)
            return Problems.BadField("note", $"At most {TalkText.Longest} characters.");
        var (to, problem) = await ToAsync(siteId, request, stop);
        if (problem is not null)
            return problem;
        List<NewWord> words =
        [
            NewWord.Happened(
                to is null ? $"{member.Name} gave it back to everybody."
                : to.Id == member.Id ? $"{member.Name} took it."
                : $"{member.Name} handed it to {to.Name}."
            ),
        ];
        if (note is not null)
            words.Add(new NewWord(Guid.CreateVersion7(), SaidBy.Member, ReadBy.Team, note, member.Id, member.Name));
        return await DoAsync(
            siteId,
            talkId,
            (row, _) =>
            {
                if (to is not null)
                    Silence(row);
                var (verdict, standing) = row.Standing.Assign(to?.Id);
                return (verdict, standing, words);
            },
            stop
        );
    }

    private async Task<(AnsweringView? To, ProblemHttpResult? Problem)> ToAsync(
        Guid siteId,
        AssignRequest request,
        CancellationToken stop
    )
    {
        if (!request.InTurn && request.MemberId is null)
            return (null, null);
        var answering = await ShowTalk.ReadAnsweringAsync(db, member.WorkspaceId, siteId, team, stop);
        if (!request.InTurn)
            return answering.Find(m => m.Id == request.MemberId) is { } named
                ? (named, null)
                : (null, Problems.BadField("memberId", "Nobody of that name answers here."));
        var there = answering.Where(m => m.IsThere).Select(m => m.Id).ToList();
        var given = await db
            .Talks.Where(t => t.SiteId == siteId && t.MemberId != null && there.Contains(t.MemberId.Value))
            .GroupBy(t => t.MemberId!.Value)
            .Select(g => new { Id = g.Key, At = g.Max(t => t.GivenAt) })
            .ToDictionaryAsync(g => g.Id, g => g.At, stop);
        var next = RoundRobin.Next(
            answering
                .Where(m => m.IsThere)
                .Select(m => new AnsweringMember(m.Id, m.OpenTalks, given.GetValueOrDefault(m.Id)))
        );
        return next is { } turn
            ? (answering.Find(m => m.Id == turn), null)
            : (
                null,
                Problems.Of(
                    StatusCodes.Status409Conflict,
                    "nobody-free",
                    "Nobody is free",
                    $"Nobody who is there has fewer than {RoundRobin.MostOpenTalks} talks open. Hand it to somebody by name."
                )
            );
    }

    public Task<Results<Ok<TalkDetailView>, ProblemHttpResult>> SnoozeAsync(
        Guid siteId,
        Guid talkId,
        SnoozeRequest request,
        CancellationToken stop
    )
    {
        var zone = sites.GetById(siteId).Zone;
        return DoAsync(
            siteId,
            talkId,
            (row, now) =>
            {
                var (verdict, standing) = row.Standing.Snooze(member.Id, request.Until, now);
                // Only a moment that was taken is near enough to have a local time.
                return verdict != TalkVerdict.Done
                    ? (verdict, standing, [])
                    : (
                        verdict,
                        standing,
                        [
                            NewWord.Happened(
                                $"{member.Name} put it off until {request.Until.InZone(zone).ToString("ddd d MMM, HH:mm", CultureInfo.InvariantCulture)}."
                            ),
                        ]
                    );
            },
            stop
        );
    }

    public async Task<Results<Ok<TalkDetailView>, ProblemHttpResult>> CloseAsync(
        Guid siteId,
        Guid talkId,
        CloseTalkRequest request,
        CancellationToken stop
    )
    {
        var reason = PlainText.OrNull(request.Reason) ?? "";
        if (reason.Length > LongestLine)
            return Problems.BadField("reason", $"At most {LongestLine} characters.");
        return await DoAsync(
            siteId,
            talkId,
            (row, now) =>
                (
                    TalkVerdict.Done,
                    row.Standing.Close(reason, now),
                    row.State == TalkState.Closed
                        ? []
                        : [NewWord.Happened($"{member.Name} closed it{(reason.Length > 0 ? $": {reason}" : "")}.")]
                ),
            stop
        );
    }

    public Task<Results<Ok<TalkDetailView>, ProblemHttpResult>> ReopenAsync(
        Guid siteId,
        Guid talkId,
        CancellationToken stop
    ) =>
        DoAsync(
            siteId,
            talkId,
            (row, _) =>
                (
                    TalkVerdict.Done,
                    row.Standing.Reopen(member.Id),
                    row.State == TalkState.Closed ? [NewWord.Happened($"{member.Name} opened it again.")] : []
                ),
            stop
        );

    public async Task<Results<Ok<TalkDetailView>, ProblemHttpResult>> TagAsync(
        Guid siteId,
        Guid talkId,
        TagsRequest request,
        CancellationToken stop
    )
    {
        var tags = request
            .Tags.Select(t => PlainText.OrNull(t))
            .OfType<string>()
            .Distinct(StringComparer.OrdinalIgnoreCase)
            .ToList();
        return tags.Count > MostTags || tags.Any(t => t.Length > LongestTag)
            ? Problems.BadField("tags", $"At most {MostTags} tags of {LongestTag} characters.")
            : await DoAsync(siteId, talkId, Quietly(row => row.Tags = tags), stop);
    }

    public async Task<Results<Ok<TalkDetailView>, ProblemHttpResult>> NameAsync(
        Guid siteId,
        Guid talkId,
        NameVisitorRequest request,
        CancellationToken stop
    )
    {
        var name = PlainText.OrNull(request.Name) ?? "";
        return name.Length > LongestLine
            ? Problems.BadField("name", $"At most {LongestLine} characters.")
            : await DoAsync(siteId, talkId, Quietly(row => row.Name = name), stop);
    }

    /// <summary>Hears nothing more of this visitor, in this talk and their others; or hears them again. They are not told.</summary>
    public async Task<Results<Ok<TalkDetailView>, ProblemHttpResult>> BlockAsync(
        Guid siteId,
        Guid talkId,
        BlockRequest request,
        CancellationToken stop
    )
    {
        var visitor = await db
            .Talks.Where(t => t.Id == talkId && t.SiteId == siteId)
            .Select(t => t.VisitorId)
            .FirstOrDefaultAsync(stop);
        if (visitor is null)
            return Problems.NotFound("talk");
        await db
            .Talks.Where(t => t.SiteId == siteId && t.VisitorId == visitor)
            .ExecuteUpdateAsync(u => u.SetProperty(t => t.IsBlocked, request.Blocked), stop);
        return await DoAsync(
            siteId,
            talkId,
            (row, _) =>
                (
                    TalkVerdict.Done,
                    row.Standing,
                    [
                        NewWord.Happened(
                            request.Blocked
                                ? $"{member.Name} blocked this visitor, who is not told."
                                : $"{member.Name} hears this visitor again."
                        ),
                    ]
                ),
            stop
        );
    }

    /// <summary>Tells the visitor and colleagues that one is writing.</summary>
    public async Task<Results<NoContent, ProblemHttpResult>> TypeAsync(Guid siteId, Guid talkId, CancellationToken stop)
    {
        if (!await db.Talks.AnyAsync(t => t.Id == talkId && t.SiteId == siteId, stop))
            return Problems.NotFound("talk");
        await news.TellAsync(siteId, talkId, Stir.MemberTypes, TalkLetters.FirstName(member.Name));
        return TypedResults.NoContent();
    }

    public async Task<Results<NoContent, ProblemHttpResult>> SeeAsync(
        Guid siteId,
        Guid talkId,
        SeenRequest request,
        CancellationToken stop
    )
    {
        var moved = await db
            .Talks.Where(t =>
                t.Id == talkId && t.SiteId == siteId && t.SeenByTeam < request.Number && t.Last >= request.Number
            )
            .ExecuteUpdateAsync(u => u.SetProperty(t => t.SeenByTeam, request.Number), stop);
        if (moved > 0)
            await news.TellAsync(siteId, talkId, Stir.Words);
        return TypedResults.NoContent();
    }

    private static Func<TalkRow, Instant, (TalkVerdict, TalkStanding, IReadOnlyList<NewWord>)> Quietly(
        Action<TalkRow> change
    ) =>
        (row, _) =>
        {
            change(row);
            return (TalkVerdict.Done, row.Standing, []);
        };

    private async Task<Results<Ok<TalkDetailView>, ProblemHttpResult>> DoAsync(
        Guid siteId,
        Guid talkId,
        Func<TalkRow, Instant, (TalkVerdict, TalkStanding, IReadOnlyList<NewWord>)> act,
        CancellationToken stop,
        Guid? once = null
    )
    {
        if (!await db.Talks.AnyAsync(t => t.Id == talkId && t.SiteId == siteId, stop))
            return Problems.NotFound("talk");
        if (await book.ActAsync(db, talkId, act, stop, once) is not { } answer)
            return Problems.NotFound("talk");
        return answer.Verdict switch
        {
            TalkVerdict.Done => TypedResults.Ok(
                await ShowTalk.ViewAsync(
                    db,
                    answer.Talk,
                    sites.GetById(siteId),
                    ShowTalk.LimitsOf(member),
                    lines,
                    clock,
                    null,
                    stop
                )
            ),
            TalkVerdict.HeldByAnother => await HeldAsync(answer.Talk, stop),
            TalkVerdict.IsClosed => Problems.Of(
                StatusCodes.Status409Conflict,
                "closed",
                "The talk is closed",
                "Open it again first."
            ),
            _ => Problems.BadField(
                "until",
                $"Choose a moment ahead, at most {TalkStanding.LongestSnooze.Days} days from now."
            ),
        };
    }

    private async Task<ProblemHttpResult> HeldAsync(TalkRow talk, CancellationToken stop)
    {
        var holder = await db
            .Users.Where(u => u.Id == talk.MemberId)
            .Select(u => u.DisplayName)
            .FirstOrDefaultAsync(stop);
        return Problems.Of(
            StatusCodes.Status409Conflict,
            "held",
            $"{holder ?? "A colleague"} has this talk",
            $"{holder ?? "A colleague"} was quicker. Your words are kept here; add them as a note, or take the talk over."
        );
    }
}
