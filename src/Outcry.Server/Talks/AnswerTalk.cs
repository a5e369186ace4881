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

/// <param name="Number">Up to which word it was seen.</param>
internal sealed record SeenRequest(int Number);

/// <summary>What members do in talks. Every act is atomic: of two who answer at once one wins, and the other is told who.</summary>
internal sealed class AnswerTalk(
    OutcryDb db,
    TalkActs acts,
    TalkNews news,
    TalkLetters letters,
    TeamPresence team,
    CurrentMember member,
    DeskAddress desk
)
{
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
        var done = await acts.DoAsync(
            siteId,
            talkId,
            (row, now) =>
            {
                if (request.IsNote)
                    return (TalkVerdict.Done, row.Standing, [word]);
                var took = Taking(row, now);
                TalkActs.Silence(row);
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
        acts.DoAsync(
            siteId,
            talkId,
            (row, now) =>
            {
                var took = Taking(row, now);
                var (verdict, standing) = row.Standing.MemberSaid(member.Id);
                if (verdict != TalkVerdict.Done)
                    return (verdict, standing, []);
                TalkActs.Silence(row);
                db.TalkFiles.Add(file);
                return (verdict, standing, took is null ? [word] : [took, word]);
            },
            stop,
            word.Id
        );

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
}
