using System.Globalization;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using NodaTime.Text;
using Outcry.Core.Care;
using Outcry.Core.Talks;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Talks;

/// <summary>Where in the inbox.</summary>
internal enum TalkQueue
{
    /// <summary>One's own and those that nobody has.</summary>
    Open,

    /// <summary>One's own.</summary>
    Mine,

    /// <summary>Those that nobody has.</summary>
    Unclaimed,

    /// <summary>Those that others have.</summary>
    Others,

    /// <summary>Those put off.</summary>
    Snoozed,

    /// <summary>Those ended.</summary>
    Closed,

    /// <summary>Those of blocked visitors.</summary>
    Blocked,

    /// <summary>All but those of blocked visitors.</summary>
    All,
}

/// <summary>What of the inbox is asked for.</summary>
internal sealed record TalkFilter
{
    /// <summary>Which queue: "open" where nothing is said.</summary>
    public string? Queue { get; init; }

    /// <summary>Words that were said, found in all their forms.</summary>
    public string? Words { get; init; }

    /// <summary>Only with this tag.</summary>
    public string? Tag { get; init; }

    /// <summary>Only of this member.</summary>
    public Guid? Member { get; init; }

    /// <summary>Only begun at this launcher.</summary>
    public Guid? Launcher { get; init; }

    /// <summary>Only those whose visitor waits.</summary>
    public bool? Waits { get; init; }

    /// <summary>Only those for this group, or for everybody.</summary>
    public Guid? Group { get; init; }

    /// <summary>Only of this visitor.</summary>
    public string? Visitor { get; init; }

    /// <summary>Where to go on, as an answer before said.</summary>
    public string? After { get; init; }
}

/// <summary>The inbox: queues, searched and filtered, the latest first, page by page.</summary>
internal static class ListTalks
{
    private const int InPage = 50;
    private const int LongestWords = 200;

    public static async Task<Results<Ok<TalkPageView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        [AsParameters] TalkFilter filter,
        OutcryDb db,
        LiveSites sites,
        CurrentMember member,
        IClock clock,
        CancellationToken stop
    )
    {
        if (filter.Words?.Length > LongestWords)
            return Problems.BadField("words", $"At most {LongestWords} characters.");
        if (!QueryChoice.TryRead<TalkQueue>(filter.Queue, out var queue))
            return Problems.BadField("queue", "There is no such queue.");
        var now = clock.GetCurrentInstant();
        var ofSite = db.Talks.AsNoTracking().Where(t => t.SiteId == siteId);
        var talks = Narrow(In(ofSite, queue ?? TalkQueue.Open, member.Id), filter);
        if (PlainText.OrNull(filter.Words) is { } words)
            talks = await SearchAsync(db, talks, siteId, words, stop);
        if (filter.After is { } after)
        {
            if (ReadCursor(after) is not var (at, id))
                return Problems.BadField("after", "This is not where an answer before ended.");
            talks = talks.Where(t => t.LastAt < at || (t.LastAt == at && t.Id < id));
        }
        var rows = await talks
            .OrderByDescending(t => t.LastAt)
            .ThenByDescending(t => t.Id)
            .Take(InPage + 1)
            .ToListAsync(stop);
        var shown = rows.Take(InPage).ToList();
        var names = await NamesAsync(db, shown, stop);
        return TypedResults.Ok(
            new TalkPageView(
                shown.ConvertAll(t =>
                    TalkView.Of(
                        t,
                        t.MemberId is { } id ? names.GetValueOrDefault(id) : null,
                        sites.GetById(siteId),
                        ShowTalk.LimitsOf(member),
                        now
                    )
                ),
                rows.Count > InPage ? WriteCursor(shown[^1]) : null,
                await CountAsync(ofSite, member.Id, stop)
            )
        );
    }

    public static async Task<Ok<TalkCountsView>> CountAsync(
        Guid siteId,
        OutcryDb db,
        CurrentMember member,
        CancellationToken stop
    ) => TypedResults.Ok(await CountAsync(db.Talks.Where(t => t.SiteId == siteId), member.Id, stop));

    private static async Task<TalkCountsView> CountAsync(IQueryable<TalkRow> ofSite, Guid me, CancellationToken stop)
    {
        var counted = await ofSite
            .Where(t => t.State != TalkState.Closed && !t.IsBlocked)
            .GroupBy(t => 1)
            .Select(g => new
            {
                Mine = g.Count(t => t.State == TalkState.Claimed && t.MemberId == me),
                Unclaimed = g.Count(t => t.State == TalkState.Unclaimed),
                Others = g.Count(t => t.State == TalkState.Claimed && t.MemberId != me),
                Snoozed = g.Count(t => t.State == TalkState.Snoozed),
                Waiting = g.Count(t => t.WaitingSince != null && (t.State == TalkState.Unclaimed || t.MemberId == me)),
            })
            .SingleOrDefaultAsync(stop);
        return counted is null
            ? new TalkCountsView(0, 0, 0, 0, 0)
            : new TalkCountsView(counted.Mine, counted.Unclaimed, counted.Others, counted.Snoozed, counted.Waiting);
    }

    private static IQueryable<TalkRow> In(IQueryable<TalkRow> talks, TalkQueue queue, Guid me)
    {
        if (queue == TalkQueue.Blocked)
            return talks.Where(t => t.IsBlocked);
        talks = talks.Where(t => !t.IsBlocked);
        return queue switch
        {
            TalkQueue.Open => talks.Where(t => t.State == TalkState.Claimed || t.State == TalkState.Unclaimed),
            TalkQueue.Mine => talks.Where(t => t.State == TalkState.Claimed && t.MemberId == me),
            TalkQueue.Unclaimed => talks.Where(t => t.State == TalkState.Unclaimed),
            TalkQueue.Others => talks.Where(t => t.State == TalkState.Claimed && t.MemberId != me),
            TalkQueue.Snoozed => talks.Where(t => t.State == TalkState.Snoozed),
            TalkQueue.Closed => talks.Where(t => t.State == TalkState.Closed),
            _ => talks,
        };
    }

    private static IQueryable<TalkRow> Narrow(IQueryable<TalkRow> talks, TalkFilter filter)
    {
        if (filter.Tag is { Length: > 0 } tag)
            talks = talks.Where(t => t.Tags.Contains(tag));
        if (filter.Member is { } member)
            talks = talks.Where(t => t.MemberId == member);
        if (filter.Launcher is { } launcher)
            talks = talks.Where(t => t.LauncherId == launcher);
        if (filter.Group is { } group)
            talks = talks.Where(t => t.GroupId == group || t.GroupId == null);
        if (filter.Visitor is { Length: > 0 } visitor)
            talks = talks.Where(t => t.VisitorId == visitor);
        return filter.Waits == true ? talks.Where(t => t.WaitingSince != null) : talks;
    }

    // Each language bends its words otherwise: they are asked in every language that talks of this site are in.
    private static async Task<IQueryable<TalkRow>> SearchAsync(
        OutcryDb db,
        IQueryable<TalkRow> talks,
        Guid siteId,
        string words,
        CancellationToken stop
    )
    {
        var tags = await db.Talks.Where(t => t.SiteId == siteId).Select(t => t.Language).Distinct().ToListAsync(stop);
        var found = tags.Select(SearchLanguages.Of)
            .Append(SearchLanguages.Simple)
            .Distinct()
            .Select(config =>
                db.TalkWords.Where(w =>
                        w.SearchedAs == config && w.Search.Matches(EF.Functions.WebSearchToTsQuery(config, words))
                    )
                    .Select(w => w.TalkId)
            )
            .Aggregate((one, other) => one.Union(other));
        var named = $"%{LikePattern.Literal(words)}%";
        return talks.Where(t => found.Contains(t.Id) || EF.Functions.ILike(t.Name, named, LikePattern.Escape));
    }

    private static async Task<Dictionary<Guid, string>> NamesAsync(
        OutcryDb db,
        List<TalkRow> talks,
        CancellationToken stop
    )
    {
        var ids = talks.Select(t => t.MemberId).OfType<Guid>().Distinct().ToList();
        return await db.Users.Where(u => ids.Contains(u.Id)).ToDictionaryAsync(u => u.Id, u => u.DisplayName, stop);
    }

    private static string WriteCursor(TalkRow last) =>
        $"{InstantPattern.ExtendedIso.Format(last.LastAt)}_{last.Id.ToString("N", CultureInfo.InvariantCulture)}";

    private static (Instant At, Guid Id)? ReadCursor(string text) =>
        text.Split('_') is [var at, var id]
        && InstantPattern.ExtendedIso.Parse(at) is { Success: true, Value: var when }
        && Guid.TryParse(id, out var talk)
            ? (when, talk)
            : null;
}
