using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Server.Mail;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Publishing;

/// <param name="Of">Who is asked; null for any publisher.</param>
/// <param name="Sentence">What the author says about it, at most 400 characters.</param>
internal sealed record AskReviewRequest(string Sentence, Guid? Of = null);

/// <param name="Field">The sentence it is about; empty for the whole.</param>
internal sealed record ReviewNoteRequest(string Field, string Text);

/// <param name="Version">The draft's version that was looked at.</param>
internal sealed record ApproveRequest(int Version);

/// <param name="Of">The name of who is asked; null for any publisher.</param>
/// <param name="NeedsSecond">Whether it cannot go live without a second person.</param>
/// <param name="MayApprove">Whether whoever asks may approve it: it is not their own.</param>
/// <param name="Changes">What differs from what is live, in words.</param>
internal sealed record ReviewView(
    Guid Id,
    Guid DefinitionId,
    string Kind,
    string Name,
    int Revision,
    int DraftVersion,
    ReviewState State,
    string AskedBy,
    string? Of,
    string Sentence,
    Instant AskedAt,
    string? DecidedBy,
    Instant? DecidedAt,
    string? UndoneBy,
    bool IsApproved,
    bool NeedsSecond,
    bool MayApprove,
    IReadOnlyList<ReviewNote> Notes,
    IReadOnlyList<TracedChange> Changes
);

/// <summary>Second looks at drafts of any kind: asked for, noted, approved, sent back. Nobody approves what they wrote themselves where a second person is needed.</summary>
internal sealed class Reviews(
    OutcryDb db,
    CurrentMember member,
    TraceBook traces,
    Postman postman,
    DeskAddress address,
    IHttpContextAccessor context,
    IHostApplicationLifetime lifetime,
    SiteNews news,
    LiveKinds kinds,
    IClock clock
)
{
    private const int LongestText = 400;
    private const int MostNotes = 100;

    /// <summary>Notes that the current member wrote at a draft; an approval of what it was before is gone with it.</summary>
    public async Task NoteEditAsync(DefinitionRow row, CancellationToken stop)
    {
        if (!row.Authors.Contains(member.Id))
            row.Authors = [.. row.Authors, member.Id];
        if (await OpenOfAsync(row.Id, stop) is { State: ReviewState.Approved } approved)
            (approved.State, approved.ApprovedVersion, approved.UndoneBy) = (ReviewState.Asked, null, member.Name);
    }

    /// <summary>Why a draft may not go live yet by the current member's hand; null when it may.</summary>
    public async Task<ProblemHttpResult?> RefusalAsync(
        DefinitionRow row,
        string promisedBefore,
        string promisedNow,
        CancellationToken stop
    )
    {
        if (!await NeedsSecondAsync(row, promisedBefore, promisedNow, stop) || !row.Authors.Contains(member.Id))
            return null;
        return
            await OpenOfAsync(row.Id, stop) is { State: ReviewState.Approved, ApprovedVersion: { } approved }
            && approved == row.DraftVersion
            ? null
            : Problems.Of(
                StatusCodes.Status409Conflict,
                "second-person",
                "A second person looks at this first",
                "You wrote some of it, and the house habits ask for a publisher who did not. Ask for a review."
            );
    }

    /// <summary>Notes that a draft went live; whoever did it decided the review.</summary>
    public async Task NotePublishedAsync(DefinitionRow row, CancellationToken stop)
    {
        row.Authors = [];
        if (await OpenOfAsync(row.Id, stop) is not { } open)
            return;
        if (open.State != ReviewState.Approved)
            (open.DecidedBy, open.DecidedById, open.DecidedAt) = (member.Name, member.Id, clock.GetCurrentInstant());
        open.State = ReviewState.Published;
    }

    // Where nobody else could be the second person, the rule would only keep a team of one from working.
    private async Task<bool> NeedsSecondAsync(
        DefinitionRow row,
        string promisedBefore,
        string promisedNow,
        CancellationToken stop
    )
    {
        var habits = await db.Workspaces.Where(w => w.Id == row.WorkspaceId).Select(w => w.Habits).FirstAsync(stop);
        if (!SecondPerson.IsNeeded(habits.Review, promisedBefore, promisedNow))
            return false;
        var team = await db.Memberships.AsNoTracking().ToListAsync(stop);
        return team.Exists(m => SecondPerson.CanBe(m.MemberId, m.Role, row.Authors));
    }

    public async Task<Results<Ok<ReviewView>, ProblemHttpResult>> AskAsync(
        Guid siteId,
        Guid definitionId,
        AskReviewRequest request,
        CancellationToken stop
    )
    {
        var sentence = request.Sentence.Trim();
        if (sentence.Length > LongestText)
            return Problems.BadField("sentence", $"At most {LongestText} characters.");
        if (await FindAsync(siteId, definitionId, stop) is not { } row)
            return Problems.NotFound("draft");
        if (await OpenOfAsync(row.Id, stop) is not null)
            return Problems.Of(
                StatusCodes.Status409Conflict,
                "in-review",
                "It is in review already",
                "Somebody is asked to look at it. Withdraw that first to ask somebody else."
            );
        var publishers = await PublishersAsync(stop);
        if (request.Of is { } of && publishers.All(p => p.Id != of))
            return Problems.BadField("of", "Only publishers and owners can approve. Choose one of them.");
        var review = new ReviewRow
        {
            WorkspaceId = row.WorkspaceId,
            SiteId = siteId,
            DefinitionId = row.Id,
            State = ReviewState.Asked,
            AskedById = member.Id,
            AskedBy = member.Name,
            OfId = request.Of,
            Sentence = sentence,
            AskedAt = clock.GetCurrentInstant(),
        };
        db.Reviews.Add(review);
        traces.Add("asked for a review of", row.Name, siteId, link: $"{row.Kind}/{row.Id}");
        try
        {
            await db.SaveChangesAsync(stop);
        }
        catch (DbUpdateException)
        {
            return Problems.Of(
                StatusCodes.Status409Conflict,
                "in-review",
                "It is in review already",
                "A colleague asked at the same moment. Reload to see it."
            );
        }
        Mail(
            publishers.Where(p => request.Of is { } one ? p.Id == one : p.Id != member.Id).Select(p => p.Email),
            $"{member.Name} asks you to look at \"{row.Name}\"",
            sentence
        );
        await news.TellAsync(siteId, SiteChange.Definition);
        return TypedResults.Ok(await ViewAsync(review, row, publishers, stop));
    }

    public Task<Results<Ok<ReviewView>, ProblemHttpResult>> WithdrawAsync(
        Guid siteId,
        Guid reviewId,
        CancellationToken stop
    ) =>
        DecideAsync(
            siteId,
            reviewId,
            (review, _) =>
            {
                if (review.AskedById != member.Id && !member.May(Right.Publish))
                    return Problems.Of(
                        StatusCodes.Status403Forbidden,
                        "role",
                        "Somebody else asked",
                        "Whoever asked for the review, or a publisher, can take it back."
                    );
                review.State = ReviewState.Withdrawn;
                return null;
            },
            "took back the review of",
            stop
        );

    public Task<Results<Ok<ReviewView>, ProblemHttpResult>> NoteAsync(
        Guid siteId,
        Guid reviewId,
        ReviewNoteRequest request,
        CancellationToken stop
    ) => DecideAsync(siteId, reviewId, (review, _) => AddNote(review, request.Field, request.Text), null, stop);

    /// <summary>Approves the draft in the version that was looked at.</summary>
    public Task<Results<Ok<ReviewView>, ProblemHttpResult>> ApproveAsync(
        Guid siteId,
        Guid reviewId,
        ApproveRequest request,
        CancellationToken stop
    ) =>
        DecideAsync(
            siteId,
            reviewId,
            (review, row) =>
            {
                if (row.DraftVersion != request.Version)
                    return Problems.Of(
                        StatusCodes.Status409Conflict,
                        "draft-changed",
                        "The draft has changed meanwhile",
                        $"{row.ChangedBy} saved a newer version. Look at it before you approve."
                    );
                if (row.Authors.Contains(member.Id))
                    return Problems.Of(
                        StatusCodes.Status409Conflict,
                        "own-work",
                        "You wrote some of it",
                        "A second person is one who did not write it. Ask another publisher."
                    );
                (review.State, review.ApprovedVersion, review.UndoneBy) = (
                    ReviewState.Approved,
                    row.DraftVersion,
                    null
                );
                return null;
            },
            "approved",
            stop
        );

    /// <summary>Sends it back with a word on what is to change.</summary>
    public Task<Results<Ok<ReviewView>, ProblemHttpResult>> SendBackAsync(
        Guid siteId,
        Guid reviewId,
        ReviewNoteRequest request,
        CancellationToken stop
    ) =>
        DecideAsync(
            siteId,
            reviewId,
            (review, _) =>
            {
                if (AddNote(review, request.Field, request.Text) is { } bad)
                    return bad;
                review.State = ReviewState.SentBack;
                return null;
            },
            "sent back",
            stop
        );

    private ProblemHttpResult? AddNote(ReviewRow review, string field, string text)
    {
        var said = text.Trim();
        if (said.Length is 0 or > LongestText || field.Length > 60)
            return Problems.BadField("text", $"Say it in 1 to {LongestText} characters.");
        if (review.Notes.Count >= MostNotes)
            return Problems.BadField("text", $"At most {MostNotes} notes. Talk it over.");
        review.Notes = [.. review.Notes, new ReviewNote(field, said, member.Name, clock.GetCurrentInstant())];
        return null;
    }

    private async Task<Results<Ok<ReviewView>, ProblemHttpResult>> DecideAsync(
        Guid siteId,
        Guid reviewId,
        Func<ReviewRow, DefinitionRow, ProblemHttpResult?> decide,
        string? act,
        CancellationToken stop
    )
    {
        var review = await db.Reviews.FirstOrDefaultAsync(r => r.Id == reviewId && r.SiteId == siteId, stop);
        if (review is null || await FindAsync(siteId, review.DefinitionId, stop) is not { } row)
            return Problems.NotFound("review");
        if (review.State is not (ReviewState.Asked or ReviewState.Approved))
            return Problems.Of(
                StatusCodes.Status409Conflict,
                "decided",
                "It is decided already",
                $"{review.DecidedBy ?? "Somebody"} was quicker. Reload to see it."
            );
        if (decide(review, row) is { } refusal)
            return refusal;
        if (act is not null)
        {
            (review.DecidedBy, review.DecidedById, review.DecidedAt) = (
                member.Name,
                member.Id,
                clock.GetCurrentInstant()
            );
            traces.Add(act, row.Name, siteId, link: $"{row.Kind}/{row.Id}");
        }
        await db.SaveChangesAsync(stop);
        if (act is not null || review.AskedById != member.Id)
            Mail(
                await db
                    .Users.Where(u => u.Id == review.AskedById && u.Id != member.Id)
                    .Select(u => u.Email)
                    .ToListAsync(stop),
                $"{member.Name} {act ?? "wrote about"} \"{row.Name}\"",
                act == "approved" ? "" : review.Notes.LastOrDefault()?.Text ?? ""
            );
        await news.TellAsync(siteId, SiteChange.Definition);
        return TypedResults.Ok(await ViewAsync(review, row, await PublishersAsync(stop), stop));
    }

    /// <summary>What waits for a second look at a site, and what was sent back last, the newest first.</summary>
    public async Task<Ok<List<ReviewView>>> ListAsync(Guid siteId, CancellationToken stop)
    {
        var open = await db
            .Reviews.AsNoTracking()
            .Where(r => r.SiteId == siteId && (r.State == ReviewState.Asked || r.State == ReviewState.Approved))
            .OrderByDescending(r => r.AskedAt)
            .Take(100)
            .ToListAsync(stop);
        var publishers = await PublishersAsync(stop);
        var views = new List<ReviewView>();
        foreach (var review in open)
            if (await FindAsync(siteId, review.DefinitionId, stop) is { } row)
                views.Add(await ViewAsync(review, row, publishers, stop));
        return TypedResults.Ok(views);
    }

    private async Task<ReviewView> ViewAsync(
        ReviewRow review,
        DefinitionRow row,
        List<(Guid Id, string Name, string Email)> publishers,
        CancellationToken stop
    )
    {
        var live = await db
            .Revisions.AsNoTracking()
            .FirstOrDefaultAsync(r => r.DefinitionId == row.Id && r.Number == row.Revision, stop);
        var before = live?.Content;
        var needs = await NeedsSecondAsync(
            row,
            before is null ? "" : kinds.PromiseOf(row.Kind, before),
            kinds.PromiseOf(row.Kind, row.Draft),
            stop
        );
        return new ReviewView(
            review.Id,
            row.Id,
            row.Kind,
            row.Name,
            row.Revision,
            row.DraftVersion,
            review.State,
            review.AskedBy,
            publishers.Where(p => p.Id == review.OfId).Select(p => p.Name).FirstOrDefault(),
            review.Sentence,
            review.AskedAt,
            review.DecidedBy,
            review.DecidedAt,
            review.UndoneBy,
            review.State == ReviewState.Approved && review.ApprovedVersion == row.DraftVersion,
            needs,
            member.May(Right.Publish) && !row.Authors.Contains(member.Id),
            review.Notes,
            before is null ? [] : ChangeWords.Between(before.ToNode(), row.Draft.ToNode())
        );
    }

    private async Task<List<(Guid Id, string Name, string Email)>> PublishersAsync(CancellationToken stop)
    {
        var team = await db
            .Memberships.AsNoTracking()
            .Join(
                db.Users,
                m => m.MemberId,
                u => u.Id,
                (m, u) =>
                    new
                    {
                        m.Role,
                        u.Id,
                        u.DisplayName,
                        u.Email,
                    }
            )
            .ToListAsync(stop);
        return
        [
            .. team.Where(m => AccessTable.Allows(m.Role, Right.Publish))
                .Select(m => (m.Id, m.DisplayName, m.Email ?? "")),
        ];
    }

    private Task<ReviewRow?> OpenOfAsync(Guid definitionId, CancellationToken stop) =>
        db.Reviews.FirstOrDefaultAsync(
            r => r.DefinitionId == definitionId && (r.State == ReviewState.Asked || r.State == ReviewState.Approved),
            stop
        );

    private Task<DefinitionRow?> FindAsync(Guid siteId, Guid id, CancellationToken stop) =>
        db.Definitions.FirstOrDefaultAsync(d => d.Id == id && d.SiteId == siteId && d.DeletedAt == null, stop);

    private void Mail(IEnumerable<string?> to, string subject, string said)
    {
        if (!postman.IsSet || context.HttpContext is not { } http)
            return;
        var text = $"""
            Hello,

            {subject}.
            {(said.Length > 0 ? $"\n\"{said}\"\n" : "")}
            It stands under Team, Review: {address.Of(http.Request)}/team?view=review

            """;
        foreach (var one in to.OfType<string>().ToList())
            _ = Task.Run(() =>
                postman.TrySendAsync(new Letter(one, subject, text, member.Email), lifetime.ApplicationStopping)
            );
    }
}
