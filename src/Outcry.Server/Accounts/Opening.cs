using System.Security.Cryptography;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Server.Mail;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Accounts;

/// <summary>A workspace that is to be, with its first site and its owner.</summary>
/// <param name="Key">The one-time key of an empty house, or what a mail of ours confirmed an address with.</param>
/// <param name="Workspace">The company's name.</param>
/// <param name="Email">The owner's address; where a mail confirmed one, it is that.</param>
internal sealed record OpeningRequest(
    string Key,
    string Workspace,
    string HomeAddress,
    string TimeZone,
    string Language,
    string Name,
    string Email,
    string Password
);

internal sealed record RegistrationRequest(string Email);

/// <summary>Opens a workspace: the first of the house, a stranger's where that is allowed, or another of a member's own.</summary>
internal static class Opening
{
    private const int LongestWorkspace = 80;
    private static readonly TimeSpan ConfirmationLife = TimeSpan.FromDays(1);

    /// <summary>Opens one with an account of its own, and signs its owner in.</summary>
    public static async Task<Results<Ok<SiteView>, ProblemHttpResult>> OpenAsync(
        OpeningRequest request,
        OutcryDb db,
        UserManager<Member> members,
        Sessions sessions,
        HouseDoor door,
        IDataProtectionProvider protection,
        WorkspaceMaker maker,
        CancellationToken stop
    )
    {
        var confirmed = Confirmed(request.Key, protection);
        var email = (confirmed ?? request.Email).Trim();
        if (confirmed is null ? !await door.IsEmptyAsync(stop) : !door.MayRegister)
            return Problems.Of(
                StatusCodes.Status404NotFound,
                "opened",
                "This house is open already",
                "Somebody has made its first workspace. Ask an owner to invite you."
            );
        if (confirmed is null && !door.Opens(request.Key))
            return Problems.BadField(
                "key",
                "This is not the key. It stands in what ./outcry serve printed when it started."
            );
        if (CheckName(request.Workspace) is { } badName)
            return badName;
        if (PasswordRules.Check(request.Name.Trim(), email, request.Password) is { } badAccount)
            return badAccount;
        var site = new SiteRequest(
            request.Workspace.Trim(),
            request.HomeAddress.Trim(),
            request.TimeZone,
            request.Language
        );
        if (ChangeSites.Objection(site) is { } badSite)
            return badSite;
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        // Two who come at the same moment: one of them finds the house open.
        await db.Database.ExecuteSqlAsync($"select pg_advisory_xact_lock(4207001)", stop);
        if (confirmed is null && await db.Users.AnyAsync(stop))
            return Problems.Of(
                StatusCodes.Status409Conflict,
                "opened",
                "Somebody was quicker",
                "The first workspace has just been made. Ask its owner to invite you."
            );
        var member = new Member
        {
            Id = Guid.CreateVersion7(),
            UserName = email,
            Email = email,
            EmailConfirmed = confirmed is not null,
            DisplayName = request.Name.Trim(),
        };
        if (await PasswordRules.CreateAsync(members, member, request.Password) is { } refused)
            return refused;
        var made = await maker.MakeAsync(site, request.Workspace.Trim(), member, stop);
        await transaction.CommitAsync(stop);
        await maker.TellAsync(made);
        await sessions.BeginAsync(member, hadFactor: false);
        return TypedResults.Ok(SiteView.Of(made));
    }

    /// <summary>Opens another one for a member who is signed in.</summary>
    public static async Task<Results<Ok<SiteView>, ProblemHttpResult>> OpenAnotherAsync(
        AnotherWorkspaceRequest request,
        OutcryDb db,
        CurrentMember current,
        UserManager<Member> members,
        HouseDoor door,
        WorkspaceMaker maker,
        CancellationToken stop
    )
    {
        if (!door.MayRegister && !current.Roles.Values.Contains(Role.Owner))
            return Problems.Of(
                StatusCodes.Status403Forbidden,
                "role",
                "Your role does not allow this",
                "Only owners open another workspace in this house. Ask one of them."
            );
        if (CheckName(request.Workspace) is { } badName)
            return badName;
        var site = new SiteRequest(
            request.Workspace.Trim(),
            request.HomeAddress.Trim(),
            request.TimeZone,
            request.Language
        );
        if (ChangeSites.Objection(site) is { } badSite)
            return badSite;
        var member = (await members.FindByIdAsync($"{current.Id}"))!;
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        var made = await maker.MakeAsync(site, request.Workspace.Trim(), member, stop);
        await transaction.CommitAsync(stop);
        await maker.TellAsync(made);
        return TypedResults.Ok(SiteView.Of(made));
    }

    /// <summary>Sends a stranger the link that opens a workspace; whether there was anything to send cannot be told from the answer.</summary>
    public static Results<Accepted, ProblemHttpResult> Register(
        RegistrationRequest request,
        IServiceScopeFactory scopes,
        HouseDoor door,
        AccountLetters letters,
        DeskAddress address,
        IDataProtectionProvider protection,
        HttpContext http
    )
    {
        var email = request.Email.Trim();
        if (!door.MayRegister)
            return Problems.Of(
                StatusCodes.Status404NotFound,
                "not-found",
                "Not found",
                "Strangers open no workspaces in this house. Ask an owner to invite you."
            );
        if (!MailFeature.IsAddress(email) || email.Length > PasswordRules.LongestEmail)
            return Problems.BadField("email", "This is no e-mail address.");
        var desk = address.Of(http.Request);
        // Behind "#", so that it stays out of logs and referrers.
        var link = $"{desk}/open#{Confirmations(protection).Protect(email, ConfirmationLife)}";
        _ = Task.Run(async () =>
        {
            await using var scope = scopes.CreateAsyncScope();
            if (await scope.ServiceProvider.GetRequiredService<UserManager<Member>>().FindByEmailAsync(email) is null)
                letters.Confirm(email, link);
            else
                letters.HasAccount(email, desk);
        });
        return TypedResults.Accepted((string?)null);
    }

    private static ProblemHttpResult? CheckName(string name) =>
        name.Trim().Length is 0 or > LongestWorkspace
            ? Problems.BadField("workspace", $"The company's name has 1 to {LongestWorkspace} characters.")
            : null;

    private static ITimeLimitedDataProtector Confirmations(IDataProtectionProvider protection) =>
        protection.CreateProtector("outcry.registration").ToTimeLimitedDataProtector();

    private static string? Confirmed(string key, IDataProtectionProvider protection)
    {
        try
        {
            return Confirmations(protection).Unprotect(key);
        }
        catch (CryptographicException)
        {
            return null;
        }
    }
}

internal sealed record AnotherWorkspaceRequest(string Workspace, string HomeAddress, string TimeZone, string Language);

/// <summary>Makes a workspace with its first site.</summary>
internal sealed class WorkspaceMaker(OutcryDb db, TraceBook traces, SiteNews news, IClock clock)
{
    public async Task<SiteRow> MakeAsync(SiteRequest site, string name, Member owner, CancellationToken stop)
    {
        var now = clock.GetCurrentInstant();
        var workspace = new WorkspaceRow { Name = name, CreatedAt = now };
        db.Workspaces.Add(workspace);
        db.Memberships.Add(
            new MembershipRow
            {
                WorkspaceId = workspace.Id,
                MemberId = owner.Id,
                Role = Role.Owner,
                JoinedAt = now,
            }
        );
        var row = ChangeSites.Make(site, workspace.Id, now);
        db.Sites.Add(row);
        db.PageGroups.Add(ChangeSites.FirstGroup(row));
        traces.AddFor(workspace.Id, "opened", name, by: (owner.Id, owner.DisplayName));
        await db.SaveChangesAsync(stop);
        return row;
    }

    public Task TellAsync(SiteRow site) => news.TellAsync(site.Id, SiteChange.Definition);
}
