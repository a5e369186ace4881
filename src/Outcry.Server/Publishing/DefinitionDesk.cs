using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Core.Publishing;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Publishing;

/// <summary>What came of an act on a definition: it as it is now, or what stood in the way.</summary>
internal readonly record struct DeskAnswer<T>(T? Value, ProblemHttpResult? Problem)
    where T : class
{
    public static implicit operator DeskAnswer<T>(T value) => new(value, null);

    public static implicit operator DeskAnswer<T>(ProblemHttpResult problem) => new(null, problem);
}

/// <summary>Drafts, publishes, pauses and puts away the definitions of one kind.</summary>
internal sealed class DefinitionDesk<TContent, TCompiled>(
    DefinitionKind<TContent, TCompiled> kind,
    OutcryDb db,
    LiveSites sites,
    SiteNews news,
    CurrentMember member,
    TraceBook traces,
    Reviews reviews,
    IClock clock
)
    where TContent : class
    where TCompiled : class
{
    private const int LongestName = 80;
    private const int MostRevisions = 200;

    /// <summary>Begins one as a draft.</summary>
    public async Task<DeskAnswer<DeskDefinition<TContent>>> StartAsync(
        Guid siteId,
        string name,
        TContent content,
        CancellationToken stop
    )
    {
        if (Refusal(name, content) is { } refusal)
            return refusal;
        var now = clock.GetCurrentInstant();
        var row = new DefinitionRow
        {
            WorkspaceId = member.WorkspaceId,
            SiteId = siteId,
            Kind = kind.Noun,
            Name = name.Trim(),
            State = DefinitionState.Draft,
            Draft = KeptContent.Of(content),
            DraftVersion = 1,
            CreatedAt = now,
            ChangedAt = now,
            ChangedBy = member.Name,
            Authors = [member.Id],
        };
        db.Definitions.Add(row);
        await db.SaveChangesAsync(stop);
        return await ReadAsync(row, stop);
    }

    /// <summary>Begins one as a copy of another's draft.</summary>
    public async Task<DeskAnswer<DeskDefinition<TContent>>> DuplicateAsync(
        Guid siteId,
        Guid original,
        CancellationToken stop
    )
    {
        if (await FindAsync(siteId, original, stop) is not { } row)
            return Problems.NotFound(kind.Noun);
        return row.Draft.TryRead<TContent>() is { } content
            ? await StartAsync(siteId, Copied(row.Name), content, stop)
            : Unreadable;
    }

    public async Task<DeskAnswer<DeskDefinition<TContent>>> ShowAsync(Guid siteId, Guid id, CancellationToken stop) =>
        await FindAsync(siteId, id, stop) is { } row ? await ReadAsync(row, stop) : Problems.NotFound(kind.Noun);

    /// <summary>Keeps a draft as it is, right or wrong, and says what is wrong with it. Nothing goes live by saving.</summary>
    public async Task<DeskAnswer<DeskDefinition<TContent>>> SaveDraftAsync(
        Guid siteId,
        Guid id,
        SaveDraftRequest<TContent> request,
        CancellationToken stop
    )
    {
        if (Refusal(request.Name, request.Content) is { } refusal)
            return refusal;
        if (await FindAsync(siteId, id, stop) is not { } row)
            return Problems.NotFound(kind.Noun);
        if (row.DraftVersion != request.Version)
            return Newer(row.ChangedBy);
        var asked = PlacesOf(row.Draft);
        var content = kind.Settle(request.Content, SettingOf(sites.GetById(siteId)));
        (row.Name, row.Draft) = (request.Name.Trim(), KeptContent.Of(content));
        row.DraftVersion++;
        Touch(row);
        await reviews.NoteEditAsync(row, stop);
        try
        {
            await db.SaveChangesAsync(stop);
        }
        catch (DbUpdateConcurrencyException)
        {
            return Newer("a colleague");
        }
        // Pages are asked about a new place from now on, so that publishing can say whether it is there.
        if (!kind.PlacesOf(content).All(asked.Contains))
            await news.TellAsync(siteId, SiteChange.Definition);
        return await ReadAsync(row, stop);
    }

    // What could never be published is not kept, not even as a draft.
    private ProblemHttpResult? Refusal(string name, TContent? content) =>
        name.Trim().Length is 0 or > LongestName
            ? Problems.BadField("name", $"A name has 1 to {LongestName} characters.")
        // Of a type that is a parameter the reader does not know that it is never null.
        : content is null ? Problems.BadField("content", "A draft has a content.")
        : kind.TooLarge(content) is { } tooLarge ? Problems.BadField("content", tooLarge)
        : null;

    /// <summary>All of a site in the order in which they were made; those put away are asked for by themselves.</summary>
    public async Task<List<DeskDefinition<TContent>>> ListAsync(Guid siteId, Shelf shelf, CancellationToken stop)
    {
        var asked = db.On(shelf, siteId, kind.Noun);
        var rows = await asked.AsNoTracking().OrderBy(d => d.CreatedAt).ToListAsync(stop);
        var live = await db.PublishedOf(asked).ToDictionaryAsync(r => r.DefinitionId, Frozen, stop);
        var site = sites.GetById(siteId);
        var setting = SettingOf(site);
        return
        [
            .. rows.Select(r => Make(r, live.GetValueOrDefault(r.Id), site, setting))
                .OfType<DeskDefinition<TContent>>(),
        ];
    }

    /// <summary>Freezes the draft as a revision and puts it on air.</summary>
    /// <param name="version">The draft's version that was looked at; a newer one is not published unseen.</param>
    public async Task<DeskAnswer<DeskDefinition<TContent>>> PublishAsync(
        Guid siteId,
        Guid id,
        int version,
        CancellationToken stop
    )
    {
        if (await FindAsync(siteId, id, stop) is not { } row)
            return Problems.NotFound(kind.Noun);
        var (to, refusal) = DefinitionLife.Decide(row.State, DefinitionMove.Publish, wasPublished: row.Revision > 0);
        if (refusal is not null)
            return Problems.Of(StatusCodes.Status409Conflict, "archived", "It is archived", refusal);
        if (row.DraftVersion != version)
            return Problems.Of(
                StatusCodes.Status409Conflict,
                "draft-changed",
                "The draft has changed meanwhile",
                $"{row.ChangedBy} saved a newer version. Look at it before it goes live."
            );
        if (row.Draft.TryRead<TContent>() is not { } draft)
            return Unreadable;
        if (Objection(draft, siteId) is { } objection)
            return objection;
        var before = await LiveOfAsync(row, stop);
        var promised = before is null ? "" : kind.PromiseOf(before.Content);
        if (await reviews.RefusalAsync(row, promised, kind.PromiseOf(draft), stop) is { } second)
            return second;
        if (await LimitGate.RefusalAsync(row, db, stop) is { } limit)
            return limit;
        row.State = to;
        Touch(row);
        traces.Add("published", row.Name, siteId, TraceBook.Between(before?.Content, draft), Link(row));
        await reviews.NotePublishedAsync(row, stop);
        db.Revisions.Add(row.Freeze(row.ChangedAt, member.Name));
        try
        {
            await db.SaveChangesAsync(stop);
        }
        catch (DbUpdateException)
        {
            return Quicker;
        }
        await news.TellAsync(siteId, SiteChange.Definition, row.Id);
        return await ReadAsync(row, stop);
    }

    /// <summary>Takes it off air or puts it back, puts it away or fetches it again.</summary>
    public async Task<DeskAnswer<DeskDefinition<TContent>>> MoveAsync(
        Guid siteId,
        Guid id,
        DefinitionMove move,
        CancellationToken stop
    )
    {
        if (await FindAsync(siteId, id, stop) is not { } row)
            return Problems.NotFound(kind.Noun);
        var (to, refusal) = DefinitionLife.Decide(row.State, move, wasPublished: row.Revision > 0);
        if (refusal is not null)
            return Problems.Of(StatusCodes.Status409Conflict, $"{kind.Noun}-state", "Not in this state", refusal);
        if (row.State == to)
            return await ReadAsync(row, stop);
        // Whoever may only draft takes nothing off air, whatever the act is called.
        if (row.State == DefinitionState.Live && !member.May(Right.Publish))
            return Problems.Of(
                StatusCodes.Status403Forbidden,
                "role",
                "It is live",
                "Only a Publisher or an Owner can take it off air."
            );
        // A segment, a page group or a source that the revision names may have gone while it was away.
        if (DefinitionLife.NeedsCheck(move) && await LiveObjectionAsync(row, stop) is { } objection)
            return objection;
        if (to == DefinitionState.Live && await LimitGate.RefusalAsync(row, db, stop) is { } limit)
            return limit;
        row.State = to;
        Touch(row);
        traces.Add(DoneBy(move), row.Name, siteId, link: Link(row));
        try
        {
            await db.SaveChangesAsync(stop);
        }
        catch (DbUpdateConcurrencyException)
        {
            return Quicker;
        }
        await news.TellAsync(siteId, SiteChange.Definition, row.Id);
        return await ReadAsync(row, stop);
    }

    /// <summary>Deletes what is not live. For 30 days it can be taken back as it was.</summary>
    public async Task<ProblemHttpResult?> DeleteAsync(Guid siteId, Guid id, CancellationToken stop)
    {
        var now = clock.GetCurrentInstant();
        // In one statement, and as a version of its own: what goes live at this moment is not deleted under its visitors, and
        // what is being published or saved from before this moment is told that it came too late.
        var changed = await db.DefinitionsOf(siteId, kind.Noun)
            .Where(d => d.Id == id && d.State != DefinitionState.Live)
            .ExecuteUpdateAsync(
                d => d.SetProperty(x => x.DeletedAt, now).SetProperty(x => x.DraftVersion, x => x.DraftVersion + 1),
                stop
            );
        if (changed == 1)
        {
            traces.Add("deleted", await NameOfAsync(id, stop), siteId, link: $"{kind.Noun}/{id}");
            await db.SaveChangesAsync(stop);
            await news.TellAsync(siteId, SiteChange.Definition, id);
            return null;
        }
        return await FindAsync(siteId, id, stop) is null
            ? Problems.NotFound(kind.Noun)
            : Problems.Of(
                StatusCodes.Status409Conflict,
                $"{kind.Noun}-state",
                "It is live",
                "Pause or archive it first, then delete it."
            );
    }

    /// <summary>Takes a deleted one back, as it was.</summary>
    public async Task<DeskAnswer<DeskDefinition<TContent>>> TakeBackAsync(Guid siteId, Guid id, CancellationToken stop)
    {
        var back = await db.On(Shelf.Deleted, siteId, kind.Noun)
            .Where(d => d.Id == id)
            .ExecuteUpdateAsync(d => d.SetProperty(x => x.DeletedAt, (Instant?)null), stop);
        if (back == 1)
        {
            traces.Add("took back", await NameOfAsync(id, stop), siteId, link: $"{kind.Noun}/{id}");
            await db.SaveChangesAsync(stop);
        }
        await news.TellAsync(siteId, SiteChange.Definition, id);
        return await ShowAsync(siteId, id, stop);
    }

    /// <summary>Its revisions, newest first. One is restored by saving its content as the draft.</summary>
    public async Task<DeskAnswer<List<Revision<TContent>>>> RevisionsAsync(Guid siteId, Guid id, CancellationToken stop)
    {
        if (await FindAsync(siteId, id, stop) is null)
            return Problems.NotFound(kind.Noun);
        var rows = await db
            .Revisions.AsNoTracking()
            .Where(r => r.DefinitionId == id)
            .OrderByDescending(r => r.Number)
            .Take(MostRevisions)
            .ToListAsync(stop);
        return rows.Select(Frozen).OfType<Revision<TContent>>().ToList();
    }

    /// <summary>Puts it into one of the team's own groups in the list. Nothing about what visitors see changes.</summary>
    public async Task<ProblemHttpResult?> GroupAsync(Guid siteId, Guid id, string group, CancellationToken stop)
    {
        var name = group.Trim();
        if (name.Length > LongestGroup)
            return Problems.BadField("group", $"A group's name has at most {LongestGroup} characters.");
        var changed = await db.DefinitionsOf(siteId, kind.Noun)
            .Where(d => d.Id == id)
            .ExecuteUpdateAsync(d => d.SetProperty(x => x.Group, name), stop);
        return changed == 1 ? null : Problems.NotFound(kind.Noun);
    }

    private const int LongestGroup = 40;

    private async Task<DeskAnswer<DeskDefinition<TContent>>> ReadAsync(DefinitionRow row, CancellationToken stop)
    {
        var site = sites.GetById(row.SiteId);
        return Make(row, await LiveOfAsync(row, stop), site, SettingOf(site)) is { } made ? made : Unreadable;
    }

    // Where a draft is damaged, what was published of it stands for it; where that is too, there is nothing to show.
    private DeskDefinition<TContent>? Make(
        DefinitionRow row,
        Revision<TContent>? live,
        LiveSite site,
        CheckSetting setting
    ) =>
        (row.Draft.TryRead<TContent>() ?? live?.Content) is { } draft
            ? new DeskDefinition<TContent>(row, draft, live, kind.Check(draft, setting), site)
            : null;

    private async Task<Revision<TContent>?> LiveOfAsync(DefinitionRow row, CancellationToken stop) =>
        row.Revision > 0
        && await db
            .Revisions.AsNoTracking()
            .FirstOrDefaultAsync(r => r.DefinitionId == row.Id && r.Number == row.Revision, stop)
            is { } live
            ? Frozen(live)
            : null;

    private static Revision<TContent>? Frozen(RevisionRow row) =>
        row.Content.TryRead<TContent>() is { } content
            ? new Revision<TContent>(row.Number, content, row.PublishedAt, row.PublishedBy)
            : null;

    private Task<DefinitionRow?> FindAsync(Guid siteId, Guid id, CancellationToken stop) =>
        db.FindDefinitionAsync(siteId, kind.Noun, id, stop);

    private CheckSetting SettingOf(LiveSite site) => site.CheckSetting(clock.GetCurrentInstant());

    private ProblemHttpResult? Objection(TContent content, Guid siteId) =>
        kind.Check(content, SettingOf(sites.GetById(siteId))).Where(p => p.Blocks).ToList() is [var first, ..] blocking
            ? Problems.BadField(first.Field, string.Join(" ", blocking.Select(p => p.Message)))
            : null;

    private async Task<ProblemHttpResult?> LiveObjectionAsync(DefinitionRow row, CancellationToken stop) =>
        await LiveOfAsync(row, stop) is { } live ? Objection(live.Content, row.SiteId) : Unreadable;

    private HashSet<string> PlacesOf(KeptContent draft) =>
        draft.TryRead<TContent>() is { } content ? [.. kind.PlacesOf(content)] : [];

    private void Touch(DefinitionRow row) => (row.ChangedAt, row.ChangedBy) = (clock.GetCurrentInstant(), member.Name);

    private string Link(DefinitionRow row) => $"{kind.Noun}/{row.Id}";

    private Task<string> NameOfAsync(Guid id, CancellationToken stop) =>
        db.Definitions.Where(d => d.Id == id).Select(d => d.Name).FirstAsync(stop);

    private static string DoneBy(DefinitionMove move) =>
        move switch
        {
            DefinitionMove.Pause => "paused",
            DefinitionMove.Resume => "resumed",
            DefinitionMove.Archive => "archived",
            _ => "restored",
        };

    private static string Copied(string name) =>
        $"{(name.Length > LongestName - Copy.Length ? name[..(LongestName - Copy.Length)] : name)}{Copy}";

    private const string Copy = ", copy";

    private static ProblemHttpResult Unreadable =>
        Problems.Of(
            StatusCodes.Status409Conflict,
            "unreadable",
            "It cannot be read",
            "What is kept of it is damaged. Save one of its other revisions as the draft, or archive it."
        );

    private static ProblemHttpResult Quicker =>
        Problems.Of(
            StatusCodes.Status409Conflict,
            "draft-changed",
            "Somebody was quicker",
            "A colleague published or saved at the same moment. Reload to see it."
        );

    private static ProblemHttpResult Newer(string who) =>
        Problems.Of(
            StatusCodes.Status409Conflict,
            "draft-changed",
            "The draft has changed meanwhile",
            $"{who} saved a newer version. Take that in first; what you typed last was not saved."
        );
}
