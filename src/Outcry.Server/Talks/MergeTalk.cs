using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Outcry.Core.Talks;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Talks;

/// <param name="IntoId">The talk that goes on: of the same visitor, or of the same address.</param>
internal sealed record MergeRequest(Guid IntoId);

/// <summary>Puts a talk into another one of the same person: its words stand there as a note, and it is closed with a link to it.</summary>
/// <remarks>
/// Nothing is moved: words keep their place and their numbers at both ends. The same browser's next word goes to the talk that
/// goes on; another browser, of which only the address is the same, never learns of it and reopens its own.
/// </remarks>
internal static class MergeTalk
{
    private const int MostWords = 200;

    public static async Task<Results<Ok<TalkDetailView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid talkId,
        MergeRequest request,
        OutcryDb db,
        TalkBook book,
        LiveSites sites,
        TalkLines lines,
        CurrentMember member,
        NodaTime.IClock clock,
        CancellationToken stop
    )
    {
        var from = await db.Talks.AsNoTracking().FirstOrDefaultAsync(t => t.Id == talkId && t.SiteId == siteId, stop);
        var into = await db
            .Talks.AsNoTracking()
            .FirstOrDefaultAsync(t => t.Id == request.IntoId && t.SiteId == siteId, stop);
        if (from is null || into is null)
            return Problems.NotFound("talk");
        var isSamePerson =
            from.VisitorId == into.VisitorId
            || (from.Person is { } person && into.Person is { } other && person.AsSpan().SequenceEqual(other))
            || (from.Email is { } email && email.Equals(into.Email, StringComparison.OrdinalIgnoreCase));
        if (from.Id == into.Id || !isSamePerson)
            return Problems.BadField("intoId", "Only talks of one visitor, or of one address, are put together.");
        if (from.State == TalkState.Closed)
            return Problems.Of(StatusCodes.Status409Conflict, "closed", "The talk is closed", "Open it again first.");
        var words = await db
            .TalkWords.AsNoTracking()
            .Where(w => w.TalkId == from.Id && (w.By == SaidBy.Visitor || w.By == SaidBy.Member))
            .OrderByDescending(w => w.Number)
            .Take(MostWords)
            .ToListAsync(stop);
        words.Reverse();
        var said = string.Join("\n", words.Select(w => $"{(w.By == SaidBy.Visitor ? "Visitor" : w.Name)}: {w.Text}"));
        var title = from.Name.Length > 0 ? from.Name : "this visitor";
        var note = TalkText.Clip($"From another talk with {title}, put in here:\n{said}");
        // First there, then closed here: whatever breaks off between leaves a talk too many, never one too few.
        var waits = from.WaitingSince;
        var answer = await book.ActAsync(
            db,
            into.Id,
            (row, now) =>
            {
                var standing = row.State == TalkState.Closed ? row.Standing.Reopen(member.Id) : row.Standing;
                row.Email ??= from.Email;
                row.AgreedAt ??= from.AgreedAt;
                if (row.Name.Length == 0)
                    row.Name = from.Name;
                row.Tags = [.. row.Tags.Union(from.Tags, StringComparer.OrdinalIgnoreCase).Take(ManageTalk.MostTags)];
                return (
                    TalkVerdict.Done,
                    standing with
                    {
                        WaitingSince = standing.IsOpen ? standing.WaitingSince ?? waits : null,
                    },
                    [new NewWord(from.Id, SaidBy.Member, ReadBy.Team, note, member.Id, member.Name)]
                );
            },
            stop,
            from.Id
        );
        if (answer is null)
            return Problems.NotFound("talk");
        await book.ActAsync(
            db,
            from.Id,
            (row, now) =>
            {
                TalkActs.Silence(row);
                row.MergedIntoId = into.Id;
                return (
                    TalkVerdict.Done,
                    row.Standing.Close("put into another talk", now),
                    [NewWord.Happened($"{member.Name} put it into another talk.")]
                );
            },
            stop
        );
        return TypedResults.Ok(
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
        );
    }
}
