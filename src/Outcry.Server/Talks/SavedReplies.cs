using System.Text.RegularExpressions;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Saying;
using Outcry.Core.Talks;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Talks;

/// <summary>Words that are said often.</summary>
internal sealed record SavedReplyView(Guid Id, string Shortcut, string Text, string ChangedBy, Instant ChangedAt)
{
    public static SavedReplyView Of(SavedReplyRow row) =>
        new(row.Id, row.Shortcut, row.Text, row.ChangedBy, row.ChangedAt);
}

/// <param name="Shortcut">What is typed after "/": letters, digits and hyphens, at most 30.</param>
/// <param name="Text">With {{ name }}, {{ page }} and {{ member }}; at most 500 characters.</param>
internal sealed record SavedReplyRequest(string Shortcut, string Text);

/// <summary>Saved replies of a site, shared by its team.</summary>
internal static partial class SavedReplies
{
    private const int Most = 300;

    /// <summary>What a reply may name.</summary>
    private static readonly string[] Tokens = ["name", "page", "member"];

    public static async Task<Ok<List<SavedReplyView>>> ListAsync(Guid siteId, OutcryDb db, CancellationToken stop) =>
        TypedResults.Ok(
            (
                await db
                    .SavedReplies.AsNoTracking()
                    .Where(r => r.SiteId == siteId)
                    .OrderBy(r => r.Shortcut)
                    .ToListAsync(stop)
            ).ConvertAll(SavedReplyView.Of)
        );

    public static async Task<Results<Created<SavedReplyView>, ProblemHttpResult>> AddAsync(
        Guid siteId,
        SavedReplyRequest request,
        OutcryDb db,
        CurrentMember member,
        IClock clock,
        CancellationToken stop
    )
    {
        if (Objection(request) is { } objection)
            return objection;
        if (await db.SavedReplies.CountAsync(r => r.SiteId == siteId, stop) >= Most)
            return Problems.BadField("shortcut", $"A site has at most {Most} saved replies.");
        var row = new SavedReplyRow
        {
            WorkspaceId = member.WorkspaceId,
            SiteId = siteId,
            Shortcut = request.Shortcut.Trim().ToLowerInvariant(),
            Text = PlainText.Clean(request.Text),
            ChangedBy = member.Name,
            ChangedAt = clock.GetCurrentInstant(),
        };
        db.SavedReplies.Add(row);
        return await SaveAsync(db, stop) is { } taken
            ? taken
            : TypedResults.Created($"/api/sites/{siteId}/saved-replies/{row.Id}", SavedReplyView.Of(row));
    }

    public static async Task<Results<Ok<SavedReplyView>, ProblemHttpResult>> ChangeAsync(
        Guid siteId,
        Guid replyId,
        SavedReplyRequest request,
        OutcryDb db,
        CurrentMember member,
        IClock clock,
        CancellationToken stop
    )
    {
        if (Objection(request) is { } objection)
            return objection;
        if (await db.SavedReplies.FirstOrDefaultAsync(r => r.Id == replyId && r.SiteId == siteId, stop) is not { } row)
            return Problems.NotFound("saved reply");
        (row.Shortcut, row.Text, row.ChangedBy, row.ChangedAt) = (
            request.Shortcut.Trim().ToLowerInvariant(),
            PlainText.Clean(request.Text),
            member.Name,
            clock.GetCurrentInstant()
        );
        return await SaveAsync(db, stop) is { } taken ? taken : TypedResults.Ok(SavedReplyView.Of(row));
    }

    public static async Task<Results<NoContent, ProblemHttpResult>> RemoveAsync(
        Guid siteId,
        Guid replyId,
        OutcryDb db,
        CancellationToken stop
    ) =>
        await db.SavedReplies.Where(r => r.Id == replyId && r.SiteId == siteId).ExecuteDeleteAsync(stop) == 0
            ? Problems.NotFound("saved reply")
            : TypedResults.NoContent();

    private static ProblemHttpResult? Objection(SavedReplyRequest request)
    {
        if (!ShortcutForm().IsMatch(request.Shortcut.Trim()))
            return Problems.BadField("shortcut", "A shortcut has 1 to 30 letters, digits and hyphens.");
        if (TalkText.Clean(request.Text) is not { Length: <= MessageTemplate.MaxLength } text)
            return Problems.BadField("text", $"A reply has 1 to {MessageTemplate.MaxLength} characters.");
        if (MessageTemplate.TryParse(text, out var error) is not { } template)
            return Problems.BadField("text", error!);
        return template.Tokens.FirstOrDefault(t => !Tokens.Contains(t)) is { } unknown
            ? Problems.BadField(
                "text",
                $"\"{unknown}\" is not known here. There are {{{{ name }}}}, {{{{ page }}}} and {{{{ member }}}}."
            )
            : null;
    }

    private static async Task<ProblemHttpResult?> SaveAsync(OutcryDb db, CancellationToken stop)
    {
        try
        {
            await db.SaveChangesAsync(stop);
            return null;
        }
        catch (DbUpdateException twice)
            when (twice.InnerException
                    is Npgsql.PostgresException { SqlState: Npgsql.PostgresErrorCodes.UniqueViolation }
            )
        {
            return Problems.BadField("shortcut", "This shortcut has a reply already.");
        }
    }

    [GeneratedRegex(@"^[\p{L}\p{Nd}-]{1,30}$")]
    private static partial Regex ShortcutForm();
}
