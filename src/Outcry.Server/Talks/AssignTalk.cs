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

/// <param name="MemberId">To whom; null gives it back to nobody.</param>
/// <param name="InTurn">Whether it goes to whoever's turn it is among those who are there; then nobody is named.</param>
/// <param name="GroupId">Of which group whoever's turn it is; without a turn, the group for which it stands unclaimed.</param>
/// <param name="Note">What they should know; empty for nothing.</param>
internal sealed record AssignRequest(
    Guid? MemberId = null,
    bool InTurn = false,
    string Note = "",
    Guid? GroupId = null
);

/// <summary>Gives a talk to somebody: by name, in turn, to a group, or back to everybody.</summary>
internal sealed class AssignTalk(OutcryDb db, TalkActs acts, TeamPresence team, CurrentMember member)
{
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
        var group = team.GroupsOf(member.WorkspaceId).FirstOrDefault(g => g.Id == request.GroupId);
        if (request.GroupId is not null && group is null)
            return Problems.BadField("groupId", "There is no such group.");
        var (to, problem) = await ToAsync(siteId, talkId, request, group, stop);
        if (problem is not null)
            return problem;
        List<NewWord> words =
        [
            NewWord.Happened(
                to is null && group is not null ? $"{member.Name} handed it to {group.Name}."
                : to is null ? $"{member.Name} gave it back to everybody."
                : to.Id == member.Id ? $"{member.Name} took it."
                : $"{member.Name} handed it to {to.Name}."
            ),
        ];
        if (note is not null)
            words.Add(new NewWord(Guid.CreateVersion7(), SaidBy.Member, ReadBy.Team, note, member.Id, member.Name));
        return await acts.DoAsync(
            siteId,
            talkId,
            (row, _) =>
            {
                if (to is not null || group is not null)
                    TalkActs.Silence(row);
                if (to is null)
                    row.GroupId = group?.Id;
                var (verdict, standing) = row.Standing.Assign(to?.Id);
                return (verdict, standing, words);
            },
            stop
        );
    }

    private async Task<(AnsweringView? To, ProblemHttpResult? Problem)> ToAsync(
        Guid siteId,
        Guid talkId,
        AssignRequest request,
        AnswerGroup? group,
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
        // In turn among those for whom it is.
        var ofGroup = group?.Members ?? await MembersForAsync(siteId, talkId, stop);
        answering.RemoveAll(m => !m.IsThere || ofGroup?.Contains(m.Id) == false);
        var there = answering.ConvertAll(m => m.Id);
        var given = await db
            .Talks.Where(t => t.SiteId == siteId && t.MemberId != null && there.Contains(t.MemberId.Value))
            .GroupBy(t => t.MemberId!.Value)
            .Select(g => new { Id = g.Key, At = g.Max(t => t.GivenAt) })
            .ToDictionaryAsync(g => g.Id, g => g.At, stop);
        var next = RoundRobin.Next(
            answering.Select(m => new AnsweringMember(m.Id, m.OpenTalks, given.GetValueOrDefault(m.Id)))
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

    // Those of the talk's group; null where it is for everybody.
    private async Task<IReadOnlySet<Guid>?> MembersForAsync(Guid siteId, Guid talkId, CancellationToken stop)
    {
        var id = await db
            .Talks.Where(t => t.Id == talkId && t.SiteId == siteId)
            .Select(t => t.GroupId)
            .FirstOrDefaultAsync(stop);
        return team.GroupsOf(member.WorkspaceId).FirstOrDefault(g => g.Id == id)?.Members;
    }
}
