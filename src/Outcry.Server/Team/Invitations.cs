using System.Globalization;
using System.Security.Cryptography;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Server.Accounts;
using Outcry.Server.Mail;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Team;

internal sealed record InviteRequest(string Email, Role Role);

/// <param name="Link">Opens the invitation; shown once, to be sent on by hand where no mail goes out.</param>
/// <param name="Mailed">Whether a mail server took it.</param>
internal sealed record InvitedView(InvitationView Invitation, string Link, bool Mailed);

/// <summary>Asks people by mail to join. A link holds for seven days and works once, for the address that it was sent to.</summary>
internal static class Invitations
{
    private static readonly Duration Life = Duration.FromDays(7);
    private const int MostOpen = 100;

    public static async Task<Results<Ok<InvitedView>, ProblemHttpResult>> InviteAsync(
        Guid workspaceId,
        InviteRequest request,
        OutcryDb db,
        CurrentMember current,
        UserManager<Member> members,
        TraceBook traces,
        Postman postman,
        DeskAddress address,
        HttpContext http,
        IClock clock,
        CancellationToken stop
    )
    {
        var email = request.Email.Trim().ToLowerInvariant();
        if (!MailFeature.IsAddress(email) || email.Length > PasswordRules.LongestEmail)
            return Problems.BadField("email", "This is no e-mail address.");
        var theirs = db.Memberships.Join(db.Users, m => m.MemberId, u => u.Id, (m, u) => u.NormalizedEmail);
        var normal = members.NormalizeEmail(email);
        if (await theirs.AnyAsync(e => e == normal, stop))
            return Problems.BadField("email", "Somebody with this address is a member already.");
        if (await db.Invitations.CountAsync(stop) >= MostOpen)
            return Problems.BadField("email", $"{MostOpen} invitations are open. Withdraw one first.");
        var (secret, now) = (Secret(), clock.GetCurrentInstant());
        // Asked twice: the newer counts.
        await db.Invitations.Where(i => i.Email == email).ExecuteDeleteAsync(stop);
        var row = new InvitationRow
        {
            WorkspaceId = workspaceId,
            Email = email,
            Role = request.Role,
            Hash = TokenDoor.Hash(secret),
            InvitedBy = current.Name,
            InvitedAt = now,
            EndsAt = now + Life,
        };
        db.Invitations.Add(row);
        traces.Add("invited", email, changes: [new TracedChange("role", "", $"{request.Role}")]);
        await db.SaveChangesAsync(stop);
        return await SendAsync(row, secret, current, db, postman, address, http, stop);
    }

    /// <summary>Sends it once more, with a new link and another seven days; the link before opens nothing any more.</summary>
    public static async Task<Results<Ok<InvitedView>, ProblemHttpResult>> AgainAsync(
        Guid workspaceId,
        Guid invitationId,
        OutcryDb db,
        CurrentMember current,
        Postman postman,
        DeskAddress address,
        HttpContext http,
        IClock clock,
        CancellationToken stop
    )
    {
        if (await db.Invitations.FirstOrDefaultAsync(i => i.Id == invitationId, stop) is not { } row)
            return Problems.NotFound("invitation");
        var (secret, now) = (Secret(), clock.GetCurrentInstant());
        (row.Hash, row.InvitedAt, row.EndsAt) = (TokenDoor.Hash(secret), now, now + Life);
        await db.SaveChangesAsync(stop);
        return await SendAsync(row, secret, current, db, postman, address, http, stop);
    }

    public static async Task<Results<NoContent, ProblemHttpResult>> WithdrawAsync(
        Guid workspaceId,
        Guid invitationId,
        OutcryDb db,
        TraceBook traces,
        CancellationToken stop
    )
    {
        if (await db.Invitations.FirstOrDefaultAsync(i => i.Id == invitationId, stop) is not { } row)
            return Problems.NotFound("invitation");
        traces.Add("withdrew the invitation of", row.Email);
        db.Invitations.Remove(row);
        await db.SaveChangesAsync(stop);
        return TypedResults.NoContent();
    }

    private static string Secret() => Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(32));

    private static async Task<Results<Ok<InvitedView>, ProblemHttpResult>> SendAsync(
        InvitationRow row,
        string secret,
        CurrentMember current,
        OutcryDb db,
        Postman postman,
        DeskAddress address,
        HttpContext http,
        CancellationToken stop
    )
    {
        var workspace = await db.Workspaces.Where(w => w.Id == row.WorkspaceId).Select(w => w.Name).FirstAsync(stop);
        // Behind "#", so that it stays out of logs and referrers.
        var link = $"{address.Of(http.Request)}/join#{secret}";
        var mailed =
            postman.IsSet
            && await postman.TrySendAsync(
                new Letter(
                    row.Email,
                    $"{current.Name} asks you to join {workspace}",
                    $"""
                    Hello,

                    {current.Name} asks you to work with the team of {workspace} in Outcry, as {$"{row.Role}".ToLowerInvariant()}. This link
                    takes you in. It holds until {row.EndsAt.InUtc().Date.ToString(
                        "d MMMM uuuu",
                        CultureInfo.InvariantCulture
                    )} and works once:
                    {link}

                    If you do not know what this is about, let it lie.

                    """,
                    current.Email
                ),
                stop
            );
        return TypedResults.Ok(
            new InvitedView(
                new InvitationView(row.Id, row.Email, row.Role, row.InvitedBy, row.InvitedAt, row.EndsAt),
                link,
                mailed
            )
        );
    }
}
