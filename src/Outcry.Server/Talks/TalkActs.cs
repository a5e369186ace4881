using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Talks;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Talks;

/// <summary>Does what a member wants of a talk, and says in what way it could not be done.</summary>
internal sealed class TalkActs(
    OutcryDb db,
    TalkBook book,
    TalkLines lines,
    LiveSites sites,
    CurrentMember member,
    IClock clock
)
{
    // Once a person has the talk, its script is silent for good.
    public static void Silence(TalkRow row)
    {
        row.ScriptEndsAt = null;
        if (row.Script is { IsOver: false } script)
            row.Script = script with { IsOver = true, Waits = null };
    }

    public async Task<Results<Ok<TalkDetailView>, ProblemHttpResult>> DoAsync(
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
