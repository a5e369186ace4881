using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Server.Accounts;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Team;

/// <param name="Secret">What stands behind "#" in the invitation's link.</param>
internal sealed record LookRequest(string Secret);

/// <param name="HasAccount">Whether the invited address has an account to join with.</param>
/// <param name="IsSignedIn">Whether it is the one that is signed in now.</param>
internal sealed record InvitationLook(
    string Workspace,
    string Email,
    Role Role,
    string InvitedBy,
    Instant EndsAt,
    bool HasAccount,
    bool IsSignedIn
);

/// <param name="Name">For a new account; empty to join with the account that is signed in.</param>
internal sealed record AcceptRequest(string Secret, string Name, string Password);

/// <summary>Takes up an invitation, with a new account or the one its address has.</summary>
internal static class Joining
{
    public static async Task<Results<Ok<InvitationLook>, ProblemHttpResult>> LookAsync(
        LookRequest request,
        SystemDb database,
        UserManager<Member> members,
        HttpContext http,
        IClock clock,
        CancellationToken stop
    )
    {
        await using var db = database.Open();
        if (await FindAsync(db, request.Secret, clock, stop) is not { } row)
            return Gone;
        var workspace = await db.Workspaces.Where(w => w.Id == row.WorkspaceId).Select(w => w.Name).FirstAsync(stop);
        var account = await members.FindByEmailAsync(row.Email);
        return TypedResults.Ok(
            new InvitationLook(
                workspace,
                row.Email,
                row.Role,
                row.InvitedBy,
                row.EndsAt,
                account is not null,
                account is not null && IdOf(http) == account.Id
            )
        );
    }

    public static async Task<Results<NoContent, ProblemHttpResult>> AcceptAsync(
        AcceptRequest request,
        OutcryDb db,
        SystemDb database,
        UserManager<Member> members,
        Sessions sessions,
        TraceBook traces,
        HttpContext http,
        IClock clock,
        CancellationToken stop
    )
    {
        InvitationRow row;
        await using (var look = database.Open())
        {
            if (await FindAsync(look, request.Secret, clock, stop) is not { } found)
                return Gone;
            row = found;
        }
        var account = await members.FindByEmailAsync(row.Email);
        // The link alone is not enough where an account exists: whoever found it in a mailbox is not yet its owner.
        if (account is not null && IdOf(http) != account.Id)
            return Problems.Of(
                StatusCodes.Status409Conflict,
                "sign-in-first",
                "Sign in first",
                $"{row.Email} has an account. Sign in with it, then open the link once more."
            );
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        // Taken out first: of two who use the link at the same moment, one finds it used.
        if (await db.Invitations.IgnoreQueryFilters().Where(i => i.Id == row.Id).ExecuteDeleteAsync(stop) == 0)
            return Gone;
        var isNew = account is null;
        if (account is null)
        {
            if (PasswordRules.Check(request.Name.Trim(), row.Email, request.Password) is { } bad)
                return bad;
            account = new Member
            {
                Id = Guid.CreateVersion7(),
                UserName = row.Email,
                Email = row.Email,
                EmailConfirmed = true,
                DisplayName = request.Name.Trim(),
            };
            if (await PasswordRules.CreateAsync(members, account, request.Password) is { } refused)
                return refused;
        }
        db.Memberships.Add(
            new MembershipRow
            {
                WorkspaceId = row.WorkspaceId,
                MemberId = account.Id,
                Role = row.Role,
                JoinedAt = clock.GetCurrentInstant(),
            }
        );
        traces.AddFor(
            row.WorkspaceId,
            "joined",
            account.DisplayName,
            changes: [new TracedChange("role", "", $"{row.Role}")],
            by: (account.Id, account.DisplayName)
        );
        await db.SaveChangesAsync(stop);
        await transaction.CommitAsync(stop);
        if (isNew)
            await sessions.BeginAsync(account, hadFactor: false);
        return TypedResults.NoContent();
    }

    // Also of somebody who has no workspace (any more): they are signed in and nothing else.
    private static Guid? IdOf(HttpContext http) =>
        Guid.TryParse(http.User.FindFirst(System.Security.Claims.ClaimTypes.NameIdentifier)?.Value, out var id)
            ? id
            : null;

    private static Task<InvitationRow?> FindAsync(OutcryDb db, string secret, IClock clock, CancellationToken stop)
    {
        var (hash, now) = (TokenDoor.Hash(secret), clock.GetCurrentInstant());
        return db.Invitations.AsNoTracking().FirstOrDefaultAsync(i => i.Hash == hash && i.EndsAt > now, stop);
    }

    private static ProblemHttpResult Gone =>
        Problems.Of(
            StatusCodes.Status404NotFound,
            "link-gone",
            "This invitation no longer holds",
            "It was used, withdrawn, or is older than seven days. Ask whoever sent it for a new one."
        );
}
