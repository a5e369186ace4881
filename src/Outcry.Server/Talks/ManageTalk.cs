using System.Globalization;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Talks;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Talks;

internal sealed record SnoozeRequest(Instant Until);

/// <param name="Reason">Why, at most 80 characters; may be empty.</param>
internal sealed record CloseTalkRequest(string Reason = "");

/// <param name="Tags">At most 10, each of at most 30 characters.</param>
internal sealed record TagsRequest(IReadOnlyList<string> Tags);

/// <param name="Name">How the visitor is called; empty for unknown.</param>
internal sealed record NameVisitorRequest(string Name);

internal sealed record BlockRequest(bool Blocked);

/// <summary>What members do with a talk beside answering: put it off, close it, name and mark it, block its visitor.</summary>
internal sealed class ManageTalk(OutcryDb db, TalkActs acts, LiveSites sites, CurrentMember member)
{
    public const int MostTags = 10;
    private const int LongestTag = 30;
    private const int LongestLine = 80;

    public Task<Results<Ok<TalkDetailView>, ProblemHttpResult>> SnoozeAsync(
        Guid siteId,
        Guid talkId,
        SnoozeRequest request,
        CancellationToken stop
    )
    {
        var zone = sites.GetById(siteId).Zone;
        return acts.DoAsync(
            siteId,
            talkId,
            (row, now) =>
            {
                var (verdict, standing) = row.Standing.Snooze(member.Id, request.Until, now);
                // Only a moment that was taken is near enough to have a local time.
                return verdict != TalkVerdict.Done
                    ? (verdict, standing, [])
                    : (
                        verdict,
                        standing,
                        [
                            NewWord.Happened(
                                $"{member.Name} put it off until {request.Until.InZone(zone).ToString("ddd d MMM, HH:mm", CultureInfo.InvariantCulture)}."
                            ),
                        ]
                    );
            },
            stop
        );
    }

    public async Task<Results<Ok<TalkDetailView>, ProblemHttpResult>> CloseAsync(
        Guid siteId,
        Guid talkId,
        CloseTalkRequest request,
        CancellationToken stop
    )
    {
        var reason = PlainText.OrNull(request.Reason) ?? "";
        if (reason.Length > LongestLine)
            return Problems.BadField("reason", $"At most {LongestLine} characters.");
        return await acts.DoAsync(
            siteId,
            talkId,
            (row, now) =>
                (
                    TalkVerdict.Done,
                    row.Standing.Close(reason, now),
                    row.State == TalkState.Closed
                        ? []
                        : [NewWord.Happened($"{member.Name} closed it{(reason.Length > 0 ? $": {reason}" : "")}.")]
                ),
            stop
        );
    }

    public Task<Results<Ok<TalkDetailView>, ProblemHttpResult>> ReopenAsync(
        Guid siteId,
        Guid talkId,
        CancellationToken stop
    ) =>
        acts.DoAsync(
            siteId,
            talkId,
            (row, _) =>
                (
                    TalkVerdict.Done,
                    row.Standing.Reopen(member.Id),
                    row.State == TalkState.Closed ? [NewWord.Happened($"{member.Name} opened it again.")] : []
                ),
            stop
        );

    public async Task<Results<Ok<TalkDetailView>, ProblemHttpResult>> TagAsync(
        Guid siteId,
        Guid talkId,
        TagsRequest request,
        CancellationToken stop
    )
    {
        var tags = request
            .Tags.Select(t => PlainText.OrNull(t))
            .OfType<string>()
            .Distinct(StringComparer.OrdinalIgnoreCase)
            .ToList();
        return tags.Count > MostTags || tags.Any(t => t.Length > LongestTag)
            ? Problems.BadField("tags", $"At most {MostTags} tags of {LongestTag} characters.")
            : await acts.DoAsync(siteId, talkId, Quietly(row => row.Tags = tags), stop);
    }

    public async Task<Results<Ok<TalkDetailView>, ProblemHttpResult>> NameAsync(
        Guid siteId,
        Guid talkId,
        NameVisitorRequest request,
        CancellationToken stop
    )
    {
        var name = PlainText.OrNull(request.Name) ?? "";
        return name.Length > LongestLine
            ? Problems.BadField("name", $"At most {LongestLine} characters.")
            : await acts.DoAsync(siteId, talkId, Quietly(row => row.Name = name), stop);
    }

    /// <summary>Hears nothing more of this visitor, in this talk and their others; or hears them again. They are not told.</summary>
    public async Task<Results<Ok<TalkDetailView>, ProblemHttpResult>> BlockAsync(
        Guid siteId,
        Guid talkId,
        BlockRequest request,
        CancellationToken stop
    )
    {
        var visitor = await db
            .Talks.Where(t => t.Id == talkId && t.SiteId == siteId)
            .Select(t => t.VisitorId)
            .FirstOrDefaultAsync(stop);
        if (visitor is null)
            return Problems.NotFound("talk");
        await db
            .Talks.Where(t => t.SiteId == siteId && t.VisitorId == visitor)
            .ExecuteUpdateAsync(u => u.SetProperty(t => t.IsBlocked, request.Blocked), stop);
        return await acts.DoAsync(
            siteId,
            talkId,
            (row, _) =>
                (
                    TalkVerdict.Done,
                    row.Standing,
                    [
                        NewWord.Happened(
                            request.Blocked
                                ? $"{member.Name} blocked this visitor, who is not told."
                                : $"{member.Name} hears this visitor again."
                        ),
                    ]
                ),
            stop
        );
    }

    private static Func<TalkRow, Instant, (TalkVerdict, TalkStanding, IReadOnlyList<NewWord>)> Quietly(
        Action<TalkRow> change
    ) =>
        (row, _) =>
        {
            change(row);
            return (TalkVerdict.Done, row.Standing, []);
        };
}
