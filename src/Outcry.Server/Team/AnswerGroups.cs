using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Npgsql;
using Outcry.Core.Access;
using Outcry.Core.Care;
using Outcry.Core.Talks;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Team;

/// <summary>Members who answer for something.</summary>
internal sealed record AnswerGroupView(Guid Id, string Name, IReadOnlyList<Guid> MemberIds);

/// <param name="Name">For what they answer: "Workshops"; 1 to 40 characters, once in the workspace.</param>
/// <param name="MemberIds">Members whose role answers visitors; may be empty.</param>
internal sealed record AnswerGroupRequest(string Name, IReadOnlyList<Guid> MemberIds);

/// <summary>Groups of a workspace's team, to whom launchers belong and scripts hand over.</summary>
internal static class AnswerGroups
{
    private const int Most = 40;
    private const int LongestName = 40;

    public static async Task<Ok<List<AnswerGroupView>>> ListAsync(
        Guid workspaceId,
        OutcryDb db,
        CancellationToken stop
    ) =>
        TypedResults.Ok(
            (
                await db
                    .AnswerGroups.AsNoTracking()
                    .Where(g => g.WorkspaceId == workspaceId)
                    .OrderBy(g => g.Name)
                    .ToListAsync(stop)
            ).ConvertAll(View)
        );

    public static async Task<Results<Created<AnswerGroupView>, ProblemHttpResult>> AddAsync(
        Guid workspaceId,
        AnswerGroupRequest request,
        OutcryDb db,
        TeamPresence presence,
        TraceBook traces,
        CancellationToken stop
    )
    {
        if (await db.AnswerGroups.CountAsync(stop) >= Most)
            return Problems.BadField("name", $"A workspace has at most {Most} groups.");
        var row = new AnswerGroupRow { WorkspaceId = workspaceId, Name = "" };
        if (await WriteAsync(row, request, db, stop) is { } objection)
            return objection;
        db.AnswerGroups.Add(row);
        traces.Add("made the group", row.Name);
        return await SaveAsync(db, presence, stop) is { } taken
            ? taken
            : TypedResults.Created($"/api/workspaces/{workspaceId}/team/groups/{row.Id}", View(row));
    }

    public static async Task<Results<Ok<AnswerGroupView>, ProblemHttpResult>> ChangeAsync(
        Guid workspaceId,
        Guid groupId,
        AnswerGroupRequest request,
        OutcryDb db,
        TeamPresence presence,
        TraceBook traces,
        CancellationToken stop
    )
    {
        if (
            await db.AnswerGroups.FirstOrDefaultAsync(g => g.Id == groupId && g.WorkspaceId == workspaceId, stop)
            is not { } row
        )
            return Problems.NotFound("group");
        if (await WriteAsync(row, request, db, stop) is { } objection)
            return objection;
        traces.Add("changed the group", row.Name);
        return await SaveAsync(db, presence, stop) is { } taken ? taken : TypedResults.Ok(View(row));
    }

    /// <summary>Ends a group: what was theirs is everybody's.</summary>
    public static async Task<Results<NoContent, ProblemHttpResult>> RemoveAsync(
        Guid workspaceId,
        Guid groupId,
        OutcryDb db,
        TeamPresence presence,
        TraceBook traces,
        CancellationToken stop
    )
    {
        if (
            await db.AnswerGroups.FirstOrDefaultAsync(g => g.Id == groupId && g.WorkspaceId == workspaceId, stop)
            is not { } row
        )
            return Problems.NotFound("group");
        db.AnswerGroups.Remove(row);
        traces.Add("ended the group", row.Name);
        await db
            .Talks.Where(t => t.GroupId == groupId)
            .ExecuteUpdateAsync(u => u.SetProperty(t => t.GroupId, (Guid?)null), stop);
        return await SaveAsync(db, presence, stop) is { } failed ? failed : TypedResults.NoContent();
    }

    private static async Task<ProblemHttpResult?> WriteAsync(
        AnswerGroupRow row,
        AnswerGroupRequest request,
        OutcryDb db,
        CancellationToken stop
    )
    {
        if (PlainText.OrNull(request.Name) is not { Length: <= LongestName } name)
            return Problems.BadField("name", $"A group has a name of 1 to {LongestName} characters.");
        var roles = AccessTable.Roles.Where(r => AccessTable.Allows(r, Right.Answer)).ToList();
        var members = request.MemberIds.Distinct().ToList();
        var answering = await db
            .Memberships.Where(m => members.Contains(m.MemberId) && roles.Contains(m.Role))
            .CountAsync(stop);
        if (answering < members.Count)
            return Problems.BadField("memberIds", "Only members whose role answers visitors can be in a group.");
        (row.Name, row.MemberIds) = (name, members);
        return null;
    }

    private static async Task<ProblemHttpResult?> SaveAsync(OutcryDb db, TeamPresence presence, CancellationToken stop)
    {
        try
        {
            await db.SaveChangesAsync(stop);
        }
        catch (DbUpdateException twice)
            when (twice.InnerException is PostgresException { SqlState: PostgresErrorCodes.UniqueViolation })
        {
            return Problems.BadField("name", "There is a group of this name already.");
        }
        // Other nodes read it with their next look; here it counts at once.
        await TeamGroups.ReadAsync(db, presence, stop);
        return null;
    }

    private static AnswerGroupView View(AnswerGroupRow row) => new(row.Id, row.Name, row.MemberIds);
}
