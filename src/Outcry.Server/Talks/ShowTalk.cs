using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Core.Scripts;
using Outcry.Core.Talks;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Talks;

/// <summary>One talk with what was said, and who may answer it.</summary>
internal static class ShowTalk
{
    private const int MostWords = 300;

    public static async Task<Results<Ok<TalkDetailView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid talkId,
        OutcryDb db,
        LiveSites sites,
        TalkLines lines,
        CurrentMember member,
        IClock clock,
        CancellationToken stop,
        int? before = null
    )
    {
        var row = await db.Talks.AsNoTracking().FirstOrDefaultAsync(t => t.Id == talkId && t.SiteId == siteId, stop);
        return row is null
            ? Problems.NotFound("talk")
            : TypedResults.Ok(
                await ViewAsync(db, row, sites.GetById(siteId), LimitsOf(member), lines, clock, before, stop)
            );
    }

    /// <summary>After how much waiting a member's workspace wants whom to be told.</summary>
    public static WaitingLimits LimitsOf(CurrentMember member) => LimitsOf(member.Habits);

    public static WaitingLimits LimitsOf(HouseHabits habits) =>
        new(habits.Answers.GroupMinutes, habits.Answers.EverybodyMinutes);

    public static async Task<TalkDetailView> ViewAsync(
        OutcryDb db,
        TalkRow row,
        LiveSite site,
        WaitingLimits limits,
        TalkLines lines,
        IClock clock,
        int? before,
        CancellationToken stop
    )
    {
        // The newest; what was said before is fetched when somebody reads up to there.
        var words = await db
            .TalkWords.AsNoTracking()
            .Where(w => w.TalkId == row.Id && (before == null || w.Number < before))
            .OrderByDescending(w => w.Number)
            .Take(MostWords)
            .ToListAsync(stop);
        words.Reverse();
        var now = clock.GetCurrentInstant();
        var holder = row.MemberId is { } id
            ? await db.Users.Where(u => u.Id == id).Select(u => u.DisplayName).FirstOrDefaultAsync(stop)
            : null;
        return new TalkDetailView(
            TalkView.Of(row, holder, site, limits, now),
            row.Email,
            row.AgreedAt,
            row.SeenByVisitor,
            row.Greeting,
            row.BeforeId,
            lines.IsFollowed(row.Id),
            row.ScriptId,
            row.Script?.Kept ?? ScriptState.Start.Kept,
            words.ConvertAll(w => TalkWordView.Of(w, site, now)),
            words.Count > 0 ? words[0].Number - 1 : 0,
            row.ScriptId is null ? null : await Bookings.ShowAsync(db, row, stop)
        );
    }

    /// <summary>Everybody of the workspace who may answer, those who are there first.</summary>
    public static async Task<Ok<List<AnsweringView>>> AnsweringAsync(
        Guid siteId,
        OutcryDb db,
        CurrentMember member,
        TeamPresence team,
        CancellationToken stop
    ) =>
        TypedResults.Ok(
            (await ReadAnsweringAsync(db, member.WorkspaceId, siteId, team, stop))
                .OrderByDescending(m => m.IsThere)
                .ThenBy(m => m.Name, StringComparer.Ordinal)
                .ToList()
        );

    public static async Task<List<AnsweringView>> ReadAnsweringAsync(
        OutcryDb db,
        Guid workspaceId,
        Guid siteId,
        TeamPresence team,
        CancellationToken stop
    )
    {
        var roles = AccessTable.Roles.Where(r => AccessTable.Allows(r, Right.Answer)).ToList();
        var there = team.IdsOf(workspaceId);
        var found = await db
            .Memberships.Where(m => m.WorkspaceId == workspaceId && roles.Contains(m.Role))
            .Join(
                db.Users,
                m => m.MemberId,
                u => u.Id,
                (m, u) =>
                    new
                    {
                        u.Id,
                        u.DisplayName,
                        Open = db.Talks.Count(t =>
                            t.SiteId == siteId && t.MemberId == u.Id && t.State == TalkState.Claimed
                        ),
                    }
            )
            .ToListAsync(stop);
        return found.ConvertAll(m => new AnsweringView(m.Id, m.DisplayName, there.Contains(m.Id), m.Open));
    }
}
