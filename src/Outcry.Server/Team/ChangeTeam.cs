using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Outcry.Core.Access;
using Outcry.Core.Talks;
using Outcry.Server.Live;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Team;

internal sealed record RoleRequest(Role Role);

internal sealed record WorkspaceNameRequest(string Name);

/// <summary>Who is in a workspace and as what, and how its team wants to work. Its last owner can neither go nor become something else.</summary>
internal static class ChangeTeam
{
    private const int LongestName = 80;

    public static async Task<Results<NoContent, ProblemHttpResult>> RenameAsync(
        Guid workspaceId,
        WorkspaceNameRequest request,
        OutcryDb db,
        TraceBook traces,
        CancellationToken stop
    )
    {
        var name = request.Name.Trim();
        if (name.Length is 0 or > LongestName)
            return Problems.BadField("name", $"A workspace's name has 1 to {LongestName} characters.");
        var row = await db.Workspaces.FirstAsync(w => w.Id == workspaceId, stop);
        traces.Add("renamed the workspace", name, changes: [new TracedChange("name", row.Name, name)]);
        row.Name = name;
        await db.SaveChangesAsync(stop);
        return TypedResults.NoContent();
    }

    public static async Task<Results<NoContent, ProblemHttpResult>> SetHabitsAsync(
        Guid workspaceId,
        HouseHabits request,
        OutcryDb db,
        CurrentMember current,
        TraceBook traces,
        CancellationToken stop
    )
    {
        if (request.Check() is [var problem, ..])
            return Problems.BadField(problem.Field, problem.Message);
        // Whoever asked for it would shut themselves out with the same press.
        if (request.NeedsFactor(current.Roles[workspaceId]) && !current.HasFactor)
            return Problems.BadField(
                "factor",
                "Set up a second factor for yourself and sign in with it first; this would shut you out at once."
            );
        var row = await db.Workspaces.FirstAsync(w => w.Id == workspaceId, stop);
        traces.Add("changed the house habits", row.Name, changes: TraceBook.Between(row.Habits, request));
        row.Habits = request;
        await db.SaveChangesAsync(stop);
        return TypedResults.NoContent();
    }

    public static async Task<Results<NoContent, ProblemHttpResult>> SetRoleAsync(
        Guid workspaceId,
        Guid memberId,
        RoleRequest request,
        OutcryDb db,
        DeskLines lines,
        TraceBook traces,
        CancellationToken stop
    )
    {
        await using var transaction = await LockAsync(db, workspaceId, stop);
        if (await FindAsync(db, memberId, stop) is not { } found)
            return Problems.NotFound("member");
        if (found.Row.Role == request.Role)
            return TypedResults.NoContent();
        if (request.Role != Role.Owner && await IsLastOwnerAsync(db, found.Row, stop))
            return LastOwner;
        traces.Add(
            "changed the role of",
            found.Name,
            changes: [new TracedChange("role", $"{found.Row.Role}", $"{request.Role}")],
            link: $"member/{memberId}"
        );
        found.Row.Role = request.Role;
        if (!AccessTable.Allows(request.Role, Right.Answer))
            await LeaveTalksAsync(db, memberId, stop);
        await db.SaveChangesAsync(stop);
        await transaction.CommitAsync(stop);
        await lines.ReviewAsync(stop);
        return TypedResults.NoContent();
    }

    /// <summary>Takes somebody out. Their work stays; their sessions and live lines end at once.</summary>
    public static Task<Results<NoContent, ProblemHttpResult>> RemoveAsync(
        Guid workspaceId,
        Guid memberId,
        OutcryDb db,
        DeskLines lines,
        TraceBook traces,
        CancellationToken stop
    ) => TakeOutAsync(workspaceId, memberId, "removed", db, lines, traces, stop);

    public static Task<Results<NoContent, ProblemHttpResult>> LeaveAsync(
        Guid workspaceId,
        CurrentMember current,
        OutcryDb db,
        DeskLines lines,
        TraceBook traces,
        CancellationToken stop
    ) => TakeOutAsync(workspaceId, current.Id, "left the workspace", db, lines, traces, stop);

    private static async Task<Results<NoContent, ProblemHttpResult>> TakeOutAsync(
        Guid workspaceId,
        Guid memberId,
        string act,
        OutcryDb db,
        DeskLines lines,
        TraceBook traces,
        CancellationToken stop
    )
    {
        await using (var transaction = await LockAsync(db, workspaceId, stop))
        {
            if (await FindAsync(db, memberId, stop) is not { } found)
                return Problems.NotFound("member");
            if (await IsLastOwnerAsync(db, found.Row, stop))
                return LastOwner;
            traces.Add(act, found.Name, changes: [new TracedChange("role", $"{found.Row.Role}", "")]);
            db.Memberships.Remove(found.Row);
            await LeaveTalksAsync(db, memberId, stop);
            await db.SaveChangesAsync(stop);
            // Whoever has another workspace stays signed in there; here each request asks for the membership anew.
            if (!await db.Memberships.IgnoreQueryFilters().AnyAsync(m => m.MemberId == memberId, stop))
                await db.Sessions.Where(s => s.MemberId == memberId).ExecuteDeleteAsync(stop);
            await transaction.CommitAsync(stop);
        }
        await lines.ReviewAsync(stop);
        return TypedResults.NoContent();
    }

    // Nobody has a talk who may not answer in it: those who wait there are anybody's again.
    private static async Task LeaveTalksAsync(OutcryDb db, Guid memberId, CancellationToken stop)
    {
        foreach (var group in await db.AnswerGroups.Where(g => g.MemberIds.Contains(memberId)).ToListAsync(stop))
            group.MemberIds = [.. group.MemberIds.Where(m => m != memberId)];
        await db
            .Talks.Where(t => t.MemberId == memberId && t.State != TalkState.Closed)
            .ExecuteUpdateAsync(
                u =>
                    u.SetProperty(t => t.State, TalkState.Unclaimed)
                        .SetProperty(t => t.MemberId, (Guid?)null)
                        .SetProperty(t => t.SnoozedUntil, (NodaTime.Instant?)null),
                stop
            );
    }

    // Two owners who make each other viewers at the same moment would leave nobody.
    private static async Task<Microsoft.EntityFrameworkCore.Storage.IDbContextTransaction> LockAsync(
        OutcryDb db,
        Guid workspaceId,
        CancellationToken stop
    )
    {
        var transaction = await db.Database.BeginTransactionAsync(stop);
        await db.Database.ExecuteSqlAsync($"select 1 from workspaces where id = {workspaceId} for update", stop);
        return transaction;
    }

    private static async Task<(MembershipRow Row, string Name)?> FindAsync(
        OutcryDb db,
        Guid memberId,
        CancellationToken stop
    ) =>
        await db.Memberships.FirstOrDefaultAsync(m => m.MemberId == memberId, stop) is { } row
            ? (row, await db.Users.Where(u => u.Id == memberId).Select(u => u.DisplayName).FirstAsync(stop))
            : null;

    private static async Task<bool> IsLastOwnerAsync(OutcryDb db, MembershipRow row, CancellationToken stop) =>
        row.Role == Role.Owner
        && !await db.Memberships.AnyAsync(m => m.Role == Role.Owner && m.MemberId != row.MemberId, stop);

    private static ProblemHttpResult LastOwner =>
        Problems.Of(
            StatusCodes.Status409Conflict,
            "last-owner",
            "The last owner stays",
            "A workspace has at least one owner. Make somebody else an owner first."
        );
}
